// SPDX-License-Identifier: GPL-3.0-or-later
// Joints that nobody reaches once another part is in its place.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/board/board_pads.hpp"
#include "core/parts/package.hpp"

namespace grayrelic {

/// Where a part's contacts lie, and on which sides.
struct StandingPart {
    Extent box;
    bool front = false, back = false;
    /// With pads on both sides it is taken to stand on the front.
    [[nodiscard]] bool behind() const { return back && !front; }
};
[[nodiscard]] std::map<std::string, StandingPart> standing_parts(const BoardPads& pads);

/// A part's body over the board, as its package has it.
struct PartBody {
    std::string ref;
    Extent box;         ///< in the files' origin
    bool back = false;  ///< on the back of the board
    double height_mm = 0;
};
/// Of each part with pads whose package is described. The body lies about the middle of its contacts, along
/// or across as these do. A part with pads on both sides stands on the front, unless `on_back` names it.
[[nodiscard]] std::vector<PartBody> bodies_of(const BoardPads& pads,
                                              const std::map<std::string, std::string>& packages_of,
                                              const PackageLibrary& packages,
                                              const std::vector<std::string>& on_back = {});

struct CoveredJoint {
    std::string ref, pin;
    std::string by;  ///< the part that stands over it
    BoardXY at;
};
/// A joint in a hole is made on the side that its part does not stand on, one on a surface beside its part.
/// `iron_mm`: how far beside a joint an iron needs room.
[[nodiscard]] std::vector<CoveredJoint> covered_joints(const BoardPads& pads,
                                                       const std::vector<PartBody>& bodies,
                                                       double iron_mm = 0.5);

}  // namespace grayrelic
