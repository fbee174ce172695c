// SPDX-License-Identifier: GPL-3.0-or-later
// Wire's drawings: the ribbons from the old connector to the modern side, and the levels of a ladder.
#pragma once

#include <string>

#include "core/electrical/values.hpp"
#include "core/report/drawing.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {

/// One row a contact: its number and name, the parts between, where it ends; a gauge of what the line gives
/// against what is needed, and the verdict. Rows grow closer when there are many. Places are "contact N".
/// `chosen`: the row that stands out.
[[nodiscard]] Drawing draw_ribbons(const WireAnalysis& wire, double width,
                                   std::optional<std::size_t> chosen = {});
/// Codes to the right, levels up.
[[nodiscard]] Drawing draw_levels(const std::vector<double>& levels, double width, double height);

}  // namespace grayrelic
