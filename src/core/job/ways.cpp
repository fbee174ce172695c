// SPDX-License-Identifier: GPL-3.0-or-later
// What ways, hedges and breadboards are worth, each with its arithmetic.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/text.hpp"
#include "core/job/outlook.hpp"
#include "core/plan/plan_analysis.hpp"

namespace grayrelic {
namespace {

std::string money(double v, const Stakes& s) {
    return fmt::format("{:.2f}{}", v, s.currency.empty() ? "" : " " + s.currency);
}

/// worth = chance × loss avoided − price
HedgeState weigh(const Hedge& hedge, const Outlook& o) {
    HedgeState out;
    out.hedge = hedge;
    const auto* q = o.questions.find(hedge.question);
    if (!hedge.question.empty() && q == nullptr) {
        const auto& settled = o.questions.settled;
        const bool over = std::any_of(settled.begin(), settled.end(),
                                      [&](const SettledQuestion& x) { return x.id == hedge.question; });
        out.arithmetic = over ? "its question is settled" : "its question is not open";
        return out;
    }
    const auto chance = q != nullptr ? std::optional(q->chance) : hedge.chance;
    const bool own = hedge.avoids_money || hedge.avoids_days;
    if (!chance || !hedge.price || (q == nullptr && !own)) {
        out.arithmetic = !chance        ? "missing: a question, or a chance"
                         : !hedge.price ? "missing: its price"
                                        : "missing: what it avoids";
        return out;
    }
    const double avoided_money = own ? hedge.avoids_money.value_or(0) : q->money;
    const double avoided_days = own ? hedge.avoids_days.value_or(0) : q->days;
    const double avoided = avoided_money + avoided_days * o.stakes.day_worth;
    out.worth = *chance * avoided - *hedge.price;
    out.arithmetic =
        fmt::format("{:.6g} × ({:.2f} + {:.6g} days × {:.6g}) − {:.2f} = {}", *chance, avoided_money,
                    avoided_days, o.stakes.day_worth, *hedge.price, money(*out.worth, o.stakes));
    return out;
}

WayState weigh(const WayThere& way, const Stakes& s) {
    WayState out;
    out.way = way;
    if (!way.money) out.missing = "its money";
    if (!way.hours) out.missing += out.missing.empty() ? "its hours" : ", its hours";
    if (way.kind == WayKind::adapt && way.licence.empty())
        out.missing += out.missing.empty() ? "its licence" : ", its licence";
    if (!way.money || !way.hours) return out;
    const double days = way.days.value_or(0);
    out.total = *way.money + *way.hours * s.hour_worth + days * s.day_worth;
    out.arithmetic = fmt::format("{:.2f} + {:.6g} h × {:.6g} + {:.6g} days × {:.6g} = {}", *way.money,
                                 *way.hours, s.hour_worth, days, s.day_worth, money(*out.total, s));
    return out;
}

/// What the job as planned costs.
WayThere build_way(const Analysis& a, const Outlook& o, std::optional<Day> today) {
    WayThere w;
    w.id = "build";
    w.says = "Build it, as planned here";
    w.kind = WayKind::build;
    w.money = a.plan->parts.cost;
    if (!w.money && !a.plan->parts.rows.empty() && a.plan->parts.without_price == 0) w.money = 0;
    if (!o.tasks.empty()) {
        w.hours = 0;
        for (const auto& t : o.tasks)
            if (t.done.empty()) *w.hours += t.likely_h;
    }
    if (!today || !o.task_problem.empty() || o.tasks.empty()) return w;
    ScheduleOptions options;
    options.today = *today;
    options.hours_per_week = a.person->bench.hours_per_week.value_or(options.hours_per_week);
    options.runs = 1;
    Progress progress;
    if (const auto s = schedule(o.dated, options, progress)) w.days = std::round(s->likely_end * 10) / 10;
    return w;
}

/// Hours that a breadboard of a stage's doubts takes, by decision 0029.
double breadboard_hours(Stage s) {
    switch (s) {
        case Stage::timing: return 3;
        case Stage::port:
        case Stage::wire: return 1.5;
        default: return 2;
    }
}

void add_breadboards(Outlook& out) {
    for (const auto stage :
         {Stage::port, Stage::trace, Stage::listen, Stage::timing, Stage::wire, Stage::map}) {
        BreadboardChoice c;
        c.stage = stage;
        double all_right = 1, dearest = 0;
        for (const auto& q : out.questions.open) {
            if (q.stage != stage || q.at_stake == AtStake::little) continue;
            c.questions.push_back(q.says);
            all_right *= 1 - q.chance;
            dearest = std::max(dearest, q.money + q.days * out.stakes.day_worth);
        }
        if (c.questions.empty()) continue;
        c.chance = 1 - all_right;
        c.hours = breadboard_hours(stage);
        c.saves = c.chance * dearest;
        c.costs = c.hours * out.stakes.hour_worth;
        c.arithmetic = fmt::format("{:.2f} × {} = {} against {:.6g} h × {:.6g} = {}", c.chance,
                                   money(dearest, out.stakes), money(c.saves, out.stakes), c.hours,
                                   out.stakes.hour_worth, money(c.costs, out.stakes));
        out.breadboards.push_back(std::move(c));
    }
}

}  // namespace

void weigh_ways(const Analysis& a, Outlook& out, std::optional<Day> today) {
    for (const auto& h : a.dossier.plan->hedges) out.hedges.push_back(weigh(h, out));
    const auto& ways = a.dossier.plan->ways;
    if (!out.tasks.empty() || !ways.empty()) out.ways.push_back(weigh(build_way(a, out, today), out.stakes));
    for (const auto& w : ways) out.ways.push_back(weigh(w, out.stakes));
    add_breadboards(out);
}

}  // namespace grayrelic
