// SPDX-License-Identifier: GPL-3.0-or-later
// A job of 2,000 parts and 200 units, judged anew after an edit of one part, and what the window does for
// such an edit before (storable); its questions in their order, and the dates of 100 tasks.
#include <benchmark/benchmark.h>

#include "core/checks/analyse.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/storable.hpp"
#include "core/job/outlook.hpp"

namespace grayrelic {
namespace {

Dossier big_job() {
    std::vector<JobUnit> units(200);
    std::vector<MeterReading> readings;
    for (std::size_t i = 0; i < units.size(); ++i) {
        units[i].id = units[i].name = "unit-" + std::to_string(i);
        MeterReading r;
        r.a = "U1." + std::to_string(i + 1);
        r.b = "U2.1";
        r.unit = units[i].id;
        readings.push_back(r);
    }
    Supply s;
    s.boards = 10;
    for (int i = 0; i < 2000; ++i) {
        PartLine p;
        p.id = p.part = "part " + std::to_string(i);
        p.refs = {"R" + std::to_string(i)};
        p.yield.value = 0.9;
        p.prices = {{1, 0.5, {}}, {10, 0.4, {}}, {100, 0.2, {}}};
        p.supplier = "shop " + std::to_string(i % 7);
        s.parts.push_back(std::move(p));
    }
    return edit(put(put(Dossier{}, std::move(s)), std::move(readings)), &Dossier::units,
                [&](std::vector<JobUnit>& u) { u = std::move(units); });
}

void JudgeAfterAnEdit(benchmark::State& state) {
    const auto data = DataLibrary::load_installed();
    CaptureStore store;
    Progress progress;
    auto d = big_job();
    auto last = *analyse(d, {}, store, progress, nullptr, data);
    int n = 0;
    for (auto _ : state) {
        d = edit<PartLine>(d, "part 1000", [&](PartLine& p) { p.per_board = ++n; });
        last = *analyse(d, {}, store, progress, last.get(), data);
        benchmark::DoNotOptimize(last);
    }
}
BENCHMARK(JudgeAfterAnEdit)->Unit(benchmark::kMillisecond);

void StorableAfterAnEdit(benchmark::State& state) {
    const auto before = big_job();
    int n = 0;
    for (auto _ : state) {
        const auto d = edit<PartLine>(before, "part 1000", [&](PartLine& p) { p.per_board = ++n; });
        benchmark::DoNotOptimize(storable(d, &before));
    }
}
BENCHMARK(StorableAfterAnEdit)->Unit(benchmark::kMillisecond);

/// 200 questions typed, and the outlook of all of it after an edit of one. To be held against 50 ms.
void OutlookAfterAnEdit(benchmark::State& state) {
    const auto data = DataLibrary::load_installed();
    CaptureStore store;
    Progress progress;
    auto d = big_job();
    JobPlan plan;
    plan.kind = "new-device-old-host";
    for (int i = 0; i < 200; ++i) {
        PlanQuestion q;
        q.id = q.says = "question " + std::to_string(i);
        q.minutes = 1 + i % 40;
        plan.questions.push_back(std::move(q));
    }
    d = put(d, std::move(plan));
    auto last = *analyse(d, {}, store, progress, nullptr, data);
    int n = 0;
    for (auto _ : state) {
        d = edit<PlanQuestion>(d, "question 100", [&](PlanQuestion& q) { q.minutes = 1 + ++n % 30; });
        last = *analyse(d, {}, store, progress, last.get(), data);
        benchmark::DoNotOptimize(outlook(*last, std::chrono::year(2026) / 11 / 29));
    }
}
BENCHMARK(OutlookAfterAnEdit)->Unit(benchmark::kMillisecond);

/// Dates of 100 tasks, 2,000 runs. To be held against 1 s.
void DatesOfAHundredTasks(benchmark::State& state) {
    std::vector<PlanTask> tasks;
    for (int i = 0; i < 100; ++i) {
        PlanTask t;
        t.id = "task " + std::to_string(i);
        t.least_h = 1;
        t.likely_h = 2 + i % 5;
        t.most_h = 12;
        if (i > 2) t.after = {"task " + std::to_string(i - 1 - i % 3), "task " + std::to_string(i / 2)};
        if (i % 7 == 0) {
            t.wait_least_d = 3;
            t.wait_most_d = 12;
        }
        tasks.push_back(std::move(t));
    }
    Progress progress;
    for (auto _ : state)
        benchmark::DoNotOptimize(schedule(tasks, {std::chrono::year(2026) / 11 / 29, 6, 2000, 1}, progress));
}
BENCHMARK(DatesOfAHundredTasks)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace grayrelic
