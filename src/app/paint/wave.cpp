// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/paint/wave.hpp"

#include <QPainter>

#include <algorithm>
#include <vector>

namespace grayrelic::app {

void draw_wave(QPainter& p, const DigitalTrace& trace, Span window, const QRectF& box, const QColor& colour) {
    const auto width = static_cast<std::size_t>(std::max(1.0, box.width()));
    if (window.length() <= Time{}) return;
    std::vector<Column> columns(width);
    fill_columns(trace, window.from, window.to, columns);
    p.save();
    p.setRenderHint(QPainter::Antialiasing, false);
    const int left = static_cast<int>(box.left());
    const int top = static_cast<int>(box.top());
    const int bottom = static_cast<int>(box.bottom());
    const auto level_y = [&](bool high) { return high ? top : bottom; };

    for (const auto& span : trace.unknown()) {
        if (span.to <= window.from || span.from >= window.to) continue;
        const double scale = box.width() / static_cast<double>(window.length().count());
        const double x0 =
            box.left() + std::max(0.0, static_cast<double>((span.from - window.from).count()) * scale);
        const double x1 =
            box.left() + std::min(box.width(), static_cast<double>((span.to - window.from).count()) * scale);
        p.fillRect(QRectF(x0, box.top(), std::max(1.0, x1 - x0), box.height()),
                   QBrush(colour, Qt::BDiagPattern));
    }

    std::vector<QLine> lines;
    std::vector<QRect> bands;
    std::size_t run_from = 0;  // first column of the running level line
    for (std::size_t i = 0; i < width; ++i) {
        const auto& c = columns[i];
        if (c.edge_count == 0) continue;
        const int x = left + static_cast<int>(i);
        lines.emplace_back(left + static_cast<int>(run_from), level_y(trace.level_after(c.first_edge)), x,
                           level_y(trace.level_after(c.first_edge)));
        if (c.edge_count <= 2) {
            lines.emplace_back(x, top, x, bottom);
        } else if (!bands.empty() && bands.back().right() == x - 1) {
            bands.back().setRight(x);
        } else {
            bands.emplace_back(x, top, 1, bottom - top + 1);
        }
        run_from = i;
    }
    const auto after = columns.back().first_edge + columns.back().edge_count;
    lines.emplace_back(left + static_cast<int>(run_from), level_y(trace.level_after(after)),
                       left + static_cast<int>(width) - 1, level_y(trace.level_after(after)));
    auto band = colour;
    band.setAlphaF(0.55F);
    for (const auto& r : bands)
        p.fillRect(r, band);
    p.setPen(QPen(colour, 2));
    p.drawLines(lines.data(), static_cast<int>(lines.size()));
    p.restore();
}

}  // namespace grayrelic::app
