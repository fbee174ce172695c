// SPDX-License-Identifier: GPL-3.0-or-later
// Verbs of log that answer from a whole dossier.
#pragma once

#include <filesystem>
#include <vector>

#include "cli/command.hpp"
#include "core/record/dossier_diff.hpp"

namespace grayrelic::cli {

/// coverage, merge, complaints, units, money, release, card
void add_log_answers(CLI::App& noun, Session& session);
/// The difference of two dossiers with that of their files, by their sums.
[[nodiscard]] std::vector<DossierChange> all_changes(const Dossier& a, const std::filesystem::path& folder_a,
                                                     const Dossier& b, const std::filesystem::path& folder_b);

}  // namespace grayrelic::cli
