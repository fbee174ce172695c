// SPDX-License-Identifier: GPL-3.0-or-later
// Listen at size: edges decoded a second, identification, transactions by shape, and a million transactions
// laid over one another, beside one walk over the same edges.
#include <benchmark/benchmark.h>

#include "core/decode/identify.hpp"
#include "core/signal/merged_edges.hpp"
#include "core/signal/overlay.hpp"
#include "core/signal/shapes.hpp"
#include "standin/spoken.hpp"

namespace grayrelic::bench {
namespace {

const standin::Spoken& spoken(const char* kind, int words) {
    static std::map<std::string, standin::Spoken> kept;
    auto& s = kept[kind + std::to_string(words)];
    if (s.capture.signals.empty()) {
        standin::SpeakOptions o;
        o.words = words;
        o.jitter = 0.005;
        s = standin::speak(kind, o);
    }
    return s;
}

void Decode(benchmark::State& state, const char* kind, int words) {
    const auto& s = spoken(kind, words);
    std::size_t frames = 0;
    for (auto _ : state) {
        Progress progress;
        auto d = find_decoder(kind).value()->decode(s.capture, s.roles, s.settings, progress);
        frames = d->frames.size();
        state.PauseTiming();  // letting go of the frames is not decoding
        d->frames = {};
        state.ResumeTiming();
    }
    state.counters["frames"] = static_cast<double>(frames);
    state.counters["edges"] = static_cast<double>(s.capture.edge_count());
    state.SetItemsProcessed(static_cast<std::int64_t>(state.iterations() * s.capture.edge_count()));
}
BENCHMARK_CAPTURE(Decode, async_serial, "async-serial", 1'000'000)->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(Decode, latch_shift, "latch-shift", 125'000)->Unit(benchmark::kMillisecond);

/// The reference: all edges of the same capture once, in order of time.
void WalkEdges(benchmark::State& state) {
    const auto& s = spoken("latch-shift", 125'000);
    std::vector<const DigitalWaveform*> lines;
    for (const auto& x : s.capture.signals) lines.push_back(x.digital.get());
    for (auto _ : state) {
        MergedEdges edges(lines);
        MergedEdges::Step step;
        std::int64_t sum = 0;
        while (edges.next(step)) sum += step.time.count();
        benchmark::DoNotOptimize(sum);
    }
    state.SetItemsProcessed(static_cast<std::int64_t>(state.iterations() * s.capture.edge_count()));
}
BENCHMARK(WalkEdges)->Unit(benchmark::kMillisecond);

void IdentifyFiveMillion(benchmark::State& state) {
    const auto& s = spoken("latch-shift", 125'000);
    double score = 0;
    for (auto _ : state) {
        Progress progress;
        const auto list = identify(s.capture, {}, progress);
        score = list->front().score;
    }
    state.counters["edges"] = static_cast<double>(s.capture.edge_count());
    state.counters["score"] = score;
}
BENCHMARK(IdentifyFiveMillion)->Unit(benchmark::kMillisecond);

void Shapes27Million(benchmark::State& state) {
    const auto& s = spoken("latch-shift", 640'000);
    std::size_t transactions = 0;
    for (auto _ : state) {
        Progress progress;
        transactions = find_shapes(s.capture, {}, progress)->transactions.size();
    }
    state.counters["edges"] = static_cast<double>(s.capture.edge_count());
    state.counters["transactions"] = static_cast<double>(transactions);
}
BENCHMARK(Shapes27Million)->Unit(benchmark::kMillisecond);

/// Argument: the stride of the first picture, or 1 for the exact one.
void OverlayOf640000(benchmark::State& state) {
    const auto& s = spoken("latch-shift", 640'000);
    Progress progress;
    const auto shapes = find_shapes(s.capture, {}, progress);
    OverlayRequest request;
    for (const auto& x : s.capture.signals) request.signals.push_back(x.name);
    for (const auto& t : shapes->transactions) request.spans.push_back({t.start, t.end});
    request.before = Time::us(10);
    request.after = Time::us(220);
    request.columns = 4800;  // as the window asks for
    request.stride = static_cast<std::size_t>(state.range(0));
    for (auto _ : state) {
        const auto o = make_overlay(s.capture, request, progress);
        benchmark::DoNotOptimize(o);
    }
    state.counters["transactions"] = static_cast<double>(request.spans.size());
}
BENCHMARK(OverlayOf640000)->Arg(32)->Arg(1)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace grayrelic::bench
