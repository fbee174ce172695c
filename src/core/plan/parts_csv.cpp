// SPDX-License-Identifier: GPL-3.0-or-later
// Parts lists as tables.
#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <map>
#include <tuple>

#include "core/base/date.hpp"
#include "core/base/limits.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/plan/parts_list.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_lines = 100'000;

struct Bad {
    std::string found, expected;
};

std::optional<int> whole(std::string_view text, int least, int most) {
    int value = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (code != std::errc() || end != text.data() + text.size() || value < least || value > most)
        return std::nullopt;
    return value;
}

std::vector<std::string> words(std::string_view text, char separator) {
    std::vector<std::string> out;
    for (const auto w : split(text, separator))
        if (!trim(w).empty()) out.emplace_back(trim(w));
    return out;
}

double number(const std::string& text, const char* column, double least, double most) {
    double value = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (code != std::errc() || end != text.data() + text.size() || !(value >= least && value <= most))
        throw Bad{in_quotes(text) + " in column " + column,
                  fmt::format("a number from {} to {}", least, most)};
    return value;
}

template <class Cell>
PartLine read_line(const Cell& cell) {
    PartLine line;
    line.part = cell("part");
    if (part_key(line.part).empty() || line.part.size() > most_name)
        throw Bad{"an empty or endless name in column part", "what the part is called"};
    if (const auto kind = cell("kind"); !kind.empty()) {
        const auto known = named<PartKind>(kind);
        if (!known) throw Bad{in_quotes(kind) + " in column kind", one_of<PartKind>()};
        line.kind = *known;
    }
    line.refs = words(cell("refs"), ' ');
    if (const auto many = cell("per_board"); !many.empty()) {
        line.per_board = whole(many, 0, 100'000);
        if (!line.per_board)
            throw Bad{in_quotes(many) + " in column per_board", "a whole number from 0 to 100,000"};
    }
    if (const auto yield = cell("yield"); !yield.empty()) {
        line.yield.value = number(yield, "yield", 0, 1);
        if (*line.yield.value == 0) throw Bad{"a yield of 0", "a share above 0 and up to 1"};
        line.yield.evidence.source = cell("yield_from");
    }
    line.question = cell("question");
    line.not_to_be_had = cell("not_to_be_had");
    line.alternates = words(cell("alternates"), '|');
    line.supplier = cell("supplier");
    const auto prices = parse_prices(cell("prices"));
    if (!prices) throw Bad{prices.error().found + " in column prices", prices.error().expected};
    line.prices = *prices;
    const auto lead = parse_lead_days(cell("lead_days"));
    if (!lead) throw Bad{lead.error().found + " in column lead_days", lead.error().expected};
    std::tie(line.lead_days_from, line.lead_days_to) = *lead;
    line.seen = cell("seen");
    if (!line.seen.empty() && !parse_day(line.seen))
        throw Bad{in_quotes(line.seen) + " in column seen", "a day such as 2026-11-29"};
    line.note = cell("note");
    return line;
}

std::string joined(const std::vector<std::string>& list, const char* between) {
    return fmt::format("{}", fmt::join(list, between));
}

}  // namespace

Result<std::vector<PartLine>> parts_from_csv(std::string_view text, const std::string& name) {
    const auto table = read_table(text, name, "a parts list as a table", {64U << 20U, most_lines, 50});
    if (!table) return fail(table.error());
    const auto& heading = table->rows.front();
    const auto keys = heading_keys(heading);
    if (std::count(keys.begin(), keys.end(), "part") != 1)
        return fail_at(name, heading.line, "no single column \"part\"",
                       "the columns part, and kind,refs,per_board,… if wanted");
    std::vector<PartLine> out;
    for (std::size_t i = 1; i < table->rows.size(); ++i) {
        const auto& row = table->rows[i];
        const auto cell = [&](std::string_view key) { return cell_below(keys, row, key); };
        try {
            out.push_back(read_line(cell));
        } catch (const Bad& bad) {
            return fail_at(name, row.line, bad.found, bad.expected);
        }
    }
    return out;
}

std::string parts_to_csv(const PartsList& list, const std::vector<PartLine>& lines) {
    std::string out =
        "part,kind,refs,per_board,yield,yield_from,question,alternates,supplier,prices,lead_days,seen,"
        "not_to_be_had,note,need,spare,drawer,order,state\n";
    // Each part's figures once, beside the first line of it.
    std::map<std::string, const PartsRow*> rows;
    for (const auto& r : list.rows) rows[part_key(r.part)] = &r;
    const auto write = [&](const PartLine& l, const PartsRow* r, bool typed) {
        const auto yield = l.yield.value ? fmt::format("{}", *l.yield.value) : std::string();
        const auto many = l.per_board ? std::to_string(*l.per_board) : std::string();
        std::vector<std::string> cells{l.part,
                                       std::string(word(l.kind)),
                                       joined(l.refs, " "),
                                       typed ? many : "0",
                                       yield,
                                       l.yield.evidence.source,
                                       l.question,
                                       joined(l.alternates, "|"),
                                       l.supplier,
                                       print_prices(l.prices),
                                       print_lead_days(l.lead_days_from, l.lead_days_to),
                                       l.seen,
                                       l.not_to_be_had,
                                       l.note};
        if (r != nullptr)
            for (const int n : {r->need, r->spare, r->drawer, r->order}) cells.push_back(std::to_string(n));
        if (r != nullptr) cells.emplace_back(word(r->state));
        cells.resize(19);
        for (std::size_t i = 0; i < cells.size(); ++i) out += (i > 0 ? "," : "") + table_cell(cells[i]);
        out += "\n";
    };
    for (const auto& r : list.rows) {
        if (!r.line.empty()) continue;
        PartLine asked;  // by the network: read back, it adds nothing to it
        asked.part = r.part;
        asked.kind = r.kind;
        write(asked, &r, false);
    }
    for (const auto& l : lines) {
        const auto at = rows.find(part_key(l.part));
        const bool first = at != rows.end() && at->second->line == l.id;
        write(l, first ? at->second : nullptr, true);
    }
    return out;
}

}  // namespace grayrelic
