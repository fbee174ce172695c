// SPDX-License-Identifier: GPL-3.0-or-later
// A machine's side used again: a port, its captures, the units they were taken on and the intervals of the
// contract that rest on them, taken from another dossier with their evidence.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/dossier/dossier.hpp"

namespace grayrelic {

struct TakenSide {
    Dossier dossier;
    std::string port;                            ///< its id here
    int captures = 0, intervals = 0, units = 0;  ///< how many came with it
};

/// The files of captures and photos stay where they are until the dossier is saved: they are `outside`, in
/// `folder`, which `from` was loaded from. Ids that are taken here are given anew, and what refers to them
/// follows. Fails when `from` has no such port.
[[nodiscard]] Result<TakenSide> take_side(const Dossier& from, const std::filesystem::path& folder,
                                          const std::string& port, const Dossier& into);

}  // namespace grayrelic
