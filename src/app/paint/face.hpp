// SPDX-License-Identifier: GPL-3.0-or-later
// A connector's face fitted into a rectangle: where its points are drawn, and its outlines.
#pragma once

#include <QPointF>
#include <QRectF>

#include "core/port/connector.hpp"

class QPainter;
class QColor;

namespace grayrelic::app {

struct FaceFit {
    const Connector* connector = nullptr;
    Viewpoint viewpoint = Viewpoint::into_socket;
    double scale = 1.0;  ///< pixels a millimetre
    QPointF origin;      ///< of the face, in pixels

    [[nodiscard]] QPointF at(Place place) const;
    [[nodiscard]] QPointF at(std::size_t contact) const { return at(connector->contacts[contact].place()); }
    /// Half the size a contact is drawn with, so that neighbours stay apart.
    [[nodiscard]] double radius(std::size_t contact) const;
    [[nodiscard]] double pitch() const { return connector->pitch_mm() * scale; }
    /// The contact at a point, within reach of a finger; nothing elsewhere.
    [[nodiscard]] std::optional<std::size_t> contact_at(QPointF point) const;
};
[[nodiscard]] FaceFit fit_face(const Connector& connector, Viewpoint viewpoint, QRectF area);

/// Shell, insert and key; with a ghost colour only their lines, for the face that lies on top.
void draw_outlines(QPainter& painter, const FaceFit& face, const QColor* ghost = nullptr);
/// The corner marks around contact 1 of the numbering.
void draw_first_mark(QPainter& painter, const FaceFit& face, std::size_t first);

}  // namespace grayrelic::app
