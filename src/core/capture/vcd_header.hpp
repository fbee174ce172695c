// SPDX-License-Identifier: GPL-3.0-or-later
// The definitions of a value change dump (IEEE 1364-2005, 18.2.3): its time scale, scopes and variables, up
// to $enddefinitions. What stands behind them is read by vcd_body.hpp.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/progress.hpp"
#include "core/capture/vcd_names.hpp"
#include "core/capture/vcd_reader.hpp"
#include "core/signal/capture.hpp"

namespace grayrelic {

/// What is wrong in a dump, by its place in bytes; the line is counted only for the message.
struct VcdFault {
    enum class Kind { wrong, ended, cancelled, unreadable, memory };
    Kind kind = Kind::wrong;
    std::uint64_t offset = 0;
    std::string found;  ///< as a message shows it
    std::string expected;
};
template <class T>
using VcdResult = tl::expected<T, VcdFault>;

struct VcdVariable {
    SignalKind kind = SignalKind::digital;
    std::size_t width = 1;
    std::size_t first = 0;  ///< its first bit (the leftmost), or its index among reals and events
};

struct VcdDeclared {
    std::string name;
    std::string vector;
    SignalKind kind = SignalKind::digital;
    std::size_t index = 0;  ///< of its bit, or among reals and events
};

struct VcdHeader {
    VcdNames ids;                        ///< identifier → index into variables
    std::vector<VcdVariable> variables;  ///< one for each identifier
    std::vector<VcdDeclared> declared;   ///< in the order of the file
    std::size_t bits = 0;
    std::size_t reals = 0;
    std::int64_t multiply = 1'000'000'000'000;  ///< picoseconds in a tick; without $timescale 1 s
    std::int64_t divide = 1;                    ///< 1000 when the unit is femtoseconds
    std::uint64_t body = 0;                     ///< where the value changes begin, in bytes
};

/// A fault of kind `ended` says that the text is over before $enddefinitions: with more of it, it may be
/// fine.
[[nodiscard]] VcdResult<VcdHeader> parse_vcd_header(std::string_view text, const Progress& progress,
                                                    const VcdLimits& limits);

}  // namespace grayrelic
