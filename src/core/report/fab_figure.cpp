// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/fab_figure.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

namespace grayrelic {
namespace {

Ink ink_of_net(Driver d) {
    return d == Driver::relic ? Ink::relic : d == Driver::bridge ? Ink::bridge : Ink::ink2;
}

struct BoardFrame {
    Extent seen;
    double scale = 1, margin = 16;  // picture units to the nanometre
    bool back = false;
    [[nodiscard]] std::pair<double, double> operator()(BoardXY p) const {
        const double x = back ? static_cast<double>(seen.right - p.x) : static_cast<double>(p.x - seen.left);
        return {margin + x * scale, margin + static_cast<double>(seen.top - p.y) * scale};
    }
};

/// A piece with corners left out that are nearer than a fifth of a unit.
std::vector<std::vector<std::pair<double, double>>> rings_at(const Piece& piece, const BoardFrame& at) {
    std::vector<std::vector<std::pair<double, double>>> out;
    const auto add = [&](const Ring& ring) {
        std::vector<std::pair<double, double>> points;
        for (const auto p : ring) {
            const auto q = at(p);
            if (points.empty() ||
                std::hypot(q.first - points.back().first, q.second - points.back().second) > 0.2)
                points.push_back(q);
        }
        if (points.size() >= 3) out.push_back(std::move(points));
    };
    add(piece.outer);
    for (const auto& h : piece.holes) add(h);
    return out;
}

std::pair<double, double> middle_of(const std::vector<NumberedPlace>& places) {
    double x = 0, y = 0;
    for (const auto& p : places) {
        x += p.x_mm;
        y += p.y_mm;
    }
    const auto n = static_cast<double>(std::max<std::size_t>(1, places.size()));
    return {x / n, y / n};
}

std::pair<double, double> quarter_turned(double x, double y, int quarters) {
    switch (quarters & 3) {
        case 1: return {-y, x};
        case 2: return {-x, -y};
        case 3: return {y, -x};
        default: return {x, y};
    }
}

}  // namespace

std::vector<Driver> drivers_of_nets(const FabricationAnalysis& b, const Dossier& d) {
    std::vector<Driver> out(b.net_names.size(), Driver::nobody);
    if (!b.read->copper) return out;
    const auto& copper = *b.read->copper;
    for (const auto& pad : b.pads) {
        const auto face = std::find_if(b.faces.begin(), b.faces.end(), [&](const BoardFace& f) {
            return f.ref == pad.ref && !f.port.empty();
        });
        const auto* port = d.find_port(face == b.faces.end() ? pad.ref : face->port);
        const auto* pin = port == nullptr ? nullptr : port->find_pin(pad.pin);
        if (pin == nullptr) continue;
        for (std::size_t l = 0; l < copper.layers.size(); ++l)
            if (const int net = copper.net_at(pad.at, l); net >= 0) {
                auto& now = out[static_cast<std::size_t>(net)];
                if (now == Driver::nobody) now = pin->driver.value;
            }
    }
    return out;
}

Drawing draw_board(const FabricationAnalysis& b, const std::vector<Driver>& drivers, bool back,
                   double width) {
    Drawing out;
    BoardFrame at;
    at.back = back;
    const auto& read = *b.read;
    if (read.outline.known()) at.seen = extent_of(read.outline.outer);
    if (read.copper)
        for (const auto& l : read.copper->layers)
            for (const auto& p : l.pieces) at.seen.add(p.extent);
    if (at.seen.empty()) return out;
    at.scale = (width - 2 * at.margin) / static_cast<double>(std::max<Nm>(1, at.seen.width()));
    const double most_height = width * 0.8;
    at.scale = std::min(
        at.scale, (most_height - 2 * at.margin) / static_cast<double>(std::max<Nm>(1, at.seen.height())));
    out.width = width;
    out.height = 2 * at.margin + static_cast<double>(at.seen.height()) * at.scale;
    const auto line_of = [&](const Ring& ring) {
        for (std::size_t i = 0; i < ring.size(); ++i) {
            const auto p = at(ring[i]), q = at(ring[(i + 1) % ring.size()]);
            out.lines.push_back({p.first, p.second, q.first, q.second, Ink::ink, 1.2});
        }
    };
    if (read.outline.known())
        for (const auto& ring : read.outline.rings()) line_of(ring);
    if (!read.copper) return out;
    const auto near = back ? FileRole::copper_bottom : FileRole::copper_top;
    for (const bool front : {false, true})
        for (const auto& l : read.copper->layers) {
            if ((l.role == near) != front || l.role == FileRole::copper_inner) continue;
            for (std::size_t i = 0; i < l.pieces.size(); ++i) {
                const auto net = static_cast<std::size_t>(l.net[i]);
                const auto driver = net < drivers.size() ? drivers[net] : Driver::nobody;
                out.areas.push_back({rings_at(l.pieces[i], at), front ? ink_of_net(driver) : Ink::hairline,
                                     front ? 0.85 : 0.55});
            }
        }
    for (const auto& h : read.copper->holes) {
        const auto m = at(h.hole.middle());
        out.circles.push_back(
            {m.first, m.second, std::max(0.6, h.hole.diameter / 2 * at.scale), Ink::sheet, true});
    }
    if (b.rules)
        for (const auto& v : b.rules->violations) {
            const auto m = at(v.at);
            out.marks.push_back({m.first, m.second, v.decides() ? Verdict::stop : Verdict::unknown});
        }
    return out;
}

Drawing draw_face_match(const BoardFace& f, double width) {
    Drawing out;
    out.width = width;
    if (f.match.seen.empty() || f.match.wanted.empty()) return out;
    // The data turned as the fit has it, unmirrored, both about their middles; of a mirrored one the turn
    // that lies best.
    std::map<std::string, std::pair<double, double>> wanted;
    const auto mb = middle_of(f.match.seen);
    std::vector<NumberedPlace> common;
    for (const auto& w : f.match.wanted)
        if (std::any_of(f.match.seen.begin(), f.match.seen.end(),
                        [&](const auto& s) { return s.number == w.number; }))
            common.push_back(w);
    const auto mw = middle_of(common.empty() ? f.match.wanted : common);
    double reach = 1;
    for (const auto& w : f.match.wanted) {
        const auto q = quarter_turned(w.x_mm - mw.first, w.y_mm - mw.second, f.match.rotation_deg / 90);
        wanted[w.number] = q;
        reach = std::max({reach, std::abs(q.first), std::abs(q.second)});
    }
    for (const auto& s : f.match.seen)
        reach = std::max({reach, std::abs(s.x_mm - mb.first), std::abs(s.y_mm - mb.second)});
    double high = 1;
    for (const auto& [number, q] : wanted) high = std::max(high, std::abs(q.second));
    for (const auto& s : f.match.seen) high = std::max(high, std::abs(s.y_mm - mb.second));
    const double scale = std::min((width / 2 - 30) / reach, 26.0);
    const double top = 26;
    out.height = top + 2 * high * scale + 56;
    const double cx = width / 2, cy = top + 10 + high * scale;
    const double radius = std::clamp(0.45 * scale, 6.0, 10.0);
    out.texts.push_back({0, 14,
                         f.ref + (f.connector.starts_with("edge-") && f.half == Half::plug
                                      ? " as seen end on, the front up"
                                      : " as seen from its side of the board"),
                         Ink::ink, Drawing::Anchor::start, 12, true});
    for (const auto& s : f.match.seen) {
        const double x = cx + (s.x_mm - mb.first) * scale, y = cy - (s.y_mm - mb.second) * scale;
        const auto it = wanted.find(s.number);
        const bool off = it != wanted.end() && std::hypot(s.x_mm - mb.first - it->second.first,
                                                          s.y_mm - mb.second - it->second.second) > 0.25;
        const auto ink = it == wanted.end() ? Ink::ink2 : off ? Ink::stop : Ink::holds;
        if (off)
            out.lines.push_back(
                {x, y, cx + it->second.first * scale, cy - it->second.second * scale, Ink::stop, 1.2, true});
        out.circles.push_back({x, y, radius, ink, true});
        out.texts.push_back({x, y + (radius < 8 ? 3.2 : 4), s.number, Ink::sheet, Drawing::Anchor::middle,
                             radius < 8 ? 9 : 11, true, true});
    }
    for (const auto& [number, q] : wanted)
        out.circles.push_back(
            {cx + q.first * scale, cy - q.second * scale, radius + 3, Ink::ink2, false, 1.2});
    const double foot = out.height - 12;
    out.circles.push_back({8, foot - 4, 5, Ink::ink2, true});
    out.texts.push_back({18, foot, "pad", Ink::ink2, Drawing::Anchor::start, 11});
    out.circles.push_back({60, foot - 4, 6, Ink::ink2, false, 1.2});
    out.texts.push_back(
        {72, foot, fmt::format("where {} has it", f.connector), Ink::ink2, Drawing::Anchor::start, 11});
    return out;
}

}  // namespace grayrelic
