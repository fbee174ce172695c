// SPDX-License-Identifier: GPL-3.0-or-later
// Parts, orders, and the person's own files.
#include <fmt/format.h>

#include <algorithm>

#include "core/base/date.hpp"
#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/plan/plan_analysis.hpp"

namespace grayrelic {

void check_parts(const Analysis& a, Findings& out) {
    const auto& list = a.plan->parts;
    for (const auto& r : list.rows) {
        if (r.not_to_be_had.empty() || (r.state != PartState::order && r.state != PartState::undecided) ||
            r.order == 0)
            continue;
        const auto other = std::find_if(r.alternates.begin(), r.alternates.end(),
                                        [&](const auto& o) { return o.second >= r.order; });
        const bool helped = other != r.alternates.end();
        Finding f{"part-unavailable",
                  helped ? Severity::doubt : Severity::stop,
                  Stage::plan,
                  "part " + r.part,
                  r.part + " is not to be had",
                  {},
                  {},
                  {"part", r.part}};
        f.why = fmt::format("{} needed, {} in the drawer; {}.", r.need + r.spare, r.drawer, r.not_to_be_had);
        f.todo = helped ? fmt::format("Use {}: {} in the drawer. Judge the option with it first.",
                                      other->first, other->second)
                        : "Name an alternate, or choose another way to build.";
        out.push_back(std::move(f));
    }
    // What a list leaves out matters once somebody orders by it.
    if (*a.dossier.supply == Supply{}) return;
    for (const auto& gap : list.gaps)
        out.push_back({"parts-incomplete",
                       Severity::note,
                       Stage::plan,
                       "parts list",
                       "The parts list may be incomplete",
                       gap,
                       "Settle it in Timing before parts are ordered.",
                       {"part", {}}});
}

void check_orders(const Analysis& a, Findings& out) {
    const auto& supply = *a.dossier.supply;
    for (const auto& o : supply.orders) {
        const auto what = o.from.empty() ? "order " + o.id : "the order from " + o.from;
        const auto bad_days = [&](const std::string& first, const std::string& second,
                                  std::string_view happened) {
            const auto x = parse_day(first), y = parse_day(second);
            if (!x || !y || *y >= *x) return;
            out.push_back({"order-days",
                           Severity::doubt,
                           Stage::plan,
                           "order " + o.id,
                           fmt::format("Days of {} can't be right", what),
                           fmt::format("{} {}, before {}.", happened, second, first),
                           "Correct its days.",
                           {"order", o.id}});
        };
        bad_days(o.ordered, o.arrived, "It arrived on");
        bad_days(o.ordered, o.expected_to.empty() ? o.expected_from : o.expected_to, "It is expected by");
        bad_days(o.expected_from, o.expected_to, "The last day expected is");
        if (o.ordered.empty()) continue;
        for (const auto& l : o.lines)
            for (const auto& p : supply.parts)
                if (!p.question.empty() && part_key(p.part) == part_key(l.part))
                    out.push_back({"order-undecided",
                                   Severity::doubt,
                                   Stage::plan,
                                   "order " + o.id,
                                   fmt::format("{} was ordered before it was decided", p.part),
                                   fmt::format("Still open: {}", p.question),
                                   "Settle the question, or send the part back.",
                                   {"order", o.id}});
    }
}

void check_person(const Analysis& a, Findings& out) {
    for (const auto& problem : a.person->problems)
        out.push_back(
            {"drawer-unreadable",
             Severity::doubt,
             Stage::plan,
             "person",
             "Your drawer or bench can't be read",
             problem.message(),
             "Mend the file by hand, or move it away; until then it counts as empty, and nothing is "
             "written over it.",
             {"person", {}}});
}

}  // namespace grayrelic
