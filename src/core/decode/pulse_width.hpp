// SPDX-License-Identifier: GPL-3.0-or-later
// Pulse-width coded single wire, open drain with a pull-up: each bit is an active pulse and the rest behind
// it, and the pulse's length says which. Both sides talk on it, and a stop bit ends each.
//
// One frame per burst, the stop bit left out. `side` counts the bursts since the last long gap: 1 is whoever
// speaks first, 2 the answer. Errors: "width" (a pulse between short and long), "stop" (a burst of a single
// pulse), "unknown".
//
// Settings left to the program:
//   idle  the level at which the line rests
//   one   short: the short pulse is a 1. The other way can't be told from the line alone.
//   gap   an idle longer than 1.5 × the longest idle inside a bit; bits are told by their whole length, which
//         is nearly constant
//   order most significant bit first
// A gap is long when it is over three times the shortest gap that parts bursts, and the widest step between
// gaps lies there.
#pragma once

#include <memory>

#include "core/decode/decoder.hpp"

namespace grayrelic {

[[nodiscard]] std::unique_ptr<Decoder> make_pulse_width();

}  // namespace grayrelic
