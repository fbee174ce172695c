// SPDX-License-Identifier: GPL-3.0-or-later
// Tasks as tables and lines, and kinds of job: what is read can be done, written and read again the same, and
// its dates keep their laws.
#include "core/library/job_kinds.hpp"
#include "core/plan/schedule.hpp"
#include "core/plan/task_text.hpp"
#include "tests/fuzz/fuzz.hpp"

using namespace grayrelic;

namespace {

void date(const std::vector<PlanTask>& tasks) {
    Progress progress;
    const auto s = schedule(tasks, {std::chrono::year(2026) / 11 / 29, 6, 3, 1}, progress);
    if (!s || s->p90 < s->p50 || s->plan.size() > tasks.size()) std::abort();
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto text = fuzz::text_of(data, size);
    if (const auto tasks = tasks_from_csv(text, "fuzz"); tasks && tasks->size() < 60) {
        if (task_problem(*tasks).empty()) date(*tasks);
        const auto back = tasks_from_csv(tasks_to_csv(*tasks), "again");
        if (!back || back->size() != tasks->size()) std::abort();
    }
    if (auto task = parse_task(text)) {
        std::vector<PlanTask> tasks{*task};
        tasks.front().after.clear();
        if (task_problem(tasks).empty()) date(tasks);
        for (const auto field :
             {TaskField::name, TaskField::least, TaskField::likely, TaskField::most, TaskField::after,
              TaskField::wait_least, TaskField::wait_most, TaskField::done}) {
            const bool fine = task_problem(tasks).empty();
            if (set_task_field(tasks, 0, field, std::string(text)).empty() && fine &&
                !task_problem(tasks).empty())
                std::abort();
        }
    }
    if (const auto kind = job_kind_from_json(text, "fuzz")) {
        std::vector<PlanTask> tasks;
        for (const auto& t : kind->tasks) tasks.push_back(t.task);
        if (!circle_in(tasks).empty()) std::abort();
    }
    return 0;
}
