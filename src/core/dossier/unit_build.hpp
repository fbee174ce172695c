// SPDX-License-Identifier: GPL-3.0-or-later
// How far a unit has been put together: which parts are on, and what was read or measured on them. What the
// meter said of its joints are readings of that unit, as in Trace.
//
// `extra` members hold fields of newer versions, as in dossier.hpp.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/dossier/fact.hpp"

namespace grayrelic {

struct FittedPart {
    std::string ref;
    std::string marking;  ///< as it is printed or painted on it: "brown black red gold"; may be empty
    std::optional<double> measured;  ///< ohms or farads
    std::string day, note;
    std::string extra{};
    bool operator==(const FittedPart&) const = default;
};

struct UnitBuild {
    std::string id;              ///< JobUnit::id
    std::string board, variant;  ///< Fabrication::id, "" for Wire's circuit; BoardVariant::name
    std::vector<FittedPart> fitted;
    std::string note;
    std::string extra;
    bool operator==(const UnitBuild&) const = default;
    [[nodiscard]] const FittedPart* find_part(std::string_view ref) const {
        for (const auto& p : fitted)
            if (p.ref == ref) return &p;
        return nullptr;
    }
};

}  // namespace grayrelic
