// SPDX-License-Identifier: GPL-3.0-or-later
// Following a stream: how many edges a second are read out of pieces as they come, and whether five million a
// second over the loopback arrive without loss while a window asks for the last stretch ten times a second.
#include <benchmark/benchmark.h>

#include <chrono>
#include <thread>

#include "bench/made_capture.hpp"
#include "core/capture/capture_cache.hpp"
#include "live/live_recording.hpp"
#include "standin/logic_stream.hpp"
#include "standin/spoken.hpp"

namespace grayrelic::bench {
namespace {

const Capture& conversation() {
    static const Capture c = standin::speak("latch-shift", {.seed = 1, .words = 5000}).capture;
    return c;
}
double edges_a_second() {
    return static_cast<double>(conversation().edge_count()) / conversation().extent.length().seconds();
}

/// Pieces of 64 kB, as a socket gives them; the reference is the plain reader on the same bytes.
void FeedPieces(benchmark::State& state) {
    standin::LogicStream stream(conversation());
    std::string text = stream.definitions();
    stream.changes(Time::from_seconds(10e6 / edges_a_second()), text);
    std::size_t edges = 0;
    for (auto _ : state) {
        GrowingCapture g("bench");
        for (std::size_t at = 0; at < text.size(); at += 65536)
            (void)g.feed(std::string_view(text).substr(at, 65536));
        edges = g.edge_count();
    }
    state.counters["edges"] = static_cast<double>(edges);
    state.SetItemsProcessed(static_cast<std::int64_t>(state.iterations() * edges));
}
BENCHMARK(FeedPieces)->Unit(benchmark::kMillisecond);

void FollowFiveMillionASecond(benchmark::State& state) {
    constexpr double seconds = 4, rate = 5e6;
    const double speed = rate / edges_a_second();
    std::atomic<int> port{0};
    std::thread([&port, speed] {
        (void)standin::serve_logic([] { return standin::LogicStream(conversation()); }, 0,
                                   {.speed = speed, .seconds = seconds * speed},
                                   [&port](int p) { port = p; });
    }).detach();
    while (port == 0) std::this_thread::sleep_for(std::chrono::milliseconds(1));
    standin::LogicStream again(conversation());
    std::string sent;
    again.changes(Time::from_seconds(seconds * speed), sent);
    sent.clear();
    std::size_t came = 0, shown = 0;
    double longest_look = 0;
    for (auto _ : state) {
        auto r = live::Recording::start("port " + std::to_string(port), {},
                                        std::filesystem::temp_directory_path() / "gray-relic-bench-live.vcd");
        while ((*r)->state().phase == live::State::Phase::running) {
            std::this_thread::sleep_for(std::chrono::milliseconds(100));
            const auto from = std::chrono::steady_clock::now();
            const auto last = (*r)->last(Time::ms(100), 200'000);
            longest_look = std::max(
                longest_look, std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count());
            shown += last.edge_count();
        }
        came = (*r)->state().edges;
    }
    benchmark::DoNotOptimize(shown);
    state.counters["sent"] = static_cast<double>(again.edges());
    state.counters["lost"] = static_cast<double>(again.edges()) - static_cast<double>(came);
    state.counters["sent_in_s"] = seconds;  // beside it the whole time: what is over was still under way
    state.counters["longest_look_ms"] = longest_look * 1e3;
}
BENCHMARK(FollowFiveMillionASecond)->Iterations(2)->UseRealTime()->Unit(benchmark::kMillisecond);

/// Reopening the large dump from its copy, against reading it anew.
void Reopen(benchmark::State& state) {
    const auto folder = std::filesystem::temp_directory_path() / "gray-relic-bench-copies";
    Progress progress;
    (void)read_capture_cached(large_dump(), {}, {}, folder, progress);
    double anew = 1e9, reopened = 1e9;
    const auto seconds_of = [](const auto& work) {
        const auto from = std::chrono::steady_clock::now();
        work();
        return std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
    };
    for (auto _ : state) {
        anew = std::min(
            anew, seconds_of([&] { benchmark::DoNotOptimize(read_capture_file(large_dump(), progress)); }));
        reopened = std::min(
            reopened, seconds_of([&] {
                benchmark::DoNotOptimize(read_capture_cached(large_dump(), {}, {}, folder, progress));
            }));
    }
    state.counters["anew_s"] = anew;
    state.counters["reopened_s"] = reopened;
    std::error_code code;
    for (const auto& f : std::filesystem::directory_iterator(folder, code))
        state.counters["kept_MB"] = static_cast<double>(f.file_size()) / 1e6;
    std::filesystem::remove_all(folder, code);
}
BENCHMARK(Reopen)->Iterations(4)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace grayrelic::bench
