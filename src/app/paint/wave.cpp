// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/paint/wave.hpp"

#include <QPainter>

#include <algorithm>
#include <vector>

namespace grayrelic::app {
namespace {

/// Hatched; stretches narrower than a pixel share one.
void draw_unknown(QPainter& p, const DigitalWaveform& waveform, Span window, const QRectF& box,
                  const QColor& colour) {
    const auto spans = waveform.unknown();
    const double scale = box.width() / static_cast<double>(window.length().count());
    const auto x_of = [&](Time t) {
        return box.left() +
               std::clamp(static_cast<double>((t - window.from).count()) * scale, 0.0, box.width());
    };
    auto it = std::upper_bound(spans.begin(), spans.end(), window.from,
                               [](Time t, const Span& s) { return t < s.to; });
    while (it != spans.end() && it->from < window.to) {
        const double x0 = x_of(it->from);
        const double x1 = std::max(x0 + 1.0, x_of(it->to));
        p.fillRect(QRectF(x0, box.top(), x1 - x0, box.height()), QBrush(colour, Qt::BDiagPattern));
        // On to the first span that ends beyond the pixel just filled.
        const Time drawn = window.from + Time::ps(static_cast<std::int64_t>((x1 - box.left()) / scale));
        it = std::upper_bound(it + 1, spans.end(), drawn, [](Time t, const Span& s) { return t < s.to; });
    }
}

}  // namespace

void draw_wave(QPainter& p, const DigitalWaveform& waveform, Span window, const QRectF& box,
               const QColor& colour) {
    const auto width = static_cast<std::size_t>(std::max(1.0, box.width()));
    if (window.length() <= Time{}) return;
    std::vector<Column> columns(width);
    fill_columns(waveform, window.from, window.to, columns);
    p.save();
    p.setRenderHint(QPainter::Antialiasing, false);
    const int left = static_cast<int>(box.left());
    const int top = static_cast<int>(box.top());
    const int bottom = static_cast<int>(box.bottom());
    const auto level_y = [&](bool high) { return high ? top : bottom; };

    draw_unknown(p, waveform, window, box, colour);

    // Rectangles instead of lines: filling them is many times faster than stroking.
    std::vector<QRect> lines;
    std::vector<QRect> bands;
    const auto level = [&](std::size_t from, std::size_t to, bool high) {
        lines.emplace_back(left + static_cast<int>(from), level_y(high) - 1, static_cast<int>(to - from) + 1,
                           2);
    };
    const auto extend = [](std::vector<QRect>& rects, const QRect& r) {
        if (!rects.empty() && rects.back().right() + 1 >= r.left() && rects.back().top() == r.top() &&
            rects.back().height() == r.height())
            rects.back().setRight(r.right());
        else
            rects.push_back(r);
    };
    std::size_t run_from = 0;  // first column of the running level line
    for (std::size_t i = 0; i < width; ++i) {
        const auto& c = columns[i];
        if (c.edge_count == 0) continue;
        const int x = left + static_cast<int>(i);
        // Between neighbours that are both bands there is no level to show.
        const bool within_band = i == run_from + 1 && columns[run_from].edge_count > 2 && c.edge_count > 2;
        if ((i > run_from && !within_band) || i == 0) level(run_from, i, waveform.level_after(c.first_edge));
        if (c.edge_count <= 2)
            extend(lines, QRect(x - 1, top - 1, 2, bottom - top + 2));
        else
            extend(bands, QRect(x, top, 1, bottom - top + 1));
        run_from = i;
    }
    const auto after = columns.back().first_edge + columns.back().edge_count;
    level(run_from, width - 1, waveform.level_after(after));
    auto band = colour;
    band.setAlphaF(0.55F);
    p.setPen(Qt::NoPen);
    p.setBrush(band);
    p.drawRects(bands.data(), static_cast<int>(bands.size()));
    p.setBrush(colour);
    p.drawRects(lines.data(), static_cast<int>(lines.size()));
    p.restore();
}

}  // namespace grayrelic::app
