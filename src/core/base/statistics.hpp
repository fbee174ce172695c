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

/// Reorders its own copy. NaN must not be among the values.
[[nodiscard]] Statistics summarise(std::vector<double> values);
[[nodiscard]] Statistics summarise(std::span<const double> values);  ///< copies only what is few
[[nodiscard]] Statistics summarise(std::span<const Time> values);    ///< in seconds

/// How values lie, for histograms of millions of them: each value with how often it came. Exact while no more
/// than `most_different` different ones come (a sampled capture has few); with more, each stands for all in
/// its 1/most_different of the range, in the middle of them.
struct Spread {
    static constexpr std::size_t most_different = 4096;
    struct Item {
        double value;
        long count;
        bool operator==(const Item&) const = default;
    };
    std::vector<Item> items;  ///< rising
    bool exact = true;
    [[nodiscard]] long n() const;
    [[nodiscard]] bool empty() const { return items.empty(); }
};
/// NaN must not be among the values.
[[nodiscard]] Spread spread_of(std::span<const double> values);

}  // namespace grayrelic
