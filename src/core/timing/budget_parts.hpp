// SPDX-License-Identifier: GPL-3.0-or-later
// The arithmetic of each kind of budget. For budget.cpp only: the meaning of the keys stands in its list.
#pragma once

#include <map>
#include <string>

#include "core/timing/budget.hpp"

namespace grayrelic {

struct BudgetValues {
    std::map<std::string, double, std::less<>> by_key;
    [[nodiscard]] double operator[](std::string_view key) const {
        const auto it = by_key.find(key);
        return it == by_key.end() ? 0.0 : it->second;
    }
};

/// `events` are the times of a capture's events where the budget has such a clock; empty for all others.
using EvaluateBudget = Result<BudgetResult>(const BudgetValues& values, const std::vector<Time>& events,
                                            Progress& progress);

// In budget_flow.cpp: what queues up.
EvaluateBudget queue_budget, text_budget;
// In budget_rounds.cpp: rounds, scans, frames.
EvaluateBudget watchdog_budget, latency_budget, startup_budget, press_budget, autofire_budget, memory_budget,
    frame_budget, loop_budget;

}  // namespace grayrelic
