// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/figures.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace grayrelic {
std::vector<double> axis_marks(double low, double high, int most) {
    std::vector<double> marks;
    if (!(high > low) || most < 1) return marks;
    const double raw = (high - low) / most;
    const double power = std::pow(10.0, std::floor(std::log10(raw)));
    const double m = raw / power;
    const double step = power * (m <= 1.000001 ? 1.0 : m <= 2.000001 ? 2.0 : m <= 5.000001 ? 5.0 : 10.0);
    for (double k = std::ceil(low / step - 1e-9); k * step <= high + step * 1e-9; k += 1.0)
        marks.push_back(k * step);
    return marks;
}

std::string AxisUnit::text(double seconds) const {
    auto number = fmt::format("{:.{}f}", seconds * factor, decimals);
    if (number.starts_with("-")) {
        const bool zero = number.find_first_not_of("-0.") == std::string::npos;
        number.replace(0, 1, zero ? "" : "−");
    }
    return number + " " + suffix;
}

AxisUnit axis_unit(double low, double high, double step) {
    const double size = std::max(std::abs(low), std::abs(high));
    AxisUnit u;
    if (size >= 1.0)
        u = {1.0, "s", 0};
    else if (size >= 1e-3)
        u = {1e3, "ms", 0};
    else if (size >= 1e-6)
        u = {1e6, "µs", 0};
    else
        u = {1e9, "ns", 0};
    const double shown = std::abs(step) * u.factor;
    u.decimals = shown <= 0.0 ? 0 : std::clamp(static_cast<int>(std::ceil(-std::log10(shown) - 1e-9)), 0, 12);
    return u;
}

}  // namespace grayrelic
