// SPDX-License-Identifier: GPL-3.0-or-later
// A pass-through cable with its taps: each line from the machine's plug straight on to the device's socket,
// and what leads from it to which channel. As a drawing, and as a card to print.
#pragma once

#include "core/analysis/analysis.hpp"
#include "core/port/tap_plan.hpp"
#include "core/report/drawing.hpp"
#include "core/report/wiring_card.hpp"

namespace grayrelic {

/// Places are "pin NUMBER". As wide as `width`, at least 400.
[[nodiscard]] Drawing draw_taps(const TapStudy& study, double width, const std::string& chosen = {});

/// Fails when there is no such port, or no analyser.
[[nodiscard]] Result<Card> tap_card(const Analysis& analysis, const std::string& port,
                                    Paper paper = Paper::a4);

}  // namespace grayrelic
