// SPDX-License-Identifier: GPL-3.0-or-later
// A measured rate explained by the clock sources and divider chains of the era.
//
// A chain is a prescaler (powers of two, decimal counters, the 16 of a serial receiver) and at most one
// preset counter. Its score weighs how well it fits against how much it assumes:
//   fit        exp(−e²/2σ²)/σ with e the error and σ² = u² + (tolerance of the source/2)² and u the rate's
//   own
//              uncertainty; a source that may lie anywhere explains less by fitting
//   assumed    2^−bits, with bits for each counter: about log2 of its modulus for a preset counter, little
//   for a
//              power of two
//   usual      the source's weight
// Scores add up to at most 1: what is left is for a chain that is not in the list. They compare what was
// listed, and are no probability of the truth.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/base/result.hpp"
#include "core/timing/clock_sources.hpp"

namespace grayrelic {

struct ClockCandidate {
    std::string source;
    double source_hz = 0;
    long long divide = 1;
    std::string chain;  ///< "÷ 64 ÷ 7"
    double hz = 0;
    double error_ppm = 0;  ///< (hz/rate − 1)·10⁶
    double score = 0;
};

struct ClockExplanation {
    std::vector<ClockCandidate> candidates;  ///< best first, at most 200, each within ±within of the rate
    std::size_t alike = 0;                   ///< how many at the head the measurement can't tell apart
    std::string advice;                      ///< what would tell them apart; empty for a single one
};

/// rate > 0 hertz; within_ppm above 0, at most 50,000: nominal rates further away are not listed.
/// uncertainty_ppm is the measurement's, one deviation; nothing: half of within.
[[nodiscard]] Result<ClockExplanation> explain_clock(double rate_hz, double within_ppm,
                                                     const std::vector<ClockSource>& sources,
                                                     std::optional<double> uncertainty_ppm = std::nullopt);
/// The cheapest chain that divides by this, and its bits; empty when it would take more than a preset counter
/// of 16 bits behind a prescaler.
struct DividerChain {
    std::string text;
    double bits = 0;
};
[[nodiscard]] DividerChain divider_chain(long long divide);

}  // namespace grayrelic
