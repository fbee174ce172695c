// SPDX-License-Identifier: GPL-3.0-or-later
// The way in: a dossier analysed, and everything the checks say of it.
#pragma once

#include "core/analysis/analysis.hpp"

namespace grayrelic {

/// Fails only when cancelled; what can't be read stands as a problem in its place. What `before` and its
/// memory hold is not computed again. `show` is given versions on the way, each with more in it
/// (core/analysis/analysis.hpp).
[[nodiscard]] Result<std::shared_ptr<const Analysis>> analyse(
    const Dossier& dossier, const std::filesystem::path& folder, CaptureStore& store, Progress& progress,
    const Analysis* before = nullptr, std::shared_ptr<const DataLibrary> data = nullptr,
    const ShowPart& show = {}, std::shared_ptr<const Person> person = nullptr);

}  // namespace grayrelic
