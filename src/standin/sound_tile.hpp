// SPDX-License-Identifier: GPL-3.0-or-later
// The sound tile's job: a replica of the computer's tone chip as two boards, a tile in the chip's socket and
// a test board with the colour ladder over it, whose layout has two roles.
#pragma once

#include "core/dossier/dossier.hpp"

namespace grayrelic::standin {

/// Its boards have no files yet: each is laid out from its own circuit by fab_plan_of(), then placed.
[[nodiscard]] Dossier sound_tile_dossier();
/// The same with where the test board's files lie in the tile's.
[[nodiscard]] Dossier with_levels_placed(const Dossier& dossier, double x_mm, double y_mm);

}  // namespace grayrelic::standin
