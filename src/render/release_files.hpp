// SPDX-License-Identifier: GPL-3.0-or-later
// What the program itself writes for a release pack: report, cards, tables.
#pragma once

#include <vector>

#include "core/analysis/analysis.hpp"
#include "core/board/zip_folder.hpp"

namespace grayrelic::render {

/// report.html, report.pdf, users-card.pdf, circuit-sheets.pdf, wiring-card.pdf, parts.csv, trials.csv,
/// works-with.csv: those that the dossier has something for. Fails when stopped, or where the report can't be
/// set. Needs a HeadlessGui or the application.
[[nodiscard]] Result<std::vector<PackedFile>> release_files(const Analysis& analysis, Progress& progress);

}  // namespace grayrelic::render
