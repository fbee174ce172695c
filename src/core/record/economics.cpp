// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/economics.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>
#include <set>

namespace grayrelic {
namespace {

bool entered(const Economics& money, CostKind kind, CostPer per) {
    return std::any_of(money.costs.begin(), money.costs.end(),
                       [&](const CostLine& c) { return c.kind == kind && c.per == per; });
}

void gather(const Economics& money, const CostInputs& in, CostStudy& out) {
    for (const auto& c : money.costs)
        out.entries.push_back({c.says.empty() ? c.id : c.says, c.kind, c.per, c.money,
                               c.day.empty() ? "entered" : "entered, " + c.day});
    if (!entered(money, CostKind::parts, CostPer::piece)) {
        if (in.parts_each)
            out.entries.push_back(
                {"parts of one board", CostKind::parts, CostPer::piece, *in.parts_each, "parts list"});
        else
            out.missing.emplace_back("what the parts of one board cost: prices in the parts list");
    }
    if (!entered(money, CostKind::boards, CostPer::batch) &&
        !entered(money, CostKind::boards, CostPer::piece)) {
        if (in.boards_batch)
            out.entries.push_back({"empty boards of one batch", CostKind::boards, CostPer::batch,
                                   *in.boards_batch, "Board's tiers"});
        else
            out.missing.emplace_back("what the empty boards cost: tiers in Board, or a line here");
    }
    out.hours_each = money.hours_each ? money.hours_each : in.hours_each;
    out.hours_in_money = out.hours_each && money.hour_worth;
    if (out.hours_in_money)
        out.entries.push_back({fmt::format("{:.3g} h of work", *out.hours_each), CostKind::other,
                               CostPer::piece, *out.hours_each * *money.hour_worth,
                               "hours × worth of an hour"});
    for (const auto& e : out.entries)
        (e.per == CostPer::once    ? out.once
         : e.per == CostPer::batch ? out.per_batch
                                   : out.per_piece) += e.money;
}

/// The first quantity that holds, and the one after the last that does not.
BreakEven search(const CostStudy& study, std::optional<double> price,
                 const std::function<bool(const CostRow&)>& holds) {
    BreakEven out;
    int last_bad = 0;
    for (int q = 1; q <= most_quantity; ++q) {
        const bool fine = holds(cost_of(study, q, price));
        if (fine && !out.first) out.first = q;
        if (!fine) last_bad = q;
    }
    if (last_bad < most_quantity) out.for_good = last_bad + 1;
    return out;
}

std::string print(const BreakEven& b) {
    if (!b.first) return "never";
    if (!b.for_good) return fmt::format("at {}, and not for good", *b.first);
    return *b.first == *b.for_good ? fmt::format("from {} on", *b.first)
                                   : fmt::format("at {}, from {} on for good", *b.first, *b.for_good);
}

}  // namespace

CostRow cost_of(const CostStudy& s, int quantity, std::optional<double> price) {
    CostRow r;
    r.quantity = quantity;
    // A share that is not exact, such as 1/3, must not ask for one board more.
    constexpr double grain = 1e-9;
    constexpr double most_begun = 1e9;
    r.begun = static_cast<int>(std::min(most_begun, std::ceil(quantity / s.yield - grain)));
    r.batches = r.begun / s.batch + (r.begun % s.batch > 0 ? 1 : 0);
    r.cost = s.once + r.batches * s.per_batch + r.begun * s.per_piece;
    r.each = quantity > 0 ? r.cost / quantity : 0;
    if (price) r.profit = quantity * *price - r.cost;
    if (s.hours_each) r.hours = r.begun * *s.hours_each;
    return r;
}

CostStudy study_costs(const Economics& money, const CostInputs& in, int boards) {
    CostStudy out;
    out.batch = std::max(1, money.batch);
    out.yield = std::clamp(in.yield, 1e-6, 1.0);
    out.yield_from = in.yield_from;
    gather(money, in, out);
    if (!in.yield_known)
        out.missing.emplace_back("how many boards work: none was finished, all are taken to");
    std::set<int> quantities{1, 2, 5, 10, 20, 50, 100, std::max(1, boards)};
    for (const int q : quantities) out.rows.push_back(cost_of(out, q, money.price));
    constexpr double cent = 0.005;
    if (money.price)
        out.pays = search(out, money.price, [&](const CostRow& r) { return *r.profit >= -cent; });
    const auto below = [&](const std::optional<double>& what) {
        return what ? search(out, {}, [&](const CostRow& r) { return r.each <= *what + cent; }) : BreakEven{};
    };
    out.below_original = below(money.original.value);
    out.below_ready = below(money.ready_made.value);
    const auto& first = cost_of(out, std::max(1, boards), money.price);
    out.says = fmt::format("{} cost {:.2f}, {:.2f} each", first.quantity, first.cost, first.each);
    if (money.price) out.says += fmt::format("; sold at {:.2f} they pay {}", *money.price, print(out.pays));
    if (money.original.value)
        out.says +=
            fmt::format("; below an original's {:.2f} {}", *money.original.value, print(out.below_original));
    if (money.ready_made.value)
        out.says += fmt::format("; below a ready-made one's {:.2f} {}", *money.ready_made.value,
                                print(out.below_ready));
    return out;
}

}  // namespace grayrelic
