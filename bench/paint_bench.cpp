// SPDX-License-Identifier: GPL-3.0-or-later
// Painting the wave area at 1280×800 over 27 million edges, at any zoom and place: median and worst of many.
#include <benchmark/benchmark.h>

#include <QImage>
#include <QPainter>

#include <algorithm>
#include <chrono>
#include <cmath>

#include "app/stages/listen/overlay_plot.hpp"
#include "app/stages/listen/wave_view.hpp"
#include "bench/made_capture.hpp"
#include "core/base/random.hpp"
#include "core/capture/capture_file.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::bench {
namespace {

std::shared_ptr<const CaptureAnalysis> analysis_of(std::shared_ptr<const Capture> capture, bool words) {
    auto a = std::make_shared<CaptureAnalysis>();
    a->ref.id = words ? "words" : "plain";
    a->capture = std::move(capture);
    if (words) {
        // A word every 10 µs: tens of thousands in view when zoomed out.
        Decoding d;
        d.kind = "latch-shift";
        const auto extent = a->capture->extent;
        for (Time t = extent.from; t < extent.to; t += Time::us(10)) {
            Frame f;
            f.start = t;
            f.end = t + Time::us(8);
            for (int i = 0; i < 8; ++i) f.bit_times.push_back(t + Time::us(i));
            f.levels = "01100101";
            f.value = 0x65;
            d.frames.push_back(std::move(f));
        }
        a->decoding = std::make_shared<const Decoding>(std::move(d));
    }
    return a;
}

void Paint(benchmark::State& state, bool words) {
    static const auto capture = [] {
        Progress progress;
        return std::make_shared<const Capture>(read_capture_file(large_dump(), progress).value());
    }();
    app::WaveView view;
    view.resize(1280, 800);
    view.show_capture(analysis_of(capture, words), {});
    QImage image(1280, 800, QImage::Format_ARGB32_Premultiplied);
    view.render(&image);  // fonts and the like
    Random random(5);
    std::vector<double> times;
    const auto extent = capture->extent;
    const double steps = std::log2(static_cast<double>(extent.length().count()) / 20'000.0);
    for (auto _ : state) {
        // From the whole capture to 20 ns, anywhere.
        const double zoom = random.uniform() * steps;
        const auto length = Time::ps(
            static_cast<std::int64_t>(static_cast<double>(extent.length().count()) / std::exp2(zoom)));
        const auto room = static_cast<double>((extent.length() - length).count());
        const auto from = extent.from + Time::ps(static_cast<std::int64_t>(random.uniform() * room));
        view.set_window({from, from + length});
        const auto start = std::chrono::steady_clock::now();
        view.render(&image);
        const double s = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        times.push_back(s);
        state.SetIterationTime(s);
    }
    std::sort(times.begin(), times.end());
    state.counters["median_ms"] = times[times.size() / 2] * 1e3;
    state.counters["p99_ms"] = times[times.size() * 99 / 100] * 1e3;
    state.counters["worst_ms"] = times.back() * 1e3;
}
BENCHMARK_CAPTURE(Paint, twelve_signals, false)
    ->UseManualTime()
    ->Iterations(2000)
    ->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(Paint, with_words, true)->UseManualTime()->Iterations(2000)->Unit(benchmark::kMillisecond);

/// A million transactions laid over one another: zooming and panning in what was laid once.
void PanOverlay(benchmark::State& state) {
    constexpr std::size_t columns = 4800;
    auto overlay = std::make_shared<Overlay>();
    overlay->spans = 1'000'000;
    Random random(2);
    for (int l = 0; l < 8; ++l) {
        OverlayLine line;
        line.signal = "line" + std::to_string(l);
        for (std::size_t c = 0; c < columns; ++c) {
            line.high.push_back(static_cast<float>(random.uniform()));
            line.edges.push_back(static_cast<float>(random.uniform() * 0.1));
        }
        overlay->lines.push_back(std::move(line));
    }
    app::OverlayPlot plot;
    plot.resize(1100, 400);
    plot.show_overlay(overlay, Time::us(10), Time::us(220), std::vector<Driver>(8, Driver::relic));
    QImage image(1100, 400, QImage::Format_ARGB32_Premultiplied);
    plot.render(&image);
    std::vector<double> times;
    for (auto _ : state) {
        const double length = 230e-6 * std::pow(0.5, 3 * random.uniform()),
                     from = -10e-6 + (230e-6 - length) * random.uniform();
        const auto begun = std::chrono::steady_clock::now();
        plot.set_window({Time::from_seconds(from), Time::from_seconds(from + length)});
        plot.render(&image);
        times.push_back(std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count());
    }
    std::sort(times.begin(), times.end());
    state.counters["median_ms"] = times[times.size() / 2] * 1e3;
    state.counters["worst_ms"] = times.back() * 1e3;
}
BENCHMARK(PanOverlay)->Iterations(300)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace grayrelic::bench
