// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/wave_figure.hpp"

#include <algorithm>
#include <cmath>

#include "core/report/figures.hpp"

namespace grayrelic {
namespace {

/// Stretches narrower than a dot share one.
void find_unknown(const DigitalWaveform& waveform, Span window, int width, int height,
                  std::vector<WaveRect>& out) {
    const auto spans = waveform.unknown();
    const double scale = width / static_cast<double>(window.length().count());
    const auto x_of = [&](Time t) {
        return std::clamp(static_cast<double>((t - window.from).count()) * scale, 0.0,
                          static_cast<double>(width));
    };
    const auto ends_after = [](Time t, const Span& s) { return t < s.to; };
    auto it = std::upper_bound(spans.begin(), spans.end(), window.from, ends_after);
    while (it != spans.end() && it->from < window.to) {
        const int from = static_cast<int>(x_of(it->from));
        const int to = std::max(from + 1, static_cast<int>(std::lround(x_of(it->to))));
        out.push_back({from, 0, to - from, height});
        // On to the first span that ends beyond the dot just filled.
        const Time drawn = window.from + Time::ps(static_cast<std::int64_t>(to / scale));
        it = std::upper_bound(it + 1, spans.end(), drawn, ends_after);
    }
}

/// Joins a rectangle to the one before where it goes on.
void extend(std::vector<WaveRect>& rects, const WaveRect& r) {
    if (!rects.empty() && rects.back().x + rects.back().w >= r.x && rects.back().y == r.y &&
        rects.back().h == r.h)
        rects.back().w = r.x + r.w - rects.back().x;
    else
        rects.push_back(r);
}

}  // namespace

WaveShape wave_shape(const DigitalWaveform& waveform, Span window, int width, int height) {
    WaveShape out;
    if (window.length() <= Time{} || width < 1) return out;
    std::vector<Column> columns(static_cast<std::size_t>(width));
    fill_columns(waveform, window.from, window.to, columns);
    find_unknown(waveform, window, width, height, out.unknown);
    const auto level = [&](int from, int to, bool high) {
        out.lines.push_back({from, (high ? 0 : height) - 1, to - from + 1, 2});
    };
    int run_from = 0;  // first column of the running level
    bool run_band = false;
    for (int i = 0; i < width; ++i) {
        const auto& c = columns[static_cast<std::size_t>(i)];
        if (c.edge_count == 0) continue;
        // Between neighbours that are both bands there is no level to show.
        const bool band = c.edge_count > 2;
        if ((i > run_from && !(i == run_from + 1 && run_band && band)) || i == 0)
            level(run_from, i, waveform.level_after(c.first_edge));
        if (band)
            extend(out.bands, {i, 0, 1, height + 1});
        else
            extend(out.lines, {i - 1, -1, 2, height + 2});
        run_from = i;
        run_band = band;
    }
    level(run_from, width - 1, waveform.level_after(columns.back().first_edge + columns.back().edge_count));
    return out;
}

void add_wave(Drawing& d, const DigitalWaveform& waveform, Span window, const Drawing::Rect& frame, Ink ink) {
    const auto shape = wave_shape(waveform, window, static_cast<int>(frame.w), static_cast<int>(frame.h));
    const auto add = [&](const std::vector<WaveRect>& from, Ink colour, double strength) {
        if (from.empty()) return;
        Drawing::Fill fill{{}, colour, strength};
        for (const auto& r : from)
            fill.rects.push_back(
                {frame.x + r.x, frame.y + r.y, static_cast<double>(r.w), static_cast<double>(r.h)});
        d.fills.push_back(std::move(fill));
    };
    add(shape.unknown, Ink::hairline, 1.0);
    add(shape.bands, ink, 0.55);
    add(shape.lines, ink, 1.0);
}

void add_time_axis(Drawing& d, const TimeAxis& a) {
    const int most = std::max(2, static_cast<int>(a.width) / a.spacing);
    const auto marks = axis_marks(a.low_s, a.high_s, most);
    const auto unit =
        axis_unit(a.low_s, a.high_s, marks.size() > 1 ? marks[1] - marks[0] : a.high_s - a.low_s);
    double taken = -1e9;
    for (const double m : marks) {
        const double x = std::round(a.x + (m - a.low_s) / (a.high_s - a.low_s) * a.width) + 0.5;
        if (x < a.x - 1 || x > a.x + a.width + 1) continue;
        if (a.grid_top < a.grid_bottom)
            d.lines.push_back({x, a.grid_top, x, a.grid_bottom, Ink::hairline, 0.7});
        d.lines.push_back({x, a.y, x, a.y + (a.above ? -4 : 4), Ink::ink2});
        const auto text = unit.text(m);
        const double w = text_width(text, 11, true);
        const double left = std::clamp(x - w / 2, a.x, std::max(a.x, a.x + a.width - w));
        if (left < taken) continue;
        taken = left + w + 8;
        d.texts.push_back({left + w / 2, a.y + (a.above ? -8 : 17), text, Ink::ink2, Drawing::Anchor::middle,
                           11, false, true});
    }
}

}  // namespace grayrelic
