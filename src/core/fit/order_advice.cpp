// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/order_advice.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/library/data_library.hpp"
#include "core/plan/spares.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

void judge_yield(const OrderQuestion& q, OrderAdvice& a) {
    if (q.ask.yield) {
        a.yield = *q.ask.yield;
        a.yield_from = "said";
        return;
    }
    if (q.built.begun >= least_built && q.built.good > 0) {
        a.yield = *q.built.yield;
        a.yield_from = q.built.says;
        return;
    }
    const int parts = q.solder ? static_cast<int>(q.solder->parts.size()) : 0;
    const int unknown = q.solder ? static_cast<int>(q.solder->unknown.size()) : 0;
    if (parts == 0) {
        a.yield_known = false;
        a.yield_from = "nobody knows: taken as certain";
        return;
    }
    a.yield = std::max(q.solder->chance, 1e-6);
    a.yield_from = q.solder->without_record + unknown == parts ? "as beginners manage"
                   : q.solder->without_record > 0              ? "from your record, and as beginners manage"
                                                               : "from your record";
    if (unknown == 0) return;
    a.yield_known = unknown < parts;
    a.yield_from += "; " +
                    plural(unknown, "part whose package nobody described counts",
                           "parts whose packages nobody described count") +
                    " as certain";
}

void judge_again(const OrderQuestion& q, OrderAdvice& a) {
    if (q.ask.respin) {
        a.respin = *q.ask.respin;
        a.respin_from = "said";
    } else if (q.again && q.again->questions > 0) {
        a.respin = q.again->chance;
        a.respin_from = "that one of Plan's " +
                        plural(q.again->questions, "open question", "open questions") + " costs a board";
        if (q.again->most - q.again->least > 0.005)
            a.respin_from += fmt::format(", if they do not hang together; {:.0f} to {:.0f} % if they do",
                                         100 * q.again->least, 100 * q.again->most);
    } else {
        a.respin_from = "as no open question costs a board";
    }
}

void judge_extras(const OrderQuestion& q, OrderAdvice& a) {
    for (const auto& x : q.ask.extras) {
        OrderExtraDue due{x, true};
        if (const auto rule = named<BoardRule>(x.rule)) {
            if (q.board == nullptr || !q.board->charged) {
                due.due.reset();
            } else {
                const auto& v = q.board->charged->violations;
                due.due = std::any_of(v.begin(), v.end(), [&](const RuleViolation& each) {
                    return each.rule == *rule && each.mm < x.below_mm;
                });
            }
        }
        a.extras.push_back(std::move(due));
    }
    for (const auto& s : q.ask.obsolete) a.obsolete += s.count * s.each;
}

/// Whether a board of this size is one of the tier's.
bool within(const OrderTier& t, const BoardSize& size) {
    if (t.width_mm <= 0 && t.height_mm <= 0) return true;
    const double w = t.width_mm > 0 ? t.width_mm : 1e9, h = t.height_mm > 0 ? t.height_mm : 1e9;
    constexpr double grace = 0.005;
    return (size.width_mm <= w + grace && size.height_mm <= h + grace) ||
           (size.width_mm <= h + grace && size.height_mm <= w + grace);
}

void conclude(OrderAdvice& a) {
    if (a.order.rows.empty()) {
        a.says = "no tier is entered yet";
    } else if (a.order.best) {
        const auto& r = a.order.rows[*a.order.best];
        a.says = fmt::format("{}order {}: {} working with a chance of {:.0f} %, {:.2f} for each working one",
                             a.yield_known ? "" : "if every board works, ", r.quantity, a.want,
                             100 * r.chance_of_want, r.per_working);
        if (!a.size_known) a.says += "; nobody knows the board's size, which the tiers ask for";
        if (std::any_of(a.extras.begin(), a.extras.end(), [](const OrderExtraDue& x) { return !x.due; }))
            a.says += "; an extra counts that may not be due";
    } else if (std::none_of(a.applies.begin(), a.applies.end(), [](bool b) { return b; })) {
        a.says = "no tier takes a board of this size";
    } else {
        double most = 0;
        for (std::size_t i = 0; i < a.order.rows.size(); ++i)
            if (a.applies[i]) most = std::max(most, a.order.rows[i].chance_of_want);
        a.says = fmt::format("no tier gives {} working with a chance of 90 %: the best gives {:.0f} %",
                             a.want, 100 * most);
    }
    if (a.obsolete > 0) a.says += fmt::format("; stock worth {:.2f} becomes useless", a.obsolete);
}

}  // namespace

OrderAgain again_of(const std::vector<double>& chances) {
    OrderAgain a;
    double none = 1, sum = 0;
    for (const double c : chances) {
        none *= 1 - c;
        sum += c;
        a.least = std::max(a.least, c);
        ++a.questions;
    }
    a.chance = a.questions > 0 ? 1 - none : 0;
    a.most = std::min(1.0, sum);
    return a;
}

OrderAdvice order_advice(const OrderQuestion& q) {
    OrderAdvice a;
    a.want = q.ask.want > 0 ? q.ask.want : std::max(1, q.boards);
    judge_yield(q, a);
    judge_again(q, a);
    judge_extras(q, a);
    const bool sized = std::any_of(q.ask.tiers.begin(), q.ask.tiers.end(),
                                   [](const OrderTier& t) { return t.width_mm > 0 || t.height_mm > 0; });
    const bool read = q.board != nullptr && q.board->read && q.board->read->outline.known();
    a.size_known = !sized || read;
    double each = 0, once = 0;
    for (const auto& x : a.extras)
        if (x.due.value_or(true)) {
            each += x.extra.each;
            once += x.extra.price;
        }
    std::vector<BoardTier> tiers;
    for (const auto& t : q.ask.tiers) {
        a.applies.push_back(!read || within(t, q.board->read->size));
        tiers.push_back({t.quantity, t.price + once + each * t.quantity, t.shipping});
    }
    a.order = order_boards(tiers, a.want, a.yield, a.respin);
    a.order.best.reset();
    for (std::size_t i = 0; i < a.order.rows.size(); ++i) {
        const auto& r = a.order.rows[i];
        if (!a.applies[i] || r.chance_of_want < enough_chance - 1e-12) continue;
        if (!a.order.best || r.cost < a.order.rows[*a.order.best].cost ||
            (r.cost == a.order.rows[*a.order.best].cost && r.quantity > a.order.rows[*a.order.best].quantity))
            a.order.best = i;
    }
    conclude(a);
    return a;
}

std::optional<SolderStudy> solder_study_of(const Analysis& a, const Fabrication& board) {
    if (!a.data) return std::nullopt;
    const auto* read = a.board ? a.board->find(board.id) : nullptr;
    std::vector<SolderAdvice> advice;
    if (read != nullptr && read->circuit && read->circuit->circuit &&
        !(board.against.empty() || board.against == "wire"))
        advice = solder_of(*read, a.data->packages, a.person->bench);
    else if (a.wire && (board.against.empty() || board.against == "wire"))
        advice = a.wire->solder;
    if (advice.empty()) return std::nullopt;
    return solder_study(advice, read, a.data->packages, a.person->bench);
}

OrderQuestion order_question(const Analysis& a, const Fabrication& board) {
    OrderQuestion q;
    q.ask = board.order;
    q.boards = a.dossier.supply->boards;
    q.solder = solder_study_of(a, board);
    q.board = a.board ? a.board->find(board.id) : nullptr;
    q.built = learned_yield(a.dossier, board.id);
    return q;
}

}  // namespace grayrelic
