// SPDX-License-Identifier: GPL-3.0-or-later
// Asynchronous serial: a start bit, 5 to 9 data bits, optional parity, one or more stop bits; the line rests
// at mark. Any rate, either polarity, either bit order.
//
// One frame a character, also of one with errors. `levels` are the data bits in order of arrival, 1 for mark.
// Errors: "parity"; "framing" (space where the stop bit belongs); "break" (space from the start bit through
// the stop bit); "unknown" (a level nobody knows). After a framing error reading goes on at the character
// that was due, else at the next mark-to-space edge, whichever is the first to be followed by clean
// characters.
//
// Settings left to the program:
//   invert  the line's resting level, unless the other polarity frames better
//   baud    from the edges (bit_time.hpp), then from the edges of all characters without errors
//   bits    the fewest positions after which the stop bit stands
//   parity  even or odd when nearly every character agrees and they are too many for chance; else none
//   stop    2 or 1.5 when successive characters never come closer, and often that close; else 1
//   order   least significant bit first
#pragma once

#include <memory>

#include "core/decode/decoder.hpp"

namespace grayrelic {

[[nodiscard]] std::unique_ptr<Decoder> make_async_serial();

}  // namespace grayrelic
