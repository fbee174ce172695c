// SPDX-License-Identifier: GPL-3.0-or-later
// What can be wrong with a board, one thing at a time, and the circuit that it leaves.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "core/base/words.hpp"
#include "core/diagnose/bench_board.hpp"

namespace grayrelic {

enum class FaultKind {
    open,      ///< a joint that does not hold: "U1.3"
    shorted,   ///< solder between neighbours of two nets: "HOLD+/LOAD"
    swapped,   ///< two wires of a connector changed over: "J2.3+J2.5"
    value,     ///< a decade slip: "R8 x10", "R8 /10"
    reversed,  ///< a diode, a chip, an electrolytic put in turned: "D1"
    missing,   ///< a part that is not there
    jumper,    ///< open, or in its other position
    supply,    ///< nothing comes in where a supply should: "V5"
    mirrored,  ///< a connector on the wrong side
    late,      ///< a reply that comes one clock late: "REPLY"
    order      ///< bits in the reversed order: "REPLY"
};
template <>
inline constexpr std::array words_of<FaultKind>{"open",     "short",   "swapped", "value",
                                                "reversed", "missing", "jumper",  "supply",
                                                "mirrored", "late",    "order"};

struct BenchFault {
    FaultKind kind = FaultKind::open;
    std::string place;
    std::vector<std::string> leads;          ///< of a joint, of all places where the solder may be
    double factor = 1;                       ///< of a value
    [[nodiscard]] std::string key() const;   ///< "open: U1.3"
    [[nodiscard]] std::string says() const;  ///< "the joint U1.3 does not hold"
    bool operator==(const BenchFault&) const = default;
};

/// All that are told apart by their place; shorts of the same two nets are one.
[[nodiscard]] std::vector<BenchFault> single_faults(const BenchBoard& board);

/// How often each kind is met, against the others; `closed` counts those that were found before.
using FaultCounts = std::array<int, words_of<FaultKind>.size()>;
[[nodiscard]] double prior_of(const BenchFault& fault, const FaultCounts& closed);

/// The board with faults: which node each pin stands on. Nodes beyond the board's nets belong to what has
/// come off.
struct BenchCircuit {
    const BenchBoard* board = nullptr;
    int nodes = 0;
    std::vector<std::vector<int>> node;  ///< of each thing's pins
    std::vector<double> value;           ///< of each thing
    std::vector<bool> gone;              ///< not there
    std::vector<std::array<int, 2>> shorts;
    std::vector<int> supply_node, driven_node, watched_node;  ///< −1: leads nowhere
    std::vector<double> supply_v;
    std::string late, order;                                 ///< names of lines
    [[nodiscard]] int node_of(std::string_view lead) const;  ///< of a lead, not of its pad; −1
};
[[nodiscard]] BenchCircuit circuit_with(const BenchBoard& board, const std::vector<BenchFault>& faults);

}  // namespace grayrelic
