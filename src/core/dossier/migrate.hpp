// SPDX-License-Identifier: GPL-3.0-or-later
// Dossiers of earlier versions of the format, brought to the present one before they are read. Each step from
// one version to the next stands here for good, both ways: up for files, down so that a journal which an
// older program left behind still finds the dossier it belongs to.
//
//   1 to 2   the meter's readings are a section of their own: trace.readings moves to readings
#pragma once

#include "core/json/json.hpp"
#include "core/json/json_place.hpp"

namespace grayrelic {

/// What this program writes.
inline constexpr int dossier_version = 2;

/// Brings a dossier of version `from` (1 to dossier_version) to dossier_version. What is not as that version
/// had it is left where it stands, for the reader to refuse.
void migrate(SortedJson& dossier, int from);
/// The other way, from dossier_version: as the program of version `to` wrote it.
void migrate_back(SortedJson& dossier, int to);
/// For messages about a migrated dossier: where something came from in the text of version `from`.
[[nodiscard]] std::vector<JsonMove> migration_moves(int from);

}  // namespace grayrelic
