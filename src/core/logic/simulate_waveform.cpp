// SPDX-License-Identifier: GPL-3.0-or-later
// Waveforms of a capture as stimuli, and results as waveforms.
#include "core/logic/simulate.hpp"

namespace grayrelic {

Stimulus stimulus_of(int net, const DigitalWaveform& waveform) {
    Stimulus s;
    s.net = net;
    s.first = waveform.first_level() ? Level::one : Level::zero;
    s.waveform = &waveform;
    return s;
}

DigitalWaveform waveform_of(const std::vector<LevelChange>& changes, Time end) {
    std::optional<bool> first;
    bool level = false;
    std::vector<Time> edges;
    std::vector<Span> unknown, floating;
    Time since = Time{};
    Level is = Level::unknown;
    const auto leave = [&](Time now) {
        if (now <= since) return;
        if (is == Level::unknown || is == Level::open) {
            if (!unknown.empty() && unknown.back().to == since)
                unknown.back().to = now;
            else
                unknown.push_back({since, now});
        }
        if (is == Level::open) floating.push_back({since, now});
    };
    for (const auto& c : changes) {
        if (c.at > end) break;
        leave(c.at);
        since = std::max(c.at, Time{});
        is = c.level;
        if (is != Level::zero && is != Level::one) continue;
        const bool now = is == Level::one;
        if (!first) {
            first = now;
            level = now;
        } else if (now != level) {
            edges.push_back(c.at);
            level = now;
        }
    }
    leave(end);
    EdgeBuffer buffer;
    for (const auto t : edges) buffer.push_back(t);
    return DigitalWaveform::from_sorted(first.value_or(false), std::move(buffer), std::move(unknown),
                                        std::move(floating));
}

}  // namespace grayrelic
