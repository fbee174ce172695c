// SPDX-License-Identifier: GPL-3.0-or-later
// Lines of a fit as a person types them.
#pragma once

#include <optional>
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
/// endures, bend, stands, opens), its name, millimetres, tolerance where it is known, and how it is known;
/// assumed unless said.
[[nodiscard]] Result<FitEntry> parse_fit_line(std::string_view text);
/// "stands J1.x", "- board.y": a figure of the files; nothing where it is none.
[[nodiscard]] std::optional<FitItem> parse_place_line(std::string_view text);
/// "zone slider 10 20 30 15 5.5": a name, where its lower left corner lies, how wide and how high it is on
/// the board, and how much room there is over it; `back` before the name for the back of the board.
[[nodiscard]] Result<FitZone> parse_zone(std::string_view text);
}  // namespace grayrelic
