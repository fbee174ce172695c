// SPDX-License-Identifier: GPL-3.0-or-later
// The run that tells most next: one change away from one that was made. For study_trials().
#pragma once

#include "core/record/trial_study.hpp"

namespace grayrelic {

/// The values in a factor's column, in the order they first come.
[[nodiscard]] std::vector<std::string> values_of(const TrialTable& table, std::size_t factor);

/// Fills `next` and `why`. Of all setups that are one change away from a run and were not made, the one whose
/// outcome leaves the fewest explanations at the worst; of equal ones a change to a run that failed, and to
/// the value that most good runs have. Nothing when one explanation is left, or no run failed.
void propose_next(const TrialTable& table, TrialStudy& study);

}  // namespace grayrelic
