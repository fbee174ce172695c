// SPDX-License-Identifier: GPL-3.0-or-later
// A side of a board on paper at true size: to lay parts on, to hold into the case, to drill through. A bar
// says whether the printer kept the scale; crosses say where a second sheet lies over the first.
#pragma once

#include "core/board/board_analysis.hpp"
#include "core/report/wiring_card.hpp"

namespace grayrelic {

struct TemplateWish {
    bool back = false;  ///< as one looks at the back: mirrored
    Paper paper = Paper::a4;
    std::string title;
};
/// Refused where nothing is known of the board's copper and outline, or where it is larger than the paper.
[[nodiscard]] Result<Card> paper_template(const ReadBoard& board, const TemplateWish& wish);

}  // namespace grayrelic
