// SPDX-License-Identifier: GPL-3.0-or-later
// The way in: a dossier analysed, and everything the checks say of it.
#pragma once

#include "core/analysis/analysis.hpp"

namespace grayrelic {

/// Fails only when cancelled; what can't be read stands as a problem in its place. Results of `before` whose
/// inputs are the same version are kept.
[[nodiscard]] Result<std::shared_ptr<const Analysis>> analyse(
    const Dossier& dossier, const std::filesystem::path& folder, CaptureStore& store, Progress& progress,
    const Analysis* before = nullptr, std::shared_ptr<const DataLibrary> data = nullptr);

}  // namespace grayrelic
