// SPDX-License-Identifier: GPL-3.0-or-later
// One page for whoever will use the thing: which way the plug goes, in which order what is switched on, what
// lights and presses mean, what to do when it does not work.
#pragma once

#include "core/analysis/analysis.hpp"
#include "core/report/wiring_card.hpp"

namespace grayrelic {

/// Of the ports, cables, rails, map and log of the dossier. One page: of keys and symptoms only as many as it
/// holds, the last line then says so. Fails when the dossier has no port and its log no card.
[[nodiscard]] Result<Card> user_card(const Analysis& analysis, Paper paper = Paper::a4);

}  // namespace grayrelic
