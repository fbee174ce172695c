// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/drawing.hpp"

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

Svg drawing_figure(const Drawing& d, std::string_view title) {
    Svg svg(d.width, d.height, title);
    svg.rect(0, 0, d.width, d.height, paper::sheet);
    for (const auto& a : d.areas) svg.area(a.rings, colour(a.ink), a.strength);
    for (const auto& b : d.bands)
        svg.curve({b.x1, b.y1}, {b.x2, b.y2}, colour(b.ink), b.width, b.dashed ? "3 3" : "");
    for (const auto& l : d.lines)
        svg.line(l.x1, l.y1, l.x2, l.y2, colour(l.ink), l.width, l.dashed ? "3 3" : "");
    for (const auto& c : d.circles)
        svg.circle(c.x, c.y, c.r, c.filled ? colour(c.ink) : "none",
                   c.filled ? std::string_view() : colour(c.ink), c.width);
    for (const auto& b : d.boxes) svg.rect(b.x, b.y, b.w, b.h, paper::sheet, colour(b.ink), 2.0);
    for (const auto& a : d.arrows) {
        const double s = a.right ? -1.0 : 1.0;
        svg.polygon({{a.x, a.y}, {a.x + 6 * s, a.y - 2.6}, {a.x + 6 * s, a.y + 2.6}}, colour(a.ink));
    }
    for (const auto& m : d.marks) mark(svg, m);
    for (const auto& t : d.texts)
        svg.text(t.x, t.y, t.text, colour(t.ink),
                 t.anchor == Drawing::Anchor::start    ? Svg::Anchor::start
                 : t.anchor == Drawing::Anchor::middle ? Svg::Anchor::middle
                                                       : Svg::Anchor::end,
                 t.size, t.bold);
    return svg;
}

std::string drawing_svg(const Drawing& d, std::string_view title) {
    return drawing_figure(d, title).finish();
}

}  // namespace grayrelic
