// SPDX-License-Identifier: GPL-3.0-or-later
// The shortest list of beeps and non-beeps that proves every joint of an unpowered unit: each joint that does
// not hold, and each bridge between neighbours, makes one of its lines come out otherwise.
//
// One tip stands on a lead, not on its pad. A beep between two leads proves both joints and, where the way
// leads through parts that conduct (fuses, closed jumpers, resistors below what the meter beeps at), theirs
// too. In a net with n leads that nothing conducts past, n / 2 beeps are enough, rounded up: no two joints
// can be proven by less than one. A bridge is seen by the line between the two nets only, so each pair of
// neighbouring nets is one line.
#pragma once

#include <string>
#include <vector>

#include "core/build/assembly.hpp"
#include "core/build/build_parts.hpp"

namespace grayrelic {

enum class JointExpect { beep, open };
template <>
inline constexpr std::array words_of<JointExpect>{"beep", "open"};

struct JointLine {
    std::string a, b;  ///< leads, "U1.3"; of a lead alone on its net `b` is its pad: "U1.3 pad"
    JointExpect expect = JointExpect::beep;
    std::vector<std::string> proves;  ///< joints, of a beep
    std::string why;                  ///< "CLK", "V5 and GND, neighbours on U1"
    int after = 0;                    ///< the step of the assembly after which it can be taken
    int before = 0;                   ///< the step that covers it; 0: none does
    bool operator==(const JointLine&) const = default;
};
struct JointSheet {
    std::vector<JointLine> lines;  ///< in the order in which they can be reached
    /// Joints that no line of a meter can prove, with the reason: two parts that conduct beside each other.
    std::vector<std::pair<std::string, std::string>> unproven;
    int joints = 0;  ///< that the unit has
    int proven = 0;  ///< of them by the lines
};
struct JointWish {
    double beeps_below_ohm = 30;  ///< of the meter
    bool tracks = false;          ///< copper of home-made boards too: each net's leads are one chain
};
/// `plan` may be empty: then nothing is said of the order.
[[nodiscard]] JointSheet joint_sheet(const BuildBoard& board, const AssemblyPlan& plan,
                                     const JointWish& wish = {});

}  // namespace grayrelic
