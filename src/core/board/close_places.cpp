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

namespace {

using Hits = std::map<std::pair<std::uint32_t, std::uint32_t>, std::vector<Hit>>;

/// Stretches of edges that lie nearer to another piece than allowed, by pair of pieces.
class Search {
  public:
    Search(const EdgeIndex& index, double limit,
           const std::function<bool(std::uint32_t, std::uint32_t)>& apart)
        : index_(index),
          apart_(apart),
          below_(limit - rule_grace_nm),
          reach_(static_cast<Nm>(std::ceil(limit))) {}
    void look_at(std::uint32_t piece, const Ring& ring) {
        for (std::size_t i = 0; i < ring.size() && hits_ < most_hits; ++i)
            look_at(piece, ring[i], ring[(i + 1) % ring.size()]);
    }
    [[nodiscard]] bool full() const { return hits_ >= most_hits; }
    Hits found;

  private:
    void look_at(std::uint32_t piece, BoardXY a, BoardXY b) {
        Extent box;
        box.add(a);
        box.add(b);
        index_.near(box.grown(reach_), [&](const PieceEdge& e) {
            if (e.piece <= piece) return true;
            const auto near = approach(a, b, e.a, e.b);
            if (near.distance >= below_ || !apart_(piece, e.piece)) return true;
            const auto part = near_part(a, b, e.a, e.b, below_);
            found[{piece, e.piece}].push_back({near.distance, near.at, part.first, part.second});
            return ++hits_ < most_hits;
        });
    }
    const EdgeIndex& index_;
    const std::function<bool(std::uint32_t, std::uint32_t)>& apart_;
    double below_;
    Nm reach_;
    std::size_t hits_ = 0;
};

/// Stretches that lie beside each other are one place.
Unions places_of(std::vector<Hit>& list, double limit) {
    const auto reach = static_cast<Nm>(std::ceil(limit));
    std::sort(list.begin(), list.end(), [](const Hit& x, const Hit& y) {
        return std::min(x.from.x, x.to.x) < std::min(y.from.x, y.to.x);
    });
    Unions sets(list.size());
    std::vector<std::size_t> open;
    for (std::size_t i = 0; i < list.size(); ++i) {
        const auto left = std::min(list[i].from.x, list[i].to.x);
        std::erase_if(open,
                      [&](std::size_t o) { return std::max(list[o].from.x, list[o].to.x) + reach < left; });
        for (const auto o : open)
            if (!sets.same(static_cast<int>(o), static_cast<int>(i)) &&
                approach(list[o].from, list[o].to, list[i].from, list[i].to).distance <= limit)
                sets.unite(static_cast<int>(o), static_cast<int>(i));
        open.push_back(i);
    }
    return sets;
}

/// Of a long run at one distance its longest stretch says where.
bool tells_better(const Hit& now, const Hit& was) {
    if (std::abs(now.distance - was.distance) > 1'000) return now.distance < was.distance;
    return distance(now.from, now.to) > distance(was.from, was.to);
}

}  // namespace

std::vector<NearPlace> close_places(const BoardPieces& pieces, const EdgeIndex& index, double limit,
                                    const std::function<bool(std::uint32_t, std::uint32_t)>& apart,
                                    Progress& progress) {
    if (limit <= rule_grace_nm) return {};
    Search search(index, limit, apart);
    for (std::uint32_t p = 0; p < pieces.size() && !search.full(); ++p) {
        if (progress.cancelled()) return {};
        search.look_at(p, pieces[p].outer);
        for (const auto& hole : pieces[p].holes) search.look_at(p, hole);
    }
    std::vector<NearPlace> out;
    for (auto& found : search.found) {
        auto& list = found.second;
        auto sets = places_of(list, limit);
        std::map<int, std::size_t> best;
        for (std::size_t i = 0; i < list.size(); ++i) {
            const auto [it, fresh] = best.emplace(sets.find(static_cast<int>(i)), i);
            if (!fresh && tells_better(list[i], list[it->second])) it->second = i;
        }
        for (const auto& place : best) {
            const auto& hit = list[place.second];
            out.push_back({found.first.first, found.first.second, hit.distance, hit.at});
        }
    }
    return out;
}

}  // namespace grayrelic
