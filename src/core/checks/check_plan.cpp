// SPDX-License-Identifier: GPL-3.0-or-later
// What can't be right in the plan itself. A gate that is not reached is no finding.
#include <fmt/format.h>

#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/plan/schedule.hpp"

namespace grayrelic {
namespace {

void kind_unknown(const Analysis& a, Findings& out) {
    const auto& kind = a.dossier.plan->kind;
    if (kind.empty() || !a.data || a.data->jobs.find(kind) != nullptr) return;
    out.push_back({"plan-broken",
                   Severity::note,
                   Stage::plan,
                   "kind",
                   fmt::format("The kind of job {} is not known here", in_quotes(kind)),
                   "Its stages, questions and tasks are missing; every stage counts as needed.",
                   "Put its file into your folder of kinds, or choose another kind.",
                   {"job", "Kind"}});
}

void tasks_broken(const Analysis& a, Findings& out) {
    const auto problem = task_problem(a.dossier.plan->tasks);
    if (problem.empty()) return;
    out.push_back({"plan-broken",
                   Severity::doubt,
                   Stage::plan,
                   "tasks",
                   "The tasks give no dates",
                   fmt::format("{}.", problem),
                   "Mend what a task comes after, or its hours.",
                   {"task", {}}});
}

/// A must that hangs on a thing that is gone will never be met.
void musts_astray(const Analysis& a, Findings& out) {
    for (const auto& m : a.dossier.plan->musts) {
        if (!m.waived.empty()) continue;
        bool there = true;
        if (m.tie == MustTie::dimension) {
            there = false;
            for (const auto& d : *a.dossier.dimensions) there = there || d.id == m.thing;
        } else if (m.tie == MustTie::pin) {
            const auto slash = m.thing.find('/');
            const auto* port = a.dossier.find_port(m.thing.substr(0, slash));
            there = port != nullptr && slash != std::string::npos &&
                    port->find_pin(m.thing.substr(slash + 1)) != nullptr;
        } else if (m.tie == MustTie::interval) {
            there = false;
            for (const auto& i : a.dossier.timing->intervals) there = there || i.id == m.thing;
        }
        if (there) continue;
        out.push_back(
            {"must-astray",
             Severity::doubt,
             Stage::plan,
             "must " + m.id,
             fmt::format("{} hangs on {} {}, which is not there", m.says, word(m.tie), in_quotes(m.thing)),
             "It stays open for ever, and keeps anything from being ordered.",
             "Tie it to what shows it, or say why it need not be.",
             {"must", m.id}});
    }
}

}  // namespace

void check_plan(const Analysis& a, Findings& out) {
    kind_unknown(a, out);
    tasks_broken(a, out);
    musts_astray(a, out);
}

}  // namespace grayrelic
