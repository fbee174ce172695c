// SPDX-License-Identifier: GPL-3.0-or-later
// A conversation of each protocol family, made up from a seed, with what was said: for tests, for practice,
// and for the live source.
#pragma once

#include "standin/wires.hpp"

namespace grayrelic::standin {

struct Spoken {
    Capture capture;
    RoleMap roles;
    SettingMap settings;                ///< only what can't be found from the lines
    std::vector<std::uint64_t> values;  ///< of the frames, in order
};

struct SpeakOptions {
    std::uint64_t seed = 1;
    int words = 200;
    double jitter = 0;   ///< standard deviation of each edge, as a share of the family's shortest time
    double samples = 0;  ///< to the shortest time; 0 keeps the edges exact
    int unrelated = 0;   ///< so many lines that have nothing to do with it
};

/// The kinds of decoders(), by their names; an unknown one gives an empty capture.
[[nodiscard]] Spoken speak(std::string_view kind, const SpeakOptions& options);

/// A line whose pulses have any length: no protocol at all.
[[nodiscard]] Wire chatter(const std::string& name, std::uint64_t seed, Time end, Time mean);

}  // namespace grayrelic::standin
