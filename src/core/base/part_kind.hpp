// SPDX-License-Identifier: GPL-3.0-or-later
// What a part is, in parts lists, in the drawer, and for the cautions that stand beside it.
#pragma once

#include "core/base/words.hpp"

namespace grayrelic {

enum class PartKind {
    logic,      ///< standard logic, by part and family: "74x165 hct"
    module,     ///< a microcontroller board and the like
    chip,       ///< any other integrated circuit
    erasable,   ///< a memory that ultraviolet light erases
    passive,    ///< resistors, capacitors, inductors, crystals
    discrete,   ///< diodes, transistors
    connector,  ///< sockets, plugs, headers
    cell,       ///< cells and batteries
    supply,     ///< wall supplies, converters
    board,      ///< a bare board
    enclosure,  ///< cases, lids, inserts, screws
    wire,
    other,
};
template <>
inline constexpr std::array words_of<PartKind>{"logic",     "module",    "chip", "erasable", "passive",
                                               "discrete",  "connector", "cell", "supply",   "board",
                                               "enclosure", "wire",      "other"};

}  // namespace grayrelic
