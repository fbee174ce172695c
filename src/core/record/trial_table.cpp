// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/record/trial_table.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <set>

#include "core/base/date.hpp"
#include "core/base/decimal.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

std::string cell_of(const TableRow& row, std::size_t column) {
    return column < row.cells.size() ? std::string(trim(row.cells[column])) : std::string();
}

bool called_day(const std::string& heading) {
    const auto key = heading_key(heading);
    return key == "day" || key == "date";
}

/// A column of days and nothing else says when, not what.
bool all_days(const Table& table, std::size_t column) {
    return std::all_of(table.rows.begin() + 1, table.rows.end(),
                       [&](const TableRow& row) { return parse_day(cell_of(row, column)).has_value(); });
}

void check_days(const Table& table, std::size_t column, std::vector<Error>& out) {
    for (std::size_t r = 2; r < table.rows.size(); ++r) {
        const auto before = cell_of(table.rows[r - 1], column), now = cell_of(table.rows[r], column);
        if (now < before)  // ISO days sort as text
            out.push_back({Error::Kind::unreadable, table.name, table.rows[r].line,
                           in_quotes(now) + " after " + in_quotes(before), "days in the order of the runs"});
    }
}

Status check_width(const Table& table) {
    for (const auto& row : table.rows)
        if (row.cells.size() > table.rows.front().cells.size())
            return fail_at(table.name, row.line,
                           plural(static_cast<long long>(row.cells.size()), "cell", "cells"),
                           fmt::format("{}, as in the heading", table.rows.front().cells.size()));
    return {};
}

}  // namespace

Result<TrialTable> read_trials(std::string_view text, const std::string& name, const TrialColumns& columns) {
    auto table = read_table(text, name, "a table of trials",
                            {std::size_t{4} << 20U, most_trial_rows + 1, most_trial_factors + 40});
    if (!table) return fail(table.error());
    if (auto wide = check_width(*table); !wide) return fail(wide.error());
    TrialTable out;
    out.name = name;
    const auto& heading = table->rows.front();
    std::vector<std::string> names;
    for (std::size_t c = 0; c < heading.cells.size(); ++c) {
        names.push_back(cell_of(heading, c));
        if (names.back().empty())
            return fail_at(name, heading.line, fmt::format("no name over column {}", c + 1),
                           "a name over each column");
        if (std::count(names.begin(), names.end(), names.back()) > 1)
            return fail_at(name, heading.line, "the column " + in_quotes(names.back()) + " a second time",
                           "each name once");
    }
    const auto place = [&](const std::string& wanted) {
        return static_cast<std::size_t>(std::find(names.begin(), names.end(), wanted) - names.begin());
    };
    const auto outcome = place(columns.outcome);
    const auto degree = columns.degree.empty() ? names.size() : place(columns.degree);
    std::vector<std::string> wanted{columns.outcome};
    if (!columns.degree.empty()) wanted.push_back(columns.degree);
    for (const auto& i : columns.ignore) wanted.push_back(i);
    for (const auto& w : wanted)
        if (place(w) == names.size())
            return fail_at(name, heading.line, fmt::format("the columns {}", fmt::join(names, ", ")),
                           "a column " + in_quotes(w));
    std::vector<std::size_t> factors;
    for (std::size_t c = 0; c < names.size(); ++c) {
        const bool ignored =
            std::find(columns.ignore.begin(), columns.ignore.end(), names[c]) != columns.ignore.end();
        if (c == outcome || c == degree || ignored) continue;
        if (called_day(names[c]) && table->rows.size() > 1 && all_days(*table, c)) {
            check_days(*table, c, out.late);
            out.left_out.push_back(names[c] + " says when, and is no factor");
            continue;
        }
        factors.push_back(c);
        out.factors.push_back(names[c]);
    }
    if (factors.size() > most_trial_factors)
        return fail_at(name, heading.line, fmt::format("{} factors", factors.size()),
                       fmt::format("at most {}", most_trial_factors));
    if (table->rows.size() < 2)
        return fail_at(name, heading.line, "a heading without runs", "a row for each run below it");
    for (std::size_t r = 1; r < table->rows.size(); ++r) {
        const auto& row = table->rows[r];
        TrialRow run;
        run.line = row.line;
        run.outcome = cell_of(row, outcome);
        if (run.outcome.empty())
            return fail_at(name, row.line, "nothing below " + in_quotes(columns.outcome),
                           "the outcome of each run");
        run.bad = run.outcome == columns.bad;
        for (std::size_t k = 0; k < factors.size(); ++k) {
            run.values.push_back(cell_of(row, factors[k]));
            if (run.values.back().empty())
                return fail_at(name, row.line, "nothing below " + in_quotes(out.factors[k]),
                               "a value of each factor (\"none\" where it was not there)");
        }
        if (degree < names.size()) {
            const auto number = decimal_number(cell_of(row, degree), '.');
            if (!number)
                return fail_at(name, row.line, in_quotes(cell_of(row, degree)),
                               "a number below " + in_quotes(columns.degree));
            run.degree = *number;
        }
        out.rows.push_back(std::move(run));
    }
    return out;
}

std::string image_name(const ImageFile& image) {
    constexpr std::size_t begin_of_sum = 8;
    auto out = image.name.empty() ? image.id : image.name;
    if (!image.version.empty()) out += " " + image.version;
    if (!image.sha256.empty()) out += " (" + image.sha256.substr(0, begin_of_sum) + ")";
    return out;
}

TrialTable trials_of(const Dossier& d) {
    TrialTable out;
    out.name = "the log";
    struct Said {
        const TrialRun* trial;
        long place;
        std::vector<std::pair<std::string, std::string>> values;
    };
    std::vector<Said> said;
    std::vector<std::string> names;
    long place = 0;
    for (const auto& t : d.log->trials) {
        ++place;
        if (t.outcome == TrialOutcome::not_said) {
            out.left_out.push_back("trial " + t.id + " has no outcome");
            continue;
        }
        Said s{&t, place, {}};
        if (!t.unit.empty()) {
            const auto* unit = d.find_unit(t.unit);
            s.values.emplace_back("unit", unit == nullptr || unit->name.empty() ? t.unit : unit->name);
            if (unit != nullptr && unit->revision)
                s.values.emplace_back("revision", std::to_string(*unit->revision));
        }
        if (!t.image.empty()) {
            std::string image = t.image;
            for (const auto& i : d.log->images)
                if (i.id == t.image) image = image_name(i);
            s.values.emplace_back("image", std::move(image));
        }
        for (const auto& f : t.setup) s.values.emplace_back(f.name, f.value);
        for (const auto& [name, value] : s.values)
            if (std::find(names.begin(), names.end(), name) == names.end()) names.push_back(name);
        said.push_back(std::move(s));
    }
    const auto value_in = [](const Said& s, const std::string& name) {
        return std::find_if(s.values.begin(), s.values.end(), [&](const auto& v) { return v.first == name; });
    };
    for (const auto& name : names) {
        const auto without = std::find_if(said.begin(), said.end(),
                                          [&](const Said& s) { return value_in(s, name) == s.values.end(); });
        if (without == said.end() && out.factors.size() < most_trial_factors)
            out.factors.push_back(name);
        else
            out.left_out.push_back(
                without == said.end()
                    ? name + " is one factor too many"
                    : fmt::format("{} is not said of trial {}: it does not count", name, without->trial->id));
    }
    for (const auto& s : said) {
        TrialRow row;
        row.line = s.place;
        row.id = s.trial->id;
        row.outcome = word(s.trial->outcome);
        row.bad = s.trial->outcome != TrialOutcome::works;
        row.degree = s.trial->degree;
        for (const auto& name : out.factors) row.values.push_back(value_in(s, name)->second);
        out.rows.push_back(std::move(row));
    }
    return out;
}

}  // namespace grayrelic
