// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/paint/face.hpp"

#include <QPainter>
#include <QPolygonF>

#include <algorithm>
#include <cmath>

#include "app/paint/theme.hpp"

namespace grayrelic::app {

QPointF FaceFit::at(Place place) const {
    const auto seen = seen_from(place, viewpoint);
    return {origin.x() + seen.x_mm * scale, origin.y() - seen.y_mm * scale};
}

double FaceFit::radius(std::size_t i) const {
    const auto& c = connector->contacts[i];
    const double drawn = std::min(c.width_mm, c.height_mm) / 2.0 * scale;
    return std::clamp(drawn, std::min(9.0, pitch() * 0.38), std::max(3.0, std::min(13.0, pitch() * 0.38)));
}

std::optional<std::size_t> FaceFit::contact_at(QPointF point) const {
    std::optional<std::size_t> best;
    double distance = std::max(12.0, std::min(26.0, pitch() * 0.7));
    for (std::size_t i = 0; i < connector->contacts.size(); ++i) {
        const auto d = at(i) - point;
        if (const double length = std::hypot(d.x(), d.y()); length < distance) {
            distance = length;
            best = i;
        }
    }
    return best;
}

FaceFit fit_face(const Connector& connector, Viewpoint viewpoint, QRectF area) {
    FaceFit f;
    f.connector = &connector;
    f.viewpoint = viewpoint;
    const auto box = connector.bounds();
    f.scale = std::min(
        {area.width() / std::max(box.width(), 0.5), area.height() / std::max(box.height(), 0.5), 60.0});
    const auto middle = seen_from({(box.left + box.right) / 2, (box.bottom + box.top) / 2}, viewpoint);
    f.origin = area.center() - QPointF(middle.x_mm * f.scale, -middle.y_mm * f.scale);
    return f;
}

void draw_outlines(QPainter& p, const FaceFit& face, const QColor* ghost) {
    p.setRenderHint(QPainter::Antialiasing);
    for (const auto& o : face.connector->outlines) {
        auto body = theme().selection;
        body.setAlphaF(0.45F);
        QPen pen(o.role == Outline::Role::insert ? theme().hairline : theme().ink2, 1.5);
        QBrush brush = o.role == Outline::Role::shell ? QBrush(body) : QBrush(theme().sheet);
        if (o.role == Outline::Role::key) brush = theme().ink2;
        if (ghost != nullptr) {
            pen = QPen(*ghost, 1.5, Qt::DashLine);
            brush = o.role == Outline::Role::key ? QBrush(*ghost) : QBrush(Qt::NoBrush);
        }
        p.setPen(pen);
        p.setBrush(brush);
        const auto middle = face.at(o.middle);
        const double w = o.width_mm * face.scale, h = o.height_mm * face.scale;
        const QRectF box(middle.x() - w / 2, middle.y() - h / 2, w, h);
        if (o.form == Outline::Form::circle) {
            p.drawEllipse(box);
        } else if (o.form == Outline::Form::box) {
            p.drawRoundedRect(box, o.corner_mm * face.scale, o.corner_mm * face.scale);
        } else {
            QPolygonF polygon;
            for (const auto& point : o.points) polygon << face.at(point);
            p.drawPolygon(polygon);
        }
    }
    for (std::size_t i = 0; i < face.connector->contacts.size(); ++i) {
        const auto& c = face.connector->contacts[i];
        if (!c.ring) continue;
        p.setPen(QPen(ghost != nullptr ? *ghost : theme().hairline, 4));
        p.setBrush(Qt::NoBrush);
        const double r = std::hypot(c.x_mm, c.y_mm) * face.scale;
        p.drawEllipse(face.at(Place{0, 0}), r, r);
    }
}

void draw_first_mark(QPainter& p, const FaceFit& face, std::size_t first) {
    const auto at = face.at(first);
    const double r = face.radius(first) + 4;
    p.setPen(QPen(theme().ink, 1.5));
    p.setBrush(Qt::NoBrush);
    for (const double sx : {-1.0, 1.0})
        for (const double sy : {-1.0, 1.0}) {
            const QPointF corner(at.x() + sx * r, at.y() + sy * r);
            p.drawLine(corner, corner - QPointF(sx * r * 0.5, 0));
            p.drawLine(corner, corner - QPointF(0, sy * r * 0.5));
        }
}

}  // namespace grayrelic::app
