// SPDX-License-Identifier: GPL-3.0-or-later
// The dossier's report: one HTML file with its figures inside, no script and nothing fetched. Everything that
// came from outside is escaped. Equal dossiers give equal bytes: no date and no version of the program.
#pragma once

#include <string>

#include "core/analysis/analysis.hpp"

namespace grayrelic {

[[nodiscard]] std::string html_report(const Analysis& analysis);
/// The same, stopping when cancelled.
[[nodiscard]] Result<std::string> html_report(const Analysis& analysis, Progress& progress);

}  // namespace grayrelic
