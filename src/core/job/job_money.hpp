// SPDX-License-Identifier: GPL-3.0-or-later
// What the job's money is computed from: parts list, Board's tiers, Build's log, boards that work so far.
#pragma once

#include "core/analysis/analysis.hpp"
#include "core/job/outlook.hpp"
#include "core/record/economics.hpp"
#include "core/record/learned.hpp"

namespace grayrelic {

/// Nothing of a figure while a part of it is not known: the price of one part is missing, say.
[[nodiscard]] CostInputs cost_inputs(const Analysis& a);
[[nodiscard]] CostStudy job_costs(const Analysis& a);
/// Against the plan's tasks, or those that are proposed.
[[nodiscard]] LearnedHours job_hours(const Analysis& a, const std::vector<PlanTask>& tasks);

}  // namespace grayrelic
