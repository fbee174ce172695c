// SPDX-License-Identifier: GPL-3.0-or-later
// A card of the circuit's packages at their true size: to lie parts on, and to see what an iron must reach.
#pragma once

#include "core/analysis/analysis.hpp"
#include "core/report/wiring_card.hpp"

namespace grayrelic {

/// Fails when the circuit has no part whose package is described.
[[nodiscard]] Result<Card> package_card(const Analysis& analysis, Paper paper = Paper::a4);

}  // namespace grayrelic
