// SPDX-License-Identifier: GPL-3.0-or-later
// Where a circuit begins, and its netlist for others.
#pragma once

#include <string>
#include <string_view>

#include "core/dossier/trace.hpp"
#include "core/wire/circuit.hpp"
#include "core/wire/network_edit.hpp"

namespace grayrelic {

/// The text with which what all options share begins: each port that stands on the bridge, its contacts
/// joined to nets of their names, supplies and grounds, and the supply of the chosen option's parts where it
/// is clear.
[[nodiscard]] std::string begin_circuit(const Dossier& dossier, const LogicLibrary& logic);
/// The dossier with that text as its common network; as it was where there is one, or no port.
[[nodiscard]] Dossier with_circuit_begun(const Dossier& dossier, const LogicLibrary& logic);

/// One line typed by a person becomes a change of the common text:
///   "resistor 4k7 REPLY V5"          a part with two ends, from net to net
///   "74x125 hct 1A=X 1Y=Y"           any other part
///   "swap U2.P7 U2.P6"               two pins exchange their nets
///   "remove R7"                      a part out
/// Fails with what was found and expected.
[[nodiscard]] Result<Dossier> with_typed_part(const Dossier& dossier, const Circuit& circuit,
                                              const LogicLibrary& logic, std::string_view line);

/// From a net on: "resistor 10k to M1.P4" puts a part of two ends between, "to M1.P4" joins; the far end is a
/// pin or a net.
[[nodiscard]] Result<Dossier> with_typed_way(const Dossier& dossier, const Circuit& circuit,
                                             const LogicLibrary& logic, const std::string& net,
                                             std::string_view typed);

/// Nets with their points, "U2.QH" as "U2.9": by the numbers of the pins. Contacts of ports are points too.
[[nodiscard]] std::vector<Net> netlist_of(const Circuit& circuit);

/// The same as a board has them: what stands on a fixed 0 lies on the ground, on a fixed 1 on the part's own
/// supply, as far as it is plain which that is; else it stays a net of its own.
[[nodiscard]] std::vector<Net> board_netlist(const Circuit& circuit);

/// The letter that refs of a part begin with: R, C, D, Q, U, J, M.
[[nodiscard]] std::string_view ref_letter(const PartType& type);

}  // namespace grayrelic
