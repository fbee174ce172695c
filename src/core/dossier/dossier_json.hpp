// SPDX-License-Identifier: GPL-3.0-or-later
// The text of dossier.json (docs/formats/dossier.md): reading with places, writing in a fixed order that
// diffs well.
#pragma once

#include <string>
#include <string_view>

#include "core/base/result.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic {

/// `file` stands in messages. A dossier of an earlier version is migrated (migrate.hpp); messages then still
/// name the lines of the text. Names of captures are checked to stay inside the dossier's folder.
[[nodiscard]] Result<Dossier> dossier_from_json(std::string_view text, const std::string& file);
/// The version of the format that the text is written in.
[[nodiscard]] Result<int> dossier_version_in(std::string_view text, const std::string& file);
[[nodiscard]] std::string dossier_to_json(const Dossier& dossier);

}  // namespace grayrelic
