// SPDX-License-Identifier: GPL-3.0-or-later
// The rails that a circuit has, and with them what the dossier says of rails in its own words. A line of the
// text takes the place of what the circuit says under the same name, so that nothing is said twice.
#pragma once

#include <string>

#include "core/electrical/rails_study.hpp"
#include "core/wire/circuit.hpp"

namespace grayrelic {

/// Sources from the ports' supplies, `rail` lines and a module's USB jack; fuses, ferrites and diodes on the
/// way; regulators and modules; what chips, modules and lamps take. Names are those of nets and parts,
/// without spaces.
[[nodiscard]] RailTree rails_of(const Circuit& circuit);
/// `typed` over `found`.
[[nodiscard]] RailTree joined_rails(RailTree found, const RailTree& typed);
/// A text to begin with where there is no circuit: the ports' supplies as sources.
[[nodiscard]] std::string begin_rails(const Dossier& dossier);
/// Of a dossier: joined, with the text's own faults, judged.
[[nodiscard]] RailStudy study_rails_of(const Wire& wire, const Circuit& circuit);

}  // namespace grayrelic
