// SPDX-License-Identifier: GPL-3.0-or-later
// Event-driven simulation of a network with inertial delays and unknown levels.
//
// Levels are 0, 1, unknown and open (nobody drives). An open or unknown input reads as unknown. Every output
// starts unknown. A change at the inputs schedules the output's new level after its delay: `rise` to 1,
// `fall` to 0, `off` to open, the least of them to unknown. Inertial: a new result before that moment
// replaces what was scheduled, so a pulse shorter than the delay is swallowed. Transport: every change
// arrives. Several drivers of one net: who has let go does not count; opposite levels are unknown and noted
// as a clash. These are the rules of continuous assignments with three delays in IEEE 1364-2005,
// clause 6.1.3; the tests hold the two against each other edge for edge.
#pragma once

#include <functional>
#include <optional>
#include <vector>

#include "core/base/progress.hpp"
#include "core/logic/network.hpp"
#include "core/signal/waveform.hpp"

namespace grayrelic {

enum class Level : unsigned char { zero, one, unknown, open };
[[nodiscard]] char letter(Level level);  ///< '0' '1' 'x' 'z'

struct LevelChange {
    Time at;
    Level level = Level::unknown;
    bool operator==(const LevelChange&) const = default;
};

/// What one input does: its level from the start, and changes in strictly increasing order after it; those of
/// a waveform where there is one, read in their place.
struct Stimulus {
    int net = 0;
    Level first = Level::unknown;
    std::vector<LevelChange> changes;
    const DigitalWaveform* waveform = nullptr;  ///< must outlive the simulation
    [[nodiscard]] std::size_t size() const { return waveform ? waveform->edges().size() : changes.size(); }
    [[nodiscard]] Time time(std::size_t i) const { return waveform ? waveform->edges()[i] : changes[i].at; }
    [[nodiscard]] Level level(std::size_t i) const {
        if (!waveform) return changes[i].level;
        return waveform->is_rise(i) ? Level::one : Level::zero;
    }
};

struct TimingFault {
    enum class Kind { setup, hold, width } kind = Kind::setup;
    int part = 0;
    std::string pin;
    Time at, had, needed;
};
[[nodiscard]] std::string_view word(TimingFault::Kind k);

/// Two outputs that drove one net to opposite levels.
struct Clash {
    int net = 0;
    Time at;
};

struct SimulationOptions {
    Corner corner = Corner::slow;
    std::vector<Corner> part_corners;  ///< one for each part; empty: `corner` for all
    bool transport = false;
    bool unknown_on_fault = true;  ///< what a set-up fault touches is stored as unknown
    long most_events = 200'000'000;
    std::optional<Time> end;  ///< nothing is computed past it
    /// Only this net is kept account of, in the order of time, and `nets` stays empty: millions of changes
    /// then cost no memory, and what the network did before in the same state it does again without being
    /// computed anew.
    std::optional<int> watched;
    std::function<void(const LevelChange&)> on_change;  ///< of the watched net
};

struct SimulationResult {
    std::vector<std::vector<LevelChange>>
        nets;  ///< of each net of the network: its changes; unknown before the first
    long events = 0;
    std::vector<TimingFault> faults;  ///< the first 1,000
    std::vector<Clash> clashes;       ///< the first 1,000
    std::string stopped;              ///< why it was ended before the stimuli were; empty when it was not
};

/// Refused: a network that is not computable, stimuli out of order, cancelled.
[[nodiscard]] Result<SimulationResult> simulate(const Network& network, const std::vector<Stimulus>& stimuli,
                                                const SimulationOptions& options, Progress& progress);

/// `waveform` must outlive it.
[[nodiscard]] Stimulus stimulus_of(int net, const DigitalWaveform& waveform);
/// Unknown and open stretches are kept as such; there the last known level stands in.
[[nodiscard]] DigitalWaveform waveform_of(const std::vector<LevelChange>& changes, Time end);

}  // namespace grayrelic
