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

/// Rounded up, between the two; the least for what is no number.
[[nodiscard]] inline int chords_between(double wanted, int least, int most) {
    const double n = std::ceil(wanted);
    return n >= most ? most : n >= least ? static_cast<int>(n) : least;
}

/// How many chords an arc of this radius and angle takes.
[[nodiscard]] inline int arc_chords(double radius_mm, double angle) {
    if (!(radius_mm > chord_error_mm)) return 4;
    return chords_between(std::abs(angle) / (2 * std::acos(1 - chord_error_mm / radius_mm)), 4, 4000);
}

}  // namespace grayrelic
