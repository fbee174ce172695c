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
#include "core/person/bench.hpp"

namespace grayrelic {

/// When a caution stands. Each of the conditions that is given must hold; of a list one of its words.
struct CautionTrigger {
    std::vector<Stage> stages;
    std::vector<std::string> steps;      ///< "plug", "power-up", "measure", "solder", "open"
    std::vector<std::string> nearby;     ///< words of Port::nearby
    std::optional<double> rail_above_v;  ///< a rail of the port further from zero than this
    bool has_rail = false;               ///< the port gives or takes a supply
    bool static_sensitive = false;       ///< a pin's family is, or a relic's pin has no family on record
    std::vector<std::string> places;     ///< of the program, where a step is done: "probe", "parts", "live"
    std::vector<PartKind> parts;         ///< one of these kinds is on the parts list
    std::vector<InstrumentKind> instruments;  ///< one of these is on the bench
    std::vector<Process> processes;           ///< one of these is at hand
    bool has_original = false;  ///< an original machine or board is at stake: a relic's port, or such a unit
    bool has_donor = false;     ///< parts come from donors
    std::vector<std::string> circuit{};  ///< a part of the circuit begins with one of these: "mosfet-"
    /// The rails' text has one of these: "battery", "linear", "switched", "two" sources, "above-30v",
    /// "strong" (a source without a limit, or of more than 5 A).
    std::vector<std::string> rails{};
    bool both_supplied = false;  ///< supplies on the relic's side and on the modern side
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

/// Those that stand at a stage (none: any), step (empty: any) and place (empty: any) for a port, or without
/// one for the whole dossier. `bench`: null while nobody knows it; what hangs on instruments or processes
/// rests then.
[[nodiscard]] std::vector<const Caution*> cautions_for(const CautionLibrary& library,
                                                       const FamilyLibrary& families, const Dossier& dossier,
                                                       std::optional<Stage> stage, std::string_view step = {},
                                                       const Port* port = nullptr,
                                                       const Bench* bench = nullptr,
                                                       std::string_view place = {});
/// Those of the whole job, whatever stage and step: one of their triggers hangs on the job, a port or the
/// bench, and holds. What hangs on a step alone stands only where the step is done. Those that are `named` by
/// their ids stand as well.
[[nodiscard]] std::vector<const Caution*> cautions_of_job(const CautionLibrary& library,
                                                          const FamilyLibrary& families,
                                                          const Dossier& dossier, const Bench* bench,
                                                          const std::vector<std::string>& named = {});
/// The stages at which it can stand; all when it names none.
[[nodiscard]] std::vector<Stage> stages_of(const Caution& caution);

}  // namespace grayrelic
