// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/suggest_roles.hpp"

#include <algorithm>

namespace grayrelic {
namespace {

/// Share of the clock's bursts (parted by gaps of eight times its median period) before which the signal
/// makes exactly one pulse.
double one_pulse_per_burst(const DigitalWaveform& signal, const DigitalWaveform& clock) {
    const auto edges = clock.edges();
    std::vector<Time> gaps;
    for (std::size_t i = 0; i + 1 < edges.size(); ++i) gaps.push_back(edges[i + 1] - edges[i]);
    if (gaps.size() < 4) return 0.0;
    auto sorted = gaps;
    std::nth_element(sorted.begin(), sorted.begin() + static_cast<std::ptrdiff_t>(sorted.size() / 2),
                     sorted.end());
    const Time limit = sorted[sorted.size() / 2] * 8;
    long bursts = 0;
    long alone = 0;
    for (std::size_t i = 0; i < gaps.size(); ++i) {
        if (gaps[i] <= limit) continue;
        ++bursts;
        // One pulse is two edges, and both lie in the pause.
        if (signal.edges_before(edges[i + 1]) - signal.edges_before(edges[i]) == 2) ++alone;
    }
    return bursts == 0 ? 0.0 : static_cast<double>(alone) / static_cast<double>(bursts);
}

}  // namespace

RoleMap suggest_latch_shift_roles(const Capture& capture) {
    std::vector<const Signal*> busy;
    for (const auto& s : capture.signals)
        if (s.digital && !s.digital->edges().empty()) busy.push_back(&s);
    if (busy.size() < 3) return {};
    std::stable_sort(busy.begin(), busy.end(), [](const Signal* a, const Signal* b) {
        return a->digital->edges().size() > b->digital->edges().size();
    });
    const auto& clock = *busy.front()->digital;
    const auto latch = std::max_element(busy.begin() + 1, busy.end(), [&](const Signal* a, const Signal* b) {
        return one_pulse_per_burst(*a->digital, clock) < one_pulse_per_burst(*b->digital, clock);
    });
    const auto data =
        std::find_if(busy.begin() + 1, busy.end(), [&](const Signal* s) { return s != *latch; });
    return {{"clock", {busy.front()->name}}, {"latch", {(*latch)->name}}, {"data", {(*data)->name}}};
}

}  // namespace grayrelic
