// SPDX-License-Identifier: GPL-3.0-or-later
// Boards over one another: which parts meet, and which joints nobody reaches any more once the next level is
// on. Lengths are millimetres where a name says so, else nanometres as in board/shape.hpp.
//
// An iron comes in from the side at 45 degrees: a joint under another board is reached where the way to that
// board's edge, or to a cutout of it, is no longer than the room between the two less the iron's tip.
#pragma once

#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/board/board_pads.hpp"
#include "core/fit/reach.hpp"

namespace grayrelic {

/// What an iron's tip takes of the room between two boards, and how far trimmed leads stand out.
inline constexpr double iron_tip_mm = 1.0, lead_mm = 1.5;

/// A level: the board as its files have it, and how it lies in the stack.
struct StackBoard {
    std::string name;
    Rings outline;                   ///< its edge, then its cutouts; empty: not known
    BoardPads pads;                  ///< of all parts whose pads are known
    std::vector<PartBody> bodies;    ///< of fitted parts whose package is described
    std::set<std::string> left_out;  ///< parts that are not fitted: no body, no joint
    std::set<std::string> behind;    ///< parts with pads through the board that stand on its back
    std::set<std::string> joins;     ///< connectors of the stack: their heights make the gap
    double x_mm = 0, y_mm = 0;       ///< where the files' origin lies in the stack's
    int turn_deg = 0;                ///< counter-clockwise, seen from above, after turning over
    bool over = false;               ///< its front looks down
    double thick_mm = 1.6;
    std::optional<double> gap_mm{};  ///< least, to the level below; of the lowest not asked
};

/// A place of a level's files in the stack.
[[nodiscard]] BoardXY in_stack(const StackBoard& board, BoardXY p);
[[nodiscard]] Extent in_stack(const StackBoard& board, const Extent& box);
/// The room between two levels, the lower one's upper face to the upper one's lower face, with the boards
/// between; nothing where a gap on the way is not known.
[[nodiscard]] std::optional<double> room_between(const std::vector<StackBoard>& stack, std::size_t lower,
                                                 std::size_t upper);

struct StackJoint {
    std::size_t level = 0, by = 0;  ///< whose joint; the level that covers it
    std::string ref, pin;
    BoardXY at;         ///< in the stack
    bool up = false;    ///< it lies on the upper face of its level
    double way_mm = 0;  ///< to the nearest place that is free
    std::optional<double> room_mm;
};

/// Two things that want the same room: parts, or a part and the bare board where a name is empty.
struct StackClash {
    std::size_t lower = 0, upper = 0;
    std::string lower_part, upper_part;
    double needs_mm = 0;
    std::optional<double> room_mm;  ///< nothing: nobody knows the gap
    Verdict verdict = Verdict::unknown;
    bool leads = false;  ///< what comes down from above are trimmed leads
};

struct StackGeometry {
    std::vector<StackJoint> covered;   ///< each joint once, with the nearest level that covers it
    std::vector<StackClash> clashes;   ///< all that do not hold
    std::vector<std::string> guessed;  ///< levels whose edge is not known: the box of their pads is taken
    std::vector<std::string> unknown;  ///< "tone/U3": fitted parts whose height nobody has described
};
/// `stack` from the lowest level.
[[nodiscard]] StackGeometry judge_stack(const std::vector<StackBoard>& stack);

/// Whether a strip of pins through two boards can be soldered, the stack built from below.
struct StripJoints {
    Verdict verdict = Verdict::unknown;
    bool lower_last = false;  ///< the strip is soldered into the upper board first
    std::string says;
};
[[nodiscard]] StripJoints judge_strip(const std::vector<StackBoard>& stack, std::size_t lower,
                                      const std::string& lower_ref, std::size_t upper,
                                      const std::string& upper_ref);

}  // namespace grayrelic
