// SPDX-License-Identifier: GPL-3.0-or-later
// Ways of a drawing as they are collected by its reader: chords, each with where it stands in the file.
#pragma once

#include <cmath>
#include <numbers>
#include <string>
#include <utility>
#include <vector>

namespace grayrelic {

struct Way {
    std::vector<std::pair<double, double>> points;  ///< millimetres, y upwards
    bool closed = false;
    long line = 0;
};

struct WayList {
    std::vector<Way> ways;
    std::vector<std::string> remarks;
    std::size_t points = 0;
};

inline constexpr std::size_t most_way_points = 400'000;
inline constexpr double chord_error_mm = 0.005;

/// How many chords an arc of this radius and angle takes.
[[nodiscard]] inline int arc_chords(double radius_mm, double angle) {
    if (!(radius_mm > chord_error_mm)) return 4;
    const double step = 2 * std::acos(1 - chord_error_mm / radius_mm);
    const double n = std::ceil(std::abs(angle) / step);
    return static_cast<int>(std::min(std::max(n, 4.0), 4000.0));
}

}  // namespace grayrelic
