// SPDX-License-Identifier: GPL-3.0-or-later
// Cautions: where the work can hurt a person or an irreplaceable part, a few words stand in the place where
// the step is done. Data, not code: data/cautions.json, extended by the person's own file; the format is
// docs/formats/cautions.md.
#pragma once

#include <filesystem>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/file_system.hpp"
#include "core/base/stage.hpp"
#include "core/dossier/dossier.hpp"
#include "core/electrical/family.hpp"

namespace grayrelic {

/// When a caution stands. Each of the conditions that is given must hold; of a list one of its words.
struct CautionTrigger {
    std::vector<Stage> stages;
    std::vector<std::string> steps;      ///< "plug", "power-up", "measure", "solder", "open"
    std::vector<std::string> nearby;     ///< words of Port::nearby
    std::optional<double> rail_above_v;  ///< a rail of the port further from zero than this
    bool has_rail = false;               ///< the port gives or takes a supply
    bool static_sensitive = false;       ///< a pin's family is, or a relic's pin has no family on record
};

struct Caution {
    std::string id;
    std::string title;
    std::string says;   ///< what can happen, and what to do
    std::string defer;  ///< who knows better: local rules, a licensed person
    std::vector<CautionTrigger> triggers;
};

struct CautionLibrary {
    std::vector<Caution> cautions;
    std::vector<Error> problems;
    [[nodiscard]] static CautionLibrary load(FileSystem& files,
                                             const std::vector<std::filesystem::path>& folders);
};

[[nodiscard]] Result<std::vector<Caution>> cautions_from_json(std::string_view text, const std::string& file);

/// Those that stand at a stage (none: any) and step (empty: any) for a port, or without one for the whole
/// dossier.
[[nodiscard]] std::vector<const Caution*> cautions_for(const CautionLibrary& library,
                                                       const FamilyLibrary& families, const Dossier& dossier,
                                                       std::optional<Stage> stage, std::string_view step = {},
                                                       const Port* port = nullptr);

}  // namespace grayrelic
