// SPDX-License-Identifier: GPL-3.0-or-later
// A Drawing of the core in the theme's colours.
#pragma once

#include <QColor>
#include <QPointF>
#include <QRectF>

#include "core/report/connector_figure.hpp"
#include "core/report/drawing.hpp"

class QPainter;

namespace grayrelic::app {

[[nodiscard]] QColor ink_colour(Ink ink);
void paint_drawing(QPainter& painter, const Drawing& drawing);
[[nodiscard]] inline Drawing::Rect to_rect(const QRectF& r) {
    return {r.x(), r.y(), r.width(), r.height()};
}
[[nodiscard]] inline QRectF to_q(const Drawing::Rect& r) {
    return {r.x, r.y, r.w, r.h};
}

[[nodiscard]] inline QPointF to_q(FaceFit::Point p) {
    return {p.x, p.y};
}

}  // namespace grayrelic::app
