// SPDX-License-Identifier: GPL-3.0-or-later
// Strobed bus: several lines read at one edge of a strobe. The first data line is the most significant.
//
// One frame per strobe edge, read just before it. `setup_s` is how long the data had rested, `hold_s` how
// long it rests afterwards; null where no change came before or after. Error: "unknown". The edge left to the
// program is the one from which data changes keep the greater distance.
#pragma once

#include <memory>

#include "core/decode/decoder.hpp"

namespace grayrelic {

[[nodiscard]] std::unique_ptr<Decoder> make_strobed_bus();

}  // namespace grayrelic
