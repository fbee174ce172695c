// SPDX-License-Identifier: GPL-3.0-or-later
// What the connectors between the levels of a stack join: which contact meets which, what then drives against
// what, and what has no way across.
#pragma once

#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/board/board_circuit.hpp"
#include "core/dossier/board_stack.hpp"
#include "core/fit/board_stack.hpp"

namespace grayrelic {

/// A level's nets as it is fitted.
struct LevelNets {
    std::string name;                         ///< of the level
    std::vector<Net> nets;                    ///< without parts that are left out, jumpers closed
    std::map<std::string, PinAction> pins;    ///< "U1.9" to what it does; missing: nobody knows
    std::map<std::string, double> volts;      ///< of nets that are supplies, by name
    std::map<std::string, std::string> lost;  ///< net to a driver of it that is left out
};
/// `problems`: parts left out and jumpers that the circuit does not have.
[[nodiscard]] LevelNets fitted_nets(const BoardCircuit& circuit, const BoardVariant* variant,
                                    std::vector<std::string>& problems);

/// A contact of one connector and the one of the other that it meets.
struct JoinedContact {
    std::string lower_pin, upper_pin;  ///< empty: it meets none
    std::string lower_net, upper_net;  ///< names; empty: on no net, or on one alone
};
struct JoinedConnectors {
    std::size_t join = 0;  ///< number in the stack
    std::vector<JoinedContact> contacts;
    bool by_place = false;   ///< by where the pads lie; else by number
    int used = 0, free = 0;  ///< contacts with a net on both sides; with one on neither
    int grounds = 0, supplies = 0;
    std::string problem;  ///< a part that is on no net and has no pads
    StripJoints strip;    ///< of a soldered join
};

enum class StackFault {
    conflict,  ///< two drive one net
    may_conflict,
    crossed,     ///< a contact of one name meets one of another, or of another number
    supplies,    ///< two supplies of different volts, or a supply and a signal
    not_joined,  ///< a name that two levels have, and no contact leads across
    undriven,    ///< its driver is left out
    no_ground,   ///< connectors between two levels without a ground
    unmet        ///< a used contact that meets nothing
};
template <>
inline constexpr std::array words_of<StackFault>{"conflict",   "may-conflict", "crossed",   "supplies",
                                                 "not-joined", "undriven",     "no-ground", "unmet"};
struct StackNetFault {
    StackFault kind = StackFault::conflict;
    Verdict verdict = Verdict::doubt;
    std::string thing;  ///< the net, or "tone/J2.3"
    std::string says, todo;
};

struct StackNets {
    std::vector<JoinedConnectors> joins;
    std::vector<StackNetFault> faults;
    /// Nets of the whole, each with its pins as "level/U1.9"; those with more than one level first.
    std::vector<Net> nets;
};
/// `boards` may have no pads: then contacts meet by number. `levels` and `boards` in the stack's order.
[[nodiscard]] StackNets join_levels(const BoardStack& stack, const std::vector<LevelNets>& levels,
                                    const std::vector<StackBoard>& boards);

}  // namespace grayrelic
