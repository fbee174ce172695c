// SPDX-License-Identifier: GPL-3.0-or-later
// A large recording inside a full dossier, as its owner meets it: the first waves, the longest pause of the
// window, the second opening, an edit that does not touch the recording, memory; and `check` against the
// counting of its words in the same run. Each in a process of its own, so that the peaks are theirs.
#include <benchmark/benchmark.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <QApplication>
#include <QStandardPaths>

#include <chrono>
#include <cstdio>
#include <cstdlib>

#include "app/shell/main_window.hpp"
#include "app/stages/all_stages.hpp"
#include "app/stages/listen/listen_page.hpp"
#include "app/stages/listen/wave_view.hpp"
#include "bench/made_capture.hpp"
#include "bench/pauses.hpp"
#include "core/dossier/edits.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::bench {
namespace {

/// Runs a program and waits; gives its time and its peak memory.
std::pair<double, double> timed(const std::string& command) {
    const auto from = Clock::now();
    const pid_t child = fork();
    if (child == 0) {
        execl("/bin/sh", "sh", "-c", command.c_str(), nullptr);
        _exit(127);
    }
    int status = 0;
    rusage used{};
    wait4(child, &status, 0, &used);
    return {since(from), static_cast<double>(used.ru_maxrss) / 1e6};
}

void Check(benchmark::State& state) {
    const auto folder = large_dossier(state.range(0) == 0 ? Recording::noise : Recording::polls);
    const auto recording = (folder / "captures/minute.vcd").string();
    (void)timed("cat " + recording + " > /dev/null");
    for (auto _ : state) {
        const auto [words, none] = timed("LC_ALL=C.UTF-8 wc -w " + recording + " > /dev/null");
        const auto [check, peak] =
            timed(std::string(GRAY_RELIC_CLI) + " check " + folder.string() + " > /dev/null");
        state.SetIterationTime(check);
        state.counters["wc_s"] = words;
        state.counters["ratio"] = check / words;
        state.counters["peak_GB"] = peak;
    }
}
BENCHMARK(Check)->Arg(0)->Arg(1)->UseManualTime()->Iterations(1)->Unit(benchmark::kSecond);

void Window(benchmark::State& state) {
    const auto folder = large_dossier(state.range(0) == 0 ? Recording::noise : Recording::polls);
    (void)timed("cat " + (folder / "captures/minute.vcd").string() + " > /dev/null");
    QStandardPaths::setTestModeEnabled(true);
    for (const char* left : {"dossier.journal", "dossier.lock"}) std::filesystem::remove(folder / left);
    std::filesystem::remove_all(
        (QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + "/captures").toStdString());
    for (auto _ : state) {
        app::MainWindow window(GRAY_RELIC_SOURCE "/demos", app::all_stages());
        window.resize(1280, 800);
        window.show();
        window.show_stage(Stage::listen);
        QApplication::processEvents();
        auto& waves = window.page<app::ListenPage>().waves();
        const auto shows = [&] {
            const auto* c = window.document().analysis().find_capture("minute");
            return c != nullptr && c->capture && waves.row_count() == 4;
        };
        Pauses pauses;
        for (const char* name : {"first", "second"}) {
            const std::string n = name;
            pauses.reset();
            const auto from = Clock::now();
            window.files().drop({QString::fromStdString(folder.string())});
            wait(shows);
            waves.repaint();
            state.counters[n + "_waves_s"] = since(from);
            wait([&] { return window.document().is_current(); });
            state.counters[n + "_whole_s"] = since(from);
            state.counters[n + "_pause_s"] = pauses.worst;
            if (n == "second") break;
            wait([&] {
                const auto copies = std::filesystem::path(
                    (QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + "/captures")
                        .toStdString());
                std::error_code code;
                for (const auto& e : std::filesystem::directory_iterator(copies, code))
                    if (e.path().extension() == ".capture") return true;
                return false;
            });
        }
        wait([&] { return app::figures_under_way == 0; });
        const auto made = window.document().analysis().memory->times_made();
        pauses.reset();
        auto port = window.document().dossier().ports->front();
        port.pins.front().note += " ";
        const auto from = Clock::now();
        window.document().apply("edit", put(window.document().dossier(), port));
        wait([&] { return window.document().is_current(); });
        state.counters["edit_s"] = since(from);
        state.counters["edit_pause_s"] = pauses.worst;
        long again = 0;
        if (std::getenv("GRAY_RELIC_BENCH_PARTS") != nullptr)
            for (const auto& [part, n] : window.document().analysis().memory->times_made())
                if (n != (made.count(part) > 0 ? made.at(part) : 0))
                    std::fprintf(stderr, "again: %s\n", part.c_str());
        for (const auto& [part, n] : window.document().analysis().memory->times_made())
            if (part.find("minute") != std::string::npos || part.starts_with("replies"))
                again += n - (made.count(part) > 0 ? made.at(part) : 0);
        state.counters["edit_recomputed"] = static_cast<double>(again);
        rusage used{};
        getrusage(RUSAGE_SELF, &used);
        state.counters["peak_GB"] = static_cast<double>(used.ru_maxrss) / 1e6;
        state.SetIterationTime(state.counters["first_waves_s"]);
    }
}
BENCHMARK(Window)->Arg(0)->Arg(1)->UseManualTime()->Iterations(1)->Unit(benchmark::kSecond);

}  // namespace
}  // namespace grayrelic::bench
