// SPDX-License-Identifier: GPL-3.0-or-later
// A connector as a picture: its outlines, its contacts coloured by who drives them, the key and contact 1
// marked. The window draws the same from the same data (app/stages/port/connector_paint.hpp).
#pragma once

#include <string>

#include "core/dossier/port.hpp"
#include "core/port/connector.hpp"
#include "core/report/svg.hpp"

namespace grayrelic {

struct FaceStyle {
    double width = 260.0;
    double height = 240.0;
    bool names = true;  ///< under the contacts, where there is room
};
/// The face alone, from a viewpoint.
[[nodiscard]] Svg face_figure(const Port& port, const Connector& connector, Viewpoint viewpoint,
                              const FaceStyle& style = {});
/// The face with a list of its pins beside it.
[[nodiscard]] std::string connector_figure(const Port& port, const Connector& connector, Viewpoint viewpoint);

[[nodiscard]] std::string_view driver_colour(Driver driver);

}  // namespace grayrelic
