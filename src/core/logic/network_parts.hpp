// SPDX-License-Identifier: GPL-3.0-or-later
// How a text becomes a network that computes: used by network*.cpp only.
#pragma once

#include "core/logic/network.hpp"

namespace grayrelic {

/// Lines, words, names and parts; nothing of what computes but the families' delays.
[[nodiscard]] Network read_text(std::string_view text, const LogicLibrary& library);
/// Pins of parts with logic joined to their nets; switches turned the way that is driven; what passives do to
/// levels: pulls, and series parts that pass a level on.
void join_logic(Network& network);

}  // namespace grayrelic
