// SPDX-License-Identifier: GPL-3.0-or-later
// What the parts of BenchState share. For bench_state.cpp and bench_gather.cpp only.
#pragma once

#include <cstddef>
#include <string_view>

#include "core/logic/expression.hpp"

namespace grayrelic::bench_parts {

inline constexpr double solder_ohm = 0.2, source_ohm = 0.2, driver_ohm = 40, line_ohm = 100, diode_ohm = 2,
                        lamp_ohm = 10, reverse_ohm = 1, logic_a = 0.002, module_a = 0.04, works_v = 2.7,
                        limit_a = 0.5, module_works_v = 2.5, between_v = 1.4, least_edge_ohm = 0.01;
inline constexpr int most_rounds = 48, watched_rounds = 6;
inline constexpr Levels unknown_level{0, 0}, low_level{0, 1}, high_level{1, 0};

inline std::size_t at(int node) {
    return static_cast<std::size_t>(node);
}
inline bool says_one(const Levels& l) {
    return (l.one & 1U) != 0;
}
inline bool says_zero(const Levels& l) {
    return (l.zero & 1U) != 0;
}

/// Pins by which a part is fed: of a logic part those that have no level of its own.
inline bool feeds(std::string_view name) {
    return name == "VCC" || name == "VDD" || name == "VIN" || name == "V+";
}
inline bool grounds(std::string_view name) {
    return name.starts_with("GND") || name == "VSS";
}

}  // namespace grayrelic::bench_parts
