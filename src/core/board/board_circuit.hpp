// SPDX-License-Identifier: GPL-3.0-or-later
// What a board's circuit is, wherever it stands in the dossier: in Wire, in a network of Timing, or as a
// netlist of Trace.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/words.hpp"
#include "core/dossier/trace.hpp"

namespace grayrelic {

struct Circuit;

/// What a pin does to its net.
enum class PinAction {
    drives,     ///< both levels, always
    may_rest,   ///< three-state: may let go
    pulls_low,  ///< open collector
    firmware,   ///< an input until a program says otherwise
    reads,
    takes,  ///< a supply
    gives,  ///< a supply
    ground,
    passive  ///< a resistor's end, a bare contact
};
template <>
inline constexpr std::array words_of<PinAction>{"drives", "may-rest", "pulls-low", "firmware", "reads",
                                                "takes",  "gives",    "ground",    "passive"};

[[nodiscard]] constexpr bool drives_net(PinAction a) {
    return a == PinAction::drives || a == PinAction::may_rest || a == PinAction::pulls_low ||
           a == PinAction::firmware || a == PinAction::gives;
}
/// "U1" of "U1.9".
[[nodiscard]] constexpr std::string_view ref_in(std::string_view point) {
    return point.substr(0, point.find('.'));
}

struct BoardCircuit {
    std::string name;                                ///< "Wire", or the netlist's; empty: there is none
    std::vector<Net> nets;                           ///< points as "U1.9"
    std::map<std::string, std::string> packages_of;  ///< part to package
    std::map<std::string, PinAction> pins;           ///< by point; missing: nobody knows
    std::map<std::string, double> volts;     ///< of nets that are supplies, ground 0, by the net's name
    std::shared_ptr<const Circuit> circuit;  ///< null for a netlist of Trace
    bool operator==(const BoardCircuit&) const = default;
};

}  // namespace grayrelic
