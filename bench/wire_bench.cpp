// SPDX-License-Identifier: GPL-3.0-or-later
// A circuit of 300 links, judged anew after an edit of one resistor: by itself, and as part of the whole
// analysis. Rails of 6 sources, 150 parts and 200 loads, judged in full; and a usual tree of 2 sources.
#include <benchmark/benchmark.h>

#include "core/checks/analyse.hpp"
#include "core/dossier/edits.hpp"
#include "core/electrical/rails_study.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

/// Fifty inverters of six gates between fifty relic pins and a module's: 300 and more links.
std::string text_of(int ohm) {
    std::string out = "port J1: 100=V5 101=GND";
    for (int i = 0; i < 50; ++i) out += " " + std::to_string(i) + "=P" + std::to_string(i);
    out += "\nrail V3 3.3V ±5%\n";
    for (int i = 0; i < 50; ++i) {
        const auto n = std::to_string(i);
        out +=
            "R" + n + " resistor " + (i == 7 ? std::to_string(ohm) : "4k7") + ": 1=P" + n + " 2=a" + n + "\n";
        out += "U" + n + " 74x04 hct:";
        for (int g = 1; g <= 6; ++g) {
            const auto k = std::to_string(g);
            out += " " + k + "A=" + (g == 1 ? "a" + n : "w" + n + "_" + std::to_string(g - 1)) + " " + k +
                   "Y=w" + n + "_" + k;
        }
        out += " VCC=V5 GND=GND\n";
    }
    return out;
}

Dossier big_circuit() {
    Port j1;
    j1.id = "J1";
    Pin rail, ground;
    rail.number = "100";
    rail.name.value = "+5 V";
    rail.driver.value = Driver::supply;
    rail.volts_max.value = Volts(5.25);
    rail.volts_min.value = Volts(4.75);
    ground.number = "101";
    ground.name.value = "ground";
    ground.driver.value = Driver::supply;
    j1.pins = {rail, ground};
    for (int i = 0; i < 50; ++i) {
        Pin p;
        p.number = std::to_string(i);
        p.name.value = "P" + std::to_string(i);
        p.driver.value = Driver::relic;
        p.family.value = "ttl";
        j1.pins.push_back(p);
    }
    LogicNetwork n;
    n.id = "bridge";
    n.text = text_of(4700);
    return edit(put(put(Dossier{}, j1), n), &Dossier::wire, [](Wire& w) { w.network = "bridge"; });
}

void JudgeLinksAfterAnEdit(benchmark::State& state) {
    const auto data = DataLibrary::load_installed();
    const auto logic = std::shared_ptr<const LogicLibrary>(data, &data->logic);
    auto d = big_circuit();
    int ohm = 4700;
    std::size_t links = 0;
    for (auto _ : state) {
        d = edit<LogicNetwork>(d, "bridge", [&](LogicNetwork& n) { n.text = text_of(++ohm); });
        const auto w = analyse_wire(d, {logic, &data->families, &data->packages}, Person{});
        links = w.study.links.size();
    }
    state.counters["links"] = static_cast<double>(links);
}
BENCHMARK(JudgeLinksAfterAnEdit)->Unit(benchmark::kMillisecond);

void JudgeCircuitAfterAnEdit(benchmark::State& state) {
    const auto data = DataLibrary::load_installed();
    CaptureStore store;
    Progress progress;
    auto d = big_circuit();
    auto last = *analyse(d, {}, store, progress, nullptr, data);
    int ohm = 4700;
    for (auto _ : state) {
        d = edit<LogicNetwork>(d, "bridge", [&](LogicNetwork& n) { n.text = text_of(++ohm); });
        last = *analyse(d, {}, store, progress, last.get(), data);
        benchmark::DoNotOptimize(last);
    }
}
BENCHMARK(JudgeCircuitAfterAnEdit)->Unit(benchmark::kMillisecond);

RailTree tree_of(int sources, int parts, int loads) {
    std::string text;
    for (int i = 0; i < sources; ++i)
        text += "source S" + std::to_string(i) + " " + std::to_string(5 + i) + "V ±5% limit 1A ri 0.1Ω\n";
    unsigned next = 1;
    const auto below = [&](int n) {
        next = next * 1664525U + 1013904223U;
        return static_cast<int>((next >> 8U) % static_cast<unsigned>(n));
    };
    const auto rail = [&](int parts_so_far) {
        const int k = below(sources + parts_so_far);
        return k < sources ? "S" + std::to_string(k) : "R" + std::to_string(k - sources);
    };
    for (int i = 0; i < parts; ++i) {
        const auto way = std::to_string(i) + " " + rail(i) + " -> R" + std::to_string(i);
        text += i % 3 == 0   ? "drop D" + way + " 0.1V\n"
                : i % 3 == 1 ? "switch Q" + way + " ron 50mΩ\n"
                             : "linear U" + way + " 1V dropout 0.2V max 1A\n";
    }
    for (int i = 0; i < loads; ++i)
        text += "load L" + std::to_string(i) + " " + rail(parts) + (i % 2 == 0 ? " 1mA" : " 10kΩ") +
                " in idle 0.1mA\n";
    return read_rails(text).tree;
}

void JudgeRails(benchmark::State& state) {
    const auto tree = tree_of(static_cast<int>(state.range(0)), static_cast<int>(state.range(1)),
                              static_cast<int>(state.range(2)));
    for (auto _ : state) {
        auto s = study_rails(tree);
        benchmark::DoNotOptimize(s);
    }
}
BENCHMARK(JudgeRails)->Args({2, 6, 6})->Args({6, 150, 200})->Unit(benchmark::kMillisecond);

}  // namespace
}  // namespace grayrelic
