// SPDX-License-Identifier: GPL-3.0-or-later
// The summary of a set of values that every measurement gives: STAT of the command line.
#pragma once

#include <span>
#include <vector>

#include "core/base/time.hpp"

namespace grayrelic {

/// Percentiles interpolate linearly between order statistics (rank p·(n−1)); sd is the sample deviation
/// (n−1), 0 for a single value. With n = 0 the other members mean nothing.
struct Statistics {
    long n = 0;
    double min = 0.0;
    double p01 = 0.0;
    double median = 0.0;
    double mean = 0.0;
    double p99 = 0.0;
    double max = 0.0;
    double sd = 0.0;
};

/// Sorts its own copy. NaN must not be among the values.
[[nodiscard]] Statistics summarise(std::vector<double> values);
[[nodiscard]] Statistics summarise(std::span<const Time> values);  ///< in seconds

}  // namespace grayrelic
