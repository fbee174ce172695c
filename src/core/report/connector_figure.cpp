// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/connector_figure.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace grayrelic {
namespace {

/// Contacts closer than this, in dots, stand without their names; the list has them.
constexpr double room_for_names = 31.0;
constexpr int name_size = 11;

/// A contact stands close enough below that a name between the two would run into it.
bool has_room_below(const FaceFit& face, std::size_t i) {
    const auto own = face.at(i);
    for (std::size_t k = 0; k < face.connector->contacts.size(); ++k) {
        const auto other = face.at(k);
        if (k != i && std::abs(other.x - own.x) < face.pitch() * 0.9 && other.y > own.y + 0.5 &&
            other.y - own.y < face.radius(i) + face.radius(k) + name_size + 4)
            return false;
    }
    return true;
}

class FaceArtist {
  public:
    FaceArtist(const Port& port, const FaceFit& face, const FaceStyle& style)
        : port_(port),
          face_(face),
          style_(style),
          numbers_(face.connector->numbering(port.numbering).numbers) {}

    Drawing make() {
        d_.width = style_.width;
        d_.height = style_.height;
        add_outlines(d_, face_);
        for (std::size_t i = 0; i < numbers_.size(); ++i) contact(i);
        add_first_mark(d_, face_, face_.connector->first_contact(port_.numbering));
        if (style_.says_view)
            d_.texts.push_back({style_.width / 2, style_.height - 5, std::string(label(face_.viewpoint)),
                                Ink::ink2, Drawing::Anchor::middle, 11});
        else if (face_.pitch() < room_for_names && !style_.chosen.empty())
            said_below();
        return std::move(d_);
    }

  private:
    [[nodiscard]] const Pin* pin(std::size_t i) const { return port_.find_pin(numbers_[i]); }
    [[nodiscard]] std::string name(std::size_t i) const {
        const auto* p = pin(i);
        return p == nullptr ? std::string() : p->name.value;
    }
    void contact(std::size_t i) {
        const auto [x, y] = face_.at(i);
        const double r = face_.radius(i);
        const auto* p = pin(i);
        const auto ink = p == nullptr ? Ink::hairline : driver_ink(p->driver.value);
        const bool known = !name(i).empty();
        d_.places.push_back({numbers_[i], x - r, y - r, 2 * r, 2 * r});
        if (style_.chosen == numbers_[i]) {
            d_.circles.push_back({x, y, r + 4, Ink::shade, true});
            d_.circles.push_back({x, y, r + 4, Ink::ink, false, style_.strong ? 2.5 : 1.5});
        }
        d_.circles.push_back({x, y, r, known ? ink : Ink::sheet, true});
        d_.circles.push_back({x, y, r, ink, false, 2});
        if (r >= 6.5)
            d_.texts.push_back({x, y + (r >= 10 ? 4.0 : 3.2), numbers_[i], known ? Ink::sheet : Ink::ink2,
                                Drawing::Anchor::middle,
                                r >= 10    ? 11
                                : r >= 7.5 ? 9
                                           : 8,
                                true, true});
        else if (face_.pitch() >= 11)
            d_.texts.push_back(
                {x, y - r - 3, numbers_[i], Ink::ink2, Drawing::Anchor::middle, 8, false, true});
        if (known && style_.names && face_.pitch() >= room_for_names && has_room_below(face_, i))
            d_.texts.push_back(
                {x + shift(i), y + r + 14, name(i), Ink::ink, Drawing::Anchor::middle, name_size});
    }
    /// Names that would touch give way to the sides, each by half.
    [[nodiscard]] double shift(std::size_t i) const {
        const auto at = face_.at(i);
        const double own = text_width(name(i), name_size);
        double out = 0;
        for (std::size_t k = 0; k < numbers_.size(); ++k) {
            if (k == i || name(k).empty()) continue;
            const auto other = face_.at(k);
            const double overlap = (own + text_width(name(k), name_size)) / 2 + 6 - std::abs(at.x - other.x);
            if (std::abs(at.y - other.y) < face_.radius(i) && overlap > 0)
                out += at.x < other.x ? -overlap / 2 : overlap / 2;
        }
        return out;
    }
    void said_below() {
        const auto* p = port_.find_pin(style_.chosen);
        d_.texts.push_back({style_.width / 2, style_.height - 6,
                            style_.chosen + " " + (p == nullptr ? "not recorded" : p->name.value), Ink::ink,
                            Drawing::Anchor::middle, 12});
    }

    const Port& port_;
    const FaceFit& face_;
    const FaceStyle& style_;
    const std::vector<std::string>& numbers_;
    Drawing d_;
};

std::vector<std::pair<double, double>> ring_of(const Outline& o, const FaceFit& face) {
    const auto middle = face.at(o.middle);
    const double w = o.width_mm * face.scale, h = o.height_mm * face.scale;
    if (o.form == Outline::Form::circle) return ring_of_circle(middle.x, middle.y, w / 2);
    if (o.form == Outline::Form::box)
        return ring_of_box({middle.x - w / 2, middle.y - h / 2, w, h}, o.corner_mm * face.scale);
    std::vector<std::pair<double, double>> out;
    for (const auto& p : o.points) {
        const auto at = face.at(p);
        out.emplace_back(at.x, at.y);
    }
    return out;
}

}  // namespace

Ink driver_ink(Driver driver) {
    return driver == Driver::relic ? Ink::relic : driver == Driver::bridge ? Ink::bridge : Ink::ink2;
}

FaceFit::Point FaceFit::at(Place place) const {
    const auto seen = seen_from(place, viewpoint);
    return {origin_x + seen.x_mm * scale, origin_y - seen.y_mm * scale};
}

double FaceFit::radius(std::size_t i) const {
    const auto& c = connector->contacts[i];
    const double drawn = std::min(c.width_mm, c.height_mm) / 2.0 * scale;
    return std::clamp(drawn, std::min(9.0, pitch() * 0.38), std::max(3.0, std::min(13.0, pitch() * 0.38)));
}

std::optional<std::size_t> FaceFit::contact_at(double x, double y) const {
    std::optional<std::size_t> best;
    double distance = std::max(12.0, std::min(26.0, pitch() * 0.7));
    for (std::size_t i = 0; i < connector->contacts.size(); ++i) {
        const auto p = at(i);
        if (const double length = std::hypot(p.x - x, p.y - y); length < distance) {
            distance = length;
            best = i;
        }
    }
    return best;
}

FaceFit fit_face(const Connector& connector, Viewpoint viewpoint, const Drawing::Rect& area) {
    FaceFit f;
    f.connector = &connector;
    f.viewpoint = viewpoint;
    const auto box = connector.bounds();
    f.scale = std::min({area.w / std::max(box.width(), 0.5), area.h / std::max(box.height(), 0.5), 60.0});
    const auto middle = seen_from({(box.left + box.right) / 2, (box.bottom + box.top) / 2}, viewpoint);
    f.origin_x = area.x + area.w / 2 - middle.x_mm * f.scale;
    f.origin_y = area.y + area.h / 2 + middle.y_mm * f.scale;
    return f;
}

void add_outlines(Drawing& d, const FaceFit& face, std::optional<Ink> ghost) {
    for (const auto& o : face.connector->outlines) {
        const auto ring = ring_of(o, face);
        if (ring.empty()) continue;
        const bool key = o.role == Outline::Role::key;
        if (ghost) {
            d.areas.push_back({{ring}, *ghost, key ? 1.0 : 0.0, *ghost, 1.5, true});
            continue;
        }
        if (o.role == Outline::Role::shell) d.areas.push_back({{ring}, Ink::sheet});
        const auto ink = key ? Ink::ink2 : o.role == Outline::Role::shell ? Ink::shade : Ink::sheet;
        d.areas.push_back({{ring},
                           ink,
                           o.role == Outline::Role::shell ? 0.45 : 1.0,
                           o.role == Outline::Role::insert ? Ink::hairline : Ink::ink2});
    }
    const auto [x, y] = face.at(Place{0, 0});
    for (const auto& c : face.connector->contacts)
        if (c.ring)
            d.circles.push_back(
                {x, y, std::hypot(c.x_mm, c.y_mm) * face.scale, ghost.value_or(Ink::hairline), false, 4});
}

void add_first_mark(Drawing& d, const FaceFit& face, std::size_t first) {
    const auto [x, y] = face.at(first);
    const double r = face.radius(first) + 4;
    for (const double sx : {-1.0, 1.0})
        for (const double sy : {-1.0, 1.0})
            d.strokes.push_back(
                {{{x + sx * r * 0.5, y + sy * r}, {x + sx * r, y + sy * r}, {x + sx * r, y + sy * r * 0.5}},
                 Ink::ink});
}

Drawing::Rect face_area(const FaceStyle& s) {
    return {22, 12, std::max(1.0, s.width - 44), std::max(1.0, s.height - 12 - (s.says_view ? 34 : 24))};
}

Drawing face_drawing(const Port& port, const Connector& connector, Viewpoint viewpoint,
                     const FaceStyle& style) {
    const auto face = fit_face(connector, viewpoint, face_area(style));
    return FaceArtist(port, face, style).make();
}

std::string connector_figure(const Port& port, const Connector& connector, Viewpoint viewpoint) {
    const FaceStyle face{320.0, 260.0, true};
    auto d = face_drawing(port, connector, viewpoint, face);
    d.width = face.width + 300.0;
    d.height = std::max(face.height, 40.0 + 18.0 * static_cast<double>(port.pins.size()));
    double row = 30.0;
    for (const auto& pin : port.pins) {
        const bool used = !pin.name.value.empty();
        d.texts.push_back(
            {face.width + 30.0, row, pin.number, Ink::ink2, Drawing::Anchor::end, 12, false, true});
        d.texts.push_back({face.width + 42.0, row, used ? pin.name.value : "not known",
                           driver_ink(pin.driver.value), Drawing::Anchor::start, 12, used});
        d.texts.push_back({face.width + 170.0, row, std::string(word(pin.driver.value)), Ink::ink2});
        row += 18.0;
    }
    return drawing_svg(d, fmt::format("{} {} {}", port.id, connector.name, label(viewpoint)));
}

}  // namespace grayrelic
