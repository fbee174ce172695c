// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrical/series.hpp"

#include <algorithm>
#include <array>
#include <cmath>

namespace grayrelic {
namespace {

/// Values that are meant to be equal differ by less than this share.
constexpr double same = 1e-9;

std::vector<double> every(const std::vector<double>& values, std::size_t step) {
    std::vector<double> out;
    out.reserve(values.size());
    for (std::size_t i = 0; i < values.size(); i += step) out.push_back(values[i]);
    return out;
}

/// E48 and finer are the geometric steps rounded to three figures; IEC 60063 keeps one value of E192
/// otherwise (9.20), which E96 and E48 do not hold.
std::vector<double> rounded(int steps) {
    std::vector<double> out;
    out.reserve(static_cast<std::size_t>(steps));
    for (int i = 0; i < steps; ++i)
        out.push_back(std::round(100 * std::pow(10.0, static_cast<double>(i) / steps)) / 100);
    return out;
}

std::array<std::vector<double>, 6> all_series() {
    // E24 departs from the rounded steps where history wants it: 2.7 to 4.7, and 8.2.
    const std::vector<double> e24{1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0,
                                  3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1};
    return {every(e24, 8), every(e24, 4), every(e24, 2), e24, rounded(48), rounded(96)};
}

/// The values around: the highest not above, and the next.
std::pair<double, double> around_value(double value, Series series) {
    const auto& decade = decade_of(series);
    const double power = std::pow(10.0, std::floor(std::log10(value)));
    // One decade on either side, so that rounding of the logarithm does no harm.
    double below = decade.back() * power / 100, above = decade.front() * power * 100;
    for (const double scale : {power / 10, power, power * 10})
        for (const double d : decade) {
            const double v = d * scale;
            if (v <= value * (1 + same)) below = std::max(below, v);
            if (v >= value * (1 - same)) above = std::min(above, v);
        }
    return {below, above};
}

}  // namespace

const std::vector<double>& decade_of(Series series) {
    static const auto all = all_series();
    return all[static_cast<std::size_t>(series)];
}

double nearest(double value, Series series) {
    const auto [below, above] = around_value(value, series);
    return value / below < above / value * (1 - same) ? below : above;
}
double at_most(double value, Series series) {
    return around_value(value, series).first;
}
double at_least(double value, Series series) {
    return around_value(value, series).second;
}
double next_below(double value, Series series) {
    return at_most(value * (1 - 1e-6), series);
}
double next_above(double value, Series series) {
    return at_least(value * (1 + 1e-6), series);
}

}  // namespace grayrelic
