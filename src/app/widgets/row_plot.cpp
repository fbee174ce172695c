// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/row_plot.hpp"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

#include "app/paint/axis.hpp"
#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"

namespace grayrelic::app {
namespace {

constexpr double axis_height = 24, right_room = 8, drag_pixels = 4;

}  // namespace

RowPlot::RowPlot(const QString& name, const QString& group, QWidget* parent) : QWidget(parent) {
    setAccessibleName(name);
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    add_time_keys(this, group, {&time_, [this] { moved(); }, {}});
}

void RowPlot::set_window(Span window) {
    if (time_.set(window)) moved();
}

void RowPlot::moved() {
    update();
    window_moved();
}

void RowPlot::rows_changed() {
    setMinimumHeight(
        static_cast<int>(std::max(80.0, look_.least_row * std::min(row_count(), 64) + axis_height + 4)));
    update();
}

double RowPlot::lane_width() const {
    return std::max(1.0, width() - look_.names_width - right_room);
}

double RowPlot::row_height() const {
    const double room = (height() - axis_height - 2) / std::max(1, row_count());
    return std::clamp(room, std::min(look_.least_row, look_.most_row), look_.most_row);
}

QRectF RowPlot::lane(int row) const {
    const double each = row_height();
    return {look_.names_width, 2 + each * row + look_.above, lane_width(), each - look_.above - look_.below};
}

int RowPlot::row_at(double y) const {
    const int row = static_cast<int>(std::floor((y - 2) / row_height()));
    return row >= 0 && row < row_count() ? row : -1;
}

double RowPlot::x_of(Time t) const {
    return time_.x_of(t, look_.names_width, lane_width());
}
Time RowPlot::time_at(double x) const {
    return time_.time_at(x, look_.names_width, lane_width());
}

void RowPlot::paintEvent(QPaintEvent*) {
    QPainter p(this);
    if (row_count() == 0 || window().length() <= Time{}) {
        p.setPen(theme().ink2);
        p.setFont(text_font(12));
        p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, empty_text());
        return;
    }
    const double each = row_height(), bottom = 2 + each * row_count();
    for (int i = 0; i < row_count(); ++i) {
        const auto box = lane(i);
        const auto name = row_name(i);
        p.setPen(name.ink);
        p.setFont(figure_font(12, true));
        draw_text(
            p, QRectF(4, box.top() - look_.above, look_.names_width - 10, each), Qt::AlignVCenter,
            p.fontMetrics().elidedText(name.text, Qt::ElideRight, static_cast<int>(look_.names_width - 10)));
        paint_row(p, i, box);
        p.setPen(theme().hairline);
        if (look_.hairlines && i + 1 < row_count())
            p.drawLine(QPointF(0, 2 + each * (i + 1)), QPointF(width(), 2 + each * (i + 1)));
    }
    p.save();
    p.setClipRect(QRectF(look_.names_width, 0, lane_width(), bottom));
    paint_over(p);
    p.restore();
    draw_time_axis(p, QRectF(look_.names_width, bottom + 1, lane_width(), axis_height - 2),
                   window().from.seconds(), window().to.seconds(), {false, {}, 90});
    if (hasFocus()) {
        p.setPen(QPen(theme().slate, 1, Qt::DotLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void RowPlot::wheelEvent(QWheelEvent* event) {
    if (time_.wheel(*event, look_.names_width, lane_width())) moved();
    event->accept();
}

void RowPlot::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    pressed_ = event->position();
    pressed_window_ = window();
    dragging_ = false;
}

void RowPlot::mouseMoveEvent(QMouseEvent* event) {
    if (!pressed_ || !event->buttons().testFlag(Qt::LeftButton)) return;
    const double dx = event->position().x() - pressed_->x();
    if (std::abs(dx) > drag_pixels) dragging_ = true;
    if (!dragging_) return;
    setCursor(Qt::ClosedHandCursor);
    const Time by =
        Time::ps(std::llround(dx / lane_width() * static_cast<double>(pressed_window_.length().count())));
    set_window({pressed_window_.from - by, pressed_window_.to - by});
}

void RowPlot::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || !pressed_) return;
    if (!dragging_) clicked(*pressed_, event->modifiers());
    pressed_.reset();
    dragging_ = false;
    unsetCursor();
}

}  // namespace grayrelic::app
