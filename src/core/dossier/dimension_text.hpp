// SPDX-License-Identifier: GPL-3.0-or-later
// Dimensions as a person types them.
#pragma once

#include <string_view>

#include "core/base/result.hpp"
#include "core/dossier/job.hpp"

namespace grayrelic {

/// "12.4", "12,4" or "12.4 mm", 0 to 100000.
[[nodiscard]] Result<double> parse_mm(std::string_view text);
/// "lid to board 12.4 ± 0.1 mm": a name, millimetres, and the tolerance where it is known ("±", "+-" or
/// "+/-"). Id and evidence are left to the caller.
[[nodiscard]] Result<Dimension> parse_dimension(std::string_view text);

}  // namespace grayrelic
