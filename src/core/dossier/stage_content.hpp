// SPDX-License-Identifier: GPL-3.0-or-later
// Which stages a dossier has something in: for the rail, and for the report, which must have a section for
// each.
#pragma once

#include "core/base/stage.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic {

/// False for stages that this version has nothing for.
[[nodiscard]] bool has_content(const Dossier& dossier, Stage stage);

}  // namespace grayrelic
