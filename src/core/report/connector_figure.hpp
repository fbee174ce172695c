// SPDX-License-Identifier: GPL-3.0-or-later
// A connector as a picture: its outlines, its contacts coloured by who drives them, the key and contact 1
// marked. Window, cards and reports show the same.
#pragma once

#include <optional>
#include <string>

#include "core/dossier/port.hpp"
#include "core/port/connector.hpp"
#include "core/report/drawing.hpp"

namespace grayrelic {

/// A connector's face fitted into a rectangle: where its points are drawn.
struct FaceFit {
    const Connector* connector = nullptr;
    Viewpoint viewpoint = Viewpoint::into_socket;
    double scale = 1.0;  ///< dots a millimetre
    double origin_x = 0, origin_y = 0;

    struct Point {
        double x = 0, y = 0;
    };
    [[nodiscard]] Point at(Place place) const;
    [[nodiscard]] Point at(std::size_t contact) const { return at(connector->contacts[contact].place()); }
    /// Half the size a contact is drawn with, so that neighbours stay apart.
    [[nodiscard]] double radius(std::size_t contact) const;
    [[nodiscard]] double pitch() const { return connector->pitch_mm() * scale; }
    /// The contact at a point, within reach of a finger; nothing elsewhere.
    [[nodiscard]] std::optional<std::size_t> contact_at(double x, double y) const;
};
/// Refers to the connector.
[[nodiscard]] FaceFit fit_face(const Connector& connector, Viewpoint viewpoint, const Drawing::Rect& area);

/// Shell, insert, key and rings; as a ghost only their lines in that ink, for the face that lies on top.
void add_outlines(Drawing& drawing, const FaceFit& face, std::optional<Ink> ghost = {});
/// The corner marks around contact 1 of the numbering.
void add_first_mark(Drawing& drawing, const FaceFit& face, std::size_t first);

struct FaceStyle {
    double width = 260.0;
    double height = 240.0;
    bool names = true;      ///< under the contacts, where there is room
    bool says_view = true;  ///< the viewpoint below
    std::string chosen{};   ///< number of the contact that stands out
    bool strong = false;    ///< that one more, for the keyboard
};
/// The place of the face in a picture of this style.
[[nodiscard]] Drawing::Rect face_area(const FaceStyle& style);
/// The face alone, from a viewpoint. Places are the contacts' numbers.
[[nodiscard]] Drawing face_drawing(const Port& port, const Connector& connector, Viewpoint viewpoint,
                                   const FaceStyle& style = {});
/// The face with a list of its pins beside it.
[[nodiscard]] std::string connector_figure(const Port& port, const Connector& connector, Viewpoint viewpoint);

/// Who drives: relic and bridge in their colours, all else in ink-2.
[[nodiscard]] Ink driver_ink(Driver driver);

}  // namespace grayrelic
