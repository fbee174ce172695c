// SPDX-License-Identifier: GPL-3.0-or-later
// Every way a plug can end up where it should not, and what each does.
//
// The plug's face is laid over the socket's, turned, mirrored or shifted; which contact lands on which
// follows from the positions in the data files, so that nearly mating connectors are judged too. Each way is
// judged as the two circuits that then stand (plugged.hpp).
#pragma once

#include <string>
#include <vector>

#include "core/port/contact_map.hpp"
#include "core/port/plugged.hpp"

namespace grayrelic {

/// One side of the mating: a connector with the pins of the port it belongs to.
struct Face {
    const Connector* connector = nullptr;
    std::string numbering;
    const std::vector<Pin>* pins = nullptr;
    Side side = Side::relic;
    [[nodiscard]] const Pin* pin_at(std::size_t contact) const;
    [[nodiscard]] const std::string& number_at(std::size_t contact) const;
};

struct Collision {
    std::size_t plug_contact = 0;
    std::size_t socket_contact = 0;
    Terminal plug, socket;
    Verdict verdict = Verdict::holds;  ///< the worst of the paths that go through it
    std::string why;
    double amps = 0;  ///< that any levels send through it, rough
};

struct WrongCase {
    std::string id;  ///< "reversed", "mirrored", "rows-swapped", "shifted-left" …, "wrong-port", "offset-…"
    std::string says;  ///< "Turned by half"
    Motion motion;
    Possible possible = Possible::easy;
    std::string why_possible;
    Landing landing;
    std::size_t landed = 0;
    std::vector<Collision> collisions;  ///< pairs that should not meet and are both recorded, the worst first
    std::vector<PathFault> faults;      ///< the worst first; their touches are indices into `touches`
    std::vector<Touch> touches;         ///< all contacts that touch; of the faces' contacts
    bool ground_missing = false;        ///< a supply lands, and no ground on ground
    Verdict verdict = Verdict::holds;
};

/// `plug_of` is the port that the plug was made for: the plug carries the other side of its conversation. For
/// a plug in its own port both faces are the same port. With two ports the first case is "wrong-port".
/// `quick`: as in study_plugged().
[[nodiscard]] std::vector<WrongCase> wrong_cases(const Face& socket, const Face& plug_of,
                                                 const FamilyLibrary& families, bool quick = false);

/// Can this plug be pushed into this socket: one shape, or a narrower one that goes in too?
[[nodiscard]] bool goes_into(const Connector& plug, const Connector& socket);

/// What is built into the plug's side, and into the socket's where that is one's own.
struct Shield {
    Protection rails, signals;
    [[nodiscard]] bool any() const { return rails.any() || signals.any(); }
};
[[nodiscard]] PluggedCase circuits_of(const WrongCase& c, const Face& socket, const Face& plug_of,
                                      const FamilyLibrary& families);
/// One way again, with that fitted. What is plugged in without a supply at this port is tried with its own on
/// and off.
[[nodiscard]] PluggedStudy study_case(const WrongCase& c, const Face& socket, const Face& plug_of,
                                      const FamilyLibrary& families, const Shield& shield = {},
                                      bool quick = false);

/// What would take the worst away.
struct Remedy {
    enum class Kind { key, order, protection };
    Kind kind = Kind::key;
    std::string says;
    std::string costs;      ///< in normal use: a drop, a slower edge; empty for nothing
    Shield shield;          ///< of a protection
    long stops_before = 0;  ///< cases that a hand can bring about and that end in a stop
    long stops_after = 0;
    std::vector<std::string> prevented;  ///< ids of cases
};
/// Tried on the cases themselves, all levels again: blocking each contact that is recorded as unused,
/// exchanging each pair of pins, resistors, diodes, transistors, clamps and fuses on the plug's side. Only
/// what helps is given, the most helpful first. `order_is_ours`: the pins may be exchanged, as at a port of
/// one's own; a relic's is as it is.
[[nodiscard]] std::vector<Remedy> remedies(const Face& socket, const Face& plug_of,
                                           const FamilyLibrary& families, const std::vector<WrongCase>& cases,
                                           bool order_is_ours = true);
/// A case that can come about by plugging or by hand.
[[nodiscard]] bool can_happen(const WrongCase& c);
[[nodiscard]] long count_stops(const std::vector<WrongCase>& cases);

}  // namespace grayrelic
