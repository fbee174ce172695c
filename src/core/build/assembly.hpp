// SPDX-License-Identifier: GPL-3.0-or-later
// In which order a board is put together, why, how, and what to check before the next step makes it
// unreachable.
//
// A part never goes over a joint that is still open; within that, a side's surface parts before its through
// ones, what lies below bodies and fine pitch first, then low before high, so that each lies flat when the
// board is turned over.
#pragma once

#include <string>
#include <vector>

#include "core/build/build_parts.hpp"

namespace grayrelic {

enum class Technique {
    hot_air,    ///< paste, then hot air, a plate or an oven
    drag,       ///< tack two corners, then drag with flux
    tack,       ///< tack one pad, the rest beside it
    through,    ///< from the other side
    two_irons,  ///< both ends at once, or one after the other while it is held
    by_hand     ///< no soldering: glue, an insert, a bolt, a cut
};
template <>
inline constexpr std::array words_of<Technique>{"hot-air", "drag", "tack", "through", "two-irons", "by-hand"};

struct AssemblyCheck {
    std::string says;
    std::vector<std::pair<std::string, std::string>> points;  ///< to be beeped open, where it is that
};
struct AssemblyStep {
    int n = 0;
    std::string what;
    std::vector<std::string> refs;
    std::string why;
    Technique technique = Technique::through;
    std::string how;  ///< the technique in words
    std::vector<AssemblyCheck> checks;
};
struct AssemblyPlan {
    std::vector<AssemblyStep> steps;
    std::vector<std::string> problems;  ///< parts that cover each other's joints, and what is not known
    [[nodiscard]] std::size_t step_of(const std::string& ref) const;  ///< its number, from 1; 0: none
};
[[nodiscard]] AssemblyPlan plan_assembly(const BuildBoard& board);

}  // namespace grayrelic
