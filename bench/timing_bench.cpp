// SPDX-License-Identifier: GPL-3.0-or-later
// Reply simulations a second, for each kind of model, beside drawing as many random numbers.
#include <benchmark/benchmark.h>

#include "core/base/random.hpp"
#include "core/timing/reply.hpp"

namespace grayrelic::bench {
namespace {

constexpr std::size_t count = 1'000'000;

std::vector<ReplyTask> tasks() {
    Random random(3);
    std::vector<ReplyTask> out;
    Time t;
    for (std::size_t i = 0; i < count; ++i) {
        t += Time::us(20) + Time::ns(static_cast<std::int64_t>(random.next() % 4000));
        out.push_back({t, t + Time::us(3)});
    }
    return out;
}

void Replies(benchmark::State& state, const ReplyModel& model) {
    const auto all = tasks();
    for (auto _ : state) {
        Progress progress;
        auto summary = simulate_replies(all, model, 1, progress);
        benchmark::DoNotOptimize(summary);
    }
    state.SetItemsProcessed(static_cast<std::int64_t>(state.iterations() * count));
}

ReplyModel model(const char* text) {
    return model_of(parse_option(text).value()).value();
}
BENCHMARK_CAPTURE(Replies, poll, model("poll:period=12us,work=800ns"))->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(Replies, irq, model("irq:latency=400ns..1.2us,held=3us/90us,work=700ns"))
    ->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(Replies, core, model("core:latency=100ns..300ns,work=500ns,stall=2us/400us"))
    ->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(Replies, queue, model("irq:latency=400ns..1.2us,held=3us/90us,work=700ns,busy=queue"))
    ->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(Replies, pio, model("pio:clock=125MHz,sync=2..3,cycles=4"))->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(Replies, logic, model("logic:12ns,25ns,60ns"))->Unit(benchmark::kMillisecond);

void RandomNumbers(benchmark::State& state) {
    for (auto _ : state) {
        Random random(3);
        double sum = 0;
        for (std::size_t i = 0; i < count; ++i) sum += random.uniform();
        benchmark::DoNotOptimize(sum);
    }
    state.SetItemsProcessed(static_cast<std::int64_t>(state.iterations() * count));
}
BENCHMARK(RandomNumbers)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace grayrelic::bench
