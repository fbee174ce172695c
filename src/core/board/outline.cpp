// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/outline.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

namespace grayrelic {
namespace {

constexpr double joined_within = 50'000;  // nanometres

struct Way {
    std::vector<BoardXY> spots;
    bool used = false;
};

/// Ends of ways by place, in cells as wide as what counts as joined.
class Ends {
  public:
    void add(BoardXY p, std::size_t way) { cells_[cell(p)].emplace_back(p, way); }
    /// The nearest end of another way that is not used yet.
    [[nodiscard]] std::optional<std::size_t> near(BoardXY p, const std::vector<Way>& ways) const {
        std::optional<std::size_t> best;
        double least = joined_within;
        const auto c = cell(p);
        for (Nm dx = -1; dx <= 1; ++dx)
            for (Nm dy = -1; dy <= 1; ++dy) {
                const auto it = cells_.find(c + BoardXY{dx, dy});
                if (it == cells_.end()) continue;
                for (const auto& [at, way] : it->second)
                    if (!ways[way].used && distance(at, p) <= least) {
                        least = distance(at, p);
                        best = way;
                    }
            }
        return best;
    }

  private:
    static BoardXY cell(BoardXY p) {
        const auto down = [](Nm v) {
            return static_cast<Nm>(std::floor(static_cast<double>(v) / joined_within));
        };
        return {down(p.x), down(p.y)};
    }
    std::map<BoardXY, std::vector<std::pair<BoardXY, std::size_t>>> cells_;
};

}  // namespace

Rings BoardOutline::rings() const {
    Rings out{outer};
    out.insert(out.end(), cutouts.begin(), cutouts.end());
    return out;
}

namespace {

/// Lines and arcs as ways, and what is closed by itself.
void gather(const GerberLayer& layer, std::vector<Way>& ways, Rings& closed) {
    for (const auto& o : layer.objects) {
        if (!o.dark || o.kind == GerberObject::Kind::flash) continue;
        if (o.kind == GerberObject::Kind::region) {
            for (const auto& ring : layer.regions[o.region]) closed.push_back(turned_left(ring));
            continue;
        }
        Way w{{o.from}, false};
        if (o.kind == GerberObject::Kind::line) {
            if (o.from == o.to) continue;
            w.spots.push_back(o.to);
        } else {
            const auto points = arc_points(o.from, o.to, o.middle, o.clockwise);
            w.spots.insert(w.spots.end(), points.begin(), points.end());
        }
        if (o.from == o.to) {
            w.spots.pop_back();
            closed.push_back(turned_left(std::move(w.spots)));
        } else {
            ways.push_back(std::move(w));
        }
    }
}

/// From one way on to the next at both ends, until it closes or ends.
std::vector<BoardXY> chained(std::vector<Way>& ways, Way& first, const Ends& ends) {
    first.used = true;
    auto chain = first.spots;
    for (int pass = 0; pass < 2; ++pass) {
        while (distance(chain.front(), chain.back()) > joined_within || chain.size() < 3) {
            const auto next = ends.near(chain.back(), ways);
            if (!next) break;
            auto& w = ways[*next];
            w.used = true;
            if (distance(w.spots.back(), chain.back()) < distance(w.spots.front(), chain.back()))
                std::reverse(w.spots.begin(), w.spots.end());
            chain.insert(chain.end(), w.spots.begin() + 1, w.spots.end());
        }
        std::reverse(chain.begin(), chain.end());
    }
    return chain;
}

/// A line drawn twice is one edge.
bool same_edge(const Ring& one, const Ring& other) {
    const auto a = extent_of(one), b = extent_of(other);
    return std::abs(std::abs(signed_area(other)) - signed_area(one)) <= 1e-3 * signed_area(one) &&
           std::abs(to_mm(b.left - a.left)) < 0.1 && std::abs(to_mm(b.bottom - a.bottom)) < 0.1;
}

/// The largest ring is the board; the others lie within it or apart.
void sort_rings(Rings& closed, BoardOutline& out) {
    std::stable_sort(closed.begin(), closed.end(),
                     [](const Ring& a, const Ring& b) { return signed_area(a) > signed_area(b); });
    for (auto& ring : closed) {
        if (ring.size() < 3) continue;
        if (out.outer.empty()) {
            out.outer = std::move(ring);
            continue;
        }
        const auto same = [&](const Ring& other) { return same_edge(ring, other); };
        if (same(out.outer) || std::any_of(out.cutouts.begin(), out.cutouts.end(), same)) continue;
        if (in_ring(out.outer, ring.front())) {
            std::reverse(ring.begin(), ring.end());
            out.cutouts.push_back(std::move(ring));
        } else {
            out.apart.push_back(std::move(ring));
        }
    }
}

}  // namespace

BoardOutline outline_of(const GerberLayer& layer) {
    BoardOutline out;
    std::vector<Way> ways;
    Rings closed;
    gather(layer, ways, closed);
    Ends ends;
    for (std::size_t i = 0; i < ways.size(); ++i) {
        ends.add(ways[i].spots.front(), i);
        ends.add(ways[i].spots.back(), i);
    }
    for (auto& first : ways) {
        if (first.used) continue;
        auto chain = chained(ways, first, ends);
        if (chain.size() >= 4 && distance(chain.front(), chain.back()) <= joined_within) {
            chain.pop_back();
            closed.push_back(turned_left(std::move(chain)));
        } else {
            out.gaps.push_back(chain.front());
            out.gaps.push_back(chain.back());
        }
    }
    sort_rings(closed, out);
    return out;
}

BoardOutline outline_of(const BoardFiles& board) {
    const auto* file = board.find(FileRole::outline);
    return file != nullptr && file->layer ? outline_of(*file->layer) : BoardOutline{};
}

BoardSize board_size(const BoardFiles& board, const BoardOutline& outline) {
    Extent e;
    BoardSize out;
    if (outline.known()) {
        e = extent_of(outline.outer);
        out.from_outline = true;
    } else if (const auto* file = board.find(FileRole::outline); file != nullptr && file->layer) {
        // It does not close: still the lines' middles tell the size.
        for (const auto& o : file->layer->objects) {
            e.add(o.from);
            e.add(o.to);
        }
        out.from_outline = true;
    } else {
        for (const auto& f : board.files)
            if (f.layer && is_copper(f.role)) e.add(f.layer->extent());
    }
    out.width_mm = to_mm(e.width());
    out.height_mm = to_mm(e.height());
    return out;
}

}  // namespace grayrelic
