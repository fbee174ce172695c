// SPDX-License-Identifier: GPL-3.0-or-later
// The ways to build a reply that can be simulated, with their parameters, and their spelling on the command
// line:
//   poll:period=P,work=W                        a loop looks every P and then works W
//   irq:latency=MIN..MAX,held=T/EVERY,work=W    an interrupt; held off for T out of every EVERY
//   core:latency=MIN..MAX,work=W                an event to a second core that does nothing else
//   pio:clock=F,sync=MIN..MAX,cycles=N          programmable I/O: a synchroniser and N cycles of its program
//   mixed:latency=MIN..MAX,work=W,path=MIN/TYP/MAX   firmware prepares between bursts, hardware answers
//   logic:MIN,TYP,MAX                           a path of gates
//   fpga:clock=F,stages=N,cycles=N[,pads=T]     a synchroniser of N flip-flops, then N cycles of logic
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

struct ReplyModel {
    OptionKind kind = OptionKind::logic;  ///< never a network
    Time period;                          ///< poll: one round of the loop, above 0
    Time latency_min;  ///< irq, core, mixed: entry latency; pio, fpga: synchroniser and program; logic:
                       ///< fastest path
    Time latency_typ;  ///< logic: typical path
    Time latency_max;  ///< slowest
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
    double usual = 0;          ///< what it begins with, assumed, in the SI unit
    bool optional = false;
    std::string together{};  ///< the parameter that this one makes sense with only; empty for none
    std::string instead{};   ///< the parameter that this one takes the place of; empty for none
};
/// The parameters that a kind has, in the order they are shown. `network` has none.
[[nodiscard]] const std::vector<ParameterSpec>& parameters_of(OptionKind kind);
[[nodiscard]] std::string kind_label(OptionKind kind);  ///< "polling firmware" …
[[nodiscard]] bool is_firmware(OptionKind kind);        ///< something can be busy

/// A new one with usual numbers for what it needs, each assumed.
[[nodiscard]] BuildOption usual_option(OptionKind kind, std::string id);
/// With one more parameter at its usual number, assumed, and the one that it makes sense with; without the
/// one that it takes the place of. As it was for a key that the kind does not have.
[[nodiscard]] BuildOption with_usual(BuildOption option, std::string_view key);

/// Checks that every parameter is there, not negative, and in order; a usage error names the option, the
/// parameter, its value and the broken constraint. `measured` are the entry latencies that the option takes
/// from a capture, if it does.
[[nodiscard]] Result<ReplyModel> model_of(const BuildOption& option, std::vector<Time> measured = {});
/// Reads the command line's spelling. The values' evidence is assumed.
[[nodiscard]] Result<BuildOption> parse_option(std::string_view text);

}  // namespace grayrelic
