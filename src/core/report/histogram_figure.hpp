// SPDX-License-Identifier: GPL-3.0-or-later
// A histogram of times. With a mark, such as a deadline, what lies beyond it is in the stop colour.
#pragma once

#include <optional>
#include <string>

#include "core/report/drawing.hpp"
#include "core/signal/measure.hpp"

namespace grayrelic {

struct HistogramMark {
    double at_s = 0;
    std::string text;
};

struct HistogramChart {
    Histogram histogram;
    double low_s = 0, high_s = 1;  ///< of the axis
    std::optional<HistogramMark> mark;
    double width = 0, height = 0;
    [[nodiscard]] bool empty() const { return histogram.bars.empty(); }
    [[nodiscard]] Drawing::Rect plot() const { return {4, 18, width - 8, height - 42}; }
    [[nodiscard]] double x_of(double seconds) const;
    [[nodiscard]] Drawing::Rect bar(std::size_t bar) const;
    [[nodiscard]] std::optional<std::size_t> bar_at(double x) const;
};
/// Values in seconds; no bar is narrower than `finest_s` (the sampling).
[[nodiscard]] HistogramChart histogram_chart(const Spread& seconds, std::optional<HistogramMark> mark,
                                             double finest_s, double width, double height);
/// Bars `from` to `to` stand out; -1 for none.
[[nodiscard]] Drawing histogram_drawing(const HistogramChart& chart, Driver driver, int from = -1,
                                        int to = -1);

/// As SVG for a report; a deadline is where the host looks.
[[nodiscard]] std::string histogram_figure(const std::string& title, const Spread& seconds,
                                           std::optional<double> deadline_s, Driver driver,
                                           double finest_s = 0.0);

}  // namespace grayrelic
