// SPDX-License-Identifier: GPL-3.0-or-later
// A circuit wired by hand, wire by wire: from where to where, what it is called and which colour it gets.
#pragma once

#include <string>
#include <vector>

#include "core/build/build_parts.hpp"

namespace grayrelic {

struct HandWire {
    std::string from, to;  ///< leads
    std::string net;
    std::string label;   ///< what the hunt or a map calls the line; empty: nothing else than the net
    std::string colour;  ///< of the cable's wire, where it ends there; else a usual one
    bool of_cable = false;
};
/// The fewest wires that make all nets of more than one lead: from lead to lead, supplies first. Colours: of
/// a port's pin, as recorded; else red for supplies, black for ground, the rest in turn.
[[nodiscard]] std::vector<HandWire> hand_wires(const Analysis& a, const BuildBoard& board);

}  // namespace grayrelic
