// SPDX-License-Identifier: GPL-3.0-or-later
// A hidden board probed to the end, by habit or by suggestion: how many probes it takes.
#pragma once

#include <vector>

#include "core/trace/board_model.hpp"
#include "core/trace/nets.hpp"
#include "standin/hidden_board.hpp"

namespace grayrelic::standin {

struct ProbeRun {
    std::vector<Link> links;    ///< in the order they were probed
    long to_all = 0;            ///< probes until all nets are proven
    long to_most = 0;           ///< probes until 90 % of the pairs of points are
    std::vector<float> proven;  ///< after each probe; only when asked for
};

/// The net of each point, by its number in the model.
[[nodiscard]] std::vector<int> truth_of(const HiddenBoard& board, const BoardModel& model);
/// By habit: each point against one representative of every net found so far, the largest rails first.
[[nodiscard]] ProbeRun probe_by_habit(const BoardModel& model, const std::vector<int>& truth);
/// As next_probe.hpp suggests.
[[nodiscard]] ProbeRun probe_by_suggestion(const BoardModel& model, const std::vector<int>& truth);

}  // namespace grayrelic::standin
