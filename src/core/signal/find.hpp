// SPDX-License-Identifier: GPL-3.0-or-later
// Searches in a capture: pulses too short or too long, level patterns, pauses, and edges in an order. Several
// conditions hold together: levels also narrow down pulses, pauses and orders, at the time these begin.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/progress.hpp"
#include "core/signal/capture.hpp"

namespace grayrelic {

struct LevelWanted {
    std::string signal;
    bool high = true;
    bool operator==(const LevelWanted&) const = default;
};

/// "B falls while A is high, then C rises within 3 µs": each step an edge, with levels that must hold at it,
/// and how long after the step before it may come.
struct OrderStep {
    EdgeName edge;
    std::vector<LevelWanted> while_levels;
    std::optional<Time> within;
    bool operator==(const OrderStep&) const = default;
};

struct FindQuery {
    std::optional<std::string> pulse;     ///< the signal whose pulses are looked at
    std::optional<bool> pulse_level;      ///< nothing: of either level
    std::optional<Time> shorter, longer;  ///< strictly
    std::vector<LevelWanted> levels;
    std::optional<Time> pause;  ///< no edge on any digital signal for longer
    std::vector<OrderStep> order;
    bool operator==(const FindQuery&) const = default;
};

/// The same as it is typed, in a form's fields or the options of the command line; empty for what is not
/// asked.
struct FindText {
    std::string pulse;                ///< a signal
    std::optional<bool> pulse_level;  ///< nothing: of either level
    std::string shorter, longer, pause;
    std::vector<std::string> levels;  ///< each "A=1,B=0"
    std::string order;                ///< "B:fall while A=1 then C:rise within 3us"
    bool operator==(const FindText&) const = default;
};
[[nodiscard]] Result<FindQuery> find_query(const FindText& typed);

inline constexpr std::size_t most_hits = 1'000'000;

/// Hits in order of time: pulses, stretches in which the levels hold, pauses, or orders from the first step
/// to the last. An order takes the first edge that fits each step; a step that comes too late starts it over.
/// Pulses are whole ones; stretches cut off by the capture's ends count as they are seen. Usage errors name
/// what is not there.
[[nodiscard]] Result<std::vector<Span>> find_in(const Capture& capture, const FindQuery& query,
                                                Progress& progress);

/// "B:fall while A=1 then C:rise within 3us": "while" takes levels parted by commas, "then" parts the steps.
[[nodiscard]] Result<std::vector<OrderStep>> parse_order(std::string_view text);
/// "A=1,B=0".
[[nodiscard]] Result<std::vector<LevelWanted>> parse_levels(std::string_view text);

}  // namespace grayrelic
