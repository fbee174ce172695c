// SPDX-License-Identifier: GPL-3.0-or-later
// Boards whose netlist is known to the stand-in only: to measure probing against, and to practise on.
//
// A board is a small memory or interface card as they were built: an edge connector, memories, latches,
// buffers, decoders, gates, their blocking capacitors and some resistors, each with its standard pin-out and
// a place; its nets follow what such parts are used for, with bits crossed here and there.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/base/random.hpp"
#include "core/dossier/dossier.hpp"
#include "core/parts/part.hpp"

namespace grayrelic::standin {

struct HiddenBoard {
    std::vector<BoardPart> parts;
    Port connector;  ///< J1, with the names its contacts are known by
    double width_mm = 0, height_mm = 0;
    std::vector<Net> nets;  ///< the truth; every point in exactly one
    /// The parts and the port without the nets, as a person knows them before probing.
    [[nodiscard]] Dossier known() const;
};

[[nodiscard]] HiddenBoard random_board(std::uint64_t seed, const PartLibrary& parts);

}  // namespace grayrelic::standin
