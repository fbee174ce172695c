// SPDX-License-Identifier: GPL-3.0-or-later
// Which edge causes the changes of another line? The one after which they follow most evenly.
//
// Taken out first: changes that another line caused (a latch that loads, a select that turns a bus around),
// the last such edge being nearer than any candidate's; and those behind a pause, which nobody caused. What
// is left follows the right candidate always and with the least spread; another one misses the changes at the
// beginning of a burst, or adds the jitter of the host's own pulse to the spread. With pulses of one width
// that never begin otherwise, two candidates fit alike: then it is not settled.
#pragma once

#include <vector>

#include "core/signal/waveform.hpp"

namespace grayrelic {

struct CauseCandidate {
    const DigitalWaveform* line = nullptr;
    Direction direction = Direction::any;
};

/// How the changes lie behind one candidate.
struct CauseFit {
    std::size_t which = 0;      ///< place in the list of candidates
    long followed = 0;          ///< changes behind an edge of it
    long alone = 0;             ///< changes with none before them in their burst
    Time least, typical, most;  ///< delays of those that followed; typical is the median
    Time spread;                ///< from the second to the 98th of a hundred
    [[nodiscard]] double alone_share() const {
        return followed + alone == 0 ? 1.0
                                     : static_cast<double>(alone) / static_cast<double>(followed + alone);
    }
};

struct CauseStudy {
    std::vector<CauseFit> fits;  ///< best first; empty without a change to explain
    bool settled = false;        ///< the first is clearly better than every other
};

struct CauseRules {
    std::vector<const DigitalWaveform*> others;  ///< whose edges, of either direction, cause changes too
    Time pause = Time::max();  ///< a change longer behind its candidate was not caused by it
    Time sample;               ///< spreads below it tell nothing
};

/// `answers`: the lines that change, taken together. Times in picoseconds; an edge at the very time of a
/// candidate's counts as caused at once, as a recorder that samples shows it.
[[nodiscard]] CauseStudy study_causes(const std::vector<const DigitalWaveform*>& answers,
                                      const std::vector<CauseCandidate>& candidates, const CauseRules& rules);

/// Do changes follow the edges before them, or stand before the edges behind them? For each class of changes
/// whose nearest edge of `line` before them has one direction: the spread of both distances.
struct Closeness {
    Direction before = Direction::rise;  ///< of the nearest edge before the changes
    long changes = 0;
    Time behind, behind_spread;  ///< median distance from that edge, and its spread
    Time ahead, ahead_spread;    ///< median distance to the next edge of the line, and its spread
};
/// For rise and fall, in this order.
[[nodiscard]] std::vector<Closeness> closeness_of(const std::vector<const DigitalWaveform*>& answers,
                                                  const DigitalWaveform& line);

}  // namespace grayrelic
