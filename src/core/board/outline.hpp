// SPDX-License-Identifier: GPL-3.0-or-later
// The edge of a board from the layer that draws it: the middle of its lines, chained into closed ways.
#pragma once

#include <vector>

#include "core/board/board_files.hpp"
#include "core/board/shape.hpp"

namespace grayrelic {

struct BoardOutline {
    Ring outer;     ///< counter-clockwise; empty where nothing closes
    Rings cutouts;  ///< closed ways within it, clockwise
    Rings apart;    ///< closed ways outside of it: other boards on the same sheet, frames of drawings
    std::vector<BoardXY> gaps;  ///< where ways end without going on
    [[nodiscard]] bool known() const { return !outer.empty(); }
    [[nodiscard]] Rings rings() const;
};

/// Ends within 0.05 mm count as joined.
[[nodiscard]] BoardOutline outline_of(const GerberLayer& layer);

struct BoardSize {
    double width_mm = 0, height_mm = 0;
    /// From the outline's middle line; else from all copper, which is too small.
    bool from_outline = false;
};
[[nodiscard]] BoardSize board_size(const BoardFiles& board, const BoardOutline& outline);
/// Of the file with the role; empty where there is none.
[[nodiscard]] BoardOutline outline_of(const BoardFiles& board);

}  // namespace grayrelic
