// SPDX-License-Identifier: GPL-3.0-or-later
// The bit time of an asynchronous line, from its edges alone.
//
// Every interval inside a character is a whole multiple of the bit time; pauses are arbitrary. A first guess
// comes from the shortest intervals that occur often; least squares over all intervals that are near a whole
// multiple refines it: T = Σ k·d / Σ k² with k = round(d / T).
#pragma once

#include <vector>

#include "core/signal/waveform.hpp"

namespace grayrelic {

/// Candidates in picoseconds, likeliest first; empty when there are too few edges (under four intervals).
/// The later ones are a half and a third of the first: a line that never shows a single bit alone.
[[nodiscard]] std::vector<double> bit_time_candidates(const DigitalWaveform& waveform);

/// The same where contacts chatter or the probe rings: intervals that lie apart from all others (a third of
/// the next longer ones or less) and are no more than three quarters of all are taken for one edge each.
struct Chatter {
    std::vector<double> bit_times_ps;  ///< empty where nothing lies apart
    double longest_ps = 0;             ///< of the chatter's intervals
    std::size_t intervals = 0;         ///< how many of them, of those looked at
};
[[nodiscard]] Chatter bit_times_behind_chatter(const DigitalWaveform& waveform);

/// Least squares over character edges. `offsets` are the distances of edges from their start edge and
/// `multiples` how many bits they lie apart; where edges of the other direction are late by a constant
/// (`turned`), that is fitted too.
struct BitTimeFit {
    double ps = 0;
    double standard_error_ps = 0;
    double turned_late_ps = 0;  ///< how much later mark edges come than space edges
    long edges = 0;
};
[[nodiscard]] BitTimeFit fit_bit_time(const std::vector<double>& offsets, const std::vector<int>& multiples,
                                      const std::vector<char>& turned);

}  // namespace grayrelic
