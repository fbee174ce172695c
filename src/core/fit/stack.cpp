// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/stack.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/decimal.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr double most_mm = 100'000;
constexpr std::size_t most_rows = 10'000;

/// Sums of decimals are not decimals: what is zero but for rounding is zero.
double rounded(double mm) {
    return std::round(mm * 1e9) / 1e9;
}

Verdict judged(double nominal, double least) {
    return nominal <= 0 ? Verdict::stop : least <= 0 ? Verdict::doubt : Verdict::holds;
}

}  // namespace

StackRoom room_of(const std::vector<StackItem>& items) {
    StackRoom r;
    double middle = 0, squares = 0;
    for (const auto& i : items) {
        const double sign = i.gives ? 1 : -1;
        r.nominal_mm += sign * i.mm;
        r.worst_min_mm += i.gives ? i.mm - i.minus : -(i.mm + i.plus);
        r.worst_max_mm += i.gives ? i.mm + i.plus : -(i.mm - i.minus);
        middle += sign * (i.mm + (i.plus - i.minus) / 2);
        squares += std::pow((i.plus + i.minus) / 2, 2);
    }
    r.rss_min_mm = rounded(middle - std::sqrt(squares));
    r.rss_max_mm = rounded(middle + std::sqrt(squares));
    r.nominal_mm = rounded(r.nominal_mm);
    r.worst_min_mm = rounded(r.worst_min_mm);
    r.worst_max_mm = rounded(r.worst_max_mm);
    r.verdict = judged(r.nominal_mm, r.worst_min_mm);
    return r;
}

ButtonRoom room_of(const ButtonTravel& b) {
    ButtonRoom r;
    // As much gap as there can be delays the switch; as little as there can be presses it deeper.
    r.preload_mm = rounded(b.gap.worst_min_mm);
    r.spare_mm = rounded(b.travel_mm - b.travel_minus - b.gap.worst_max_mm - b.actuates_mm - b.actuates_plus);
    r.crush_mm = rounded(b.endures_mm - b.endures_minus - (b.travel_mm + b.travel_plus - b.gap.worst_min_mm));
    const double nominal = std::min({b.gap.nominal_mm, b.travel_mm - b.gap.nominal_mm - b.actuates_mm,
                                     b.endures_mm - b.travel_mm + b.gap.nominal_mm});
    // A stem that just touches presses nothing.
    const double least = std::min({r.preload_mm, r.spare_mm, r.crush_mm});
    r.verdict = rounded(nominal) < 0 ? Verdict::stop : least < 0 ? Verdict::doubt : Verdict::holds;
    return r;
}

Result<std::vector<StackItem>> read_stack(std::string_view text, const std::string& name) {
    TableLimits limits;
    limits.rows = most_rows;
    const auto table = read_table(text, name, "a table of heights", limits);
    if (!table) return fail(table.error());
    const auto& head = table->rows.front();
    const auto keys = heading_keys(head);
    for (const std::string_view need : {"what", "mm", "sign"})
        if (std::find(keys.begin(), keys.end(), need) == keys.end())
            return fail_at(name, head.line, fmt::format("a heading without {}", need),
                           "the columns what,mm,plus,minus,sign");
    std::vector<StackItem> out;
    long last = head.line;
    for (std::size_t i = 1; i < table->rows.size(); ++i) {
        const auto& row = table->rows[i];
        last = row.line;
        StackItem item;
        item.line = row.line;
        item.what = cell_below(keys, row, "what");
        const auto number = [&](std::string_view key, double& into, bool must) -> Status {
            const auto cell = cell_below(keys, row, key);
            if (cell.empty() && !must) return {};
            const auto point = decimal_number(cell, '.');
            const auto value = point ? point : decimal_number(cell, ',');
            if (!value || !(*value >= 0) || *value > most_mm)
                return fail_at(name, row.line, fmt::format("{} for {}", in_quotes(cell), key),
                               key == "mm" ? "millimetres, 0 or more: the sign stands in its own column"
                                           : "millimetres without sign, 0 or more");
            into = *value;
            return {};
        };
        for (const auto& [key, into, must] :
             {std::tuple<std::string_view, double*, bool>{"mm", &item.mm, true},
              {"plus", &item.plus, false},
              {"minus", &item.minus, false}})
            if (const auto ok = number(key, *into, must); !ok) return fail(ok.error());
        const auto sign = cell_below(keys, row, "sign");
        if (sign != "+" && sign != "-" && sign != "−")
            return fail_at(name, row.line, in_quotes(sign) + " for sign",
                           "+ for what gives room, - for what takes it");
        item.gives = sign == "+";
        out.push_back(std::move(item));
    }
    if (std::none_of(out.begin(), out.end(), [](const StackItem& s) { return s.gives; }))
        return fail_at(name, last, "no line that gives room",
                       "at least one with the sign +, such as the lid");
    return out;
}

}  // namespace grayrelic
