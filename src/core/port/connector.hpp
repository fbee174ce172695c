// SPDX-License-Identifier: GPL-3.0-or-later
// Connectors as data: where the contacts stand, how they are numbered, how they are kept from going in wrong,
// and how all that looks from each viewpoint. The format of a data file is docs/formats/connectors.md.
//
// Positions are in millimetres, seen looking into the socket, x to the right and y upwards. Looking into the
// plug, and at the solder side of the socket, the picture is mirrored left to right. A family such as
// "header-2xn" is one data file for all its sizes: connector "header-2x10" is made from it.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"

namespace grayrelic {

enum class Viewpoint { into_socket, into_plug, socket_solder, plug_solder };
[[nodiscard]] std::string_view word(Viewpoint v);                ///< "into-socket" …, as in files
[[nodiscard]] std::string_view label(Viewpoint v);               ///< "into the socket" …, for people
[[nodiscard]] Viewpoint viewpoint_named(std::string_view word);  ///< into_socket for anything unknown
[[nodiscard]] bool is_mirrored(Viewpoint v);
/// From the same side of the panel, but of the other half: into the socket and into the plug are a pair, and
/// so are the two solder sides. Each of a pair is the other's mirror image.
[[nodiscard]] Viewpoint counterpart(Viewpoint v);
inline constexpr Viewpoint all_viewpoints[] = {Viewpoint::into_socket, Viewpoint::into_plug,
                                               Viewpoint::socket_solder, Viewpoint::plug_solder};

/// A point of the face, millimetres, y upwards.
struct Place {
    double x_mm = 0.0;
    double y_mm = 0.0;
    bool operator==(const Place&) const = default;
};
[[nodiscard]] Place seen_from(Place place, Viewpoint viewpoint);

struct Contact {
    std::string number;  ///< under the first numbering
    double x_mm = 0.0;
    double y_mm = 0.0;
    double width_mm = 1.0;
    double height_mm = 1.0;
    bool round = true;
    bool ring = false;  ///< a ring around the origin that passes through (x, y)
    [[nodiscard]] Place place() const { return {x_mm, y_mm}; }
};
[[nodiscard]] Place place_of(const Contact& contact, Viewpoint viewpoint);

/// A part of the drawing: what surrounds the contacts.
struct Outline {
    enum class Role { shell, insert, key };
    enum class Form { circle, box, polygon };
    Role role = Role::shell;
    Form form = Form::box;
    Place middle;  ///< of a circle or box
    double width_mm = 0.0;
    double height_mm = 0.0;
    double corner_mm = 0.0;
    std::vector<Place> points;  ///< of a polygon
};

/// One way of giving the contacts their numbers.
struct Numbering {
    std::string id;                    ///< "standard", "zigzag", "rows" …
    std::string name;                  ///< for people
    std::vector<std::string> numbers;  ///< one for each contact, in the order of Connector::contacts
};

/// How a plug can end up where it should not.
enum class WrongWay { reversed, mirrored, rows_swapped, shifted };
/// easy: nothing holds it off; forced: with some strength; prevented: by the key; by_hand: not by plugging,
/// but by soldering or crimping to the wrong face.
enum class Possible { easy, forced, prevented, by_hand };
[[nodiscard]] std::string_view word(WrongWay w);
[[nodiscard]] std::string_view word(Possible p);

struct Connector {
    std::string id;
    std::string name;
    std::string group;   ///< for choosing: "Circular DIN"
    std::string source;  ///< the standard that positions and numbers come from
    std::string rule;    ///< the rule of geometry in a sentence
    std::string check;   ///< what is to be checked against the part at hand; empty for nothing
    std::string shape;   ///< connectors of one shape can be pushed together
    std::vector<std::string> also_into;  ///< shapes of other sockets that its plug goes into
    std::string socket_name;  ///< what the two halves are called: "socket", "receptacle", "edge socket"
    std::string plug_name;
    bool metal_shell = false;  ///< the shells touch first and join the grounds
    std::vector<Contact> contacts;
    std::vector<Numbering> numberings;  ///< at least one, the first is the contacts' own
    std::vector<Outline> outlines;
    struct Way {
        WrongWay way;
        Possible possible;
        std::string why;
        bool only_smaller = false;  ///< only where the plug has fewer contacts than the socket
    };
    std::vector<Way> ways;

    [[nodiscard]] const Numbering& numbering(std::string_view id) const;  ///< the first for an unknown id
    /// Index of the contact with this number; nothing when there is none.
    [[nodiscard]] std::optional<std::size_t> contact_numbered(std::string_view number,
                                                              std::string_view numbering = {}) const;
    /// The contact where counting begins: 1, else A1, else the first of the file.
    [[nodiscard]] std::size_t first_contact(std::string_view numbering = {}) const;
    [[nodiscard]] Possible possible(WrongWay way) const;
    /// The least distance between two contacts, and along each axis between contacts of a row or column; the
    /// latter 0 where no two stand so.
    /// One shaft with its contacts around it: a barrel, a jack. Nothing about it can be turned or mirrored.
    [[nodiscard]] bool coaxial() const;
    [[nodiscard]] double pitch_mm() const;
    [[nodiscard]] double column_pitch_mm() const;
    [[nodiscard]] double row_pitch_mm() const;
    /// The box around all outlines and contacts, looking into the socket.
    struct Box {
        double left, bottom, right, top;
        [[nodiscard]] double width() const { return right - left; }
        [[nodiscard]] double height() const { return top - bottom; }
    };
    [[nodiscard]] Box bounds() const;
    /// The middle of the contacts' box: what turning and mirroring go about.
    [[nodiscard]] Place middle() const;
};

}  // namespace grayrelic
