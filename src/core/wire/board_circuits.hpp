// SPDX-License-Identifier: GPL-3.0-or-later
// The circuit of each board of a job: Wire's, a network of Timing that only that board has, or a netlist of
// Trace.
#pragma once

#include <map>
#include <memory>
#include <string>

#include "core/board/board_circuit.hpp"
#include "core/dossier/dossier.hpp"
#include "core/wire/circuit.hpp"

namespace grayrelic {

[[nodiscard]] std::shared_ptr<const BoardCircuit> board_circuit_of(std::shared_ptr<const Circuit> circuit,
                                                                   std::string name);
/// Parts and their pins as Trace has them.
[[nodiscard]] std::shared_ptr<const BoardCircuit> board_circuit_of(const NetSource& list, const Trace& trace,
                                                                   const PartLibrary& parts);

/// By what Fabrication::against says; of "" and "wire" the key is "". `wire` may be null.
using BoardCircuits = std::map<std::string, std::shared_ptr<const BoardCircuit>>;
[[nodiscard]] BoardCircuits board_circuits(const Dossier& dossier, const std::shared_ptr<const Circuit>& wire,
                                           const PartLibrary& parts, const CircuitData& data);

/// What is the same as before stays the same version: the texts, nets, packages, pins and volts.
[[nodiscard]] BoardCircuits kept_circuits(BoardCircuits now, const BoardCircuits& before);

}  // namespace grayrelic
