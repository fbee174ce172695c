// SPDX-License-Identifier: GPL-3.0-or-later
// What an edit of a map costs: the whole analysis of a keyboard of 108 keys on a full bare matrix, against
// the same without the matrix; movement per poll through a measured curve against the plain one.
#include <benchmark/benchmark.h>
#include <fmt/format.h>

#include "core/input/map_analysis.hpp"
#include "core/input/pointer.hpp"

namespace {

using namespace grayrelic;

Dossier keyboard(bool matrix) {
    DeviceMap m;
    m.modern.profiles = {"keyboard"};
    m.modern.layout = "us";
    m.modern.wanted = {"text"};
    for (int i = 0; i < 108; ++i) {
        MapKey k;
        k.id = fmt::format("k{}", i);
        k.legend = i < 26 ? std::string(1, static_cast<char>('A' + i)) : fmt::format("K{}", i);
        k.x = i % 18;
        k.y = i / 18;
        k.code.value = fmt::format("0x{:02X}", i);
        k.meaning = i < 26 ? fmt::format("key:{:c}", 'a' + i) : i < 100 ? "nothing" : "";
        if (matrix) {
            k.row = fmt::format("R{}", i % 9);
            k.column = fmt::format("C{}", i / 9);
        }
        m.keys.push_back(k);
    }
    if (matrix) {
        for (int r = 0; r < 9; ++r) m.matrix.rows.push_back(fmt::format("R{}", r));
        for (int c = 0; c < 12; ++c) m.matrix.columns.push_back(fmt::format("C{}", c));
        m.matrix.chords = {{"k0", "k1", "k9"}, {"k20", "k31", "k42"}};
    }
    Dossier d;
    d.map = Section<DeviceMap>(m);
    return d;
}

void analyse_keyboard(benchmark::State& state, bool matrix) {
    const auto layouts = LayoutLibrary::load(disk(), {GRAY_RELIC_SOURCE "/data"});
    const auto d = keyboard(matrix);
    for (auto _ : state) benchmark::DoNotOptimize(analyse_map(d, layouts));
}

void move(benchmark::State& state, bool measured) {
    MoveCurve c;
    c.dead = 10;
    c.counts_per_step = 3;
    if (measured) c.table = {{10, 0, {}}, {60, 8, {}}, {127, 70, {}}};
    std::vector<long> counts(1'000'000);
    for (std::size_t i = 0; i < counts.size(); ++i) counts[i] = static_cast<long>(i * 7919 % 81) - 40;
    Progress progress;
    for (auto _ : state) benchmark::DoNotOptimize(move_through(c, counts, progress));
}

BENCHMARK_CAPTURE(analyse_keyboard, codes, false)->Name("AnalyseMap/codes")->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(analyse_keyboard, matrix, true)->Name("AnalyseMap/matrix")->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(move, plain, false)->Name("MoveMillion/plain")->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(move, measured, true)->Name("MoveMillion/measured")->Unit(benchmark::kMillisecond);

}  // namespace
