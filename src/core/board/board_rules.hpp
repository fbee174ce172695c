// SPDX-License-Identifier: GPL-3.0-or-later
// A board against what a process can do: each place where it asks for more, with the figure, and what would
// have to change.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/board/copper.hpp"
#include "core/board/process.hpp"

namespace grayrelic {

enum class BoardRule { track, gap, ring, hole, hole_gap, edge, mask_sliver, silk_on_pad, size, neck };
template <>
inline constexpr std::array words_of<BoardRule>{"track", "gap",         "ring",        "hole", "hole-gap",
                                                "edge",  "mask-sliver", "silk-on-pad", "size", "neck"};

struct RuleViolation {
    BoardRule rule = BoardRule::track;
    double mm = 0, limit_mm = 0;
    BoardXY at;
    std::string file;
    std::string what;  ///< a sentence for people: what is too small, between what
    /// Does it decide whether the board can be made? A neck of a pour does not.
    [[nodiscard]] bool decides() const { return rule != BoardRule::neck; }
};

struct RuleReport {
    std::vector<RuleViolation> violations;  ///< by rule, the worst first
    bool makeable = true;
    std::vector<std::string> to_do;          ///< what would make it makeable in this way
    std::vector<std::string> not_looked_at;  ///< rules without what they need: "no outline: edges"
};

/// Figures are compared with 3.5 µm of grace: what the straight pieces of arcs and a file's rounding may
/// take.
inline constexpr double rule_grace_nm = 3500;

[[nodiscard]] Result<RuleReport> judge_board(const BoardFiles& board, const BoardCopper& copper,
                                             const BoardOutline& outline, const BoardProcess& process,
                                             Progress& progress);

/// Two pieces that come nearer than `limit` (nanometres): each place once, with the least distance there.
/// Also used between classes of nets. `apart(a, b)` says whether two pieces are to be kept apart.
struct NearPlace {
    std::uint32_t a = 0, b = 0;
    double distance = 0;
    BoardXY at;
};
[[nodiscard]] std::vector<NearPlace> close_places(
    const BoardPieces& pieces, const EdgeIndex& index, double limit,
    const std::function<bool(std::uint32_t, std::uint32_t)>& apart, Progress& progress);

}  // namespace grayrelic
