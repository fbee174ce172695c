// SPDX-License-Identifier: GPL-3.0-or-later
// What follows from Log's files: the sums of the images as they are now. Immutable.
#pragma once

#include <filesystem>
#include <map>
#include <string>

#include "core/base/progress.hpp"
#include "core/base/result.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic {

struct LogAnalysis {
    std::map<std::string, std::string> sums;      ///< SHA-256 by ImageFile::id, of those that could be read
    std::map<std::string, std::string> problems;  ///< by ImageFile::id: why it could not
};

/// Fails only when stopped.
[[nodiscard]] Result<LogAnalysis> analyse_log(const JobLog& log, const std::filesystem::path& folder,
                                              Progress& progress);

}  // namespace grayrelic
