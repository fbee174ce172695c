// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/paper_template.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/report/drawing.hpp"

namespace grayrelic {
namespace {

constexpr double pt = 72.0 / 25.4;  // points a millimetre
constexpr double margin_mm = 12, head_mm = 26;

class TemplateArtist {
  public:
    TemplateArtist(const ReadBoard& board, const TemplateWish& wish, const Extent& all, double width_mm,
                   double height_mm)
        : b_(board), w_(wish), all_(all) {
        d_.width = width_mm * pt;
        d_.height = height_mm * pt;
    }

    Drawing make() {
        copper();
        for (const auto& ring : b_.outline.rings()) {
            if (ring.size() < 3) continue;
            Drawing::Stroke way{{}, Ink::ink, 0.7};
            for (const auto p : ring) way.points.push_back(at(p));
            way.points.push_back(way.points.front());
            d_.strokes.push_back(std::move(way));
        }
        holes();
        marks();
        return std::move(d_);
    }

  private:
    [[nodiscard]] std::pair<double, double> at(BoardXY p) const {
        const double x = w_.back ? to_mm(all_.right - p.x) : to_mm(p.x - all_.left);
        return {(margin_mm + x) * pt, (head_mm + margin_mm + to_mm(all_.top - p.y)) * pt};
    }
    void copper() {
        if (!b_.copper) return;
        const auto near = w_.back ? FileRole::copper_bottom : FileRole::copper_top;
        for (const auto& l : b_.copper->layers) {
            if (l.role != near) continue;
            for (const auto& piece : l.pieces) {
                Drawing::Area area{{}, Ink::ink2, 0.35};
                const auto add = [&](const Ring& ring) {
                    std::vector<std::pair<double, double>> points;
                    for (const auto p : ring) points.push_back(at(p));
                    area.rings.push_back(std::move(points));
                };
                add(piece.outer);
                for (const auto& h : piece.holes) add(h);
                d_.areas.push_back(std::move(area));
            }
        }
    }
    void holes() {
        if (!b_.copper) return;
        for (const auto& h : b_.copper->holes) {
            const auto [x, y] = at(h.hole.middle());
            const double r = h.hole.diameter / 2e6 * pt;
            d_.circles.push_back({x, y, r, Ink::sheet, true});
            d_.circles.push_back({x, y, r, Ink::ink, false, 0.4});
            d_.lines.push_back({x - 1.5, y, x + 1.5, y, Ink::ink, 0.3});
            d_.lines.push_back({x, y - 1.5, x, y + 1.5, Ink::ink, 0.3});
        }
    }
    void marks() {
        const double left = margin_mm * pt;
        d_.texts.push_back({left, 12 * pt, w_.title, Ink::ink, Drawing::Anchor::start, 13, true});
        d_.texts.push_back(
            {left, 17 * pt,
             fmt::format("{:.2f} × {:.2f} mm, the {} as one looks at it. Print at 100 %: the bar is 50 mm "
                         "long, else the sheet is not true.",
                         to_mm(all_.width()), to_mm(all_.height()), w_.back ? "back" : "front"),
             Ink::ink2, Drawing::Anchor::start, 9});
        const double y = 22 * pt;
        d_.lines.push_back({left, y, left + 50 * pt, y, Ink::ink, 1});
        for (int i = 0; i <= 5; ++i)
            d_.lines.push_back({left + 10 * i * pt, y - 3, left + 10 * i * pt, y + 3, Ink::ink, 0.7});
        // Crosses outside of the board's corners: of front and back they fall on each other.
        for (const double dx : {0.0, to_mm(all_.width())})
            for (const double dy : {0.0, to_mm(all_.height())}) {
                const double x = (margin_mm + dx + (dx > 0 ? 5 : -5)) * pt;
                const double v = (head_mm + margin_mm + dy + (dy > 0 ? 5 : -5)) * pt;
                d_.lines.push_back({x - 3 * pt, v, x + 3 * pt, v, Ink::ink, 0.4});
                d_.lines.push_back({x, v - 3 * pt, x, v + 3 * pt, Ink::ink, 0.4});
            }
    }

    const ReadBoard& b_;
    const TemplateWish& w_;
    const Extent& all_;
    Drawing d_;
};

}  // namespace

Result<Card> paper_template(const ReadBoard& board, const TemplateWish& wish) {
    if (board.problem) return fail(*board.problem);
    Extent all;
    if (board.outline.known()) all = extent_of(board.outline.outer);
    if (all.empty() && board.copper)
        for (const auto& l : board.copper->layers)
            for (const auto& p : l.pieces) all.add(p.extent);
    if (all.empty()) return fail_usage("a board without outline and copper", "one that can be drawn");
    Card card;
    card.width_mm = wish.paper == Paper::a4 ? 210.0 : 215.9;
    card.height_mm = wish.paper == Paper::a4 ? 297.0 : 279.4;
    const double wide = to_mm(all.width()) + 2 * margin_mm,
                 high = to_mm(all.height()) + 2 * margin_mm + head_mm;
    if (wide > card.width_mm && high <= card.width_mm && wide <= card.height_mm)
        std::swap(card.width_mm, card.height_mm);
    if (wide > card.width_mm || high > card.height_mm)
        return fail_usage(
            fmt::format("a board of {:.0f} × {:.0f} mm", to_mm(all.width()), to_mm(all.height())),
            fmt::format("one that goes onto the paper with {:.0f} mm around it", margin_mm));
    const auto drawing = TemplateArtist(board, wish, all, card.width_mm, card.height_mm).make();
    auto page = drawing_figure(drawing, wish.title, false);
    page.set_paper(card.width_mm, card.height_mm);
    card.pages.push_back(page.finish());
    return card;
}

}  // namespace grayrelic
