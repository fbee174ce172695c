// SPDX-License-Identifier: GPL-3.0-or-later
// A stack of the dossier's boards: each level with its files, circuit and variant, judged as a whole. Cheap
// enough for every edit.
#pragma once

#include <string>
#include <vector>

#include "core/analysis/analysis.hpp"
#include "core/board/board_analysis.hpp"
#include "core/fit/board_joins.hpp"
#include "core/fit/board_stack.hpp"

namespace grayrelic {

struct StackResult {
    std::string id, name;
    std::vector<StackBoard> boards;  ///< from the lowest
    StackGeometry geometry;
    StackNets nets;
    std::vector<std::string> problems;  ///< levels without a board, variants that it does not have
    std::vector<std::string> gaps;      ///< levels whose gap nobody knows
    std::vector<std::string> assumed;   ///< levels whose gap nobody has measured
    std::optional<double> height_mm;    ///< from the lowest face to the highest, with the parts on them
    Verdict verdict = Verdict::unknown;
    std::string says;
};
[[nodiscard]] StackResult stack_of(const Analysis& a, const BoardStack& stack);

/// "tone" or "tone, as mixer".
[[nodiscard]] std::string level_title(const StackLevel& level);

/// Pins used and free at a join: "7 of 10 used, 2 grounds, 1 supply, 3 free".
[[nodiscard]] std::string pin_budget(const JoinedConnectors& join);

}  // namespace grayrelic
