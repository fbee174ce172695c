// SPDX-License-Identifier: GPL-3.0-or-later
// The text of dossier.json (docs/formats/dossier.md): reading with places, writing in a fixed order that
// diffs well.
#pragma once

#include <string>
#include <string_view>

#include "core/base/result.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic {

inline constexpr int dossier_version = 1;

/// `file` stands in messages. Names of captures are checked to stay inside the dossier's folder.
[[nodiscard]] Result<Dossier> dossier_from_json(std::string_view text, const std::string& file);
[[nodiscard]] std::string dossier_to_json(const Dossier& dossier);

}  // namespace grayrelic
