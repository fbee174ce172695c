// SPDX-License-Identifier: GPL-3.0-or-later
// Every wrong way of a plug, solved, with the remedies tried: what the window waits for after an edit of a
// port.
#include <benchmark/benchmark.h>
#include <fmt/format.h>

#include "core/port/connector_library.hpp"
#include "core/port/misinsert.hpp"
#include "core/port/pin_entry.hpp"

namespace {

using namespace grayrelic;

void judge_wrong_ways(benchmark::State& state, const char* connector) {
    const auto families = FamilyLibrary::load(disk(), {GRAY_RELIC_SOURCE "/data"});
    const auto c = *ConnectorLibrary::load(disk(), {GRAY_RELIC_SOURCE "/data"}).find(connector);
    std::vector<Pin> pins;
    for (const auto& number : c.numberings.front().numbers) {
        Pin p;
        p.number = number;
        const auto n = pins.size();
        pins.push_back(*pin_with_entry(p,
                                       n == 0       ? "+5 V supply 5V 1A"
                                       : n % 8 == 1 ? "GND"
                                       : n % 2 == 0 ? "A relic ls"
                                                    : "B bridge hct",
                                       {}));
    }
    const Face face{&c, {}, &pins, Side::relic};
    for (auto _ : state) {
        const auto cases = wrong_cases(face, face, families);
        benchmark::DoNotOptimize(remedies(face, face, families, cases, false));
    }
}

BENCHMARK_CAPTURE(judge_wrong_ways, header_2x5, "header-2x5")
    ->Name("JudgeWrongWays/header-2x5")
    ->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(judge_wrong_ways, header_2x20, "header-2x20")
    ->Name("JudgeWrongWays/header-2x20")
    ->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(judge_wrong_ways, edge_2x30, "edge-2x30")
    ->Name("JudgeWrongWays/edge-2x30")
    ->Unit(benchmark::kMillisecond);

}  // namespace
