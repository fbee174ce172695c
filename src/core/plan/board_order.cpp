// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/plan/board_order.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/decimal.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/plan/spares.hpp"

namespace grayrelic {
namespace {

constexpr double most_mm = 100'000, most_boards = 1'000'000, most_money = 1e9;
constexpr std::size_t most_tiers = 1000;

}  // namespace

Result<std::vector<BoardTier>> read_tiers(std::string_view text, const std::string& name) {
    TableLimits limits;
    limits.rows = most_tiers;
    const auto table = read_table(text, name, "a table of tiers", limits);
    if (!table) return fail(table.error());
    const auto& head = table->rows.front();
    const auto keys = heading_keys(head);
    for (const std::string_view need : {"quantity", "price"})
        if (std::find(keys.begin(), keys.end(), need) == keys.end())
            return fail_at(name, head.line, fmt::format("a heading without {}", need),
                           "the columns quantity,price,shipping");
    std::vector<BoardTier> out;
    for (std::size_t i = 1; i < table->rows.size(); ++i) {
        const auto& row = table->rows[i];
        BoardTier t;
        t.line = row.line;
        const auto number = [&](std::string_view key) {
            const auto cell = cell_below(keys, row, key);
            const auto point = decimal_number(cell, '.');
            return point ? point : decimal_number(cell, ',');
        };
        const auto quantity = number("quantity");
        if (!quantity || *quantity < 1 || *quantity > most_boards || *quantity != std::floor(*quantity))
            return fail_at(name, row.line, in_quotes(cell_below(keys, row, "quantity")) + " for quantity",
                           "a whole number of boards, 1 or more");
        t.quantity = static_cast<int>(*quantity);
        for (const auto& [key, into] :
             {std::pair<std::string_view, double*>{"price", &t.price}, {"shipping", &t.shipping}}) {
            if (key == "shipping" && cell_below(keys, row, key).empty()) continue;
            const auto money = number(key);
            if (!money || !(*money >= 0) || *money > most_money)
                return fail_at(name, row.line,
                               in_quotes(cell_below(keys, row, key)) + " for " + std::string(key),
                               "an amount of money, 0 or more");
            *into = *money;
        }
        for (const auto& [key, into] :
             {std::pair<std::string_view, double*>{"width_mm", &t.width_mm}, {"height_mm", &t.height_mm}}) {
            if (cell_below(keys, row, key).empty()) continue;
            const auto mm = number(key);
            if (!mm || !(*mm >= 0) || *mm > most_mm)
                return fail_at(name, row.line,
                               in_quotes(cell_below(keys, row, key)) + " for " + std::string(key),
                               "millimetres, 0 for any");
            *into = *mm;
        }
        const bool same_size =
            !out.empty() && t.width_mm == out.back().width_mm && t.height_mm == out.back().height_mm;
        if (!out.empty() &&
            (t.quantity < out.back().quantity || (t.quantity == out.back().quantity && same_size)))
            return fail_at(name, row.line,
                           fmt::format("{} boards after {} in line {}", t.quantity, out.back().quantity,
                                       out.back().line),
                           "tiers with rising quantities");
        out.push_back(t);
    }
    if (out.empty()) return fail_at(name, head.line, "no tier", "rows below the heading");
    return out;
}

BoardOrder order_boards(const std::vector<BoardTier>& tiers, int want, double yield, double respin) {
    BoardOrder out;
    for (const auto& t : tiers) {
        OrderRow r;
        r.quantity = t.quantity;
        r.cost = (t.price + t.shipping) * (1 + respin);
        r.expected_working = t.quantity * yield;
        r.chance_of_want = chance_of_enough(want, t.quantity, yield);
        r.per_working = r.cost / r.expected_working;
        if (r.chance_of_want >= enough_chance - 1e-12 &&
            (!out.best || r.cost < out.rows[*out.best].cost ||
             (r.cost == out.rows[*out.best].cost && r.quantity > out.rows[*out.best].quantity)))
            out.best = out.rows.size();
        out.rows.push_back(r);
    }
    return out;
}

}  // namespace grayrelic
