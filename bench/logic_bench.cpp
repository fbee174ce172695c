// SPDX-License-Identifier: GPL-3.0-or-later
// Events a second of running networks, of gates and of storage, beside as many steps of a plain heap;
// exhaustive comparison of two networks of 28 inputs, beside counting through as many words.
#include <benchmark/benchmark.h>

#include <queue>

#include "core/base/random.hpp"
#include "core/logic/equivalence.hpp"
#include "core/logic/simulate.hpp"

namespace grayrelic::bench {
namespace {

const LogicLibrary& library() {
    static const PartLibrary parts = PartLibrary::load(disk(), {GRAY_RELIC_SOURCE "/data"});
    static const LogicLibrary logic = LogicLibrary::from(parts);
    return logic;
}

/// Sixteen registers of eight bits behind each other, and gates between them: what a bridge of many bits has.
std::string busy_network() {
    std::string text = "input CLK D\noutput out\n";
    for (int i = 0; i < 16; ++i) {
        const auto k = std::to_string(i), in = i == 0 ? std::string("D") : "g" + std::to_string(i - 1);
        text += "R" + k + " 74x164 hct: A=" + in + " B=1 CLK=CLK /CLR=1 Q0=a" + k + " Q3=b" + k + " Q7=c" +
                k + "\n";
        text += "G" + k + " 74x86 hct: 1A=a" + k + " 1B=b" + k + " 1Y=x" + k + " 2A=x" + k + " 2B=c" + k +
                " 2Y=" + (i == 15 ? std::string("out") : "g" + k) + " 3A=0 3B=0 4A=0 4B=0\n";
    }
    return text;
}

/// Sixty gates behind each other, every third one with a second input that moves.
std::string gates() {
    std::string text = "input CLK D\noutput out\n", last = "CLK";
    for (int i = 0; i < 60; ++i) {
        const auto k = std::to_string(i), out = i == 59 ? std::string("out") : "n" + k;
        text += "U" + k + " 74x" + (i % 3 == 0 ? "86" : "00") + " ahct: 1A=" + last +
                " 1B=" + (i % 3 == 0 ? "D" : "1") + " 1Y=" + out + " 2A=0 2B=0 3A=0 3B=0 4A=0 4B=0\n";
        last = out;
    }
    return text;
}

void Events(benchmark::State& state, std::string (*text)()) {
    const auto n = read_network(text(), library());
    Random random(9);
    std::vector<Stimulus> stimuli{{*n.find_net("CLK"), Level::zero, {}}, {*n.find_net("D"), Level::zero, {}}};
    bool d = false;
    for (int i = 1; i <= 40'000; ++i) {
        stimuli[0].changes.push_back({Time::ns(500) * i, i % 2 != 0 ? Level::one : Level::zero});
        if (i % 2 == 0 && random.below(2) != 0)
            stimuli[1].changes.push_back(
                {Time::ns(500) * i + Time::ns(100), (d = !d) ? Level::one : Level::zero});
    }
    long events = 0;
    for (auto _ : state) {
        Progress progress;
        const auto r = simulate(n, stimuli, {}, progress);
        events += r->events;
        benchmark::DoNotOptimize(r->nets);
    }
    state.SetItemsProcessed(events);
}
BENCHMARK_CAPTURE(Events, gates, gates)->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(Events, storage, busy_network)->Unit(benchmark::kMillisecond);

void HeapSteps(benchmark::State& state) {
    constexpr long steps = 1'000'000;
    for (auto _ : state) {
        std::priority_queue<std::pair<long, int>> heap;
        Random random(2);
        for (int i = 0; i < 64; ++i) heap.emplace(-static_cast<long>(random.below(1000)), i);
        for (long i = 0; i < steps; ++i) {
            const auto [at, who] = heap.top();
            heap.pop();
            heap.emplace(at - 1 - static_cast<long>(random.below(1000)), who);
        }
        benchmark::DoNotOptimize(heap);
    }
    state.SetItemsProcessed(state.iterations() * steps);
}
BENCHMARK(HeapSteps)->Unit(benchmark::kMillisecond);

/// Parity of 28 inputs, from exclusive ORs or from NAND gates.
std::string parity(bool nand) {
    std::string text = "input", body, last = "I0";
    for (int i = 0; i < 28; ++i) text += " I" + std::to_string(i);
    for (int i = 1; i < 28; ++i) {
        const auto k = std::to_string(i), b = "I" + k, out = i == 27 ? std::string("Y") : "x" + k;
        if (nand)
            body += "U" + k + " 74x00 hc: 1A=" + last + " 1B=" + b + " 1Y=m" + k + " 2A=" + last + " 2B=m" +
                    k + " 2Y=p" + k + " 3A=" + b + " 3B=m" + k + " 3Y=q" + k + " 4A=p" + k + " 4B=q" + k +
                    " 4Y=" + out + "\n";
        else
            body += "U" + k + " 74x86 hc: 1A=" + last + " 1B=" + b + " 1Y=" + out +
                    " 2A=0 2B=0 3A=0 3B=0 4A=0 4B=0\n";
        last = out;
    }
    return text + "\noutput Y\n" + body;
}

void Equal28Inputs(benchmark::State& state) {
    const auto a = read_network(parity(false), library()), b = read_network(parity(true), library());
    for (auto _ : state) {
        Progress progress;
        const auto e = compare_networks(a, b, {}, progress);
        if (!e || e->answer != Equivalence::Answer::equal) state.SkipWithError("not equal");
        benchmark::DoNotOptimize(e->looked_at);
    }
}
BENCHMARK(Equal28Inputs)->Unit(benchmark::kMillisecond)->UseRealTime();

void CountWords(benchmark::State& state) {
    for (auto _ : state) {
        std::uint64_t sum = 0;
        for (std::uint64_t w = 0; w < (1ULL << 22U) * 160; ++w) {
            sum ^= w * 0x9E3779B97F4A7C15ULL;
            benchmark::DoNotOptimize(sum);
        }
    }
}
BENCHMARK(CountWords)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace grayrelic::bench
