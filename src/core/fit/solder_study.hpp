// SPDX-License-Identifier: GPL-3.0-or-later
// Can this board be soldered: each part's advice (wire/solder.hpp) with what its files and its way of making
// add: room between pads and no mask, pads below bodies with a hole to reach them through, pads long enough
// for an iron, holes that are not plated and have to be soldered on both sides.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/board/board_analysis.hpp"
#include "core/person/bench.hpp"
#include "core/wire/solder.hpp"

namespace grayrelic {

enum class SolderTrouble {
    bridges,       ///< no mask between pads that lie near
    belly_closed,  ///< a pad below the body, and no hole to solder it through
    belly_hole,    ///< a pad below the body with such a hole
    short_pads,    ///< pads end with the leads: an iron finds no copper
    both_sides,    ///< unplated, with tracks on both sides: two joints for one pin
    body_over      ///< the same, and its body stands over the upper joint
};
template <>
inline constexpr std::array words_of<SolderTrouble>{"bridges",    "belly-closed", "belly-hole",
                                                    "short-pads", "both-sides",   "body-over"};

struct SolderTroubleAt {
    SolderTrouble kind = SolderTrouble::bridges;
    Verdict verdict = Verdict::doubt;
    std::string ref;
    std::vector<std::string> pins;  ///< of the part; empty: all
    std::string says, todo;
};

struct PartSolder {
    std::string ref, part, package;
    double pitch_mm = 0, gap_mm = 0;  ///< between pads; 0: its package is not described
    int joints = 0;                   ///< with those that are made twice
    double chance = 1;                ///< that all of it comes out well
    bool known = false, own_record = false;
    Verdict verdict = Verdict::unknown;
    std::string why;
};

struct SolderStudy {
    std::vector<PartSolder> parts;
    std::vector<SolderTroubleAt> troubles;
    int joints = 0, twice = 0;  ///< all joints, and how many of them are the second one of a pin
    int wires = 0;              ///< holes without a part that have to be joined by a wire: vias, unplated
    double chance = 1;          ///< that a whole board comes out well
    int without_record = 0;
    std::vector<std::string> unknown;  ///< parts whose package nobody described; counted as certain
};

/// `advice` by part and package, as wire/solder.hpp gives it. `board` may have no files; then only what the
/// packages say is known. Without a process nothing is said of masks and plating.
[[nodiscard]] SolderStudy solder_study(const std::vector<SolderAdvice>& advice,
                                       const FabricationAnalysis* board, const PackageLibrary& packages,
                                       const Bench& bench);
/// Of a board's own circuit; empty where it is a netlist of Trace.
[[nodiscard]] std::vector<SolderAdvice> solder_of(const FabricationAnalysis& board,
                                                  const PackageLibrary& packages, const Bench& bench);

/// Gaps below this bridge easily where no mask lies between, and the least hole through which an iron's tip
/// heats a pad below a body.
inline constexpr double bridging_gap_mm = 0.4, belly_hole_mm = 1.5, iron_pad_mm = 0.5;

}  // namespace grayrelic
