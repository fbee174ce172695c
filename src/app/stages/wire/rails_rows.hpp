// SPDX-License-Identifier: GPL-3.0-or-later
// What the tables of Rails show.
#pragma once

#include <vector>

#include "app/widgets/fact_table.hpp"
#include "core/electrical/rails_study.hpp"

namespace grayrelic::app {

/// Rails, then parts, then loads that are not content; keys are places.
[[nodiscard]] std::vector<TableRow> rail_rows(const RailStudy& study, const RailModeFigures& mode);
/// What plugs, switches and batteries do.
[[nodiscard]] std::vector<TableRow> rail_event_rows(const RailStudy& study);

}  // namespace grayrelic::app
