// SPDX-License-Identifier: GPL-3.0-or-later
// Lines of a fit as a person types them.
#pragma once

#include <string_view>

#include "core/base/result.hpp"
#include "core/dossier/fit.hpp"
#include "core/dossier/job.hpp"

namespace grayrelic {

struct FitEntry {
    FitRole role = FitRole::takes;
    Dimension dimension;  ///< its id is empty
};
/// "+ lid to board 12.4 ± 0.1 measured caliper": what it does (+ gives room, - takes it, or travel, actuates,
/// endures, bend), its name, millimetres, tolerance where it is known, and how it is known; assumed unless
/// said.
[[nodiscard]] Result<FitEntry> parse_fit_line(std::string_view text);
/// "zone slider 10 20 30 15 5.5": a name, where its lower left corner lies, how wide and how high it is on
/// the board, and how much room there is over it; `back` before the name for the back of the board.
[[nodiscard]] Result<FitZone> parse_zone(std::string_view text);
/// "5 10.80 4.20": boards, price of all of them, shipping; "5: 10.80 + 4.20" is taken too.
[[nodiscard]] Result<OrderTier> parse_tier(std::string_view text);

}  // namespace grayrelic
