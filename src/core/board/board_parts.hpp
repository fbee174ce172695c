// SPDX-License-Identifier: GPL-3.0-or-later
// Which parts a board has and where their contacts lie: from its files, from the dossier, by what it is
// called.
#pragma once

#include "core/board/board_analysis.hpp"

namespace grayrelic {

/// Of a part that is called as a port: the new side's own half, the other half of the old one's.
[[nodiscard]] Half half_on_board(const Port& port);
/// What the dossier says of a part goes before what the files say of it.
void gather_pads(FabricationAnalysis& into, const Fabrication& board);
[[nodiscard]] std::map<std::string, PadPattern> patterns_of(const Dossier& dossier, const Fabrication& board,
                                                            const BoardData& data);

}  // namespace grayrelic
