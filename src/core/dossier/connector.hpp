// SPDX-License-Identifier: GPL-3.0-or-later
// Connectors as data: where the contacts stand, how they are numbered, and how that looks from each
// viewpoint.
//
// Positions in a data file are in millimetres, seen looking into the socket, x to the right and y upwards,
// the origin in the middle of the shell. Looking into the plug, and at the solder side of the socket, the
// picture is mirrored left to right.
#pragma once

#include <filesystem>
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
inline constexpr Viewpoint all_viewpoints[] = {Viewpoint::into_socket, Viewpoint::into_plug,
                                               Viewpoint::socket_solder, Viewpoint::plug_solder};

struct Contact {
    std::string number;
    double x_mm = 0.0;
    double y_mm = 0.0;
};

struct Connector {
    std::string id;
    std::string name;
    double shell_diameter_mm = 0.0;
    double contact_diameter_mm = 1.0;
    double key_angle_deg = 90.0;  ///< where the key stands on the shell, counter-clockwise from the right
    double key_width_mm = 0.0;
    std::string source;  ///< where positions and numbers come from
    std::vector<Contact> contacts;
};

/// The contact's place in a viewpoint, millimetres, y upwards.
struct Place {
    double x_mm;
    double y_mm;
};
[[nodiscard]] Place place_of(const Contact& contact, Viewpoint viewpoint);

[[nodiscard]] Result<Connector> connector_from_json(std::string_view text, const std::string& file);
/// Reads data/connectors/ID.json below the data folder.
[[nodiscard]] Result<Connector> load_connector(const std::string& id,
                                               const std::filesystem::path& data_folder);
/// GRAY_RELIC_DATA, else the folder beside an installed program, else the source tree's.
[[nodiscard]] std::filesystem::path data_folder();

}  // namespace grayrelic
