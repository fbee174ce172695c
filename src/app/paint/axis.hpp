// SPDX-License-Identifier: GPL-3.0-or-later
// A time axis: round marks with text in one unit. The marks come from the core's axis_marks().
#pragma once

#include <QRectF>
#include <functional>

class QPainter;

namespace grayrelic::app {

/// Draws marks and their texts below (or above) the line at the top (or bottom) of the frame; with `grid` the
/// marks go on as hairlines over that rectangle. Texts that would leave the frame are left out.
struct AxisStyle {
    bool text_above = false;
    QRectF grid;       ///< null for none
    int spacing = 90;  ///< pixels per mark, at the least
};
void draw_time_axis(QPainter& painter, const QRectF& frame, double low_s, double high_s,
                    const AxisStyle& style);

}  // namespace grayrelic::app
