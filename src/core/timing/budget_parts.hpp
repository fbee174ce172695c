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

// In budget_flow.cpp: what queues up.
[[nodiscard]] Result<BudgetResult> queue_budget(const BudgetValues& v, const std::vector<Time>& arrivals,
                                                Progress& progress);
[[nodiscard]] Result<BudgetResult> text_budget(const BudgetValues& v, Progress& progress);
// In budget_rounds.cpp: rounds, scans, frames.
[[nodiscard]] Result<BudgetResult> watchdog_budget(const BudgetValues& v);
[[nodiscard]] Result<BudgetResult> latency_budget(const BudgetValues& v);
[[nodiscard]] Result<BudgetResult> startup_budget(const BudgetValues& v);
[[nodiscard]] Result<BudgetResult> press_budget(const BudgetValues& v, const std::vector<Time>& scans);
[[nodiscard]] Result<BudgetResult> autofire_budget(const BudgetValues& v, const std::vector<Time>& polls);
[[nodiscard]] Result<BudgetResult> memory_budget(const BudgetValues& v);
[[nodiscard]] Result<BudgetResult> frame_budget(const BudgetValues& v);
[[nodiscard]] Result<BudgetResult> loop_budget(const BudgetValues& v);

}  // namespace grayrelic
