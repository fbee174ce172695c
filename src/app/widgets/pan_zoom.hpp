// SPDX-License-Identifier: GPL-3.0-or-later
// What part of something is in view: of a stretch of time (TimeWindow), or of a plane (PlaneWindow). The
// wheel pans, Ctrl+wheel zooms at the pointer, keys do both, everywhere alike.
#pragma once

#include <QPointF>
#include <QRectF>
#include <QSizeF>
#include <QString>

#include <functional>

#include "core/base/time.hpp"

class QWheelEvent;
class QWidget;

namespace grayrelic::app {

/// A window into a whole stretch of time. It stays inside of the whole, or before and behind it where the
/// whole is shorter than the least window.
class TimeWindow {
  public:
    void set_whole(Span whole, Time least = Time::ns(1));
    [[nodiscard]] Span whole() const { return whole_; }
    [[nodiscard]] Span span() const { return span_; }
    // Each says whether the window moved.
    bool set(Span window);
    bool show_all() { return set(whole_); }
    /// Above 1 zooms in; what stands at that share of the window's width stays there.
    bool zoom(double factor, double share = 0.5);
    bool pan(double share_of_window);
    /// The moment at a place of a plot that begins at `left` and is `width` wide, and back.
    [[nodiscard]] Time time_at(double x, double left, double width) const;
    [[nodiscard]] double x_of(Time t, double left, double width) const;
    bool wheel(const QWheelEvent& event, double left, double width);

  private:
    Span whole_, span_;
    Time least_ = Time::ns(1);
};

/// Keys for a time window while `view` has the focus; `changed` after each that moved it.
struct TimeKeys {
    TimeWindow* window;
    std::function<void()> changed;
    /// The share of the window that stays in place while a key zooms; the middle when empty.
    std::function<double()> zoom_at;
};
void add_time_keys(QWidget* view, const QString& group, TimeKeys keys);

/// A plane seen at a scale (pixels of the view to the plane's unit) and a place.
class PlaneWindow {
  public:
    void set_limits(double least_scale, double most_scale);
    [[nodiscard]] double scale() const { return scale_; }
    /// Where the plane's 0, 0 lies in the view.
    [[nodiscard]] QPointF origin() const { return origin_; }
    void set(double scale, QPointF origin);
    /// All of it, in the view's middle; at most so near as `most_scale` allows.
    void fit(const QRectF& plane, const QSizeF& view, double margin = 0.0);
    void zoom(double factor, QPointF at);  ///< above 1 zooms in; what lies there stays there
    void pan(QPointF pixels) { origin_ += pixels; }
    /// What is larger than the view stays over all of it; what is smaller stands in the middle.
    void confine(const QRectF& plane, const QSizeF& view);
    [[nodiscard]] QPointF to_view(QPointF p) const { return origin_ + p * scale_; }
    [[nodiscard]] QPointF to_plane(QPointF at) const { return (at - origin_) / scale_; }
    void wheel(const QWheelEvent& event);

  private:
    double scale_ = 1.0, least_ = 1e-6, most_ = 1e6;
    QPointF origin_;
};

struct PlaneKeys {
    PlaneWindow* window;
    std::function<void()> changed;
    std::function<void()> whole;  ///< shows all of it
};
void add_plane_keys(QWidget* view, const QString& group, PlaneKeys keys);

}  // namespace grayrelic::app
