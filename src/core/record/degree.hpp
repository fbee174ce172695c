// SPDX-License-Identifier: GPL-3.0-or-later
// How much against how much was expected; two runs started together.
#pragma once

#include <optional>
#include <string>

#include "core/base/verdict.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic {

/// By hand, start and stop are good to about so much each, in seconds.
inline constexpr double by_hand_s = 0.2;

struct DegreeState {
    std::optional<double> degree;  ///< as said; of two runs started together: ahead_s ÷ ran_s, in ppm
    std::optional<double> expected, plus_minus;
    std::string of;                      ///< what it counts, with its unit
    Verdict verdict = Verdict::unknown;  ///< holds: as expected; doubt: beyond what is uncertain
    std::string says;                    ///< with what is missing
};

/// Of two runs started together and stopped together, one was `ahead_s` ahead after `ran_s`: the clocks
/// differ by ahead_s ÷ ran_s. Without a plus_minus, it is that of a start and a stop by hand: √2 · by_hand_s
/// ÷ ran_s.
[[nodiscard]] DegreeState degree_state(const TrialRun& trial);

}  // namespace grayrelic
