// SPDX-License-Identifier: GPL-3.0-or-later
// What ails a line, guessed from how it moves: chatter after its own edges (a slow rise, bounce), twitches
// that come with other lines' edges (crosstalk, a missing ground), a line that nobody drives, ringing and a
// badly placed threshold in analogue waveforms. Guesses: each says what it rests on, and the check that shows
// it says how to tell.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/progress.hpp"
#include "core/signal/capture.hpp"

namespace grayrelic {

struct LineHealth {
    std::string signal;
    long changes = 0;  ///< of level that last

    /// Brief pulses right after a change, before the new level lasts.
    long chatter_after_rise = 0, chatter_after_fall = 0;  ///< changes that chatter
    Time chatter_longest;                                 ///< from the change to the last edge of its chatter
    Time chatter_at;                                      ///< where that one begins

    /// Brief pulses after which the line is as before.
    long twitches = 0;
    long twitches_with_others = 0;  ///< of them, with an edge of another line close by
    std::string twitches_with;      ///< the line that explains most of them
    Time twitch_at;                 ///< the first

    bool perhaps_floating = false;  ///< chatters at most changes, and these keep to the mains' half periods
    double mains_hz = 0;            ///< 50 or 60

    /// Of analogue waveforms, in volts or the column's own unit.
    struct Analogue {
        double low = 0, high = 0;  ///< the levels it rests at
        double overshoot = 0;      ///< median share of the swing beyond the new level, after rises and falls
        double ringing_hz = 0;     ///< 0 when it does not swing back
        Time overshoot_at;         ///< where it is greatest
        double least_clearance = 0;  ///< share of the swing between the threshold and the nearer level
    };
    std::optional<Analogue> analogue;
    [[nodiscard]] long chatter() const { return chatter_after_rise + chatter_after_fall; }
};

/// One entry for each digital or analogue signal with edges. Looks at up to 2,000,000 edges of each.
[[nodiscard]] std::vector<LineHealth> examine_lines(const Capture& capture, Progress& progress);

/// The waveform without its chatter: edges that come within `within` of the edge before them are taken out as
/// long as they come so close; what is left is the level that lasts. The data stays as it is: this is a view.
[[nodiscard]] DigitalWaveform without_chatter(const DigitalWaveform& waveform, Time within);
/// The capture with each digital waveform so.
[[nodiscard]] Capture without_chatter(const Capture& capture, Time within);

}  // namespace grayrelic
