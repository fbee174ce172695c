// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/stack_figure.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr double label_room = 96, rim = 10, head_room = 24, between_views = 34, foot_room = 26,
                 most_dots = 4000;

Ink ink_of(Verdict v) {
    return v == Verdict::stop ? Ink::stop : v == Verdict::doubt ? Ink::doubt : Ink::ink2;
}

class StackArtist {
  public:
    StackArtist(const StackResult& r, const BoardStack& of, double width, double height) : r_(r), of_(of) {
        d_.width = std::max(width, 240.0);
        d_.height = std::max(height, 220.0);
        measure();
    }

    Drawing make() {
        if (seen_.empty()) {
            d_.texts.push_back({d_.width / 2, d_.height / 2, "no level's pads or edge are known yet",
                                Ink::ink2, Drawing::Anchor::middle, 12});
            return std::move(d_);
        }
        d_.texts.push_back({rim, 14, "from above", Ink::ink2, Drawing::Anchor::start, 11});
        plan();
        d_.texts.push_back({rim, section_top_ - 8,
                            heights_ > 1
                                ? fmt::format("from the front, heights {:g} times as large", heights_)
                                : "from the front",
                            Ink::ink2, Drawing::Anchor::start, 11});
        section();
        bar();
        return std::move(d_);
    }

  private:
    static Rings edge_of(const StackBoard& b) {
        Rings out;
        for (const auto& ring : b.outline) {
            Ring moved;
            for (const auto& p : ring) moved.push_back(in_stack(b, p));
            out.push_back(std::move(moved));
        }
        if (out.empty() && !b.pads.empty()) {
            Extent box;
            for (const auto& p : b.pads) box.add(in_stack(b, p.at));
            box = box.grown(from_mm(2.54));
            out.push_back(
                {{box.left, box.bottom}, {box.right, box.bottom}, {box.right, box.top}, {box.left, box.top}});
        }
        return out;
    }

    void measure() {
        double z = 0;
        for (std::size_t i = 0; i < r_.boards.size(); ++i) {
            const auto& b = r_.boards[i];
            edges_.push_back(edge_of(b));
            for (const auto& ring : edges_.back())
                for (const auto& p : ring) seen_.add(p);
            if (i > 0) z += b.gap_mm.value_or(unknown_gap);
            base_.push_back(z);
            low_ = std::min(low_, z);
            for (const auto& body : b.bodies) {
                const bool up = body.back == b.over;
                low_ = std::min(low_, up ? z : z - body.height_mm);
                high_ = std::max(high_, z + b.thick_mm + (up ? body.height_mm : 0));
            }
            z += b.thick_mm;
            high_ = std::max(high_, z);
        }
        if (seen_.empty()) return;
        const double wide = std::max(1.0, to_mm(seen_.width())), deep = std::max(1.0, to_mm(seen_.height()));
        const double tall = std::max(1.0, high_ - low_);
        const double room_x = d_.width - label_room - 2 * rim,
                     room_y = d_.height - head_room - between_views - foot_room;
        // Heights are drawn larger where there is room, so that gaps can be read.
        for (const double times : {4.0, 3.0, 2.0, 1.0}) {
            scale_ = std::min(room_x / wide, room_y / (deep + tall * times));
            heights_ = times;
            if (room_x / wide <= room_y / (deep + tall * times) * 1.001) break;
        }
        section_top_ = head_room + deep * scale_ + between_views;
        section_foot_ = section_top_ + tall * heights_ * scale_;
    }

    double x_of(Nm x) const { return label_room + rim + to_mm(x - seen_.left) * scale_; }
    double y_of(Nm y) const { return head_room + to_mm(seen_.top - y) * scale_; }
    double z_of(double z) const { return section_foot_ - (z - low_) * heights_ * scale_; }
    static Ink ink_at(std::size_t level) {
        constexpr Ink inks[] = {Ink::relic, Ink::bridge, Ink::both};
        return inks[level % 3];
    }

    void plan() {
        for (std::size_t i = 0; i < edges_.size(); ++i) {
            Drawing::Area area;
            for (const auto& ring : edges_[i]) {
                std::vector<std::pair<double, double>> points;
                points.reserve(ring.size());
                for (const auto& p : ring) points.emplace_back(x_of(p.x), y_of(p.y));
                area.rings.push_back(std::move(points));
            }
            if (area.rings.empty()) continue;
            area.ink = ink_at(i);
            area.strength = 0.1;
            area.edge = ink_at(i);
            area.edge_dashed = r_.boards[i].outline.empty();
            d_.areas.push_back(std::move(area));
        }
        std::size_t dots = 0;
        for (const auto& c : r_.geometry.covered)
            if (++dots <= static_cast<std::size_t>(most_dots))
                d_.circles.push_back({x_of(c.at.x), y_of(c.at.y), std::clamp(0.5 * scale_, 1.0, 3.0),
                                      ink_at(c.level), c.up, 1});
        for (const auto& c : r_.geometry.clashes) {
            const auto* low = body(c.lower, c.lower_part);
            const auto* up = body(c.upper, c.upper_part);
            for (const auto& [level, part] : {std::pair(c.lower, low), {c.upper, up}}) {
                if (part == nullptr) continue;
                const auto box = in_stack(r_.boards[level], part->box);
                const double x = x_of(box.left), y = y_of(box.top);
                d_.areas.push_back({{{{x, y},
                                      {x + to_mm(box.width()) * scale_, y},
                                      {x + to_mm(box.width()) * scale_, y + to_mm(box.height()) * scale_},
                                      {x, y + to_mm(box.height()) * scale_}}},
                                    ink_of(c.verdict),
                                    0.25,
                                    ink_of(c.verdict)});
            }
        }
    }

    const PartBody* body(std::size_t level, const std::string& ref) const {
        for (const auto& b : r_.boards[level].bodies)
            if (b.ref == ref) return &b;
        return nullptr;
    }

    void box(Nm left, Nm right, double z0, double z1, Ink ink, double strength, Verdict verdict) {
        const double x0 = x_of(left), x1 = x_of(right), y0 = z_of(z1), y1 = z_of(z0);
        Drawing::Area a{{{{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}}}, ink, strength, ink, 1};
        if (verdict == Verdict::stop || verdict == Verdict::doubt) {
            a.edge = ink_of(verdict);
            a.edge_width = 2.5;
        }
        d_.areas.push_back(std::move(a));
    }

    bool under_another(std::size_t level, const Extent& box, bool up) const {
        bool outermost = true;
        for (std::size_t k = 0; k < edges_.size(); ++k) {
            if (k == level || (k > level) != up) continue;
            outermost = false;
            if (!edges_[k].empty() && extent_of(edges_[k].front()).meets(box)) return true;
        }
        return outermost;
    }

    Verdict verdict_of(std::size_t level, const std::string& ref) const {
        auto v = Verdict::holds;
        for (const auto& c : r_.geometry.clashes)
            if ((c.lower == level && c.lower_part == ref) || (c.upper == level && c.upper_part == ref))
                v = worse(v, c.verdict);
        return v;
    }

    void section() {
        for (std::size_t i = 0; i < r_.boards.size(); ++i) {
            const auto& b = r_.boards[i];
            Extent e;
            for (const auto& ring : edges_[i])
                for (const auto& p : ring) e.add(p);
            if (e.empty()) continue;
            const double z = base_[i];
            for (const auto& part : b.bodies) {
                if (b.joins.count(part.ref) != 0) continue;
                const auto at = in_stack(b, part.box);
                const bool up = part.back == b.over;
                // What no other level lies over stands in front of it, or behind.
                const double strength = under_another(i, at, up) ? 0.35 : 0.06;
                box(at.left, at.right, up ? z + b.thick_mm : z - part.height_mm,
                    up ? z + b.thick_mm + part.height_mm : z, strength < 0.1 ? Ink::hairline : ink_at(i),
                    strength, verdict_of(i, part.ref));
            }
            box(e.left, e.right, z, z + b.thick_mm, ink_at(i), 0.8, Verdict::holds);
            const double y = z_of(z + b.thick_mm / 2) + 4;
            d_.texts.push_back({label_room, y, shortened(level_title(of_.levels[i]), 16), ink_at(i),
                                Drawing::Anchor::end, 11, true});
            d_.places.push_back({"level:" + b.name, 0, y - 12, d_.width, 16});
            if (i > 0) gap(i);
        }
        connectors();
    }

    void gap(std::size_t i) {
        const auto& b = r_.boards[i];
        const double top = z_of(base_[i]), bottom = z_of(base_[i - 1] + r_.boards[i - 1].thick_mm);
        const bool known = b.gap_mm.has_value();
        d_.texts.push_back({label_room, (top + bottom) / 2 + 4,
                            known ? fmt::format("{:g} mm", *b.gap_mm) : "gap not known",
                            known ? Ink::ink2 : Ink::doubt, Drawing::Anchor::end, 11, false, known});
    }

    void connectors() {
        for (const auto& j : of_.joins) {
            if (j.kind == JoinKind::cable) continue;
            std::optional<std::size_t> ends[2];
            Extent at[2];
            for (int e = 0; e < 2; ++e) {
                const auto& name = e == 0 ? j.lower : j.upper;
                const auto slash = name.find('/');
                for (std::size_t i = 0; i < r_.boards.size(); ++i) {
                    if (slash == std::string::npos || r_.boards[i].name != name.substr(0, slash)) continue;
                    for (const auto& p : r_.boards[i].pads)
                        if (p.ref == name.substr(slash + 1)) {
                            at[e].add(in_stack(r_.boards[i], p.at));
                            ends[e] = i;
                        }
                }
            }
            if (!ends[0] || !ends[1]) continue;
            const auto low = std::min(*ends[0], *ends[1]), up = std::max(*ends[0], *ends[1]);
            const auto e = at[*ends[0] == low ? 0 : 1].grown(from_mm(1));
            const double x0 = x_of(e.left), x1 = x_of(e.right);
            const double y0 = z_of(base_[up]), y1 = z_of(base_[low] + r_.boards[low].thick_mm);
            d_.areas.push_back({{{{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}}}, Ink::ink, 0.12, Ink::ink, 1});
        }
    }

    void bar() {
        const double length = scale_ * 10 < 160 ? 10 : 5;
        const double y = d_.height - 8;
        d_.lines.push_back({rim, y, rim + length * scale_, y, Ink::ink2, 2});
        d_.texts.push_back({rim + length * scale_ + 6, y + 3, fmt::format("{:g} mm", length), Ink::ink2,
                            Drawing::Anchor::start, 11, false, true});
    }

    static constexpr double unknown_gap = 8;
    const StackResult& r_;
    const BoardStack& of_;
    Drawing d_;
    std::vector<Rings> edges_;
    std::vector<double> base_;  ///< height of each level's lower face
    Extent seen_;
    double low_ = 0, high_ = 0, scale_ = 1, heights_ = 1, section_top_ = 0, section_foot_ = 0;
};

BoardXY laid_in(BoardXY p, const InsideAnswer& a) {
    switch (a.turn_deg) {
        case 90: p = {-p.y, p.x}; break;
        case 180: p = {-p.x, -p.y}; break;
        case 270: p = {p.y, -p.x}; break;
        default: break;
    }
    return {p.x + a.shift.x, p.y + a.shift.y};
}

}  // namespace

Drawing draw_stack(const StackResult& stack, const BoardStack& of, double width, double height) {
    return StackArtist(stack, of, width, height).make();
}

Drawing draw_case(const BoardCase& in, const BoardOutline& board, double width, double height) {
    Drawing d;
    d.width = std::max(width, 200.0);
    d.height = std::max(height, 160.0);
    if (!in.drawing) {
        d.texts.push_back(
            {d.width / 2, d.height / 2, shortened(in.problem, 60), Ink::ink2, Drawing::Anchor::middle, 12});
        return d;
    }
    Rings edge;
    if (in.judged)
        for (const auto& ring : board.rings()) {
            Ring moved;
            for (const auto& p : ring) moved.push_back(laid_in(p, in.answer));
            edge.push_back(std::move(moved));
        }
    const auto room = in.drawing->outline.rings();
    Extent seen = extent_of(room);
    if (!edge.empty()) seen.add(extent_of(edge));
    const double scale = std::min((d.width - 2 * rim) / std::max(1.0, to_mm(seen.width())),
                                  (d.height - 2 * rim - foot_room) / std::max(1.0, to_mm(seen.height())));
    const auto at = [&](BoardXY p) {
        return std::pair(rim + to_mm(p.x - seen.left) * scale, rim + to_mm(seen.top - p.y) * scale);
    };
    const auto add = [&](const Rings& rings, Ink ink, double strength) {
        Drawing::Area a;
        for (const auto& ring : rings) {
            std::vector<std::pair<double, double>> points;
            points.reserve(ring.size());
            for (const auto& p : ring) points.push_back(at(p));
            a.rings.push_back(std::move(points));
        }
        a.ink = ink;
        a.strength = strength;
        a.edge = ink;
        if (!a.rings.empty()) d.areas.push_back(std::move(a));
    };
    add(room, Ink::relic, 0.08);
    add(edge, Ink::bridge, 0.25);
    if (in.judged) {
        const auto [x, y] = at(in.answer.at);
        const auto ink = !in.answer.inside ? Ink::stop : in.answer.least_mm < 0.2 ? Ink::doubt : Ink::holds;
        d.circles.push_back({x, y, 6, ink, false, 2});
        d.texts.push_back({rim, d.height - 8,
                           in.answer.inside
                               ? fmt::format("at the least {:.2f} mm, turned by {}\u00b0", in.answer.least_mm,
                                             in.answer.turn_deg)
                               : fmt::format("stands out by {:.2f} mm, turned by {}\u00b0",
                                             std::max(0.0, -in.answer.least_mm), in.answer.turn_deg),
                           ink, Drawing::Anchor::start, 12, true});
    }
    return d;
}

}  // namespace grayrelic
