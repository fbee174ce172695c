// SPDX-License-Identifier: GPL-3.0-or-later
// The old device as a drawing: each key at its place, what it sends and what it becomes.
#pragma once

#include "core/input/map_analysis.hpp"
#include "core/report/drawing.hpp"

namespace grayrelic {

/// As wide as `width`, keys in proportion. Places are "key ID".
[[nodiscard]] Drawing draw_device(const DeviceMap& map, const Coverage& coverage, double width);

}  // namespace grayrelic
