// SPDX-License-Identifier: GPL-3.0-or-later
// The one list of stages. It stands above the shell, which is given it and knows no stage, and above the
// stages, which know no other.
#pragma once

#include "app/shell/stage_entry.hpp"

namespace grayrelic::app {

[[nodiscard]] std::vector<StageEntry> all_stages();

}  // namespace grayrelic::app
