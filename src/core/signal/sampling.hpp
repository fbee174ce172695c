// SPDX-License-Identifier: GPL-3.0-or-later
// Is the capture fine enough? A logic sample is uncertain by one sample period at each edge, and a pulse of
// under three samples is not to be trusted.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/signal/capture.hpp"

namespace grayrelic {

/// The sample period that all edge times of a capture are whole multiples of, within the file's rounding;
/// nothing when there are too few edges to tell or when the times lie on no grid coarser than the file's own
/// unit.
[[nodiscard]] std::optional<Time> find_sample_period(const Capture& capture);

struct SamplingReport {
    struct Line {
        std::string signal;
        Time shortest;       ///< shortest pulse between two edges
        long too_short = 0;  ///< pulses under three sample periods
        long pulses = 0;
        Time at;  ///< where the shortest one starts
    };
    Time sample_period;
    std::vector<Line> lines;  ///< digital signals with at least two edges
};

/// Counts each signal's pulses that are shorter than three sample periods.
[[nodiscard]] SamplingReport judge_sampling(const Capture& capture, Time sample_period);

}  // namespace grayrelic
