// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/overlay_plot.hpp"

#include <QImage>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/view_keys.hpp"
#include "core/base/quantity.hpp"

namespace grayrelic::app {

constexpr double names_width = 76, overlay_axis = 22, reach_px = 5;

OverlayPlot::OverlayPlot(QWidget* parent) : QWidget(parent) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(260, 120);
    setAccessibleName(tr("Transactions laid over one another"));
    const auto group = tr("Laid over one another");
    add_view_key(this, group, tr("Pan left"), {"Left"}, [this] { pan(-0.15); });
    add_view_key(this, group, tr("Pan right"), {"Right"}, [this] { pan(0.15); });
    add_view_key(this, group, tr("Zoom in"), {"+", "="}, [this] { zoom(1.5, (from_s_ + to_s_) / 2); });
    add_view_key(this, group, tr("Zoom out"), {"-"}, [this] { zoom(1 / 1.5, (from_s_ + to_s_) / 2); });
    add_view_key(this, group, tr("All of it"), {"0"}, [this] { set_window(whole_.from_s, whole_.to_s); });
}

void OverlayPlot::show_overlay(std::shared_ptr<const Overlay> overlay, Time before, Time after,
                               std::vector<Driver> drivers) {
    const bool other = whole_.from_s != -before.seconds() || whole_.to_s != after.seconds();
    overlay_ = std::move(overlay);
    whole_ = {overlay_, -before.seconds(), after.seconds()};
    drivers_ = std::move(drivers);
    if (other || !overlay_) {
        detail_ = {};
        from_s_ = whole_.from_s;
        to_s_ = whole_.to_s;
    }
    update();
}

void OverlayPlot::show_detail(std::shared_ptr<const Overlay> overlay, double from_s, double to_s) {
    if (!overlay || !overlay_ || overlay->lines.size() != overlay_->lines.size()) return;
    detail_ = {std::move(overlay), from_s, to_s};
    update();
}

const OverlayPlot::Layer& OverlayPlot::layer() const {
    return detail_.overlay && detail_.from_s <= from_s_ && detail_.to_s >= to_s_ ? detail_ : whole_;
}

void OverlayPlot::set_window(double from_s, double to_s) {
    if (!overlay_ || overlay_->lines.empty()) return;
    const double length = std::clamp(to_s - from_s, 1e-9, whole_.to_s - whole_.from_s);
    from_s_ = std::clamp(from_s, whole_.from_s, whole_.to_s - length);
    to_s_ = from_s_ + length;
    update();
    const auto& l = layer();
    const double column = (l.to_s - l.from_s) /
                          static_cast<double>(std::max<std::size_t>(1, l.overlay->lines.front().high.size()));
    if (column > length / std::max(1.0, width() - names_width)) {
        // With some room on both sides, so that a pan needs no new one at once.
        Q_EMIT detail_wanted(std::max(whole_.from_s, from_s_ - length),
                             std::min(whole_.to_s, to_s_ + length));
    }
}

void OverlayPlot::zoom(double factor, double at_s) {
    set_window(at_s - (at_s - from_s_) / factor, at_s + (to_s_ - at_s) / factor);
}
void OverlayPlot::pan(double share) {
    const double by = (to_s_ - from_s_) * share;
    set_window(from_s_ + by, to_s_ + by);
}

void OverlayPlot::wheelEvent(QWheelEvent* event) {
    const double steps = event->angleDelta().y() / 120.0;
    const double at = from_s_ + (event->position().x() - names_width) /
                                    std::max(1.0, width() - names_width - 6) * (to_s_ - from_s_);
    if (event->modifiers().testFlag(Qt::ControlModifier))
        zoom(std::pow(1.25, steps), at);
    else
        pan(-0.1 * steps);
    event->accept();
}

QRectF OverlayPlot::row_box(std::size_t line) const {
    const auto n = static_cast<double>(overlay_ ? std::max<std::size_t>(1, overlay_->lines.size()) : 1);
    const double each = (height() - overlay_axis) / n;
    return {names_width, static_cast<double>(line) * each + 6, width() - names_width - 6, each - 12};
}

double OverlayPlot::x_of(double seconds) const {
    return names_width + (width() - names_width - 6) * (seconds - from_s_) / std::max(1e-15, to_s_ - from_s_);
}

/// Pixel by pixel from the columns at hand: the mean of the levels, the sum of the edges.
void OverlayPlot::paint_line(QPainter& p, const OverlayLine& line, const Layer& from, const QRectF& lane,
                             const QColor& ink) {
    const auto n = static_cast<double>(line.high.size());
    const double whole = from.to_s - from.from_s;
    if (n < 1 || !(whole > 0)) return;
    const auto column_at = [&](double x) {
        return (from_s_ + (x - lane.left()) / lane.width() * (to_s_ - from_s_) - from.from_s) / whole * n;
    };
    // One pixel high each: the share that is high, that has edges, that is low.
    const int wide = std::max(1, static_cast<int>(lane.width()));
    QImage strip(wide, 3, QImage::Format_ARGB32_Premultiplied);
    strip.fill(0);
    const auto shade = [&](double share) -> QRgb {
        // A single one of thousands must still be seen.
        return share <= 0
                   ? 0
                   : qPremultiply(qRgba(ink.red(), ink.green(), ink.blue(),
                                        static_cast<int>(255 * std::clamp(0.18 + 0.82 * share, 0.0, 1.0))));
    };
    auto* high_row = reinterpret_cast<QRgb*>(strip.scanLine(0));
    auto* edge_row = reinterpret_cast<QRgb*>(strip.scanLine(1));
    auto* low_row = reinterpret_cast<QRgb*>(strip.scanLine(2));
    for (int x = 0; x < wide; ++x) {
        const double first = column_at(lane.left() + x), last = column_at(lane.left() + x + 1);
        const auto begin = static_cast<std::size_t>(std::clamp(first, 0.0, n - 1)),
                   end = std::min(line.high.size(),
                                  std::max(begin + 1, static_cast<std::size_t>(std::clamp(last, 0.0, n))));
        double high = 0, edges = 0;
        for (auto c = begin; c < end; ++c)
            high += static_cast<double>(line.high[c]), edges += static_cast<double>(line.edges[c]);
        high /= static_cast<double>(end - begin);
        high_row[x] = shade(high);
        edge_row[x] = shade(std::min(1.0, edges));
        low_row[x] = shade(1.0 - high);
    }
    p.drawImage(QRectF(lane.left(), lane.top(), wide, 3), strip, QRectF(0, 0, wide, 1));
    p.drawImage(QRectF(lane.left(), lane.top() + 3, wide, lane.height() - 6), strip, QRectF(0, 1, wide, 1));
    p.drawImage(QRectF(lane.left(), lane.bottom() - 3, wide, 3), strip, QRectF(0, 2, wide, 1));
}

void OverlayPlot::paintEvent(QPaintEvent*) {
    QPainter p(this);
    if (!overlay_ || overlay_->lines.empty()) return;
    const auto& at = layer();
    for (std::size_t l = 0; l < overlay_->lines.size(); ++l) {
        const auto& line = overlay_->lines[l];
        const auto lane = row_box(l);
        const QColor ink = theme().driver(l < drivers_.size() ? drivers_[l] : Driver::unknown);
        p.setFont(text_font(12));
        p.setPen(ink);
        p.drawText(QRectF(0, lane.top(), names_width - 8, lane.height()), Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(to_q(short_name(line.signal)), Qt::ElideRight,
                                              static_cast<int>(names_width - 8)));
        paint_line(p, l < at.overlay->lines.size() ? at.overlay->lines[l] : line, at, lane, ink);
    }
    // The moment all are aligned on, and the axis.
    const double zero = x_of(0);
    p.setPen(theme().hairline);
    if (zero >= names_width) p.drawLine(QPointF(zero, 0), QPointF(zero, height() - overlay_axis));
    p.setPen(theme().ink2);
    p.setFont(figure_font(11, false));
    const double whole = to_s_ - from_s_;
    const double rough = whole / std::max(1.0, (width() - names_width) / 110.0);
    const double decade = std::pow(10.0, std::floor(std::log10(rough)));
    const double tick = decade * (rough / decade > 5   ? 10
                                  : rough / decade > 2 ? 5
                                  : rough / decade > 1 ? 2
                                                       : 1);
    // As many digits as tell neighbours apart.
    const int digits = std::clamp(static_cast<int>(std::ceil(std::log10(
                                      std::max(1.0, std::max(std::abs(from_s_), std::abs(to_s_)) / tick)))) +
                                      1,
                                  3, 9);
    for (double t = std::ceil(from_s_ / tick) * tick; t < to_s_; t += tick) {
        const double x = x_of(t);
        if (x < names_width + 4 || x > width() - 44) continue;
        p.drawLine(QPointF(x, height() - overlay_axis), QPointF(x, height() - overlay_axis + 4));
        p.drawText(
            QRectF(x - 40, height() - overlay_axis + 4, 80, 16), Qt::AlignCenter,
            std::abs(t) < tick / 1000 ? QStringLiteral("0") : to_q(print_number(t, Unit::second, digits)));
    }
    if (hasFocus()) {
        p.setPen(QPen(theme().slate, 1, Qt::DotLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

const EdgeSpread* OverlayPlot::edge_at(QPointF at) const {
    if (!overlay_) return nullptr;
    for (std::size_t l = 0; l < overlay_->lines.size(); ++l) {
        if (!row_box(l).adjusted(0, -6, 0, 6).contains(at)) continue;
        const EdgeSpread* best = nullptr;
        double least = 1e9;
        for (const auto& e : overlay_->lines[l].spread) {
            if (at.x() < x_of(e.min_s) - reach_px || at.x() > x_of(e.max_s) + reach_px) continue;
            if (const double d = std::abs(at.x() - x_of(e.mean_s)); d < least) least = d, best = &e;
        }
        return best;
    }
    return nullptr;
}

QString OverlayPlot::text_at(QPointF at) const {
    const auto* e = edge_at(at);
    if (e == nullptr) return {};
    const auto t = [](double s) { return to_q(print_number(s, Unit::second)); };
    return tr("%1 after %2 to %3, mean %4, deviation %5, in %6")
        .arg(e->rises ? tr("rises") : tr("falls"), t(e->min_s), t(e->max_s), t(e->mean_s), t(e->sd_s))
        .arg(e->n);
}

void OverlayPlot::mouseMoveEvent(QMouseEvent* event) {
    setToolTip(text_at(event->position()));
}

void OverlayPlot::mousePressEvent(QMouseEvent* event) {
    const auto* e = edge_at(event->position());
    if (e == nullptr || event->button() != Qt::LeftButton) return;
    const bool early = event->modifiers().testFlag(Qt::ShiftModifier);
    Q_EMIT outlier_wanted(early ? e->min_span : e->max_span, early);
}

}  // namespace grayrelic::app
