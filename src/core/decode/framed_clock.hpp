// SPDX-License-Identifier: GPL-3.0-or-later
// Clock and data with framing: one side clocks a start bit (0), data bits, a parity bit, a stop bit (1). The
// other may hold the clock to keep it quiet, which breaks a frame off.
//
// One frame per start bit. Errors: "parity"; "framing" (the stop bit is 0, the start bit is 1, or the frame
// broke off); "unknown". After a framing error reading goes on behind the next pause of the clock.
//
// Settings left to the program:
//   edge    the clock edge at which the data rests
//   bits    what the usual burst leaves beside start, parity and stop; 8 when bursts do not tell
//   parity  odd or even, whichever nearly all frames agree with; odd when they do not differ
// Least significant bit first; `levels` are the data bits in order of arrival.
#pragma once

#include <memory>

#include "core/decode/decoder.hpp"

namespace grayrelic {

[[nodiscard]] std::unique_ptr<Decoder> make_framed_clock();

}  // namespace grayrelic
