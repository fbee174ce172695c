// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/plan/bench_needs.hpp"

#include <cmath>

namespace grayrelic {

BenchNeeds bench_needs(const Dossier& d, const ListenAnalysis& listen) {
    BenchNeeds out;
    for (const auto& port : *d.ports)
        for (const auto& pin : port.pins)
            for (const auto* volts : {&pin.volts_min, &pin.volts_max, &pin.volts_idle, &pin.volts_active})
                if (volts->value && std::abs(volts->value->value()) > out.highest_volts) {
                    out.highest_volts = std::abs(volts->value->value());
                    out.where = port.id + "." + pin.number;
                    if (!pin.name.value.empty()) out.where += " " + pin.name.value;
                }
    for (const auto& c : listen.captures) {
        if (!c->sampling) continue;
        for (const auto& line : c->sampling->lines) {
            // A line that was sampled well says what is needed; one with glitches only where there is no
            // other.
            const bool glitch = line.too_short > 0;
            const bool first = !out.shortest || (out.may_be_a_glitch && !glitch);
            if (line.pulses == 0 ||
                !(first || (glitch == out.may_be_a_glitch && line.shortest < *out.shortest)))
                continue;
            out.shortest = line.shortest;
            out.may_be_a_glitch = glitch;
            const auto dot = line.signal.rfind('.');
            out.shortest_where =
                line.signal.substr(dot == std::string::npos ? 0 : dot + 1) + " in " + c->ref.title;
        }
    }
    return out;
}

}  // namespace grayrelic
