// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/package_card.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/report/svg.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

constexpr double pt = 72.0 / 25.4;  // points a millimetre
constexpr double margin_pt = 42.0;

struct Entry {
    Package package;
    std::vector<Pad> pads;
    const SolderAdvice* advice;
    double left = 0, right = 0, up = 0, down = 0;  ///< mm from the middle
};

Entry entry_of(const Package& p, const SolderAdvice& advice) {
    Entry e{p, pads_of(p), &advice};
    e.left = e.right = p.size.width / 2;
    e.up = e.down = p.size.length / 2;
    for (const auto& pad : e.pads) {
        e.left = std::max(e.left, pad.length / 2 - pad.x);
        e.right = std::max(e.right, pad.length / 2 + pad.x);
        e.up = std::max(e.up, pad.width / 2 - pad.y);
        e.down = std::max(e.down, pad.width / 2 + pad.y);
    }
    return e;
}

void draw(Svg& svg, const Entry& e, double x, double y) {
    const auto& s = *e.package.shape;
    svg.rect(x - e.package.size.width / 2 * pt, y - e.package.size.length / 2 * pt, e.package.size.width * pt,
             e.package.size.length * pt, "none", paper::ink2);
    for (const auto& pad : e.pads) {
        const double w = pad.length * pt, h = pad.width * pt, px = x + pad.x * pt, py = y + pad.y * pt;
        // Pin 1 is square where holes are round, and filled.
        const bool first = pad.number == "1";
        svg.rect(px - w / 2, py - h / 2, w, h, first ? paper::ink : paper::hairline, paper::ink,
                 s.hole > 0 && !first ? w / 2 : 0);
        if (s.hole > 0) svg.circle(px, py, s.hole / 2 * pt, paper::sheet);
    }
}

}  // namespace

Result<Card> package_card(const Analysis& a, Paper paper_kind) {
    Card card;
    card.width_mm = paper_kind == Paper::a4 ? 210.0 : 215.9;
    card.height_mm = paper_kind == Paper::a4 ? 297.0 : 279.4;
    const double width = card.width_mm * pt, height = card.height_mm * pt;
    std::vector<Entry> entries;
    if (a.wire && a.data)
        for (const auto& s : a.wire->solder)
            if (const auto p = a.data->packages.find(s.package)) entries.push_back(entry_of(*p, s));
    if (entries.empty())
        return fail_usage("a circuit without a part whose package is described", "at least one such part");
    std::unique_ptr<Svg> page;
    double x = 0, y = 0, row = 0;
    const auto finish = [&] {
        if (page) card.pages.push_back(page->finish());
    };
    const auto begin = [&] {
        finish();
        page = std::make_unique<Svg>(width, height, "Packages at true size");
        page->set_paper(card.width_mm, card.height_mm);
        page->rect(0, 0, width, height, "#FFFFFF");
        page->text(margin_pt, margin_pt, fmt::format("{}: packages at true size", a.dossier.about->name),
                   paper::ink, Svg::Anchor::start, 14, true);
        page->text(margin_pt, margin_pt + 16,
                   "Print at 100 %. This line is 50 mm long; when it is not, the drawing is not true.",
                   paper::ink2, Svg::Anchor::start, 10);
        page->line(margin_pt, margin_pt + 26, margin_pt + 50 * pt, margin_pt + 26, paper::ink, 1.5);
        x = margin_pt;
        y = margin_pt + 50;
        row = 0;
    };
    begin();
    for (const auto& e : entries) {
        const double w = std::max((e.left + e.right) * pt, 128.0), h = (e.up + e.down) * pt + 40;
        if (x + w > width - margin_pt && x > margin_pt) {
            x = margin_pt;
            y += row + 16;
            row = 0;
        }
        if (y + h > height - margin_pt && y > margin_pt + 60) begin();
        std::string refs;
        for (const auto& r : e.advice->refs) refs += (refs.empty() ? "" : " ") + r;
        page->text(x, y + 8, e.advice->part, paper::ink, Svg::Anchor::start, 9, true);
        page->text(x, y + 19, refs.size() > 22 ? refs.substr(0, 20) + "…" : refs, paper::ink2,
                   Svg::Anchor::start, 9);
        page->text(x, y + 30, fmt::format("{}, {:.3g} mm high", e.package.size.id, e.package.shape->height),
                   paper::ink2, Svg::Anchor::start, 9);
        draw(*page, e, x + e.left * pt, y + 36 + e.up * pt);
        x += w + 14;
        row = std::max(row, h);
    }
    finish();
    return card;
}

}  // namespace grayrelic
