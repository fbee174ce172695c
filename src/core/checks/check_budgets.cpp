// SPDX-License-Identifier: GPL-3.0-or-later
// Budgets that do not hold, hold only just, or can't be judged.
#include <fmt/format.h>

#include "core/checks/registry.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic {

void check_budgets(const Analysis& a, Findings& out) {
    for (const auto& b : a.timing->budgets) {
        Finding f{
            "budget-broken",         Severity::doubt, Stage::timing, "budget " + b->budget.id, "", "", "",
            {"budget", b->budget.id}};
        if (!b->result) {
            f.says = fmt::format("{} can't be judged", b->budget.name);
            f.why = b->problem + ".";
            f.todo = "Enter what is missing.";
            out.push_back(std::move(f));
            continue;
        }
        const auto& r = *b->result;
        if (r.verdict != Verdict::stop && r.verdict != Verdict::doubt) continue;
        f.severity = r.verdict == Verdict::stop ? Severity::stop : Severity::doubt;
        f.says = fmt::format("{} {}", b->budget.name,
                             r.verdict == Verdict::stop ? "does not hold" : "holds only just");
        f.why = r.says + ".";
        if (!r.assumed.empty()) {
            f.why += " Assumed:";
            for (std::size_t i = 0; i < r.assumed.size(); ++i) f.why += (i == 0 ? " " : ", ") + r.assumed[i];
            f.why += ".";
        }
        f.todo = r.todo;
        out.push_back(std::move(f));
    }
}

}  // namespace grayrelic
