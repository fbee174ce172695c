// SPDX-License-Identifier: GPL-3.0-or-later
// The wiring card: a sheet to lie beside the iron. Both ends from stated viewpoints, each wire with its
// colour and a box to tick, the stripe's side, and the cautions of the step. Without a cable, a card of one
// port.
#pragma once

#include <string>
#include <vector>

#include "core/analysis/analysis.hpp"

namespace grayrelic {

enum class Paper { a4, letter };

struct Card {
    std::vector<std::string> pages;  ///< each an SVG picture of one sheet
    double width_mm = 0.0;
    double height_mm = 0.0;
};

/// From which side each end is drawn: for soldering the solder side of the half that is fitted.
[[nodiscard]] Viewpoint soldering_view(Half half);

/// Of the cable with this id, else of the port with this id; an empty id means all cables, or all ports where
/// there is no cable. Fails when nothing is to be drawn.
[[nodiscard]] Result<Card> wiring_card(const Analysis& analysis, const std::string& id = {},
                                       Paper paper = Paper::a4);

}  // namespace grayrelic
