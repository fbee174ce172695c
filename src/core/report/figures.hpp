// SPDX-License-Identifier: GPL-3.0-or-later
// The report's figures as SVG, and the arithmetic behind them that the window's drawings share.
#pragma once

#include <string>
#include <vector>

#include "core/analysis/analysis.hpp"
#include "core/signal/measure.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic {

/// Bars of values in seconds, none narrower than `finest_s` (the sampling); with a deadline, what lies beyond
/// it is marked as missed.
[[nodiscard]] std::string histogram_figure(const std::string& title, const Spread& seconds,
                                           std::optional<double> deadline_s, Driver driver,
                                           double finest_s = 0.0);

/// A stretch of a capture, one row per signal; with a reply, the same stretch as the option would answer it.
struct WaveMoment {
    Span window;
    Time trigger;
    Time deadline;
    std::optional<Time> reply;  ///< absolute
};
/// The moment of an option's worst reply among those that change the line, since only there does it show;
/// wide enough for trigger, look and reply. When no reply changes the line, the worst of all.
[[nodiscard]] std::optional<WaveMoment> worst_moment(const Analysis& analysis, const OptionAnalysis& option);
/// The level the option's answer line would show over the moment: as the original, but this much later.
[[nodiscard]] std::string worst_case_figure(const Analysis& analysis, const OptionAnalysis& option);

/// Round marks along an axis from low to high: steps of 1, 2 or 5 times a power of ten, at most `most` of
/// them.
[[nodiscard]] std::vector<double> axis_marks(double low, double high, int most);
/// A mark's text with the decimals that its step needs, in one unit for the whole axis.
struct AxisUnit {
    double factor = 1.0;
    std::string suffix;
    int decimals = 0;
    [[nodiscard]] std::string text(double seconds) const;
};
[[nodiscard]] AxisUnit axis_unit(double low, double high, double step);

}  // namespace grayrelic
