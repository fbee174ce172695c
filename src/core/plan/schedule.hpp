// SPDX-License-Identifier: GPL-3.0-or-later
// When a job will be done: one person's tasks, with hours that are not known exactly and parcels in the post.
//
// The person works hours_per_week / 7 hours every day, one task at a time, never broken off, and is never
// idle while a task can start. A task can start when the works and waits of all that it comes after have
// ended. First comes the task with the longest rest behind it: its own wait plus the longest chain of works
// and waits after it, without its own work, at likely hours and middle waits; ties by name.
//
// In a run, hours are drawn triangular, waits uniform; the draws hang on a task's name and not on its row.
// The core has no clock: who asks says what day it is.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/date.hpp"
#include "core/base/progress.hpp"
#include "core/base/result.hpp"
#include "core/dossier/plan.hpp"

namespace grayrelic {

inline constexpr std::size_t most_tasks = 2000;
inline constexpr int most_schedule_runs = 100'000;

struct ScheduleOptions {
    Day today{};
    double hours_per_week = 6;  ///< more than 0, at most 168
    int runs = 2000;
    std::uint64_t seed = 1;
};

/// A task in the plan at likely hours and middle waits, in days from today.
struct PlannedTask {
    std::string task;
    double from = 0, to = 0;  ///< of its work
    double wait_to = 0;       ///< `to` without a wait
};

struct Meanwhile {
    std::string task;
    std::string while_waiting_for;
    bool operator==(const Meanwhile&) const = default;
};

struct Schedule {
    Day p50{}, p90{};                    ///< first date by which that share of the runs is done
    std::vector<int> finish_days;        ///< of the runs, in days from today, sorted
    std::vector<std::string> critical;   ///< the longest chain of work and waits, first task first
    std::vector<std::string> start_now;  ///< what waits for nothing, the first to take first
    std::vector<Meanwhile> meanwhile;    ///< what is worked on during another's wait
    std::vector<PlannedTask> plan;       ///< in the order in which they are worked on
    double likely_end = 0;               ///< of the plan, in days
    /// Share of the runs that are done by the end of that day.
    [[nodiscard]] double chance_by(Day today, Day deadline) const;
};

/// Tasks that are done are left out, except for what is left of their wait, which runs from today. Fails for
/// hours a week out of range, runs out of range, names twice, tasks that wait for nothing that there is,
/// circles, hours or waits out of order, more than a thousand years; and when cancelled.
[[nodiscard]] Result<Schedule> schedule(const std::vector<PlanTask>& tasks, const ScheduleOptions& options,
                                        Progress& progress);

/// What is wrong with the tasks, for a person; empty when nothing is.
[[nodiscard]] std::string task_problem(const std::vector<PlanTask>& tasks);

/// Columns task and likely_h; also least_h, most_h, after (joined by +), wait_least_d, wait_most_d, done. The
/// first fault refuses the whole file, with its line.
[[nodiscard]] Result<std::vector<PlanTask>> tasks_from_csv(std::string_view text, const std::string& name);
[[nodiscard]] std::string tasks_to_csv(const std::vector<PlanTask>& tasks);

}  // namespace grayrelic
