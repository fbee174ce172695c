// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/plan/schedule.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <numeric>
#include <random>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

/// Times nearer than this are one, in days: sums of the same works in another order differ in their last
/// digits.
constexpr double same_time = 1e-9;
constexpr double most_plan_days = 365'000;

/// The tasks by their names, so that neither draws nor ties hang on the order of rows.
struct Work {
    std::vector<const PlanTask*> tasks;
    std::vector<std::vector<std::size_t>> after, before;  ///< of each: whom it waits for; who waits for it
    std::vector<std::size_t> order;                       ///< each behind all that it waits for
    std::vector<double> behind;                           ///< the rest behind each, in days
    std::vector<double> work, wait;                       ///< likely and middle, in days
};

double days_of(double hours, double per_week) {
    return hours * 7 / per_week;
}

double middle_wait(const PlanTask& t) {
    return (t.wait_least_d + t.wait_most_d) / 2;
}

Work lay_out(const std::vector<PlanTask>& tasks, double per_week) {
    Work w;
    for (const auto& t : tasks) w.tasks.push_back(&t);
    std::sort(w.tasks.begin(), w.tasks.end(), [](const auto* a, const auto* b) { return a->id < b->id; });
    std::map<std::string_view, std::size_t> place;
    for (std::size_t i = 0; i < w.tasks.size(); ++i) place[w.tasks[i]->id] = i;
    const auto n = w.tasks.size();
    w.after.resize(n);
    w.before.resize(n);
    std::vector<std::size_t> missing(n);
    for (std::size_t i = 0; i < n; ++i) {
        for (const auto& name : w.tasks[i]->after) w.after[i].push_back(place.at(name));
        std::sort(w.after[i].begin(), w.after[i].end());
        w.after[i].erase(std::unique(w.after[i].begin(), w.after[i].end()), w.after[i].end());
        for (const auto a : w.after[i]) w.before[a].push_back(i);
        missing[i] = w.after[i].size();
        w.work.push_back(days_of(w.tasks[i]->likely_h, per_week));
        w.wait.push_back(middle_wait(*w.tasks[i]));
    }
    for (std::size_t i = 0; i < n; ++i)
        if (missing[i] == 0) w.order.push_back(i);
    for (std::size_t k = 0; k < w.order.size(); ++k)
        for (const auto b : w.before[w.order[k]])
            if (--missing[b] == 0) w.order.push_back(b);
    w.behind.assign(n, 0);
    for (auto it = w.order.rbegin(); it != w.order.rend(); ++it) {
        double most = 0;
        for (const auto b : w.before[*it]) most = std::max(most, w.work[b] + w.behind[b]);
        w.behind[*it] = w.wait[*it] + most;
    }
    return w;
}

/// One run: when each task's work begins and ends, and when its wait ends.
class Run {
  public:
    explicit Run(const Work& w) : w_(w) {
        const auto n = w.tasks.size();
        // The first to take first: by the rest behind, then by name.
        ranked_.resize(n);
        std::iota(ranked_.begin(), ranked_.end(), std::size_t{0});
        std::stable_sort(ranked_.begin(), ranked_.end(), [&](std::size_t a, std::size_t b) {
            return std::round(w.behind[a] / same_time) > std::round(w.behind[b] / same_time);
        });
    }

    /// Given the days of work and wait of each; gives the end of all.
    double operator()(const std::vector<double>& work, const std::vector<double>& wait) {
        const auto n = w_.tasks.size();
        from.assign(n, 0);
        to.assign(n, 0);
        wait_to.assign(n, 0);
        taken.clear();
        std::vector<std::size_t> missing(n);
        for (std::size_t i = 0; i < n; ++i) missing[i] = w_.after[i].size();
        std::vector<double> ready(n, 0);
        std::vector<std::size_t> open;
        double now = 0, end = 0;
        const auto release = [&](std::size_t i) {
            end = std::max(end, wait_to[i]);
            for (const auto b : w_.before[i]) {
                --missing[b];
                ready[b] = std::max(ready[b], wait_to[i]);
            }
        };
        for (const auto i : ranked_) {
            if (w_.tasks[i]->done.empty()) {
                open.push_back(i);
                continue;
            }
            // Its work is done: the rest of its wait runs from today, whatever else is worked on.
            wait_to[i] = wait[i];
            taken.push_back(i);
            release(i);
        }
        while (!open.empty()) {
            const auto next = pick(open, missing, ready, now);
            const auto i = open[next];
            open.erase(open.begin() + static_cast<std::ptrdiff_t>(next));
            from[i] = std::max(now, ready[i]);
            to[i] = now = from[i] + work[i];
            wait_to[i] = to[i] + wait[i];
            taken.push_back(i);
            release(i);
        }
        return end;
    }
    std::vector<double> from, to, wait_to;
    std::vector<std::size_t> taken;
    [[nodiscard]] const std::vector<std::size_t>& ranked() const { return ranked_; }

  private:
    /// The first in rank of those that can start now; where none can, of those that can start first.
    static std::size_t pick(const std::vector<std::size_t>& open, const std::vector<std::size_t>& missing,
                            const std::vector<double>& ready, double now) {
        double first = std::numeric_limits<double>::infinity();
        for (const auto i : open)
            if (missing[i] == 0) first = std::min(first, ready[i]);
        const double at = std::max(now, first) + same_time;
        for (std::size_t k = 0; k < open.size(); ++k)
            if (missing[open[k]] == 0 && ready[open[k]] <= at) return k;
        return 0;  // not reached: without circles one can always start
    }
    const Work& w_;
    std::vector<std::size_t> ranked_;
};

int whole_days(double days) {
    return static_cast<int>(std::min(std::ceil(std::round(days * 1e6) / 1e6), most_plan_days));
}

/// With its share u of all outcomes below it, 0 to 1.
double triangular(double least, double likely, double most, double u) {
    const double width = most - least;
    if (!(width > 0)) return least;
    const double rise = (likely - least) / width;
    if (u < rise) return least + std::sqrt(u * width * (likely - least));
    return most - std::sqrt((1 - u) * width * (most - likely));
}

/// 0 to below 1; written out, because the library's own distributions differ between its makers.
double unit(std::mt19937_64& dice) {
    return static_cast<double>(dice() >> 11U) * 0x1p-53;
}

void add_critical(const Work& w, Schedule& out) {
    /// The first by name of those with the longest chain from there on.
    const auto longest = [&](const std::vector<std::size_t>& among) {
        auto best = among.front();
        for (const auto i : among)
            if (w.work[i] + w.behind[i] > w.work[best] + w.behind[best] + same_time) best = i;
        return best;
    };
    std::vector<std::size_t> next;
    for (std::size_t i = 0; i < w.tasks.size(); ++i)
        if (w.after[i].empty()) next.push_back(i);
    while (!next.empty()) {
        const auto at = longest(next);
        out.critical.push_back(w.tasks[at]->id);
        next = w.before[at];
    }
}

void add_meanwhile(const Work& w, const Run& run, Schedule& out) {
    for (const auto i : run.taken)
        for (const auto j : run.taken) {
            if (i == j) continue;
            const double from = std::max(run.from[i], run.to[j]);
            const double to = std::min(run.to[i], run.wait_to[j]);
            if (to > from + same_time) out.meanwhile.push_back({w.tasks[i]->id, w.tasks[j]->id});
        }
}

/// Those still to do; of what was done only what is left of its wait.
std::vector<PlanTask> still_to_do(const std::vector<PlanTask>& tasks, Day today) {
    std::vector<PlanTask> out;
    std::vector<std::string> over;
    for (auto t : tasks) {
        const auto done = parse_day(t.done);
        if (done) {
            const auto since = static_cast<double>(std::max<long>(0, (today - *done).count()));
            t.least_h = t.likely_h = t.most_h = 0;
            t.after.clear();
            t.wait_least_d = std::max(0.0, t.wait_least_d - since);
            t.wait_most_d = std::max(0.0, t.wait_most_d - since);
            if (!(t.wait_most_d > 0)) {
                over.push_back(t.id);
                continue;
            }
        }
        out.push_back(std::move(t));
    }
    for (auto& t : out)
        std::erase_if(t.after, [&](const std::string& a) {
            return std::find(over.begin(), over.end(), a) != over.end();
        });
    return out;
}

}  // namespace

std::string task_problem(const std::vector<PlanTask>& tasks) {
    if (tasks.size() > most_tasks) return fmt::format("more than {} tasks", most_tasks);
    std::map<std::string_view, int> names;
    for (const auto& t : tasks) {
        if (t.id.empty()) return "a task without a name";
        if (++names[t.id] > 1) return in_quotes(t.id) + " is there twice";
        const bool hours = t.least_h >= 0 && t.least_h <= t.likely_h && t.likely_h <= t.most_h &&
                           t.most_h <= most_task_hours;
        if (!hours)
            return fmt::format("{}: hours must go up from least to most, 0 to {}", in_quotes(t.id),
                               most_task_hours);
        if (!(t.wait_least_d >= 0 && t.wait_least_d <= t.wait_most_d && t.wait_most_d <= most_wait_days))
            return fmt::format("{}: waits must go up from least to most, 0 to {} days", in_quotes(t.id),
                               most_wait_days);
    }
    for (const auto& t : tasks)
        for (const auto& a : t.after)
            if (a.find('+') != std::string::npos)
                return in_quotes(a) + ": a name with + can't be waited for, for + joins names";
            else if (!names.contains(a))
                return in_quotes(t.id) + " comes after " + in_quotes(a) + ", which is no task";
    const auto circle = circle_in(tasks);
    if (circle.empty()) return {};
    std::string round;
    for (const auto& name : circle) round += in_quotes(name) + " waits for ";
    return round + in_quotes(circle.front());
}

double Schedule::chance_by(Day today, Day deadline) const {
    if (finish_days.empty()) return 1;
    const auto days = (deadline - today).count();
    const auto in_time = std::upper_bound(finish_days.begin(), finish_days.end(), days);
    return static_cast<double>(in_time - finish_days.begin()) / static_cast<double>(finish_days.size());
}

Result<Schedule> schedule(const std::vector<PlanTask>& all, const ScheduleOptions& o, Progress& progress) {
    if (!(o.hours_per_week > 0 && o.hours_per_week <= 168))
        return fail_usage(fmt::format("{} hours a week", o.hours_per_week), "more than 0 and at most 168");
    if (o.runs < 1 || o.runs > most_schedule_runs)
        return fail_usage(fmt::format("{} runs", o.runs), fmt::format("1 to {} runs", most_schedule_runs));
    if (const auto problem = task_problem(all); !problem.empty())
        return fail_usage(problem, "tasks that can be done one after the other");
    const auto tasks = still_to_do(all, o.today);
    const auto w = lay_out(tasks, o.hours_per_week);
    const auto n = w.tasks.size();
    Schedule out;
    Run run(w);
    out.likely_end = run(w.work, w.wait);
    if (!(out.likely_end <= most_plan_days))
        return fail_usage("tasks that would take more than a thousand years",
                          fmt::format("fewer hours of work, or more than {} hours a week", o.hours_per_week));
    for (const auto i : run.taken)
        out.plan.push_back({w.tasks[i]->id, run.from[i], run.to[i], run.wait_to[i]});
    add_critical(w, out);
    for (const auto i : run.ranked())
        if (w.after[i].empty() && w.tasks[i]->done.empty()) out.start_now.push_back(w.tasks[i]->id);
    add_meanwhile(w, run, out);
    std::mt19937_64 dice(o.seed);
    std::vector<double> work(n), wait(n);
    for (int r = 0; r < o.runs; ++r) {
        if (progress.cancelled()) return fail_cancelled();
        for (std::size_t i = 0; i < n; ++i) {
            const auto& t = *w.tasks[i];
            work[i] = days_of(triangular(t.least_h, t.likely_h, t.most_h, unit(dice)), o.hours_per_week);
            wait[i] = t.wait_least_d + (t.wait_most_d - t.wait_least_d) * unit(dice);
        }
        out.finish_days.push_back(whole_days(run(work, wait)));
        if (r % 64 == 0) progress.report(static_cast<double>(r) / o.runs);
    }
    std::sort(out.finish_days.begin(), out.finish_days.end());
    const auto by = [&](double share) {
        const auto k = static_cast<std::size_t>(std::ceil(share * o.runs - 1e-9));
        return o.today + std::chrono::days(out.finish_days[std::max<std::size_t>(k, 1) - 1]);
    };
    out.p50 = by(0.5);
    out.p90 = by(0.9);
    return out;
}

}  // namespace grayrelic
