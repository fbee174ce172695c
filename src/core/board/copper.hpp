// SPDX-License-Identifier: GPL-3.0-or-later
// The copper of a board as it will be: what each layer leaves, cut by the holes that are not plated, joined
// through those that are.
#pragma once

#include <string>
#include <vector>

#include "core/board/board_files.hpp"
#include "core/board/edge_index.hpp"
#include "core/board/outline.hpp"

namespace grayrelic {

struct CopperLayer {
    std::string file;
    FileRole role = FileRole::copper_top;
    BoardPieces pieces;
    std::vector<int> net;  ///< of each piece: into BoardCopper's nets
};

struct BoardHole {
    DrillHole hole;
    std::string file;
    int net = -1;               ///< of a plated hole that meets copper; -1: none
    std::vector<int> layers{};  ///< with copper at its rim
};

class BoardCopper {
  public:
    std::vector<CopperLayer> layers;  ///< from the top to the bottom
    std::vector<BoardHole> holes;
    int nets = 0;
    std::vector<EdgeIndex> index{};  ///< of each layer
    /// The net below a place on a layer: its copper, else the plated hole there; -1 for none.
    [[nodiscard]] int net_at(BoardXY p, std::size_t layer) const;
    [[nodiscard]] int net_of_hole_at(BoardXY p) const;
};

[[nodiscard]] Result<std::shared_ptr<const BoardCopper>> copper_of(const BoardFiles& board,
                                                                   Progress& progress);

}  // namespace grayrelic
