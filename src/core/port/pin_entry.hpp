// SPDX-License-Identifier: GPL-3.0-or-later
// A pin in one line, as it is typed on the drawing: the name, then what is known of it in any order.
//
//   "REPLY bridge hct open-collector idle high 5.1V pull up 4k7"
//   "+5 V supply 5.25V 120mA"
//   "ground"
//
// The name goes on until the first word that means something else, or to a comma. Understood are: who drives
// (relic, bridge, both, supply, nobody), a function (clock, signal, ground, shield, unused), a logic family,
// an output kind, "idle high" (or just high, low, floating), voltages, currents, "pull up 4k7" and "wire
// brown".
#pragma once

#include <string_view>

#include "core/base/result.hpp"
#include "core/dossier/port.hpp"

namespace grayrelic {

/// Gives the pin with what was typed put in; facts that were not named stay. An empty line changes nothing.
[[nodiscard]] Result<Pin> pin_with_entry(const Pin& pin, std::string_view line, const Evidence& evidence);

}  // namespace grayrelic
