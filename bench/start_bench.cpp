// SPDX-License-Identifier: GPL-3.0-or-later
// From starting the program with the shipped example to its first painted window.
#include <benchmark/benchmark.h>

#include <QProcess>
#include <QStringList>

#include <algorithm>
#include <chrono>

namespace grayrelic::bench {
namespace {

void Start(benchmark::State& state) {
    double worst = 0;
    for (auto _ : state) {
        QProcess process;
        const auto from = std::chrono::steady_clock::now();
        process.start(QStringLiteral(GRAY_RELIC_APP),
                      {QStringLiteral("--demo"), QStringLiteral("--end-after-first-paint")});
        if (!process.waitForFinished(60'000) || process.exitCode() != 0) {
            state.SkipWithError("the program did not end as asked");
            return;
        }
        const double s = std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
        worst = std::max(worst, s);
        state.SetIterationTime(s);
    }
    state.counters["worst_s"] = worst;
}
BENCHMARK(Start)->UseManualTime()->Iterations(5)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace grayrelic::bench
