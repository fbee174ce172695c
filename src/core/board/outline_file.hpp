// SPDX-License-Identifier: GPL-3.0-or-later
// Outlines of cases, panels and boards from drawings: SVG, and DXF as text. Curves become chords of at most
// 0.005 mm error; lengths are millimetres, y upwards.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/board/outline.hpp"

namespace grayrelic {

inline constexpr std::size_t most_outline_bytes = 32U << 20U;

struct OutlineDrawing {
    BoardOutline outline;              ///< the largest closed way, and those inside of it
    std::vector<std::string> remarks;  ///< what was left out, and units that were guessed
};
/// By what the text begins with. Refused with file and line: ways that do not close, nothing that closes,
/// what can't be drawn as a way, and more than can be an outline.
[[nodiscard]] Result<OutlineDrawing> read_outline(std::string_view text, const std::string& name);

/// A board laid into a case: middles of their boxes on each other, the board turned by quarters, unless said.
struct InsideQuestion {
    std::optional<int> turn_deg{};   ///< nothing: the turn that leaves most
    std::optional<BoardXY> shift{};  ///< of the board's origin in the case's; nothing: middle on middle
};
struct InsideAnswer {
    bool inside = false;
    double least_mm = 0;  ///< between the two edges; below 0: how far the board stands out
    BoardXY at;           ///< there, in the case's origin
    int turn_deg = 0;
    BoardXY shift;  ///< of the turned board's origin in the case's
};
[[nodiscard]] InsideAnswer lies_inside(const Ring& board, const BoardOutline& room,
                                       const InsideQuestion& question);

}  // namespace grayrelic
