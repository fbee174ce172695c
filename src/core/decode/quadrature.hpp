// SPDX-License-Identifier: GPL-3.0-or-later
// Quadrature: two lines a quarter of a turn apart. Forward is 00, 10, 11, 01 as a, b; a change of both lines
// at one time is illegal and moves nothing. Edges at one time are one change.
//
// One frame per change, its value the new levels (a is the more significant), `step` 1, -1 or 0. Error:
// "illegal". Counts: forward, backward, illegal, position (forward less backward) and, where the steps of a
// detent are given, detents.
#pragma once

#include <memory>

#include "core/decode/decoder.hpp"

namespace grayrelic {

[[nodiscard]] std::unique_ptr<Decoder> make_quadrature();

}  // namespace grayrelic
