// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/histogram_figure.hpp"

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/report/connector_figure.hpp"
#include "core/report/wave_figure.hpp"

namespace grayrelic {

double HistogramChart::x_of(double s) const {
    const auto area = plot();
    return area.x + (s - low_s) / (high_s - low_s) * area.w;
}

Drawing::Rect HistogramChart::bar(std::size_t i) const {
    const auto area = plot();
    const double tallest = static_cast<double>(std::max(1L, histogram.tallest()));
    const double x0 = x_of(histogram.edge(i)), x1 = x_of(histogram.edge(i + 1));
    const double n = static_cast<double>(histogram.bars[i]);
    const double h = n == 0.0 ? 0.0 : std::max(2.0, n / tallest * area.h);
    return {x0, area.y + area.h - h, std::max(1.0, x1 - x0 - 1.0), h};
}

std::optional<std::size_t> HistogramChart::bar_at(double x) const {
    if (empty()) return std::nullopt;
    const auto area = plot();
    const double s = low_s + (x - area.x) / area.w * (high_s - low_s);
    if (s < histogram.low || s >= histogram.edge(histogram.bars.size())) return std::nullopt;
    return histogram.bar_of(s);
}

HistogramChart histogram_chart(const Spread& seconds, std::optional<HistogramMark> mark, double finest_s,
                               double width, double height) {
    HistogramChart c;
    c.mark = std::move(mark);
    c.width = width;
    c.height = height;
    const int wanted = std::clamp(static_cast<int>(width) / 9, 10, 90);
    int bars = wanted;
    if (c.mark && !seconds.empty()) {
        // Bars share the axis with the mark: none is narrower than the axis can show.
        const double least = seconds.items.front().value, most = seconds.items.back().value;
        const double axis = std::max(most, c.mark->at_s) - std::min(least, c.mark->at_s);
        if (axis > 0.0) bars = std::max(1, static_cast<int>((most - least) / axis * 2 * wanted));
    }
    c.histogram = make_histogram(seconds, static_cast<std::size_t>(bars), finest_s);
    if (c.empty()) return c;
    c.low_s = c.histogram.low;
    c.high_s = c.histogram.edge(c.histogram.bars.size());
    if (c.mark) {
        c.low_s = std::min(c.low_s, c.mark->at_s);
        c.high_s = std::max(c.high_s, c.mark->at_s);
    }
    const double spare = (c.high_s - c.low_s) * 0.03;
    c.low_s = c.low_s > spare || c.low_s < 0 ? c.low_s - spare : 0.0;
    c.high_s += spare;
    return c;
}

Drawing histogram_drawing(const HistogramChart& c, Driver driver, int from, int to) {
    Drawing d;
    d.width = c.width;
    d.height = c.height;
    if (c.empty()) {
        d.texts.push_back(
            {c.width / 2, c.height / 2, "nothing measured", Ink::ink2, Drawing::Anchor::middle});
        return d;
    }
    const auto area = c.plot();
    Drawing::Fill chosen{{}, Ink::shade}, early{{}, driver_ink(driver)}, late{{}, Ink::stop};
    for (std::size_t i = 0; i < c.histogram.bars.size(); ++i) {
        const auto bar = c.bar(i);
        if (from >= 0 && static_cast<int>(i) >= from && static_cast<int>(i) <= to)
            chosen.rects.push_back({bar.x, area.y, bar.w + 1, area.h});
        if (c.histogram.bars[i] == 0) continue;
        (c.mark && c.histogram.edge(i) >= c.mark->at_s ? late : early).rects.push_back(bar);
    }
    for (auto* f : {&chosen, &early, &late})
        if (!f->rects.empty()) d.fills.push_back(std::move(*f));
    const double base = area.y + area.h;
    d.lines.push_back({area.x, base, area.x + area.w, base, Ink::ink2});
    add_time_axis(d, {area.x, base, area.w, c.low_s, c.high_s, 70});
    if (c.mark) {
        const double x = c.x_of(c.mark->at_s), w = text_width(c.mark->text, 11);
        d.lines.push_back({x, area.y - 2, x, base, Ink::ink, 1.5, true});
        const bool left = x + w + 6 > area.x + area.w;
        d.texts.push_back({left ? std::max(area.x + w, x - 6) : x + 6, 12, c.mark->text, Ink::ink,
                           left ? Drawing::Anchor::end : Drawing::Anchor::start, 11});
    }
    return d;
}

std::string histogram_figure(const std::string& title, const Spread& seconds,
                             std::optional<double> deadline_s, Driver driver, double finest_s) {
    std::optional<HistogramMark> mark;
    if (deadline_s) mark = {*deadline_s, "host looks at " + print_number(*deadline_s, Unit::second)};
    return drawing_svg(histogram_drawing(histogram_chart(seconds, mark, finest_s, 620, 200), driver), title);
}

}  // namespace grayrelic
