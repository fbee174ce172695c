// SPDX-License-Identifier: GPL-3.0-or-later
// What being wrong costs in this job, and how likely an answer of a grade is wrong (decision 0029).
#include <fmt/format.h>

#include <algorithm>

#include "core/job/questions.hpp"
#include "core/plan/plan_analysis.hpp"

namespace grayrelic {
namespace {

std::string name_of(const JobUnit& u) {
    return u.name.empty() ? u.id : u.name;
}

}  // namespace

double chance_of(Grade grade) {
    switch (grade) {
        case Grade::contradicted:
        case Grade::missing: return 0.5;
        case Grade::assumed: return 0.3;
        case Grade::unproven: return 0.2;
        case Grade::deduced: return 0.1;
        case Grade::documented: return 0.05;
        case Grade::measured: return 0.01;
    }
    return 0.5;
}

Grade grade_of(EvidenceKind kind) {
    switch (kind) {
        case EvidenceKind::measured: return Grade::measured;
        case EvidenceKind::documented: return Grade::documented;
        case EvidenceKind::deduced: return Grade::deduced;
        case EvidenceKind::assumed: return Grade::assumed;
    }
    return Grade::missing;
}

Stakes stakes_of(const Analysis& a) {
    Stakes s;
    const auto& plan = *a.dossier.plan;
    const auto& bench = a.person->bench;
    s.currency = bench.currency;
    double money = 0;
    for (const auto& row : a.plan->parts.rows) {
        if (row.kind != PartKind::board) continue;
        for (const auto& line : a.dossier.supply->parts)
            if (part_key(line.part) == part_key(row.part))
                if (const auto buy = cheapest(line.prices, std::max(1, row.need))) money += buy->second;
        if (const auto late = row.lead_days_to ? row.lead_days_to : row.lead_days_from) {
            s.respin_days = s.days_taken ? *late : std::max<double>(s.respin_days, *late);
            s.days_taken = false;
        }
    }
    if (money > 0) {
        s.respin_money = money;
        s.money_taken = false;
    }
    if (plan.respin_money) {
        s.respin_money = *plan.respin_money;
        s.money_taken = false;
    }
    if (plan.respin_days) {
        s.respin_days = *plan.respin_days;
        s.days_taken = false;
    }
    if (bench.day_worth) {
        s.day_worth = *bench.day_worth;
        s.day_taken = false;
    }
    if (bench.hour_worth) {
        s.hour_worth = *bench.hour_worth;
        s.hour_taken = false;
    }
    // What is dearest of the originals that are still here; one without a worth is dearer than all money.
    bool any = false, priceless = false;
    for (const auto& u : *a.dossier.units) {
        if (u.state != UnitState::original) continue;
        const bool dearer = !any || (!priceless && (!u.worth || *u.worth > s.worth.value_or(0)));
        any = true;
        if (!dearer) continue;
        s.dies = name_of(u);
        s.worth = u.worth;
        priceless = !u.worth;
    }
    if (!any) s.dies = "the relic";
    return s;
}

std::string wrong_cost(const OpenQuestion& q, const Stakes& s) {
    if (q.at_stake == AtStake::little && q.money <= 0 && q.days <= 0) return "an hour at the bench";
    std::string out;
    if (q.at_stake == AtStake::relic) out = "may kill " + s.dies;
    const auto money = q.money > 0
                           ? fmt::format("{:.6g}{}", q.money, s.currency.empty() ? "" : " " + s.currency)
                           : std::string();
    const auto days =
        q.days > 0 ? fmt::format("{:.6g} {}", q.days, q.days == 1 ? "day" : "days") : std::string();
    for (const auto* more : {&money, &days})
        if (!more->empty())
            out += (out.empty() ? "" : more == &days && !money.empty() ? " and " : ", ") + *more;
    return out;
}

}  // namespace grayrelic
