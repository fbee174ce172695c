// SPDX-License-Identifier: GPL-3.0-or-later
// How long the window stops for an edit, in each view, with a large recording and a long ledger in a full
// dossier: the longest wait of its events over four kinds of edits, up to the moment at which all that
// follows is shown. And how often the pages were refreshed for one of them.
#include <benchmark/benchmark.h>

#include <QApplication>
#include <QStandardPaths>

#include <cstdio>
#include <cstdlib>
#include <filesystem>

#include "app/shell/latest.hpp"
#include "app/shell/main_window.hpp"
#include "app/stages/all_stages.hpp"
#include "bench/made_capture.hpp"
#include "bench/pauses.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"

namespace grayrelic::bench {
namespace {

constexpr int many_readings = 1000;

/// With the ledger and the parts of the page card, its readings over and over up to a thousand.
Dossier with_a_ledger(Dossier d) {
    const auto card = load_dossier(std::filesystem::path(GRAY_RELIC_SOURCE) / "demos/calder-page-card.relic");
    if (!card) return d;
    d = edit(d, &Dossier::trace, [&](Trace& t) {
        t = *card->trace;
        t.scans.clear();
    });
    std::vector<MeterReading> readings;
    while (static_cast<int>(readings.size()) < many_readings)
        for (const auto& r : *card->readings) readings.push_back(r);
    return add_readings(d, std::move(readings));
}

Dossier edited(const Dossier& d, int kind) {
    if (kind == 0) {
        auto port = d.ports->front();
        port.pins.front().note += " ";
        return put(d, port);
    }
    if (kind == 1) {
        auto capture = d.captures->back();
        capture.title += " ";
        return put(d, capture);
    }
    if (kind == 2) return add_readings(d, {d.readings->back()});
    auto reply = d.timing->reply;
    reply.guard.value = reply.guard.value + Time::ns(1);
    return put(d, reply);
}

void Edits(benchmark::State& state) {
    const auto folder = large_dossier(Recording::polls);
    QStandardPaths::setTestModeEnabled(true);
    const char* only = std::getenv("GRAY_RELIC_BENCH_VIEW");  // to look at one of them
    for (const char* left : {"dossier.journal", "dossier.lock"}) std::filesystem::remove(folder / left);
    for (auto _ : state) {
        app::MainWindow window(GRAY_RELIC_SOURCE "/demos", app::all_stages());
        auto& document = window.document();
        window.resize(1280, 800);
        window.show();
        window.files().drop({QString::fromStdString(folder.string())});
        const auto idle = [&] { return document.is_current() && app::figures_under_way == 0; };
        wait(idle);
        document.apply("a ledger", with_a_ledger(document.dossier()));
        wait(idle);
        Pauses pauses;
        double worst_of_all = 0;
        for (auto* page : window.pages())
            for (const auto& view : page->views()) {
                if (only != nullptr && view.id != QLatin1String(only)) continue;
                window.show_stage(page->stage());
                page->show_view(view.id);
                wait(idle);
                double worst = 0;
                long refreshes = 0;
                for (int kind = 0; kind < 4; ++kind) {
                    long before = 0;
                    for (const auto* p : window.pages()) before += p->refreshes();
                    pauses.reset();
                    document.apply("edit", edited(document.dossier(), kind));
                    wait(idle);
                    wait([&, from = Clock::now()] { return since(from) > 0.05; });
                    worst = std::max(worst, pauses.worst);
                    long after = 0;
                    for (const auto* p : window.pages()) after += p->refreshes();
                    refreshes = std::max(refreshes, after - before);
                }
                const auto name = std::string(word(page->stage())) + "." + view.id.toStdString();
                state.counters[name + "_ms"] = worst * 1e3;
                state.counters[name + "_refreshes"] = static_cast<double>(refreshes);
                worst_of_all = std::max(worst_of_all, worst);
            }
        state.counters["worst_ms"] = worst_of_all * 1e3;
        state.SetIterationTime(worst_of_all);
    }
}
BENCHMARK(Edits)->UseManualTime()->Iterations(1)->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace grayrelic::bench
