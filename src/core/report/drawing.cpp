// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/drawing.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/report/svg.hpp"

namespace grayrelic {
namespace {

std::string_view colour(Ink ink) {
    switch (ink) {
        case Ink::ink: return paper::ink;
        case Ink::ink2: return paper::ink2;
        case Ink::hairline: return paper::hairline;
        case Ink::relic: return paper::umber;
        case Ink::bridge: return paper::slate;
        case Ink::both: return paper::ink;
        case Ink::stop: return paper::oxide;
        case Ink::doubt: return paper::brass;
        case Ink::holds: return paper::verdigris;
        case Ink::sheet: return paper::sheet;
        case Ink::shade: return paper::selection;
    }
    return paper::ink;
}

void mark(Svg& svg, const Drawing::Mark& m) {
    switch (m.verdict) {
        case Verdict::stop: svg.rect(m.x - 4.5, m.y - 4.5, 9, 9, paper::oxide); break;
        case Verdict::doubt:
            svg.polygon({{m.x, m.y - 6}, {m.x + 6, m.y}, {m.x, m.y + 6}, {m.x - 6, m.y}}, paper::brass);
            break;
        case Verdict::holds: svg.circle(m.x, m.y, 4.5, paper::verdigris); break;
        case Verdict::unknown: svg.circle(m.x, m.y, 4.5, "none", paper::ink2, 1.2); break;
    }
}

}  // namespace

Ink ink_of(Driver driver) {
    return driver == Driver::relic ? Ink::relic : driver == Driver::bridge ? Ink::bridge : Ink::ink;
}

double text_width(std::string_view text, int size, bool figure) {
    // Bytes that go on with a letter count nothing.
    const auto letters = std::count_if(text.begin(), text.end(), [](char c) { return (c & 0xC0) != 0x80; });
    return (figure ? 0.66 : 0.56) * size * static_cast<double>(letters);
}

std::vector<std::pair<double, double>> ring_of_circle(double x, double y, double r) {
    std::vector<std::pair<double, double>> out;
    const int steps = std::clamp(static_cast<int>(r * 2), 16, 96);
    for (int i = 0; i < steps; ++i) {
        const double turn = 2 * std::numbers::pi * i / steps;
        out.emplace_back(x + r * std::cos(turn), y + r * std::sin(turn));
    }
    return out;
}

std::vector<std::pair<double, double>> ring_of_box(const Drawing::Rect& b, double corner) {
    const double r = std::min({corner, b.w / 2, b.h / 2});
    std::vector<std::pair<double, double>> out;
    const int steps = r > 0.5 ? 6 : 0;
    for (int quarter = 0; quarter < 4; ++quarter) {
        const double x = quarter == 0 || quarter == 3 ? b.x + b.w - r : b.x + r;
        const double y = quarter < 2 ? b.y + b.h - r : b.y + r;
        for (int i = 0; i <= steps; ++i) {
            const double turn =
                std::numbers::pi / 2 * (quarter + (steps == 0 ? 0.5 : static_cast<double>(i) / steps));
            const double reach = steps == 0 ? r * std::numbers::sqrt2 : r;
            out.emplace_back(x + reach * std::cos(turn), y + reach * std::sin(turn));
        }
    }
    return out;
}

namespace {

void add_areas(Svg& svg, const Drawing& d) {
    for (const auto& i : d.images) svg.image(i.at.x, i.at.y, i.at.w, i.at.h, i.png);
    for (const auto& a : d.areas) {
        if (a.strength > 0) svg.area(a.rings, colour(a.ink), a.strength);
        if (!a.edge) continue;
        for (auto ring : a.rings) {
            if (ring.empty()) continue;
            ring.push_back(ring.front());
            svg.path(ring, colour(*a.edge), a.edge_width, a.edge_dashed ? "3 3" : "");
        }
    }
    for (const auto& f : d.fills) svg.fill(f.rects, colour(f.ink), f.strength);
}

void add_lines(Svg& svg, const Drawing& d) {
    for (const auto& b : d.bands)
        svg.curve({b.x1, b.y1}, {b.x2, b.y2}, colour(b.ink), b.width, b.dashed ? "3 3" : "");
    for (const auto& l : d.lines)
        svg.line(l.x1, l.y1, l.x2, l.y2, colour(l.ink), l.width, l.dashed ? "3 3" : "");
    for (const auto& s : d.strokes) svg.path(s.points, colour(s.ink), s.width, s.dashed ? "3 3" : "");
    for (const auto& c : d.circles)
        svg.circle(c.x, c.y, c.r, c.filled ? colour(c.ink) : "none",
                   c.filled ? std::string_view() : colour(c.ink), c.width);
}

void add_signs(Svg& svg, const Drawing& d) {
    for (const auto& b : d.boxes) svg.rect(b.x, b.y, b.w, b.h, paper::sheet, colour(b.ink), 2.0);
    for (const auto& a : d.arrows) {
        const double s = a.right ? -1.0 : 1.0;
        svg.polygon({{a.x, a.y}, {a.x + 6 * s, a.y - 2.6}, {a.x + 6 * s, a.y + 2.6}}, colour(a.ink));
    }
    for (const auto& m : d.marks) mark(svg, m);
}

void add_texts(Svg& svg, const Drawing& d) {
    for (const auto& t : d.texts) {
        if (t.backed) {
            const double w = text_width(t.text, t.size, t.figure);
            const double x = t.anchor == Drawing::Anchor::start    ? t.x
                             : t.anchor == Drawing::Anchor::middle ? t.x - w / 2
                                                                   : t.x - w;
            svg.rect(x - 1, t.y - t.size, w + 2, t.size + 3.0, paper::sheet);
        }
        svg.text(t.x, t.y, t.text, colour(t.ink),
                 t.anchor == Drawing::Anchor::start    ? Svg::Anchor::start
                 : t.anchor == Drawing::Anchor::middle ? Svg::Anchor::middle
                                                       : Svg::Anchor::end,
                 t.size, t.bold);
    }
}

}  // namespace

Svg drawing_figure(const Drawing& d, std::string_view title, bool on_sheet) {
    Svg svg(d.width, d.height, title);
    if (on_sheet) svg.rect(0, 0, d.width, d.height, paper::sheet);
    add_areas(svg, d);
    add_lines(svg, d);
    add_signs(svg, d);
    add_texts(svg, d);
    return svg;
}

std::string drawing_svg(const Drawing& d, std::string_view title) {
    return drawing_figure(d, title).finish();
}

}  // namespace grayrelic
