// SPDX-License-Identifier: GPL-3.0-or-later
// Two circuits joined contact by contact, as they then stand, and what current flows through both: supplies,
// grounds, drivers at either level, clamps, parts without supply, pulls and protections, solved with the
// network of core/electrical. A verdict names the path that the current takes.
//
// What nobody knows is taken as bad as plausible: an input of unknown family clamps to its supply, a circuit
// of unknown appetite takes 0.5 A, an output of unknown kind gives 0.1 A. All figures are rough by as much.
#pragma once

#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/electrical/family.hpp"
#include "core/port/protection.hpp"

namespace grayrelic {

/// What a contact is on its own side: the machine whose port it is, or what is plugged into that port.
struct Terminal {
    enum class Kind { open, ground, source, load, output, input, unknown };
    Kind kind = Kind::open;
    const Pin* pin = nullptr;          ///< null: nobody has recorded this contact
    std::string name;                  ///< the pin's name, or its number
    std::optional<double> volts;       ///< of a source, or that a load expects
    std::optional<double> highest;     ///< that an output gives
    std::optional<double> lowest;      ///< likewise
    std::optional<double> limit_high;  ///< that an input endures whatever its supply; nothing: see `clamps`
    std::optional<double> limit_low;   ///< likewise
    std::optional<double> amperes;     ///< that a source can give
    const Family* family = nullptr;    ///< null: not known
    bool limits_known = false;
    bool open_collector = false;
    bool clamps = false;  ///< diodes from the contact to its part's supply
    double pull_ohm = 0;  ///< 0: none
    bool pull_up = true;
    Protection protection;
};
/// `of_machine`: the side that the port belongs to; otherwise the other side of the same conversation. A
/// relic's port has relic-driven pins as outputs, a modern port bridge-driven ones. Pins driven by both count
/// as outputs. A null pin is unknown, under this number.
[[nodiscard]] Terminal terminal(const Pin* pin, const std::string& number, Side side, bool of_machine,
                                const FamilyLibrary& families);

/// A whole circuit: all contacts of its port, touched or not.
struct CircuitSide {
    std::vector<Terminal> terminals;
    bool machine = true;
    /// Of a circuit whose port offers or takes no supply, and of a machine: is its own supply on?
    bool powered = true;
    const char* called = "socket";  ///< behind each name
};

struct Touch {
    std::size_t socket = 0, plug = 0;  ///< index into the terminals
    bool meant = false;                ///< the two belong together
};

struct PathFault {
    enum class Kind {
        reversed_supply,        ///< a circuit gets its supply the wrong way round
        short_circuit,          ///< a supply into a ground, nothing in between
        supplies_fight,         ///< two supplies of different volts
        wrong_voltage,          ///< a circuit gets another supply than it wants
        ground_through_signal,  ///< its current comes back through a signal
        back_feed,              ///< a part without supply is fed through a signal
        contention,             ///< two outputs drive against each other
        output_overload,        ///< an output into a ground, a supply or a whole circuit
        over_limit,             ///< an input beyond what it endures
        unknown,                ///< too little is known of a contact
    };
    Kind kind = Kind::unknown;
    Verdict verdict = Verdict::doubt;
    std::string says;                  ///< whole sentence with its figures
    std::string path;                  ///< "+5 V (socket) → GND (plug) → its circuit, backwards → …"
    double amps = 0;                   ///< along the path, at the worst levels
    std::vector<std::size_t> touches;  ///< that the path goes through, index into the case's
};
[[nodiscard]] std::string_view word(PathFault::Kind kind);

struct PluggedCase {
    CircuitSide socket, plug;
    std::vector<Touch> touches;
    bool shells_join = false;  ///< grounds are joined by the shells
    bool isolated = false;     ///< nothing else joins the two, such as a second cable
};

struct PluggedStudy {
    Verdict verdict = Verdict::holds;
    std::vector<PathFault> faults;  ///< the worst first; one of each kind and place
    std::vector<double> touch_a;    ///< the most current that any levels send through each touch, rough
    bool ground_missing = false;    ///< a supply lands, and no ground on ground
};
/// `quick`: at four settings of all levels only, for trying many cases.
[[nodiscard]] PluggedStudy study_plugged(const PluggedCase& c, bool quick = false);

/// A diode of a chip, and an output, bear this for a while; and this for ever.
inline constexpr double bearable_a = 0.010, harmless_a = 0.001;
/// What a circuit of unknown appetite is taken to draw.
inline constexpr double unknown_load_a = 0.5;

}  // namespace grayrelic
