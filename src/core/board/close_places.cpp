// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/unions.hpp"
#include "core/board/board_rules.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_hits = 400'000;

struct Hit {
    double distance = 0;
    BoardXY at, from, to;  ///< the stretch of the one edge that is too near
};

/// The part of the edge a-b that is nearer than `limit` to c-d: where it is, is one stretch, for the distance
/// from a line's points to a stretch has one least place.
std::pair<BoardXY, BoardXY> near_part(BoardXY a, BoardXY b, BoardXY c, BoardXY d, double limit) {
    const auto at = [&](double t) {
        return BoardXY{a.x + static_cast<Nm>(std::llround(t * static_cast<double>(b.x - a.x))),
                       a.y + static_cast<Nm>(std::llround(t * static_cast<double>(b.y - a.y)))};
    };
    const auto far = [&](double t) { return distance(at(t), c, d); };
    double low = 0, high = 1;
    for (int i = 0; i < 40; ++i) {
        const double m1 = low + (high - low) / 3, m2 = high - (high - low) / 3;
        if (far(m1) < far(m2))
            high = m2;
        else
            low = m1;
    }
    const double best = (low + high) / 2;
    const auto end = [&](double outside) {
        if (far(outside) < limit) return outside;
        double in = best, out = outside;
        for (int i = 0; i < 30; ++i) (far((in + out) / 2) < limit ? in : out) = (in + out) / 2;
        return in;
    };
    return {at(end(0)), at(end(1))};
}

}  // namespace

std::vector<NearPlace> close_places(const BoardPieces& pieces, const EdgeIndex& index, double limit,
                                    const std::function<bool(std::uint32_t, std::uint32_t)>& apart,
                                    Progress& progress) {
    std::map<std::pair<std::uint32_t, std::uint32_t>, std::vector<Hit>> found;
    std::size_t hits = 0;
    const double below = limit - rule_grace_nm;
    if (below <= 0) return {};
    const auto reach = static_cast<Nm>(std::ceil(limit));
    for (std::uint32_t p = 0; p < pieces.size() && hits < most_hits; ++p) {
        if (progress.cancelled()) return {};
        for (std::uint32_t r = 0; r <= pieces[p].holes.size(); ++r) {
            const auto& ring = r == 0 ? pieces[p].outer : pieces[p].holes[r - 1];
            for (std::size_t i = 0; i < ring.size(); ++i) {
                const auto a = ring[i], b = ring[(i + 1) % ring.size()];
                Extent box;
                box.add(a);
                box.add(b);
                index.near(box.grown(reach), [&](const PieceEdge& e) {
                    if (e.piece <= p) return true;
                    const auto near = approach(a, b, e.a, e.b);
                    if (near.distance >= below || !apart(p, e.piece)) return true;
                    const auto [from, to] = near_part(a, b, e.a, e.b, below);
                    found[{p, e.piece}].push_back({near.distance, near.at, from, to});
                    return ++hits < most_hits;
                });
            }
        }
    }
    std::vector<NearPlace> out;
    for (auto& [pair, list] : found) {
        // Stretches that lie beside each other are one place.
        std::sort(list.begin(), list.end(), [](const Hit& x, const Hit& y) {
            return std::min(x.from.x, x.to.x) < std::min(y.from.x, y.to.x);
        });
        Unions sets(list.size());
        std::vector<std::size_t> open;
        for (std::size_t i = 0; i < list.size(); ++i) {
            const auto left = std::min(list[i].from.x, list[i].to.x);
            std::erase_if(
                open, [&](std::size_t o) { return std::max(list[o].from.x, list[o].to.x) + reach < left; });
            for (const auto o : open)
                if (!sets.same(static_cast<int>(o), static_cast<int>(i)) &&
                    approach(list[o].from, list[o].to, list[i].from, list[i].to).distance <= limit)
                    sets.unite(static_cast<int>(o), static_cast<int>(i));
            open.push_back(i);
        }
        std::map<int, std::size_t> best;
        for (std::size_t i = 0; i < list.size(); ++i) {
            const auto [it, fresh] = best.emplace(sets.find(static_cast<int>(i)), i);
            if (fresh) continue;
            // Of a long run at one distance its longest stretch says where.
            const auto& was = list[it->second];
            const bool alike = std::abs(list[i].distance - was.distance) <= 1'000;
            if (alike ? distance(list[i].from, list[i].to) > distance(was.from, was.to)
                      : list[i].distance < was.distance)
                it->second = i;
        }
        for (const auto& [root, i] : best)
            out.push_back({pair.first, pair.second, list[i].distance, list[i].at});
    }
    return out;
}

}  // namespace grayrelic
