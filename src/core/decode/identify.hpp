// SPDX-License-Identifier: GPL-3.0-or-later
// What could these signals be? Every family is tried with every plausible assignment of roles; each candidate
// is decoded and scored by what it predicts and how much activity it explains.
//
// score = quality · (0.25 + 0.75 · explained) · trust, from 0 to 1:
//   quality    how often what the family predicts comes true (start, stop, parity, clock bursts of one
//   length,
//              two pulse widths, a Gray sequence, a CRC), rated against what chance would do
//   explained  the share of edges, on the signals that it takes part in, that belong to frames without errors
//   trust      lower when there are few frames, when samples are few to the shortest pulse, and for families
//              that only store bits: a kind that predicts outranks one that does not
// Below 0.3 nothing fits.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/decode/decoder.hpp"

namespace grayrelic {

struct Candidate {
    std::string kind;
    double score = 0;
    RoleMap roles;
    SettingMap settings;  ///< as resolved, to adopt
    double explains = 0;  ///< share of all edges of the considered signals, 0 to 1
    long frames = 0, errors = 0;
    std::string why;                        ///< "11 clocks a burst, odd parity in 412 of 412 frames"
    std::vector<Unsure> not_told_apart;     ///< settings, or "kind", of which another value fits as well
    std::vector<std::string> alternatives;  ///< what reads the same, and the capture that would tell
};

inline constexpr double least_fit = 0.3;

struct IdentifyOptions {
    std::vector<std::string> signals;   ///< empty: all digital ones with edges
    std::size_t trial_edges = 60'000;   ///< of the busiest signal; more are not looked at
    std::optional<Time> sample_period;  ///< nothing: found from the edges
    std::size_t most_candidates = 12;
};

/// Best first. Candidates under 0.05 are left out. Fails for names that are not there, and when cancelled.
[[nodiscard]] Result<std::vector<Candidate>> identify(const Capture& capture, const IdentifyOptions& options,
                                                      Progress& progress);

/// Which of them hold together: the best first, then the best of those that use none of its lines, and so on.
/// Places in the list.
[[nodiscard]] std::vector<std::vector<std::size_t>> links_of(const std::vector<Candidate>& candidates);

}  // namespace grayrelic
