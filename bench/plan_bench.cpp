// SPDX-License-Identifier: GPL-3.0-or-later
// A job of 2,000 parts and 200 units, judged anew after an edit of one part, and what the window does for
// such an edit before (storable). To be held against 50 ms.
#include <benchmark/benchmark.h>

#include "core/checks/analyse.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/storable.hpp"

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

}  // namespace
}  // namespace grayrelic
