// SPDX-License-Identifier: GPL-3.0-or-later
// The ways to build a reply that can be simulated, with their parameters, and their spelling on the command
// line:
//   poll:period=P,work=W                        a loop looks every P and then works W
//   irq:latency=MIN..MAX,held=T/EVERY,work=W    an interrupt; held off for T out of every EVERY
//   core:latency=MIN..MAX,work=W                an event to a second core that does nothing else
//   pio:clock=F,sync=MIN..MAX,cycles=N          programmable I/O: a synchroniser and N cycles of its program
//   mixed:latency=MIN..MAX,work=W,path=MIN/TYP/MAX   firmware prepares between bursts, hardware answers
//   logic:MIN,TYP,MAX                           a path of gates
// For all with firmware may follow: stall=T/MEAN (held off at random, MEAN apart on average), write=T (from
// the end of the work to the pin), cycles=N,clock=F instead of work, busy=late|lost|queue, depth=N (places in
// the queue). A dossier's option may also be a `network`, which timing/network_reply.hpp simulates.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/quantity.hpp"
#include "core/base/result.hpp"
#include "core/base/time.hpp"
#include "core/dossier/dossier.hpp"

namespace grayrelic {

enum class ReplyKind { poll, irq, core, pio, mixed, logic };
/// A trigger that comes while the last is still served: it waits in the one place there is, is lost, or
/// queues.
enum class WhenBusy { late, lost, queue };

struct ReplyModel {
    ReplyKind kind = ReplyKind::logic;
    Time period;  ///< poll: one round of the loop, above 0
    Time
        latency_min;  ///< irq, core, mixed: entry latency; pio: synchroniser and program; logic: fastest path
    Time latency_typ;            ///< logic: typical path
    Time latency_max;            ///< slowest
    std::vector<Time> measured;  ///< entry latencies to draw from instead of min to max; sorted
    Time held;                   ///< held off for this long …
    Time held_every;             ///< … once in this time; 0 for never
    Time stall;                  ///< held off for this long at random …
    Time stall_every;            ///< … this far apart on average, without memory; 0 for never
    Time work;                   ///< from noticing to the end of the work
    Time write;                  ///< from there to the pin; the processor is free again
    WhenBusy busy = WhenBusy::late;
    int depth = 16;                     ///< places in the queue
    Time path_min, path_typ, path_max;  ///< mixed: the hardware's answer
};

struct ParameterSpec {
    std::string key;
    std::string label;  ///< for people: "Loop period"
    std::string about;
    Unit unit = Unit::second;  ///< second: one of BuildOption::parameters; otherwise of its numbers
    bool optional = false;
};
/// The parameters that a kind has, in the order they are shown; empty for another word. `network` has none.
[[nodiscard]] std::vector<ParameterSpec> parameters_of(std::string_view kind);
[[nodiscard]] std::string kind_label(std::string_view kind);  ///< "polling firmware" …
/// poll, irq, core, pio, mixed, logic, network
[[nodiscard]] const std::vector<std::string>& option_kinds();
[[nodiscard]] bool is_firmware(std::string_view kind);  ///< something can be busy

/// Checks that every parameter is there, not negative, and in order; a usage error names the option, the
/// parameter, its value and the broken constraint. `measured` are the entry latencies that the option takes
/// from a capture, if it does.
[[nodiscard]] Result<ReplyModel> model_of(const BuildOption& option, std::vector<Time> measured = {});
/// Reads the command line's spelling. The values' evidence is assumed.
[[nodiscard]] Result<BuildOption> parse_option(std::string_view text);

}  // namespace grayrelic
