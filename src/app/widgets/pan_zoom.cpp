// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/pan_zoom.hpp"

#include <QWheelEvent>
#include <QWidget>

#include <algorithm>
#include <cmath>

#include "app/widgets/view_keys.hpp"

namespace grayrelic::app {
namespace {

constexpr double notch = 120.0;  ///< of a wheel, in its own unit
constexpr double key_zoom = 1.5, notch_zoom = 1.4, notch_pan = 0.08;
constexpr double key_pixels = 60.0;

[[nodiscard]] double picoseconds(Time t) {
    return static_cast<double>(t.count());
}

/// Of a time that may be too large to be one.
[[nodiscard]] Time near_time(double v) {
    return Time::ps(std::llround(std::clamp(v, -4e18, 4e18)));
}

}  // namespace

void TimeWindow::set_whole(Span whole, Time least) {
    whole_ = whole;
    least_ = std::max(least, Time::ps(1));
    set(span_);
}

bool TimeWindow::set(Span w) {
    const Time all = std::max(whole_.length(), least_);
    const Time length = std::clamp(w.length(), least_, all);
    const Time from = std::clamp(w.from, whole_.from, std::max(whole_.from, whole_.from + all - length));
    const Span next{from, from + length};
    if (next == span_) return false;
    span_ = next;
    return true;
}

bool TimeWindow::zoom(double factor, double share) {
    const double length = picoseconds(span_.length()), next = length / factor;
    const Time from = span_.from + near_time((length - next) * share);
    return set({from, from + near_time(next)});
}

bool TimeWindow::pan(double share) {
    const Time by = near_time(picoseconds(span_.length()) * share);
    return set({span_.from + by, span_.to + by});
}

Time TimeWindow::time_at(double x, double left, double width) const {
    return span_.from + near_time((x - left) / std::max(1.0, width) * picoseconds(span_.length()));
}

double TimeWindow::x_of(Time t, double left, double width) const {
    return left + picoseconds(t - span_.from) / std::max(1.0, picoseconds(span_.length())) * width;
}

bool TimeWindow::wheel(const QWheelEvent& event, double left, double width) {
    const auto delta = event.angleDelta();
    // Some desktops turn the wheel sideways with Alt or Shift.
    const double by = delta.y() != 0 ? delta.y() : delta.x();
    if (event.modifiers().testFlag(Qt::ControlModifier))
        return zoom(std::pow(notch_zoom, by / notch),
                    std::clamp((event.position().x() - left) / std::max(1.0, width), 0.0, 1.0));
    return pan(-by / notch * notch_pan);
}

void add_time_keys(QWidget* view, const QString& group, TimeKeys keys) {
    const auto key = [&](const QString& text, std::initializer_list<const char*> sequences,
                         const std::function<bool(TimeWindow&)>& move) {
        add_view_key(view, group, text, sequences, [keys, move] {
            if (move(*keys.window)) keys.changed();
        });
    };
    const auto at = [keys] { return keys.zoom_at ? keys.zoom_at() : 0.5; };
    key(QObject::tr("Pan left"), {"Left"}, [](TimeWindow& w) { return w.pan(-0.1); });
    key(QObject::tr("Pan right"), {"Right"}, [](TimeWindow& w) { return w.pan(0.1); });
    key(QObject::tr("Pan left by most of the view"), {"Shift+Left"},
        [](TimeWindow& w) { return w.pan(-0.8); });
    key(QObject::tr("Pan right by most of the view"), {"Shift+Right"},
        [](TimeWindow& w) { return w.pan(0.8); });
    key(QObject::tr("Zoom in"), {"+", "Shift++", "="},
        [at](TimeWindow& w) { return w.zoom(key_zoom, at()); });
    key(QObject::tr("Zoom out"), {"-"}, [](TimeWindow& w) { return w.zoom(1.0 / key_zoom); });
    key(QObject::tr("All of it"), {"0"}, [](TimeWindow& w) { return w.show_all(); });
    key(QObject::tr("Begin"), {"Home"}, [](TimeWindow& w) {
        return w.set({w.whole().from, w.whole().from + w.span().length()});
    });
    key(QObject::tr("End"), {"End"}, [](TimeWindow& w) {
        return w.set({w.whole().to - w.span().length(), w.whole().to});
    });
}

void PlaneWindow::set_limits(double least, double most) {
    least_ = least;
    most_ = std::max(least, most);
}

void PlaneWindow::set(double scale, QPointF origin) {
    scale_ = std::clamp(scale, least_, most_);
    origin_ = origin;
}

void PlaneWindow::fit(const QRectF& plane, const QSizeF& view, double margin) {
    const double w = std::max(1e-9, plane.width() + 2 * margin),
                 h = std::max(1e-9, plane.height() + 2 * margin);
    scale_ = std::clamp(std::min(view.width() / w, view.height() / h), least_, most_);
    origin_ = QPointF(view.width() / 2, view.height() / 2) - plane.center() * scale_;
}

void PlaneWindow::zoom(double factor, QPointF at) {
    const double next = std::clamp(scale_ * factor, least_, most_);
    origin_ = at + (origin_ - at) * (next / scale_);
    scale_ = next;
}

void PlaneWindow::confine(const QRectF& plane, const QSizeF& view) {
    const auto place = [&](double origin, double from, double length, double room) {
        const double low = from * scale_, long_ = length * scale_;
        if (long_ <= room) return (room - long_) / 2 - low;
        return std::clamp(origin, room - long_ - low, -low);
    };
    origin_ = {place(origin_.x(), plane.left(), plane.width(), view.width()),
               place(origin_.y(), plane.top(), plane.height(), view.height())};
}

void PlaneWindow::wheel(const QWheelEvent& event) {
    const auto delta = QPointF(event.angleDelta());
    if (event.modifiers().testFlag(Qt::ControlModifier))
        zoom(std::pow(notch_zoom, (delta.y() != 0 ? delta.y() : delta.x()) / notch), event.position());
    else
        pan(delta / 2.0);
}

void add_plane_keys(QWidget* view, const QString& group, PlaneKeys keys) {
    const auto key = [&](const QString& text, std::initializer_list<const char*> sequences,
                         const std::function<void(PlaneWindow&)>& move) {
        add_view_key(view, group, text, sequences, [keys, move] {
            move(*keys.window);
            keys.changed();
        });
    };
    const auto middle = [view] { return QPointF(view->width() / 2.0, view->height() / 2.0); };
    key(QObject::tr("Zoom in"), {"+", "Shift++", "="},
        [middle](PlaneWindow& w) { w.zoom(key_zoom, middle()); });
    key(QObject::tr("Zoom out"), {"-"}, [middle](PlaneWindow& w) { w.zoom(1.0 / key_zoom, middle()); });
    add_view_key(view, group, QObject::tr("All of it"), {"0", "Home"}, [keys] { keys.whole(); });
    for (const auto& [name, by] : {std::pair{"Left", QPointF(key_pixels, 0)},
                                   {"Right", QPointF(-key_pixels, 0)},
                                   {"Up", QPointF(0, key_pixels)},
                                   {"Down", QPointF(0, -key_pixels)}})
        key(QObject::tr("Pan"), {name}, [by = by](PlaneWindow& w) { w.pan(by); });
}

}  // namespace grayrelic::app
