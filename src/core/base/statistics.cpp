// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/statistics.hpp"

#include <algorithm>
#include <cmath>

namespace grayrelic {
namespace {

double percentile(const std::vector<double>& sorted, double p) {
    const double rank = p * static_cast<double>(sorted.size() - 1);
    const auto below = static_cast<std::size_t>(rank);
    const auto above = std::min(below + 1, sorted.size() - 1);
    return sorted[below] + (rank - static_cast<double>(below)) * (sorted[above] - sorted[below]);
}

}  // namespace

Statistics summarise(std::vector<double> values) {
    Statistics s;
    s.n = static_cast<long>(values.size());
    if (values.empty()) return s;
    std::sort(values.begin(), values.end());
    s.min = values.front();
    s.max = values.back();
    s.p01 = percentile(values, 0.01);
    s.median = percentile(values, 0.5);
    s.p99 = percentile(values, 0.99);
    double sum = 0.0;
    for (const double v : values) sum += v;
    s.mean = sum / static_cast<double>(values.size());
    double squares = 0.0;
    for (const double v : values) squares += (v - s.mean) * (v - s.mean);
    s.sd = values.size() > 1 ? std::sqrt(squares / static_cast<double>(values.size() - 1)) : 0.0;
    return s;
}

Statistics summarise(std::span<const Time> values) {
    std::vector<double> seconds;
    seconds.reserve(values.size());
    for (const Time t : values) seconds.push_back(t.seconds());
    return summarise(std::move(seconds));
}

}  // namespace grayrelic
