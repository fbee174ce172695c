// SPDX-License-Identifier: GPL-3.0-or-later
// Which rate, polarity and number of bits read an asynchronous line best, where the settings leave them open.
#pragma once

#include <optional>
#include <string>

#include "core/base/result.hpp"
#include "core/decode/async_line.hpp"
#include "core/decode/bit_time.hpp"

namespace grayrelic::async_line {

/// As the settings give them; nothing: to be found.
struct Wanted {
    std::optional<double> bit_ps;
    std::optional<int> bits;
    std::optional<Parity> parity;
    std::optional<double> stop;
    std::optional<bool> inverted;
};

struct Found {
    Shape shape;       ///< bit_ps is 0 where there are too few edges for a rate
    bool few = false;  ///< so little was heard that eight bits were taken since they are the usual ones
    bool either_way = false;  ///< the other polarity reads no worse
    double chatter_ps = 0;    ///< edges come in bursts up to this long, and the rate is that behind them
    bool stop_known = false;  ///< characters come close enough to each other to see the stop bits
};

[[nodiscard]] Found find_shape(const DigitalWaveform& waveform, Span extent, const Wanted& wanted);

/// The rate over the edges of all characters that framed; the shape's bit time is set to it.
[[nodiscard]] BitTimeFit refine_rate(const DigitalWaveform& waveform, Span extent, Shape& shape);

}  // namespace grayrelic::async_line
