// SPDX-License-Identifier: GPL-3.0-or-later
// What differs between two dossiers: pins, nets, values, contract, and all else that they hold.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/dossier/dossier.hpp"

namespace grayrelic {

struct DossierChange {
    std::string section, what;
    std::optional<std::string> before, after;  ///< nothing: it is not there
    bool operator==(const DossierChange&) const = default;
};

/// Empty exactly where nothing that is written differs, but for the order of things that have ids; turned
/// round, before and after change places. A thing that only one of them has is one change. In
/// the order of the names of section and thing, so that both ways list alike.
[[nodiscard]] std::vector<DossierChange> diff_dossiers(const Dossier& before, const Dossier& after);

}  // namespace grayrelic
