// SPDX-License-Identifier: GPL-3.0-or-later
// Plain clocked serial in its four modes: 0 rests low and reads at the rise, 1 rests low and reads at the
// fall, 2 rests high and reads at the fall, 3 rests high and reads at the rise.
//
// With a select line one burst of words per selection; without, pauses of the clock part them. One frame a
// word. Errors: "short" (a word broke off), "unknown".
//
// Settings left to the program:
//   mode   the clock's level in pauses, and the edge at which the data rests
//   bits   8 when bursts are whole bytes, else the length of the usual burst
//   order  most significant bit first
// The select line is active at the level at which the clock runs.
#pragma once

#include <memory>

#include "core/decode/decoder.hpp"

namespace grayrelic {

[[nodiscard]] std::unique_ptr<Decoder> make_clocked();

}  // namespace grayrelic
