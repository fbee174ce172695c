// SPDX-License-Identifier: GPL-3.0-or-later
// Import of a large dump against counting its words: what counts is the ratio, with its memory beside it.
#include <benchmark/benchmark.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <cstdio>

#include "bench/made_capture.hpp"
#include "core/capture/capture_file.hpp"

namespace grayrelic::bench {
namespace {

double seconds_of(const auto& work) {
    const auto from = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
}

/// Peak resident memory of reading the dump in a process of its own, in bytes.
double peak_of_import(const std::filesystem::path& path) {
    const pid_t child = ::fork();
    if (child == 0) {
        Progress progress;
        const auto capture = read_capture_file(path, progress);
        ::_exit(capture ? 0 : 1);
    }
    int status = 0;
    struct rusage usage {};
    ::wait4(child, &status, 0, &usage);
    return static_cast<double>(usage.ru_maxrss) * 1024.0;
}

void Import(benchmark::State& state) {
    const auto path = large_dump();
    const auto count = "LC_ALL=C.UTF-8 wc -w '" + path.string() + "' >/dev/null";
    const double peak = peak_of_import(path);
    double edges = 0;
    double import = 1e9;
    double words = 1e9;
    for (auto _ : state) {
        // The best of each: what else the machine does only ever adds.
        words = std::min(words, seconds_of([&] { (void)!std::system(count.c_str()); }));
        const double once = seconds_of([&] {
            Progress progress;
            const auto capture = read_capture_file(path, progress);
            edges = capture ? static_cast<double>(capture->edge_count()) : 0;
        });
        import = std::min(import, once);
        state.SetIterationTime(once);
    }
    state.counters["ratio_to_wc"] = import / words;
    state.counters["import_s"] = import;
    state.counters["wc_s"] = words;
    state.counters["edges"] = edges;
    state.counters["peak_MB"] = peak / 1e6;
    state.counters["peak_bytes_per_edge"] = peak / edges;
}
/// gzip: the plain import and 1.1 times what gzip itself takes to expand the file are allowed.
void ImportGzip(benchmark::State& state) {
    const auto path = large_dump();
    const auto packed = path.string() + ".gz";
    if (!std::filesystem::exists(packed)) (void)!std::system(("gzip -k1 '" + path.string() + "'").c_str());
    const auto expand = "gzip -dc '" + packed + "' >/dev/null";
    double plain = 1e9, gzip = 1e9, import = 1e9;
    for (auto _ : state) {
        gzip = std::min(gzip, seconds_of([&] { (void)!std::system(expand.c_str()); }));
        for (auto [file, best] : {std::pair<std::filesystem::path, double*>{path, &plain}, {packed, &import}})
            *best = std::min(*best, seconds_of([&] {
                Progress progress;
                benchmark::DoNotOptimize(read_capture_file(file, progress));
            }));
    }
    state.counters["plain_s"] = plain;
    state.counters["gzip_dc_s"] = gzip;
    state.counters["import_s"] = import;
    state.counters["ratio_to_allowed"] = import / (plain + 1.1 * gzip);
}
BENCHMARK(ImportGzip)->Iterations(3)->Unit(benchmark::kMillisecond);
BENCHMARK(Import)->UseManualTime()->Iterations(5)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace grayrelic::bench
