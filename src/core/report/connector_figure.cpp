// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/connector_figure.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace grayrelic {
namespace {

constexpr std::string_view body_fill = "#F2EDE0";

struct FaceSvg {
    Svg& svg;
    const Connector& connector;
    Viewpoint viewpoint;
    double scale, x0, y0;

    [[nodiscard]] std::pair<double, double> at(Place p) const {
        const auto seen = seen_from(p, viewpoint);
        return {x0 + seen.x_mm * scale, y0 - seen.y_mm * scale};
    }

    void outline(const Outline& o) const {
        const auto fill = o.role == Outline::Role::shell ? body_fill : paper::sheet;
        const auto stroke = o.role == Outline::Role::insert ? paper::hairline : paper::ink2;
        const auto [x, y] = at(o.middle);
        const double w = o.width_mm * scale, h = o.height_mm * scale;
        if (o.form == Outline::Form::circle) {
            svg.circle(x, y, w / 2, fill, stroke, 1.5);
        } else if (o.form == Outline::Form::box) {
            svg.rect(x - w / 2, y - h / 2, w, h, o.role == Outline::Role::key ? paper::ink2 : fill, stroke,
                     o.corner_mm * scale);
        } else {
            std::vector<std::pair<double, double>> points;
            for (const auto& p : o.points) points.push_back(at(p));
            svg.polygon(points, fill, stroke);
        }
    }
};

/// One contact stands close enough above or below that a name between them would run into it.
bool has_room_below(const Connector& c, std::size_t i) {
    const auto& own = c.contacts[i];
    return std::none_of(c.contacts.begin(), c.contacts.end(), [&](const Contact& other) {
        return &other != &own && std::abs(other.x_mm - own.x_mm) < c.pitch_mm() * 0.9 &&
               other.y_mm < own.y_mm - 0.01 && own.y_mm - other.y_mm < c.pitch_mm() * 1.2;
    });
}

}  // namespace

std::string_view driver_colour(Driver d) {
    switch (d) {
        case Driver::relic: return paper::umber;
        case Driver::bridge: return paper::slate;
        default: return paper::ink2;
    }
}

Svg face_figure(const Port& port, const Connector& connector, Viewpoint viewpoint, const FaceStyle& style) {
    Svg svg(style.width, style.height, fmt::format("{} {} {}", port.id, connector.name, label(viewpoint)));
    const auto box = connector.bounds();
    const double scale =
        std::min((style.width - 24) / box.width(), (style.height - 44) / std::max(box.height(), 1.0));
    const auto middle = seen_from({(box.left + box.right) / 2, (box.bottom + box.top) / 2}, viewpoint);
    const FaceSvg d{svg,
                    connector,
                    viewpoint,
                    scale,
                    style.width / 2 - middle.x_mm * scale,
                    (style.height - 20) / 2 + middle.y_mm * scale};
    for (const auto& o : connector.outlines) d.outline(o);
    const auto& numbers = connector.numbering(port.numbering).numbers;
    const double pitch = connector.pitch_mm() * scale;
    const bool numbered = pitch >= 11.0;
    for (std::size_t i = 0; i < connector.contacts.size(); ++i) {
        const auto& c = connector.contacts[i];
        const auto* pin = port.find_pin(numbers[i]);
        const bool used = pin != nullptr && !pin->name.value.empty();
        const auto colour = pin == nullptr ? paper::hairline : driver_colour(pin->driver.value);
        const auto [x, y] = d.at(c.place());
        const double r = std::clamp(c.width_mm / 2 * scale, 3.0, std::max(3.0, pitch * 0.42));
        if (c.ring) {
            const auto [cx, cy] = d.at({0, 0});
            svg.circle(cx, cy, std::hypot(c.x_mm, c.y_mm) * scale, "none", colour, 4.0);
        }
        if (i == connector.first_contact(port.numbering))
            svg.rect(x - r - 3, y - r - 3, 2 * r + 6, 2 * r + 6, "none", paper::ink);
        svg.circle(x, y, r, used ? colour : paper::sheet, colour, 1.5);
        if (numbered && r >= 6.5)
            svg.text(x, y + 3.5, numbers[i], used ? paper::sheet : paper::ink2, Svg::Anchor::middle,
                     r > 9 ? 10 : 8);
        else if (numbered)
            svg.text(x, y - r - 3, numbers[i], paper::ink2, Svg::Anchor::middle, 8);
        if (style.names && used && pitch > 44 && has_room_below(connector, i))
            svg.text(x, y + r + 11, pin->name.value, paper::ink, Svg::Anchor::middle, 9);
    }
    svg.text(style.width / 2, style.height - 5, label(viewpoint), paper::ink2, Svg::Anchor::middle, 11);
    return svg;
}

std::string connector_figure(const Port& port, const Connector& connector, Viewpoint viewpoint) {
    const FaceStyle face{320.0, 260.0, true};
    const double height = std::max(face.height, 40.0 + 18.0 * static_cast<double>(port.pins.size()));
    Svg svg(face.width + 300.0, height, fmt::format("{} {} {}", port.id, connector.name, label(viewpoint)));
    svg.place(0, 0, face_figure(port, connector, viewpoint, face));
    double row = 30.0;
    for (const auto& pin : port.pins) {
        const bool used = !pin.name.value.empty();
        svg.text(face.width + 30.0, row, pin.number, paper::ink2, Svg::Anchor::end, 12);
        svg.text(face.width + 42.0, row, used ? pin.name.value : "not known", driver_colour(pin.driver.value),
                 Svg::Anchor::start, 12, used);
        svg.text(face.width + 170.0, row, word(pin.driver.value), paper::ink2);
        row += 18.0;
    }
    return svg.finish();
}

}  // namespace grayrelic
