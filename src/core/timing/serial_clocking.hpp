// SPDX-License-Identifier: GPL-3.0-or-later
// What a given clock can make of a serial rate, and whether a receiver would still sample inside each bit;
// the rate of a software loop from its cycles.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/base/time.hpp"
#include "core/base/verdict.hpp"
#include "core/dossier/timing.hpp"

namespace grayrelic {

struct SerialQuestion {
    double target_hz = 0, clock_hz = 0;
    DividerKind divider = DividerKind::integer;
    int oversample = 16;
    int bits = 10;  ///< with start and stop: the last one sampled is the stop bit
    Time jitter;    ///< of the edges, peak
};

/// As a clock of the dossier asks it.
[[nodiscard]] SerialQuestion question_of(const ClockStudy& study);

/// Margin of bit N, in bits: 0.5 − (|e|·(N + 0.5) + 1/M + jitter/bit), with e the rate error and M the
/// oversampling. Start bit is N = 0. A margin below 0: that bit may be read wrong; below a tenth of a bit:
/// Doubt.
struct SerialClocking {
    double divisor = 0;  ///< clock ÷ (oversample · divisor) is the rate
    double achieved_hz = 0;
    double error_ppm = 0;
    std::vector<double> margin_bit;
    double worst_margin_bit = 0;
    Verdict verdict = Verdict::unknown;
};
/// Refused: rates or clocks not above 0, a clock too slow for the target, oversampling outside 1 to 256, bits
/// outside 3 to 16, jitter below 0.
[[nodiscard]] Result<SerialClocking> clock_serial(const SerialQuestion& q);
/// The largest rate error, in ppm, at which no bit's margin falls below 0; 0 when there is none.
[[nodiscard]] double most_error_ppm(const SerialQuestion& q);

struct LoopRate {
    long long cycles = 0;
    double loop_s = 0;
    double toggle_hz = 0;  ///< toggles/(2·loop)
};
[[nodiscard]] Result<LoopRate> loop_rate(double clock_hz, const std::vector<long long>& cycles, int toggles);
/// Back from a measured rate: how many cycles a round takes, with the two whole numbers beside it.
struct LoopCycles {
    double cycles = 0;
    long long below = 0, above = 0;
    double error_below_ppm = 0, error_above_ppm = 0;  ///< of the rate that this number would give
};
[[nodiscard]] Result<LoopCycles> loop_cycles(double clock_hz, double measured_hz, int toggles);

}  // namespace grayrelic
