// SPDX-License-Identifier: GPL-3.0-or-later
// A first guess at which signal has which role, from how busy each one is: a starting point for a person, not
// an identification of the protocol.
#pragma once

#include "core/decode/decoder.hpp"

namespace grayrelic {

/// The clock has the most edges. The latch is the one whose pulses most often stand alone between two bursts
/// of the clock; the data is the busiest of the rest. Empty when there are fewer than three signals with
/// edges.
[[nodiscard]] RoleMap suggest_latch_shift_roles(const Capture& capture);

}  // namespace grayrelic
