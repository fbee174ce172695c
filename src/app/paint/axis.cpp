// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/paint/axis.hpp"

#include <QPainter>

#include "app/paint/drawing_paint.hpp"
#include "core/report/wave_figure.hpp"

namespace grayrelic::app {

void draw_time_axis(QPainter& p, const QRectF& frame, double low, double high, const AxisStyle& style) {
    Drawing d;
    add_time_axis(d, {frame.left(), style.text_above ? frame.bottom() : frame.top(), frame.width(), low, high,
                      style.spacing, style.text_above, style.grid.top(), style.grid.bottom()});
    paint_drawing(p, d);
}

}  // namespace grayrelic::app
