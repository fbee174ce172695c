// SPDX-License-Identifier: GPL-3.0-or-later
// A walk through the device in a recording: strobes and senses decoded as a matrix, and marked moments that
// say what was pressed when.
#pragma once

#include <string>
#include <vector>

#include "core/decode/decoder.hpp"
#include "core/dossier/dossier.hpp"
#include "core/input/matrix_model.hpp"

namespace grayrelic {

/// For each moment with a name what closed in its scans: a position counts when at least half of the scans
/// that lie wholly inside the moment have it, so that bounce at either end does not. Strobes are rows, senses
/// columns, both by the last part of their names. Moments of one name are taken together.
[[nodiscard]] std::vector<WalkPress> walk_presses(const Decoding& scans,
                                                  const std::vector<MarkedMoment>& moments);

/// The map with what a walk found: keys by their legends (of several with one legend the first free one), new
/// ones behind the others, lines added. What does not fit is among the doubts.
struct WalkTaken {
    DeviceMap map;
    std::vector<std::string> doubts;
    std::size_t placed = 0;
};
[[nodiscard]] WalkTaken take_walk(const DeviceMap& map, const std::vector<WalkPress>& presses);

/// Keys for the bits of a frame that no key has yet: "bit NAME", laid in a row below the others. Plain
/// numbers, which are a position's or a counter's, become one control of their own: "bits 9..0".
[[nodiscard]] DeviceMap take_bits(const DeviceMap& map, const std::vector<std::string>& bits,
                                  const Evidence& evidence);

}  // namespace grayrelic
