// SPDX-License-Identifier: GPL-3.0-or-later
// What verbs read: a capture, or a dossier with all that follows from it.
#pragma once

#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "core/analysis/analysis.hpp"
#include "core/capture/capture_file.hpp"

namespace grayrelic::cli {

[[nodiscard]] Result<Capture> read_capture(const std::string& path, const CaptureOptions& options = {});
[[nodiscard]] Result<std::shared_ptr<const Analysis>> analyse_dossier(const std::string& path);
/// A usage error when what is to be written is one of the files that are read: evidence is never written
/// over.
[[nodiscard]] Status not_over(const std::string& out, const std::vector<std::string>& inputs);
/// Writes a text where nothing that was read stands.
[[nodiscard]] Status write_apart(const std::string& out, std::string_view text,
                                 const std::vector<std::string>& inputs);
[[nodiscard]] Status not_over(const std::string& out, const Dossier& dossier, const std::string& path);

}  // namespace grayrelic::cli
