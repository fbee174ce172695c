// SPDX-License-Identifier: GPL-3.0-or-later
// What verbs read: a capture, or a dossier with all that follows from it.
#pragma once

#include <memory>
#include <string>

#include "core/analysis/analysis.hpp"
#include "core/capture/capture_file.hpp"

namespace grayrelic::cli {

[[nodiscard]] Result<Capture> read_capture(const std::string& path, const CaptureOptions& options = {});
[[nodiscard]] Result<std::shared_ptr<const Analysis>> analyse_dossier(const std::string& path);

}  // namespace grayrelic::cli
