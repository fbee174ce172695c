// SPDX-License-Identifier: GPL-3.0-or-later
// Names of signals as different people write them.
#pragma once

#include <string>
#include <string_view>

namespace grayrelic {

/// What is left of a name when marks of the active level, case, and usual short forms are evened out:
/// "/RESET", "RESET*", "nRESET", "RESET_N" and "RST" all become "RESET"; "TX1" and "TXD 1" "TXD1". The two
/// wires of a pair keep their sign: "D+", "D-". Empty for a name without letters or digits.
[[nodiscard]] std::string plain_signal(std::string_view name);

/// Do two names mean the same line: the same plain signal, any two names for ground, or a voltage and a
/// supply's usual name where that supply may have it ("VBUS" and "+5 V", but not "VBUS" and "+12 V").
[[nodiscard]] bool same_line(std::string_view a, std::string_view b);

}  // namespace grayrelic
