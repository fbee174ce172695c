// SPDX-License-Identifier: GPL-3.0-or-later
// The trials as a matrix, and what they cost over how many are made: drawings for window, report and paper.
#pragma once

#include "core/record/economics.hpp"
#include "core/record/trial_study.hpp"
#include "core/report/drawing.hpp"

namespace grayrelic {

/// A column for each run, the failed ones on the left; a row for each value of each factor, filled where the
/// run has it. Rows that fill the same columns are confounded, and a bracket joins them. The next run stands
/// as an open column on the right. At most `most_runs` runs are drawn.
[[nodiscard]] Drawing trial_matrix(const TrialTable& table, const TrialStudy& study, double width);
inline constexpr std::size_t most_runs_drawn = 60, most_values_drawn = 60;

/// What one costs over how many work, up to `most`; with the prices it is held against.
[[nodiscard]] Drawing cost_figure(const CostStudy& study, const Economics& money, int most, double width);

}  // namespace grayrelic
