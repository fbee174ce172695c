// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/plan/task_text.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <optional>

#include "core/base/date.hpp"
#include "core/base/text.hpp"
#include "core/plan/schedule.hpp"

namespace grayrelic {
namespace {

std::optional<double> amount_in(std::string_view text, double most) {
    double v = 0;
    const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), v);
    if (code != std::errc() || end != text.data() + text.size() || !(v >= 0 && v <= most))
        return std::nullopt;
    return v;
}

/// "2-6-10" or "6", going up.
std::optional<std::vector<double>> amounts_in(std::string_view text, std::size_t many, double most) {
    std::vector<double> out;
    for (const auto piece : split(text, '-')) {
        const auto v = amount_in(trim(piece), most);
        if (!v || (!out.empty() && *v < out.back())) return std::nullopt;
        out.push_back(*v);
    }
    if (out.size() != 1 && out.size() != many) return std::nullopt;
    return out;
}

std::vector<std::string> names_in(std::string_view text) {
    std::vector<std::string> out;
    for (const auto name : split(text, '+'))
        if (!trim(name).empty()) out.emplace_back(trim(name));
    return out;
}

/// Takes "… 7-21 d" off the end of the text.
bool take_tail(std::string_view& text, std::string_view unit, std::size_t many, double most,
               std::vector<double>& into) {
    auto rest = trim(text);
    if (!rest.ends_with(unit)) return true;
    auto body = rest.substr(0, rest.size() - unit.size());
    if (body.empty() || (body.back() != ' ' && (body.back() < '0' || body.back() > '9'))) return true;
    body = trim(body);
    const auto space = body.find_last_of(" ,");
    const auto word = space == std::string_view::npos ? body : body.substr(space + 1);
    if (word.empty() || word.front() < '0' || word.front() > '9') return true;
    const auto found = amounts_in(word, many, most);
    if (!found) return false;
    into = *found;
    rest = space == std::string_view::npos ? std::string_view() : trim(body.substr(0, space));
    while (rest.ends_with(',')) rest = trim(rest.substr(0, rest.size() - 1));
    text = rest;
    return true;
}

}  // namespace

Result<PlanTask> parse_task(std::string_view text) {
    constexpr auto expected = "a task such as firmware 2-6-10 h after breadboard + parts, 7-21 d";
    PlanTask t;
    std::vector<double> wait, hours;
    auto rest = trim(text);
    if (!take_tail(rest, "d", 2, most_wait_days, wait)) return fail_usage(in_quotes(text), expected);
    const auto after = rest.find(" after ");
    if (after != std::string_view::npos) {
        t.after = names_in(rest.substr(after + 7));
        rest = trim(rest.substr(0, after));
    }
    if (!take_tail(rest, "h", 3, most_task_hours, hours)) return fail_usage(in_quotes(text), expected);
    t.id = std::string(rest);
    if (t.id.empty()) return fail_usage(in_quotes(text), expected);
    if (!hours.empty()) {
        t.least_h = hours.front();
        t.likely_h = hours.size() == 1 ? hours.front() : hours[1];
        t.most_h = hours.back();
    }
    if (!wait.empty()) {
        t.wait_least_d = wait.front();
        t.wait_most_d = wait.back();
    }
    return t;
}

std::string set_task_field(std::vector<PlanTask>& tasks, std::size_t row, TaskField field,
                           const std::string& text) {
    auto next = tasks;
    auto& t = next[row];
    const auto number = [&](double most, double& into) -> std::string {
        const auto v = text.empty() ? std::optional(0.0) : amount_in(text, most);
        if (!v) return fmt::format("Found {}, expected a number from 0 to {}.", in_quotes(text), most);
        into = *v;
        return {};
    };
    std::string problem;
    switch (field) {
        case TaskField::name: {
            const auto old = t.id;
            t.id = text;
            for (auto& other : next) std::replace(other.after.begin(), other.after.end(), old, text);
            break;
        }
        case TaskField::least: problem = number(most_task_hours, t.least_h); break;
        case TaskField::likely: {
            const bool one = t.least_h == t.likely_h && t.likely_h == t.most_h;
            problem = number(most_task_hours, t.likely_h);
            if (one) t.least_h = t.most_h = t.likely_h;
            break;
        }
        case TaskField::most: problem = number(most_task_hours, t.most_h); break;
        case TaskField::after: t.after = names_in(text); break;
        case TaskField::wait_least:
            problem = number(most_wait_days, t.wait_least_d);
            t.wait_most_d = std::max(t.wait_most_d, t.wait_least_d);
            break;
        case TaskField::wait_most: problem = number(most_wait_days, t.wait_most_d); break;
        case TaskField::done:
            if (!text.empty() && !parse_day(text))
                problem = fmt::format("Found {}, expected a day such as 2026-11-29.", in_quotes(text));
            t.done = text;
            break;
    }
    if (problem.empty())
        if (problem = task_problem(next); !problem.empty()) problem = "Not taken: " + problem + ".";
    if (problem.empty()) tasks = std::move(next);
    return problem;
}

void remove_task(std::vector<PlanTask>& tasks, const std::string& name) {
    const auto at = std::find_if(tasks.begin(), tasks.end(), [&](const PlanTask& t) { return t.id == name; });
    if (at == tasks.end()) return;
    const auto before = at->after;
    tasks.erase(at);
    for (auto& t : tasks) {
        const auto its = std::find(t.after.begin(), t.after.end(), name);
        if (its == t.after.end()) continue;
        t.after.erase(its);
        for (const auto& b : before)
            if (std::find(t.after.begin(), t.after.end(), b) == t.after.end()) t.after.push_back(b);
    }
}

}  // namespace grayrelic
