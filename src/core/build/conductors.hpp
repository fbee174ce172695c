// SPDX-License-Identifier: GPL-3.0-or-later
// Parts with two ends that conduct between nets, and what a meter shows through all of them.
#pragma once

#include <string>
#include <vector>

namespace grayrelic {

struct Conductor {
    std::string ref, one, other;  ///< its leads
    int a = 0, b = 0;             ///< their nets
    double ohm = 0;
    bool bridge = true;  ///< nothing conducts beside it
};

/// Ohms between two nets through all conductors but one; infinite where nothing conducts. Among more nets
/// than are solved it is 0: as bad as plausible.
[[nodiscard]] double ohms_between(const std::vector<Conductor>& conductors, int a, int b,
                                  const Conductor* without = nullptr);

}  // namespace grayrelic
