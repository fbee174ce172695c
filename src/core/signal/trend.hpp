// SPDX-License-Identifier: GPL-3.0-or-later
// How a measured length behaves over time: does it drift, and how much does it scatter about the drift?
#pragma once

#include <span>

#include "core/signal/measure.hpp"

namespace grayrelic {

struct Trend {
    std::size_t n = 0;
    double mean_s = 0;
    double drift = 0;        ///< seconds of length a second of time: the slope of the least-squares line
    double drift_error = 0;  ///< its standard error
    double scatter_s = 0;    ///< standard deviation about that line
    double neighbour_s = 0;  ///< root mean square of the difference between one and the next: period jitter
};
/// Of the lengths at the times where the intervals begin. All zero for fewer than three.
[[nodiscard]] Trend trend_of(std::span<const Interval> intervals);

}  // namespace grayrelic
