// SPDX-License-Identifier: GPL-3.0-or-later
// A modern pointer's counts as positions of an old stick or rates of an old dial, poll by poll.
//
// What arrives in a poll is added to what is carried. The old side moves by speed(out) steps in the time of
// one poll; one step is worth `counts_per_step` counts. Sent is the largest position whose speed does not go
// beyond what waits, so that movement is never overshot; the rest is carried. Nothing is ever lost, it only
// comes later.
//
// The old side's curve: a table of positions and speeds, straight between them; or (out − dead)^exponent.
// With exponent 1 and no table a position of dead + n moves n steps: out = ±(dead + whole steps).
#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/progress.hpp"
#include "core/base/result.hpp"
#include "core/dossier/map.hpp"

namespace grayrelic {

struct MoveResult {
    std::vector<long> out;        ///< one a poll
    std::vector<double> speeds;   ///< what the old side makes of each, in steps
    std::vector<double> waiting;  ///< counts carried behind each poll, signed
    double carried = 0;           ///< of the last
    double lost = 0;  ///< counts: always 0 here, said because a bridge that cuts remainders loses them
    std::size_t saturated = 0;     ///< polls in which the limit held it back
    double most_waiting = 0;       ///< counts
    std::size_t longest_wait = 0;  ///< polls in a row that ended with a whole step or more waiting
};

/// What is wrong with a curve: a table that does not rise, a limit that is not above the dead zone. Empty:
/// nothing.
[[nodiscard]] std::string problem_of(const MoveCurve& curve);
/// The speed of a position, in steps a poll; odd: speed(−out) = −speed(out).
[[nodiscard]] double speed_of(const MoveCurve& curve, long out);
/// The largest position from 0 to the limit whose speed is not above `steps` (≥ 0); its smallest where
/// several have one speed.
[[nodiscard]] long position_for(const MoveCurve& curve, double steps);

/// Refused: a curve with a problem, more than 10^8 polls. Cancelled.
[[nodiscard]] Result<MoveResult> move_through(const MoveCurve& curve, std::span<const long> counts,
                                              Progress& progress);

/// What a bridge that ignores the dead zone and drops remainders would send: out = counts ÷ counts_per_step,
/// cut. To show what the curve is good for.
[[nodiscard]] std::vector<long> move_plainly(const MoveCurve& curve, std::span<const long> counts);

/// A column `counts`, one row a poll. Refused with file and line.
[[nodiscard]] Result<std::vector<long>> read_moves(std::string_view text, const std::string& name);
/// A measured curve: columns `out` and `speed`, rising. Refused with file and line.
[[nodiscard]] Result<std::vector<CurvePoint>> read_curve_table(std::string_view text,
                                                               const std::string& name);

}  // namespace grayrelic
