// SPDX-License-Identifier: GPL-3.0-or-later
// A board as it lies on the table, and a connector's face held against its data.
#pragma once

#include "core/board/board_analysis.hpp"
#include "core/report/drawing.hpp"

namespace grayrelic {

/// Who drives a copper net, as the dossier's ports have it: by the pads on it that are contacts of a port,
/// else by its name.
[[nodiscard]] std::vector<Driver> drivers_of_nets(const FabricationAnalysis& board, const Dossier& dossier);

/// One side, seen from outside: the back is the mirror image of the files. The far side's copper is faint.
[[nodiscard]] Drawing draw_board(const FabricationAnalysis& board, const std::vector<Driver>& drivers,
                                 bool back, double width);

/// The board's pads as filled discs with their numbers, the data's contacts as rings, laid over each other as
/// well as they go without a mirror; what belongs together is joined by a line. A mirrored face is seen at
/// once: the lines cross over.
[[nodiscard]] Drawing draw_face_match(const BoardFace& face, double width);

}  // namespace grayrelic
