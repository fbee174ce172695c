// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/board_rules.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/long_work.hpp"
#include "core/base/text.hpp"
#include "core/base/unions.hpp"
#include "core/board/board_judge.hpp"

namespace grayrelic {
namespace {

double nm_of(double mm) {
    return mm * 1e6;
}

/// A drawn line that is as narrow as its pen for some of its way, with copper on neither side.
bool stands_free(const GerberObject& o, const EdgeIndex& index, double width, BoardXY& where) {
    std::vector<BoardXY> way{o.from};
    if (o.kind == GerberObject::Kind::arc) {
        const auto points = arc_points(o.from, o.to, o.middle, o.clockwise);
        way.insert(way.end(), points.begin(), points.end());
    } else {
        way.push_back(o.to);
    }
    const double off = width / 2 + 10'000;
    bool free = false;
    double best = 2;
    for (std::size_t i = 0; i + 1 < way.size(); ++i) {
        const double dx = static_cast<double>(way[i + 1].x - way[i].x),
                     dy = static_cast<double>(way[i + 1].y - way[i].y), length = std::hypot(dx, dy);
        if (length == 0) continue;
        const int steps = way.size() > 2 ? 1 : 9;
        for (int k = 1; k <= steps; ++k) {
            const double t = static_cast<double>(k) / (steps + 1);
            const double x = static_cast<double>(way[i].x) + t * dx,
                         y = static_cast<double>(way[i].y) + t * dy;
            const auto spot = [&](double side) {
                return BoardXY{static_cast<Nm>(std::llround(x - side * off * dy / length)),
                               static_cast<Nm>(std::llround(y + side * off * dx / length))};
            };
            if (index.piece_at(spot(1)) || index.piece_at(spot(-1)) || !index.piece_at(spot(0))) continue;
            // As near to its middle as it is free.
            const double from_middle =
                std::abs((static_cast<double>(i) + t) / static_cast<double>(way.size() - 1) - 0.5);
            if (!free || from_middle < best) {
                best = from_middle;
                where = spot(0);
            }
            free = true;
        }
    }
    return free;
}

/// The nearest two spots of two ways.
Approach between(const std::vector<BoardXY>& one, const std::vector<BoardXY>& other) {
    Approach near{1e300, {}};
    for (std::size_t a = 0; a < one.size(); ++a)
        for (std::size_t b = 0; b < other.size(); ++b) {
            const auto now = approach(one[a], one[std::min(a + 1, one.size() - 1)], other[b],
                                      other[std::min(b + 1, other.size() - 1)]);
            if (now.distance < near.distance) near = now;
        }
    return near;
}

}  // namespace

void BoardJudge::tracks() {
    const double limit = nm_of(process_.track_mm);
    const auto files = board_.coppers();
    for (std::size_t l = 0; l < files.size(); ++l) {
        const auto& layer = *files[l]->layer;
        struct Thin {
            const GerberObject* object;
            double width, length;
            BoardXY at;
        };
        std::vector<Thin> thin;
        std::map<std::pair<BoardXY, long>, std::size_t> ends;
        std::vector<std::pair<std::size_t, std::size_t>> touching;
        for (const auto& o : layer.objects) {
            if (!o.dark || (o.kind != GerberObject::Kind::line && o.kind != GerberObject::Kind::arc))
                continue;
            const double width = layer.apertures[o.aperture].least() * layer.turns[o.turn].scale;
            BoardXY at;
            if (width <= 0 || width >= limit - rule_grace_nm || !stands_free(o, copper_.index[l], width, at))
                continue;
            for (const auto end : {o.from, o.to}) {
                const auto [it, fresh] = ends.emplace(std::pair(end, std::lround(width)), thin.size());
                if (!fresh) touching.emplace_back(it->second, thin.size());
            }
            thin.push_back({&o, width, distance(o.from, o.to), at});
        }
        Unions sets(thin.size());
        for (const auto& [a, b] : touching) sets.unite(static_cast<int>(a), static_cast<int>(b));
        std::map<int, std::size_t> longest;
        std::map<int, int> count;
        for (std::size_t i = 0; i < thin.size(); ++i) {
            const auto root = sets.find(static_cast<int>(i));
            ++count[root];
            const auto [it, fresh] = longest.emplace(root, i);
            if (!fresh && thin[i].length > thin[it->second].length) it->second = i;
        }
        for (const auto& [root, i] : longest)
            add(BoardRule::track, thin[i].width, limit, thin[i].at, files[l]->name,
                fmt::format("a track {:.3f} mm wide{}", thin[i].width / 1e6,
                            count[root] > 1 ? fmt::format(", {} lines of it", count[root]) : std::string()));
    }
}

void BoardJudge::gaps() {
    const double limit = nm_of(process_.gap_mm);
    for (std::size_t l = 0; l < copper_.layers.size(); ++l) {
        const auto& layer = copper_.layers[l];
        for (const auto& c : close_places(
                 layer.pieces, copper_.index[l], limit, [](auto, auto) { return true; }, progress_))
            add(BoardRule::gap, c.distance, limit, c.at, layer.file,
                fmt::format("{:.3f} mm between two coppers{}", c.distance / 1e6,
                            layer.net[c.a] == layer.net[c.b] ? " of one net" : ""));
    }
}

/// From a hole's middle to the nearest edge of this copper, below 0 where the middle is outside; rings about
/// the middle are the hole drawn in the pad and are passed over.
double BoardJudge::to_edge(const Rings& rings, const std::vector<BoardXY>& way) {
    double least = 1e300;
    bool inside = false;
    for (const auto& ring : rings) {
        const bool about = in_ring(ring, way.front());
        if (signed_area(ring) < 0 && about) continue;
        if (signed_area(ring) > 0 && about) inside = true;
        for (std::size_t i = 0; i < ring.size(); ++i)
            for (std::size_t k = 0; k < way.size(); ++k)
                least = std::min(least, approach(way[k], way[std::min(k + 1, way.size() - 1)], ring[i],
                                                 ring[(i + 1) % ring.size()])
                                            .distance);
    }
    return inside ? least : -least;
}

/// The same in an index, looking no farther than `reach`. What is left open within the hole itself, where a
/// track crosses a pad that is drawn as a ring, is passed over, too.
double BoardJudge::to_edge_near(std::size_t layer, std::uint32_t piece, const std::vector<BoardXY>& way,
                                double reach, double radius) const {
    const auto& p = copper_.layers[layer].pieces[piece];
    Extent box;
    for (const auto s : way) box.add(s);
    const auto drilled = box.grown(static_cast<Nm>(radius) + 5'000);
    const auto within = [&](BoardXY s) {
        for (std::size_t k = 0; k < way.size(); ++k)
            if (distance(s, way[k], way[std::min(k + 1, way.size() - 1)]) <= radius + 5'000) return true;
        return false;
    };
    // Rings that are met, and whether they lie within or about the hole.
    std::map<std::uint32_t, bool> met;
    const auto about = [&](std::uint32_t ring) {
        if (ring == 0) return false;
        const auto [it, fresh] = met.emplace(ring, false);
        if (fresh) {
            const auto& hole = p.holes[ring - 1];
            const auto e = extent_of(hole);
            it->second = (e.holds(way.front()) && in_ring(hole, way.front())) ||
                         (e.meets(drilled) && std::all_of(hole.begin(), hole.end(), within));
        }
        return it->second;
    };
    const bool inside = in_ring(p.outer, way.front());
    double least = reach;
    copper_.index[layer].near(box.grown(static_cast<Nm>(std::ceil(reach))), [&](const PieceEdge& e) {
        if (e.piece != piece || about(e.ring)) return true;
        for (std::size_t k = 0; k < way.size(); ++k)
            least =
                std::min(least, approach(way[k], way[std::min(k + 1, way.size() - 1)], e.a, e.b).distance);
        return true;
    });
    return inside ? least : -least;
}

void BoardJudge::rings() {
    const double limit = nm_of(process_.ring_mm);
    const auto files = board_.coppers();
    // Pads by place, for holes that are not plated: their copper was cut away.
    for (const auto& h : copper_.holes) {
        double least = 1e300;
        std::string file;
        const double radius = h.hole.diameter / 2, reach = radius + limit + 1e6;
        for (std::size_t l = 0; l < copper_.layers.size(); ++l) {
            if (h.hole.plated) {
                for (const auto piece : copper_.index[l].pieces_near(h.hole.way, radius)) {
                    const double ring = to_edge_near(l, piece, h.hole.way, reach, radius) - radius;
                    if (ring < least) {
                        least = ring;
                        file = files[l]->name;
                    }
                }
                continue;
            }
            const auto& layer = *files[l]->layer;
            const auto [begin, end] = flashes_[l].equal_range(cell(h.hole.middle()));
            for (auto it = begin; it != end; ++it) {
                const auto& o = layer.objects[it->second];
                if (distance(o.to, h.hole.middle()) > radius) continue;
                const double ring = to_edge(layer.shape(o), h.hole.way) - radius;
                // A pad smaller than its hole is none.
                if (ring > 0 && ring < least) {
                    least = ring;
                    file = files[l]->name;
                }
            }
        }
        if (least < limit - rule_grace_nm)
            add(BoardRule::ring, least, limit, h.hole.middle(), file,
                least <= 0
                    ? fmt::format("a hole of {:.2f} mm breaks out of its copper", h.hole.diameter / 1e6)
                    : fmt::format("{:.3f} mm of copper around a hole of {:.2f} mm", least / 1e6,
                                  h.hole.diameter / 1e6));
    }
}

void BoardJudge::holes() {
    for (const auto& h : copper_.holes) {
        if (h.hole.diameter < nm_of(process_.hole_mm) - rule_grace_nm)
            add(BoardRule::hole, h.hole.diameter, nm_of(process_.hole_mm), h.hole.middle(), h.file,
                fmt::format("a {} of {:.2f} mm", h.hole.slot() ? "slot" : "hole", h.hole.diameter / 1e6));
        if (!process_.plated && h.hole.plated && h.layers.size() > 1) {
            ++through_;
            add(BoardRule::hole, h.hole.diameter, 0, h.hole.middle(), h.file,
                "a hole that joins the sides by its plating, which this way of making does not give");
        }
    }
    walls();
}

/// Walls between holes, from left to right.
void BoardJudge::walls() {
    std::vector<std::size_t> order(copper_.holes.size());
    double widest = 0;
    std::vector<Extent> boxes(order.size());
    for (std::size_t i = 0; i < order.size(); ++i) {
        order[i] = i;
        for (const auto p : copper_.holes[i].hole.way) boxes[i].add(p);
        widest = std::max(widest, copper_.holes[i].hole.diameter);
    }
    std::sort(order.begin(), order.end(), [&](auto a, auto b) { return boxes[a].left < boxes[b].left; });
    const double limit = nm_of(process_.hole_gap_mm);
    std::vector<std::size_t> open;
    for (const auto i : order) {
        const auto& one = copper_.holes[i];
        std::erase_if(open, [&](std::size_t o) {
            return static_cast<double>(boxes[i].left - boxes[o].right) > widest + limit;
        });
        for (const auto o : open) {
            const auto& other = copper_.holes[o];
            if (!boxes[o].grown(static_cast<Nm>(widest + limit)).meets(boxes[i])) continue;
            if (one.hole.way == other.hole.way && one.hole.diameter == other.hole.diameter)
                continue;  // the same, listed twice
            const auto near = between(one.hole.way, other.hole.way);
            const double wall = near.distance - one.hole.diameter / 2 - other.hole.diameter / 2;
            if (wall < limit - rule_grace_nm)
                add(BoardRule::hole_gap, wall, limit, near.at, one.file,
                    wall < 0 ? "two holes that overlap"
                             : fmt::format("{:.3f} mm between two holes", wall / 1e6));
        }
        open.push_back(i);
        if (progress_.cancelled()) return;
    }
}

void BoardJudge::size() {
    const auto s = board_size(board_, outline_);
    if (!process_.width_mm || s.width_mm <= 0) return;
    const double w = *process_.width_mm, h = *process_.height_mm, grace = rule_grace_nm / 1e6;
    const auto over = [&](double a, double b) { return a > w + grace || b > h + grace; };
    if (!over(s.width_mm, s.height_mm) || !over(s.height_mm, s.width_mm)) return;
    const double large = std::max(s.width_mm, s.height_mm), small = std::min(s.width_mm, s.height_mm);
    const bool by_large = large > std::max(w, h) + grace;
    const auto e = outline_.known() ? extent_of(outline_.outer) : Extent{0, 0, 0, 0};
    const auto* file = board_.find(FileRole::outline);
    add(BoardRule::size, nm_of(by_large ? large : small), nm_of(by_large ? std::max(w, h) : std::min(w, h)),
        {(e.left + e.right) / 2, (e.bottom + e.top) / 2}, file != nullptr ? file->name : std::string(),
        fmt::format("a board of {:.1f} × {:.1f} mm, of {:.0f} × {:.0f} at most", s.width_mm, s.height_mm, w,
                    h));
}

Result<RuleReport> judge_board(const BoardFiles& board, const BoardCopper& copper,
                               const BoardOutline& outline, const BoardProcess& process, Progress& progress) {
    long_work("judge_board");
    return BoardJudge(board, copper, outline, process, progress).judge();
}

}  // namespace grayrelic
