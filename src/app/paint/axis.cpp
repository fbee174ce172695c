// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/paint/axis.hpp"

#include <QPainter>

#include <algorithm>
#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/report/figures.hpp"

namespace grayrelic::app {

void draw_time_axis(QPainter& p, const QRectF& frame, double low, double high, const AxisStyle& style) {
    const int most = std::max(2, static_cast<int>(frame.width()) / style.spacing);
    const auto marks = axis_marks(low, high, most);
    const auto unit = axis_unit(low, high, marks.size() > 1 ? marks[1] - marks[0] : high - low);
    const auto x_of = [&](double s) { return frame.left() + (s - low) / (high - low) * frame.width(); };
    p.setFont(figure_font(11));
    const auto metrics = p.fontMetrics();
    double taken = -1e9;
    for (const double m : marks) {
        const double x = std::round(x_of(m)) + 0.5;
        if (!style.grid.isNull()) {
            p.setPen(QPen(theme().hairline, 1, Qt::DotLine));
            p.drawLine(QPointF(x, style.grid.top()), QPointF(x, style.grid.bottom()));
        }
        p.setPen(theme().ink2);
        if (style.text_above)
            p.drawLine(QPointF(x, frame.bottom() - 4), QPointF(x, frame.bottom()));
        else
            p.drawLine(QPointF(x, frame.top()), QPointF(x, frame.top() + 4));
        const auto text = to_q(unit.text(m));
        const double w = metrics.horizontalAdvance(text);
        if (x < frame.left() - 1 || x > frame.right() + 1) continue;
        // A text at the end gives way inwards; one that would touch its neighbour is left out.
        const double left = std::clamp(x - w / 2, frame.left(), std::max(frame.left(), frame.right() - w));
        if (left < taken) continue;
        taken = left + w + 8;
        p.drawText(QRectF(left - 1, frame.top() + (style.text_above ? 0 : 5), w + 2, frame.height() - 5),
                   Qt::AlignCenter, text);
    }
}

}  // namespace grayrelic::app
