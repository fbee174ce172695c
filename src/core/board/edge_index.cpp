// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/edge_index.hpp"

#include <algorithm>
#include <boost/geometry/geometries/box.hpp>
#include <boost/geometry/geometries/point_xy.hpp>
#include <boost/geometry/index/rtree.hpp>
#include <cmath>

namespace grayrelic {
namespace {

namespace bg = boost::geometry;
using Corner = bg::model::d2::point_xy<double>;
using Box = bg::model::box<Corner>;

Box box_of(const Extent& e) {
    return {Corner(static_cast<double>(e.left), static_cast<double>(e.bottom)),
            Corner(static_cast<double>(e.right), static_cast<double>(e.top))};
}

}  // namespace

struct EdgeIndex::Tree {
    using Entry = std::pair<Box, std::uint32_t>;
    std::vector<PieceEdge> edges;
    bg::index::rtree<Entry, bg::index::linear<16>> by_edge;
    bg::index::rtree<Entry, bg::index::linear<16>> by_piece;
};

EdgeIndex::EdgeIndex(const BoardPieces& pieces) : pieces_(&pieces), tree_(std::make_unique<Tree>()) {
    std::vector<Tree::Entry> edges, boxes;
    for (std::uint32_t p = 0; p < pieces.size(); ++p) {
        boxes.emplace_back(box_of(pieces[p].extent), p);
        for (std::uint32_t r = 0; r <= pieces[p].holes.size(); ++r) {
            const auto& ring = r == 0 ? pieces[p].outer : pieces[p].holes[r - 1];
            for (std::uint32_t i = 0; i < ring.size(); ++i) {
                PieceEdge e{p, r, i, ring[i], ring[(i + 1) % ring.size()]};
                Extent box;
                box.add(e.a);
                box.add(e.b);
                edges.emplace_back(box_of(box), static_cast<std::uint32_t>(tree_->edges.size()));
                tree_->edges.push_back(e);
            }
        }
    }
    tree_->by_edge = decltype(tree_->by_edge)(edges.begin(), edges.end());
    tree_->by_piece = decltype(tree_->by_piece)(boxes.begin(), boxes.end());
}

EdgeIndex::~EdgeIndex() = default;
EdgeIndex::EdgeIndex(EdgeIndex&&) noexcept = default;
EdgeIndex& EdgeIndex::operator=(EdgeIndex&&) noexcept = default;

void EdgeIndex::near(const Extent& box, const std::function<bool(const PieceEdge&)>& visit) const {
    for (auto it = tree_->by_edge.qbegin(bg::index::intersects(box_of(box))); it != tree_->by_edge.qend();
         ++it)
        if (!visit(tree_->edges[it->second])) return;
}

std::optional<std::uint32_t> EdgeIndex::piece_at(BoardXY p) const {
    for (auto it = tree_->by_piece.qbegin(bg::index::intersects(box_of({p.x, p.y, p.x, p.y})));
         it != tree_->by_piece.qend(); ++it)
        if ((*pieces_)[it->second].contains(p)) return it->second;
    return std::nullopt;
}

std::optional<std::size_t> crossings_of(const Ring& ring, std::size_t most) {
    constexpr std::size_t most_visits = 20'000'000;
    const BoardPieces one{{ring, {}, extent_of(ring)}};
    const EdgeIndex index(one);
    const auto side = [](BoardXY a, BoardXY b, BoardXY p) {
        const double cross = static_cast<double>(b.x - a.x) * static_cast<double>(p.y - a.y) -
                             static_cast<double>(b.y - a.y) * static_cast<double>(p.x - a.x);
        return cross > 0 ? 1 : cross < 0 ? -1 : 0;
    };
    std::size_t found = 0, visits = 0;
    for (std::size_t i = 0; i < ring.size(); ++i) {
        const auto a = ring[i], b = ring[(i + 1) % ring.size()];
        Extent box;
        box.add(a);
        box.add(b);
        index.near(box, [&](const PieceEdge& e) {
            if (++visits > most_visits) return false;
            if (e.number > i && side(a, b, e.a) * side(a, b, e.b) < 0 &&
                side(e.a, e.b, a) * side(e.a, e.b, b) < 0)
                ++found;
            return found <= most;
        });
        if (found > most || visits > most_visits) return std::nullopt;
    }
    return found;
}

std::vector<std::uint32_t> EdgeIndex::pieces_near(const std::vector<BoardXY>& way, double within) const {
    std::vector<std::uint32_t> out;
    for (const auto p : way)
        if (const auto piece = piece_at(p)) out.push_back(*piece);
    for (std::size_t i = 0; i < way.size(); i += 1) {
        const auto a = way[i], b = way[std::min(i + 1, way.size() - 1)];
        Extent box;
        box.add(a);
        box.add(b);
        near(box.grown(static_cast<Nm>(std::ceil(within))), [&](const PieceEdge& e) {
            if (approach(a, b, e.a, e.b).distance <= within) out.push_back(e.piece);
            return true;
        });
        if (way.size() == 1) break;
    }
    std::sort(out.begin(), out.end());
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

}  // namespace grayrelic
