// SPDX-License-Identifier: GPL-3.0-or-later
// The stages of a job in their order, with Plan before and Practice behind them. Findings, cautions, the
// report, the command line and the window know a stage by this, and by nothing else.
#pragma once

#include <optional>
#include <string_view>

#include "core/base/words.hpp"

namespace grayrelic {

enum class Stage { plan, port, trace, listen, timing, wire, map, board, build, log, practice };
/// The ids: in files, on the command line, in the person's settings.
template <>
inline constexpr std::array words_of<Stage>{"plan", "port",  "trace", "listen", "timing",  "wire",
                                            "map",  "board", "build", "log",    "practice"};

/// What a person reads: "Port".
[[nodiscard]] constexpr std::string_view label(Stage s) {
    constexpr std::array labels{"Plan", "Port",  "Trace", "Listen", "Timing",  "Wire",
                                "Map",  "Board", "Build", "Log",    "Practice"};
    static_assert(labels.size() == words_of<Stage>.size());
    return labels[static_cast<std::size_t>(s)];
}

/// Its place among the nine, from 1; 0 for Plan, nothing for Practice, which is beside the job.
[[nodiscard]] constexpr std::optional<int> number(Stage s) {
    if (s == Stage::practice) return std::nullopt;
    return static_cast<int>(s);
}

}  // namespace grayrelic
