// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/connector.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace grayrelic {
namespace {

struct ViewpointWords {
    Viewpoint viewpoint;
    std::string_view word;
    std::string_view label;
};
constexpr std::array<ViewpointWords, 4> viewpoints{
    {{Viewpoint::into_socket, "into-socket", "into the socket"},
     {Viewpoint::into_plug, "into-plug", "into the plug"},
     {Viewpoint::socket_solder, "socket-solder", "socket, solder side"},
     {Viewpoint::plug_solder, "plug-solder", "plug, solder side"}}};

/// Two contacts stand in one row (or column) when they differ by less than this across it.
constexpr double in_line_mm = 0.05;

/// The least distance between neighbours that stand in line along one axis.
double line_pitch(const std::vector<Contact>& contacts, double Contact::*along, double Contact::*across) {
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < contacts.size(); ++i)
        for (std::size_t j = i + 1; j < contacts.size(); ++j)
            if (std::abs(contacts[i].*across - contacts[j].*across) < in_line_mm)
                least = std::min(least, std::abs(contacts[i].*along - contacts[j].*along));
    return std::isfinite(least) ? least : 0.0;
}

}  // namespace

std::string_view word(Viewpoint v) {
    return viewpoints[static_cast<std::size_t>(v)].word;
}
std::string_view label(Viewpoint v) {
    return viewpoints[static_cast<std::size_t>(v)].label;
}

Viewpoint viewpoint_named(std::string_view text) {
    for (const auto& v : viewpoints)
        if (v.word == text) return v.viewpoint;
    return Viewpoint::into_socket;
}

bool is_mirrored(Viewpoint v) {
    return v == Viewpoint::into_plug || v == Viewpoint::socket_solder;
}

Viewpoint counterpart(Viewpoint v) {
    switch (v) {
        case Viewpoint::into_socket: return Viewpoint::into_plug;
        case Viewpoint::into_plug: return Viewpoint::into_socket;
        case Viewpoint::socket_solder: return Viewpoint::plug_solder;
        case Viewpoint::plug_solder: break;
    }
    return Viewpoint::socket_solder;
}

Place seen_from(Place p, Viewpoint v) {
    return {is_mirrored(v) ? -p.x_mm : p.x_mm, p.y_mm};
}

Place place_of(const Contact& c, Viewpoint v) {
    return seen_from(c.place(), v);
}

std::string_view word(WrongWay w) {
    constexpr std::array<std::string_view, 4> words{"reversed", "mirrored", "rows-swapped", "shifted"};
    return words[static_cast<std::size_t>(w)];
}

std::string_view word(Possible p) {
    constexpr std::array<std::string_view, 4> words{"easy", "forced", "prevented", "by-hand"};
    return words[static_cast<std::size_t>(p)];
}

const Numbering& Connector::numbering(std::string_view wanted) const {
    for (const auto& n : numberings)
        if (n.id == wanted) return n;
    return numberings.front();
}

std::optional<std::size_t> Connector::contact_numbered(std::string_view number,
                                                       std::string_view numbering_id) const {
    const auto& numbers = numbering(numbering_id).numbers;
    const auto it = std::find(numbers.begin(), numbers.end(), number);
    return it == numbers.end() ? std::nullopt : std::optional(static_cast<std::size_t>(it - numbers.begin()));
}

std::size_t Connector::first_contact(std::string_view numbering_id) const {
    for (const char* first : {"1", "A1"})
        if (const auto i = contact_numbered(first, numbering_id)) return *i;
    return 0;
}

bool Connector::coaxial() const {
    return std::any_of(contacts.begin(), contacts.end(), [](const Contact& c) { return c.ring; });
}

Possible Connector::possible(WrongWay way) const {
    for (const auto& w : ways)
        if (w.way == way) return w.possible;
    return way == WrongWay::mirrored || way == WrongWay::rows_swapped ? Possible::by_hand
                                                                      : Possible::prevented;
}

double Connector::pitch_mm() const {
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < contacts.size(); ++i)
        for (std::size_t j = i + 1; j < contacts.size(); ++j)
            least = std::min(
                least, std::hypot(contacts[i].x_mm - contacts[j].x_mm, contacts[i].y_mm - contacts[j].y_mm));
    return std::isfinite(least) ? least : contacts.front().width_mm;
}

double Connector::column_pitch_mm() const {
    return line_pitch(contacts, &Contact::x_mm, &Contact::y_mm);
}
double Connector::row_pitch_mm() const {
    return line_pitch(contacts, &Contact::y_mm, &Contact::x_mm);
}

Connector::Box Connector::bounds() const {
    constexpr double far = std::numeric_limits<double>::infinity();
    Box b{far, far, -far, -far};
    const auto take = [&](double x, double y, double w, double h) {
        b = {std::min(b.left, x - w / 2), std::min(b.bottom, y - h / 2), std::max(b.right, x + w / 2),
             std::max(b.top, y + h / 2)};
    };
    for (const auto& o : outlines) {
        if (o.form != Outline::Form::polygon) take(o.middle.x_mm, o.middle.y_mm, o.width_mm, o.height_mm);
        for (const auto& p : o.points) take(p.x_mm, p.y_mm, 0, 0);
    }
    for (const auto& c : contacts) {
        take(c.x_mm, c.y_mm, c.width_mm, c.height_mm);
        if (c.ring) take(0, 0, 2 * std::hypot(c.x_mm, c.y_mm), 2 * std::hypot(c.x_mm, c.y_mm));
    }
    return b;
}

Place Connector::middle() const {
    double left = contacts.front().x_mm, right = left;
    double bottom = contacts.front().y_mm, top = bottom;
    for (const auto& c : contacts) {
        left = std::min(left, c.x_mm);
        right = std::max(right, c.x_mm);
        bottom = std::min(bottom, c.y_mm);
        top = std::max(top, c.y_mm);
    }
    return {(left + right) / 2, (bottom + top) / 2};
}

}  // namespace grayrelic
