// SPDX-License-Identifier: GPL-3.0-or-later
// Two netlists whose parts have different names, matched by how they are wired.
//
// Parts and nets are coloured by their surroundings, round by round (colour refinement; Weisfeiler and Leman
// 1968). What has a colour of its own on both sides is matched; matched parts then vote for their nets and
// matched nets for their parts, so that a few wrong wires do not spoil the rest.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/base/progress.hpp"
#include "core/base/result.hpp"
#include "core/dossier/trace.hpp"

namespace grayrelic {

struct StructureMatch {
    std::map<std::string, std::string> parts;  ///< a part of the second by the name it has in the first
    long parts_a = 0, parts_b = 0;
    long by_choice = 0;  ///< matched among several that fit equally well
    /// The second netlist with the first one's part names; parts without a match keep theirs, with a '
    /// behind.
    std::vector<Net> renamed;
};

/// `types` may say what a part is, by its name on each side; parts of different types never match.
[[nodiscard]] Result<StructureMatch> match_structure(const std::vector<Net>& a, const std::vector<Net>& b,
                                                     Progress& progress,
                                                     const std::map<std::string, std::string>& types_a = {},
                                                     const std::map<std::string, std::string>& types_b = {});

}  // namespace grayrelic
