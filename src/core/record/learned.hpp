// SPDX-License-Identifier: GPL-3.0-or-later
// What the job has taught about itself: hours against estimates, days in the post, boards that work. Plan,
// Board and Log take their figures from here.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/dossier/dossier.hpp"

namespace grayrelic {

struct TaskHours {
    std::string task;
    std::optional<double> estimated;  ///< likely hours of the plan; nothing: not estimated
    double spent = 0;
    bool done = false;  ///< by the plan
};

struct LearnedHours {
    std::vector<TaskHours> tasks;     ///< those that hours were spent on
    double estimated = 0, spent = 0;  ///< of those that are done and were estimated
    int counted = 0;
    /// spent ÷ estimated; nothing while no estimated task is done.
    std::optional<double> factor;
};
/// `tasks`: the plan's, or those that are proposed.
[[nodiscard]] LearnedHours learned_hours(const JobLog& log, const std::vector<PlanTask>& tasks);

struct LearnedYield {
    int begun = 0, good = 0;
    std::optional<double> yield;  ///< good ÷ begun; nothing while none was begun
    double least = 0, most = 1;   ///< so much may be behind it: 90 % by Jeffreys
    std::string says;             ///< "3 of 4 work so far (90 %: 33 to 97 %)"
};
/// Boards that were put together: built, spoken for and given ones work, dead ones do not. `board`: only of
/// that Fabrication::id, by their entry in Build; empty: of all.
[[nodiscard]] LearnedYield learned_yield(const Dossier& dossier, const std::string& board = {});

struct LearnedPost {
    std::string from;
    int orders = 0;
    int least_days = 0, most_days = 0;
};
/// Of orders that were sent and have arrived, by whom they came from.
[[nodiscard]] std::vector<LearnedPost> learned_post(const Supply& supply);

}  // namespace grayrelic
