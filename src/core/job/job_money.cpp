// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job_money.hpp"

#include <algorithm>

#include "core/fit/order_advice.hpp"
#include "core/plan/plan_analysis.hpp"

namespace grayrelic {
namespace {

/// The parts of one board at the price for the batch; nothing while one of them has no price.
std::optional<double> parts_each(const Analysis& a, int batch) {
    const auto& list = a.plan->parts;
    if (list.rows.empty()) return std::nullopt;
    double sum = 0;
    for (const auto& row : list.rows) {
        if (row.per_board <= 0) continue;
        const PartLine* line = nullptr;
        for (const auto& l : a.dossier.supply->parts)
            if (l.id == row.line || part_key(l.part) == part_key(row.part)) line = &l;
        if (line == nullptr) return std::nullopt;
        const auto bought = cheapest(line->prices, row.per_board * batch);
        if (!bought || bought->first <= 0) return std::nullopt;
        sum += row.per_board * bought->second / bought->first;
    }
    return sum;
}

/// The empty boards of a batch: the cheapest tier of each board that gives so many, with its shipping.
std::optional<double> boards_batch(const Analysis& a, int batch) {
    std::optional<double> sum;
    for (const auto& board : *a.dossier.boards) {
        const auto advice = order_advice(order_question(a, board));
        std::optional<double> least;
        for (std::size_t i = 0; i < advice.order.rows.size(); ++i) {
            const auto& row = advice.order.rows[i];
            const bool applies = i >= advice.applies.size() || advice.applies[i];
            // Without what ordering again would cost: that is a chance, not an outlay.
            const double cost = row.cost / (1 + advice.respin);
            if (applies && row.quantity >= batch && (!least || cost < *least)) least = cost;
        }
        if (least) sum = sum.value_or(0) + *least;
    }
    return sum;
}

std::optional<double> hours_each(const Dossier& d) {
    double minutes = 0;
    int boards = 0;
    for (const auto& b : *d.builds) {
        double on_it = 0;
        for (const auto& w : b.work) on_it += w.minutes;
        if (on_it <= 0) continue;
        minutes += on_it;
        ++boards;
    }
    constexpr double an_hour = 60;
    return boards > 0 ? std::optional(minutes / an_hour / boards) : std::nullopt;
}

}  // namespace

CostInputs cost_inputs(const Analysis& a) {
    CostInputs in;
    const int batch = std::max(1, a.dossier.log->money.batch);
    in.parts_each = parts_each(a, batch);
    in.boards_batch = boards_batch(a, batch);
    in.hours_each = hours_each(a.dossier);
    const auto learned = learned_yield(a.dossier);
    in.yield_from = learned.says;
    if (learned.yield && *learned.yield > 0) {
        in.yield = *learned.yield;
        in.yield_known = true;
    }
    return in;
}

CostStudy job_costs(const Analysis& a) {
    return study_costs(a.dossier.log->money, cost_inputs(a), a.dossier.supply->boards);
}

LearnedHours job_hours(const Analysis& a, const std::vector<PlanTask>& tasks) {
    return learned_hours(*a.dossier.log, tasks);
}

}  // namespace grayrelic
