// SPDX-License-Identifier: GPL-3.0-or-later
// Tasks as tables.
#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <map>

#include "core/base/limits.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"
#include "core/plan/schedule.hpp"

namespace grayrelic {
namespace {

struct BadCell {
    std::string found, expected;
};

/// The cell below that heading as a number; `otherwise` where it is empty.
template <class Cell>
double figure_below(const Cell& cell, const char* column, double most, std::optional<double> otherwise) {
    const std::string text = cell(column);
    if (text.empty() && otherwise) return *otherwise;
    double value = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (text.empty() || code != std::errc() || end != text.data() + text.size() ||
        !(value >= 0 && value <= most))
        throw BadCell{(text.empty() ? std::string("nothing") : in_quotes(text)) + " in column " + column,
                      fmt::format("a number from 0 to {}", most)};
    return value;
}

template <class Cell>
PlanTask read_task_row(const Cell& cell) {
    PlanTask t;
    t.id = cell("task");
    if (t.id.empty() || t.id.size() > most_name)
        throw BadCell{"an empty or endless name in column task", "what is to be done"};
    t.likely_h = figure_below(cell, "likely_h", most_task_hours, std::nullopt);
    t.least_h = figure_below(cell, "least_h", most_task_hours, t.likely_h);
    t.most_h = figure_below(cell, "most_h", most_task_hours, t.likely_h);
    if (!(t.least_h <= t.likely_h && t.likely_h <= t.most_h))
        throw BadCell{fmt::format("hours {}, {}, {}", t.least_h, t.likely_h, t.most_h),
                      "least_h up to likely_h up to most_h"};
    const std::string after = cell("after");
    for (const auto name : split(after, '+'))
        if (!trim(name).empty()) t.after.emplace_back(trim(name));
    t.wait_least_d = figure_below(cell, "wait_least_d", most_wait_days, 0.0);
    t.wait_most_d = figure_below(cell, "wait_most_d", most_wait_days, t.wait_least_d);
    if (t.wait_least_d > t.wait_most_d)
        throw BadCell{fmt::format("waits {}, {}", t.wait_least_d, t.wait_most_d),
                      "wait_least_d up to wait_most_d"};
    t.done = cell("done");
    if (!t.done.empty() && !parse_day(t.done))
        throw BadCell{in_quotes(t.done) + " in column done", "a day such as 2026-11-29"};
    return t;
}

}  // namespace

Result<std::vector<PlanTask>> tasks_from_csv(std::string_view text, const std::string& name) {
    const auto table = read_table(text, name, "tasks as a table", {4U << 20U, most_tasks + 1, 50});
    if (!table) return fail(table.error());
    const auto& heading = table->rows.front();
    const auto keys = heading_keys(heading);
    for (const char* column : {"task", "likely_h"})
        if (std::count(keys.begin(), keys.end(), column) != 1)
            return fail_at(name, heading.line, fmt::format("no single column \"{}\"", column),
                           "the columns task,least_h,likely_h,most_h,after,wait_least_d,wait_most_d");
    std::vector<PlanTask> out;
    std::map<std::string, long> lines;
    for (std::size_t i = 1; i < table->rows.size(); ++i) {
        const auto& row = table->rows[i];
        const auto cell = [&](std::string_view key) { return cell_below(keys, row, key); };
        try {
            out.push_back(read_task_row(cell));
        } catch (const BadCell& bad) {
            return fail_at(name, row.line, bad.found, bad.expected);
        }
        if (!lines.emplace(out.back().id, row.line).second)
            return fail_at(name, row.line, in_quotes(out.back().id) + " a second time", "each task once");
    }
    for (const auto& t : out)
        for (const auto& a : t.after)
            if (!lines.contains(a))
                return fail_at(name, lines.at(t.id), in_quotes(a) + " in column after",
                               "tasks of this table, joined by +");
    if (const auto circle = circle_in(out); !circle.empty()) {
        std::string round;
        for (const auto& task : circle) round += in_quotes(task) + " after ";
        return fail_at(name, lines.at(circle.front()), "a circle: " + round + in_quotes(circle.front()),
                       "tasks that can be done in turn");
    }
    return out;
}

std::string tasks_to_csv(const std::vector<PlanTask>& tasks) {
    std::string out = "task,least_h,likely_h,most_h,after,wait_least_d,wait_most_d,done\n";
    for (const auto& t : tasks)
        out += fmt::format("{},{},{},{},{},{},{},{}\n", table_cell(t.id), t.least_h, t.likely_h, t.most_h,
                           table_cell(fmt::format("{}", fmt::join(t.after, "+"))), t.wait_least_d,
                           t.wait_most_d, t.done);
    return out;
}

}  // namespace grayrelic
