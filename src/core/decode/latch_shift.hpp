// SPDX-License-Identifier: GPL-3.0-or-later
// Latch and shift: a latch pulse loads a parallel register in the device, each clock shifts one bit out.
//
// One frame per latch pulse that is followed by at least one clock; `poll` is the running number of the
// pulse, from 1, so that pulses without clocks leave a gap in the count. A level is the data line's value
// just before the sampling edge. With a fixed number of bits, a poll with fewer clocks has the error "short"
// and one with more has "long" (its first bits are kept); a level read while the line was unknown is x and
// gives the error "unknown".
//
// Settings left to the program:
//   latch  the level at which the line spends less of its time
//   edge   the clock edge that the data does not move after; where data moves after the leading edge although
//   the load
//          already shows a bit (it moves the data before the first clock), the leading edge, since the first
//          bit would be lost otherwise
//   bits   every clock until the next latch
//   order  most significant bit first
#pragma once

#include <memory>

#include "core/decode/decoder.hpp"

namespace grayrelic {

[[nodiscard]] std::unique_ptr<Decoder> make_latch_shift();

}  // namespace grayrelic
