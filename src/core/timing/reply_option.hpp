// SPDX-License-Identifier: GPL-3.0-or-later
// The ways to build a reply that can be simulated, with their parameters, and their spelling on the command
// line:
//   poll:period=P,work=W          a loop looks every P and then works W
//   irq:latency=MIN..MAX,held=T/EVERY,work=W   an interrupt; held off for T out of every EVERY
//   logic:MIN,TYP,MAX             a path of gates
// `busy=late` (the default) or `busy=lost` may follow for poll and irq.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"
#include "core/base/time.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic {

enum class ReplyKind { poll, irq, logic };
enum class WhenBusy { late, lost };

struct ReplyModel {
    ReplyKind kind = ReplyKind::logic;
    Time period;       ///< poll: one round of the loop, above 0
    Time latency_min;  ///< irq: entry latency; logic: fastest path
    Time latency_typ;  ///< logic: typical path
    Time latency_max;  ///< irq, logic: slowest
    Time held;         ///< irq: interrupts are held off for this long …
    Time held_every;   ///< … once in this time; 0 for never
    Time work;         ///< poll, irq: from noticing to the output's write
    WhenBusy busy = WhenBusy::late;
};

struct ParameterSpec {
    std::string key;
    std::string label;  ///< for people: "Loop period"
    std::string about;
};
/// The parameters that a kind ("poll", "irq", "logic") needs, in the order they are shown; empty for another
/// word.
[[nodiscard]] std::vector<ParameterSpec> parameters_of(std::string_view kind);
[[nodiscard]] std::string kind_label(std::string_view kind);  ///< "polling firmware" …

/// Checks that every parameter is there, not negative, and in order; a usage error names the option, the
/// parameter, its value and the broken constraint.
[[nodiscard]] Result<ReplyModel> model_of(const BuildOption& option);
/// Reads the command line's spelling. The values' evidence is assumed.
[[nodiscard]] Result<BuildOption> parse_option(std::string_view text);

}  // namespace grayrelic
