// SPDX-License-Identifier: GPL-3.0-or-later
// What the search for small networks is made of. For its own files only.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/logic/minimise.hpp"

namespace grayrelic::minimising {

/// One gate of a package, or a whole package whose outputs share their inputs.
struct GateKind {
    const PartLogic* logic = nullptr;
    std::string family;
    std::vector<std::vector<int>> outputs;     ///< [gate of the package] → its outputs
    std::vector<std::vector<int>> inputs;      ///< [gate of the package] → its inputs, in one order for all
    std::vector<const Expression*> functions;  ///< of gate 0's outputs
    std::vector<std::vector<int>> arguments;   ///< of each function: index into the gate's inputs
    bool symmetric = false;
    Time slow;
    std::size_t gates() const { return outputs.size(); }
    std::size_t fan_in() const { return inputs.front().size(); }
};
/// Parts a package into gates: outputs that read the same pins belong together. Nothing for a part that
/// stores, has outputs that can be switched off, or has gates of more than 6 inputs.
[[nodiscard]] std::optional<GateKind> gate_kind(const PartLogic& logic, const std::string& family);

struct PlacedGate {
    int unit;
    std::vector<int> inputs;  ///< signals
    int first_output;         ///< signal number
};

/// The circuit as a net list: inputs, outputs, one line a package; unused inputs tied to 0.
[[nodiscard]] Realisation realise(const WantedLogic& wanted, const std::vector<const GateKind*>& kinds,
                                  const std::vector<PlacedGate>& gates);

}  // namespace grayrelic::minimising
