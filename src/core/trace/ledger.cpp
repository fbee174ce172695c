// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/ledger.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/trace/points.hpp"

namespace grayrelic {
namespace {

std::string lower(std::string_view text) {
    std::string out(trim(text));
    for (auto& c : out)
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
    return out;
}

}  // namespace

Says says(const MeterReading& r, double beep_below_ohm) {
    if (r.kind == MeterReadingKind::beep) return Says::joined;
    if (r.kind == MeterReadingKind::ohms && r.ohm && *r.ohm < beep_below_ohm) return Says::joined;
    return Says::apart;
}

Result<MeterReading> parse_entry(std::string_view line) {
    std::vector<std::string_view> words;
    std::size_t at = 0;
    while (at < line.size() && words.size() < 3) {
        while (at < line.size() && (line[at] == ' ' || line[at] == '\t' || line[at] == ',')) ++at;
        const auto begin = at;
        while (at < line.size() && line[at] != ' ' && line[at] != '\t' && line[at] != ',') ++at;
        if (at > begin) words.push_back(line.substr(begin, at - begin));
    }
    // Without a reading nothing is entered: a pair that was only named is no beep.
    if (words.size() < 3) return fail_at({}, 0, in_quotes(trim(line)), "two points and a reading");
    auto parsed = parse_reading(words[2]);
    if (!parsed) return fail(parsed.error());
    auto r = std::move(*parsed);
    r.note = trim(line.substr(at));
    r.a = words[0];
    r.b = words[1];
    for (const auto* p : {&r.a, &r.b})
        if (const auto problem = point_name_problem(*p); !problem.empty())
            return fail_at({}, 0, problem, "a point");
    if (r.a == r.b) return fail_at({}, 0, in_quotes(r.a) + " against itself", "two points");
    return r;
}

Result<Ledger> read_ledger(std::string_view text, const std::string& name) {
    const auto table = read_table(text, name, "a continuity ledger", {64U << 20U, most_readings, 50});
    if (!table) return fail(table.error());
    std::vector<std::string> keys;
    std::size_t first = 0;
    for (const auto& cell : table->rows.front().cells) keys.push_back(heading_key(cell));
    const auto has = [&](std::string_view key) { return std::count(keys.begin(), keys.end(), key); };
    if (has("a") > 0 && has("b") > 0 && has("reading") > 0) {
        first = 1;
    } else if (table->rows.front().cells.size() >= 3 && has("a") + has("b") + has("reading") == 0 &&
               parse_reading(table->rows.front().cells[2])) {
        keys = {"a", "b", "reading", "tool", "date", "note"};
    } else {
        return fail_at(name, table->rows.front().line, "a heading without a, b and reading",
                       "the columns a,b,reading");
    }
    for (const auto* key : {"a", "b", "reading", "tool", "date", "note", "set_aside", "unit"})
        if (has(key) > 1)
            return fail_at(name, table->rows.front().line, fmt::format("two columns {}", in_quotes(key)),
                           "each column once");
    Ledger out;
    for (std::size_t i = first; i < table->rows.size(); ++i) {
        const auto& row = table->rows[i];
        const auto cell = [&](std::string_view key) -> std::string {
            for (std::size_t c = 0; c < std::min(keys.size(), row.cells.size()); ++c)
                if (keys[c] == key) {
                    const auto& text_here = row.cells[c];
                    const bool defused = text_here.size() > 1 && text_here[0] == '\'' &&
                                         is_formula(std::string_view(text_here).substr(1));
                    return defused ? text_here.substr(1) : text_here;
                }
            return {};
        };
        const auto a = cell("a"), b = cell("b"), reading = cell("reading");
        for (const auto* p : {&a, &b})
            if (const auto problem = point_name_problem(*p); !problem.empty())
                return fail_at(name, row.line, problem + " in column " + (p == &a ? "a" : "b"), "a point");
        if (a == b) return fail_at(name, row.line, in_quotes(a) + " against itself", "two points");
        if (lower(reading) == "alias") {
            out.aliases.push_back({a, b});
            continue;
        }
        auto parsed = parse_reading(reading);
        if (!parsed)
            return fail_at(name, row.line, parsed.error().found + " in column reading",
                           parsed.error().expected);
        parsed->a = a;
        parsed->b = b;
        parsed->tool = cell("tool");
        parsed->date = cell("date");
        parsed->note = cell("note");
        parsed->set_aside = cell("set_aside");
        parsed->unit = cell("unit");
        out.readings.push_back(std::move(*parsed));
    }
    if (auto points = PointTable::with_aliases(out.aliases); !points)
        return fail_at(name, table->rows.front().line, points.error().found, points.error().expected);
    return out;
}

std::string write_ledger(const std::vector<MeterReading>& readings, const std::vector<PointAlias>& aliases) {
    std::string out = "a,b,reading,tool,date,note,set_aside,unit\n";
    for (const auto& a : aliases) out += table_cell(a.name) + "," + table_cell(a.point) + ",alias,,,,,\n";
    for (const auto& r : readings) {
        for (const auto& text : {r.a, r.b, write_reading(r), r.tool, r.date, r.note, r.set_aside})
            out += table_cell(text) + ",";
        out += table_cell(r.unit) + "\n";
    }
    return out;
}

}  // namespace grayrelic
