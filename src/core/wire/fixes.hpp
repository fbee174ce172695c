// SPDX-License-Identifier: GPL-3.0-or-later
// What would mend a line: changes of the text, with values from the drawer where it has them. Each is tried
// on a copy and judged anew; only what helps is offered, with what it would come to.
#pragma once

#include <string>
#include <vector>

#include "core/person/drawer.hpp"
#include "core/wire/links.hpp"
#include "core/wire/network_edit.hpp"

namespace grayrelic {

struct WireFix {
    std::string id;                      ///< "pull-up 4k7"
    std::string says;                    ///< "Pull REPLY up to V5 with 4.7 kΩ (R7; 12 in the drawer)"
    std::string then;                    ///< "High margin 1.2 V, low margin 0.4 V"
    Verdict verdict = Verdict::unknown;  ///< of the line with it
    std::vector<std::string> lines;      ///< to be added to what all options share
    std::vector<std::pair<PinPlace, std::string>> moves;     ///< a pin, and its new net
    std::vector<std::pair<std::string, std::string>> words;  ///< a part, and its new family or value
};

/// At most a handful, the best first. `circuit` and `study` are those of the dossier as it is.
[[nodiscard]] std::vector<WireFix> fixes_for(const Dossier& dossier, const Circuit& circuit,
                                             const LinkStudy& study, std::size_t line,
                                             const CircuitData& data, const Drawer& drawer);
/// Done to the texts; what all options share is begun where there is none yet.
[[nodiscard]] Dossier apply_fix(const Dossier& dossier, const WireFix& fix);
/// "R7": the first number that no part of the circuit has.
[[nodiscard]] std::string free_ref(const Circuit& circuit, std::string_view letter,
                                   const std::vector<std::string>& lines = {});

}  // namespace grayrelic
