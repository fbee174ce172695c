// SPDX-License-Identifier: GPL-3.0-or-later
// Parts found on a board whose files name none: the contacts of a package or a connector laid over whatever
// looks like a pad. A pattern that fits in more than one way is not settled by guessing: each way is given,
// and what a person pointed at rules out the others.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/board/board_pads.hpp"
#include "core/board/face_match.hpp"

namespace grayrelic {

/// Something a contact can be soldered to.
struct Land {
    BoardXY at;
    PadSide side = PadSide::both;  ///< a hole's: both
    bool hole = false;
};
/// Holes, flashes and small filled shapes of the outer copper, and openings of the masks; each place once.
[[nodiscard]] std::vector<Land> lands_of(const BoardFiles& board);

/// Contacts by number as they are seen when looking at the side of the board that the part stands on.
struct PadPattern {
    std::vector<NumberedPlace> places;
    bool surface = false;  ///< pads of that side are enough; else each needs a hole
};
[[nodiscard]] PadPattern pattern_of(const Package& package);
/// Fails for an unknown numbering, and for a card's edge, which has no such pattern.
[[nodiscard]] Result<PadPattern> pattern_of(const Connector& connector, FaceGender gender,
                                            std::string_view numbering = {});

struct PatternPlace {
    PadSide side = PadSide::top;
    int turn_deg = 0;        ///< counter-clockwise as one looks at that side: 0, 90, 180 or 270
    BoardXY middle;          ///< of the contacts' box
    double residual_mm = 0;  ///< of the contact farthest from its land
    BoardPads pads;          ///< in the pattern's order, where the lands are; `ref` as asked
};
struct PatternQuestion {
    std::string ref;
    std::optional<PadSide> side{};  ///< nothing: either
    /// What is known already, by pin: only ways that have these contacts there are given.
    std::vector<std::pair<std::string, BoardXY>> known{};
    double tolerance_mm = 0.2;
};
/// Every way in which each contact has a land of its own; those with the least residual first. Of a pattern
/// of fewer than two contacts none.
[[nodiscard]] std::vector<PatternPlace> find_pattern(const std::vector<Land>& lands,
                                                     const PadPattern& pattern,
                                                     const PatternQuestion& question);

/// A table of parts with where their middles lie, as houses that place parts ask for it: columns for ref, x,
/// y and, where they differ, turn and side. Headings are told by what they begin with (`ref`, `part`,
/// `designator`; `x`, `mid x`, `pos x`; `turn`, `rot`, `angle`; `side`, `layer`); millimetres, or inches
/// where a heading or a cell says so.
struct Placement {
    std::string ref;
    BoardXY at;
    std::optional<double> turn_deg;
    PadSide side = PadSide::top;
    std::string package;  ///< as the table calls it; may be empty
    long line = 0;
};
[[nodiscard]] Result<std::vector<Placement>> read_placements(std::string_view text, const std::string& name);
/// Whether a table's heading is one of placements and not of pads.
[[nodiscard]] bool looks_like_placements(std::string_view text);

struct PlacedPart {
    Placement placement;
    BoardPads pads;       ///< empty where it was not settled
    std::string problem;  ///< why not, and what would settle it; also what was taken from the table alone
};
/// Each part whose package is known laid where the table says: the way that lies nearest, at most `reach_mm`
/// off; of two at one place the one that is turned as the table says.
[[nodiscard]] std::vector<PlacedPart> place_parts(const std::vector<Land>& lands,
                                                  const std::vector<Placement>& placements,
                                                  const std::map<std::string, PadPattern>& patterns,
                                                  double reach_mm = 0.8);

}  // namespace grayrelic
