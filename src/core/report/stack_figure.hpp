// SPDX-License-Identifier: GPL-3.0-or-later
// A stack of boards from above and in section, to one scale; and a board laid into a case.
#pragma once

#include "core/board/board_analysis.hpp"
#include "core/fit/stack_analysis.hpp"
#include "core/report/drawing.hpp"

namespace grayrelic {

/// Above: the levels' edges, joints that are covered as dots, places where things meet as boxes. Below: the
/// same from the front edge, with parts, connectors and gaps. Places are "level:NAME".
[[nodiscard]] Drawing draw_stack(const StackResult& stack, const BoardStack& of, double width, double height);

/// The case's edge and cutouts with the board's edge in it, and where least is left.
[[nodiscard]] Drawing draw_case(const BoardCase& in, const BoardOutline& board, double width, double height);

}  // namespace grayrelic
