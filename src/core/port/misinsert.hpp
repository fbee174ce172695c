// SPDX-License-Identifier: GPL-3.0-or-later
// Every way a plug can end up where it should not, and what each does.
//
// The plug's face is laid over the socket's, turned, mirrored or shifted; which contact lands on which
// follows from the positions in the data files, so that nearly mating connectors are judged too. Each pair
// that meets is judged (meeting.hpp), then the whole: a supply that lands while no ground does is a doubt of
// its own.
#pragma once

#include <string>
#include <vector>

#include "core/port/contact_map.hpp"
#include "core/port/meeting.hpp"

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
    Meeting meeting;
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
    bool ground_missing = false;        ///< a supply lands, and no ground on ground
    Verdict verdict = Verdict::holds;
};

/// `plug_of` is the port that the plug was made for: the plug carries the other side of its conversation. For
/// a plug in its own port both faces are the same port. With two ports the first case is "wrong-port".
[[nodiscard]] std::vector<WrongCase> wrong_cases(const Face& socket, const Face& plug_of,
                                                 const FamilyLibrary& families);

/// What would take the worst away.
struct Remedy {
    enum class Kind { key, order, protection };
    Kind kind = Kind::key;
    std::string says;
    long stops_before = 0;  ///< cases that a hand can bring about and that end in a stop
    long stops_after = 0;
    std::vector<std::string> prevented;  ///< ids of cases
};
/// Tried on the cases themselves: blocking each contact that no pin uses, exchanging each pair of pins, and
/// resistors or a fuse in the lines that fight. Only what helps is given, the most helpful of each kind.
[[nodiscard]] std::vector<Remedy> remedies(const Face& socket, const Face& plug_of,
                                           const FamilyLibrary& families,
                                           const std::vector<WrongCase>& cases);
/// A case that can come about by plugging or by hand.
[[nodiscard]] bool can_happen(const WrongCase& c);
[[nodiscard]] long count_stops(const std::vector<WrongCase>& cases);

}  // namespace grayrelic
