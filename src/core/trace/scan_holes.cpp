// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/scan_holes.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "core/base/unions.hpp"

namespace grayrelic {
namespace {

constexpr double same_hole_mm = 0.6, faint_match_mm = 0.2;

/// Copper around a hole: the pieces met on a round way just outside, and how much of the way is copper.
struct Ring {
    std::vector<int> pieces;
    double share = 0;
};

Ring ring_of(const ScanLayer& layer, const ScanHole& h) {
    Ring out;
    constexpr int many = 24;
    int met = 0;
    for (int k = 0; k < many; ++k) {
        const double angle = 2.0 * std::numbers::pi * k / many;
        for (const double more : {0.09, 0.17}) {
            const double r = h.diameter_mm / 2.0 + std::max(more, (more < 0.1 ? 1.5 : 3.0) / layer.px_per_mm);
            const int piece =
                layer.piece_near(h.x_mm + r * std::cos(angle), h.y_mm + r * std::sin(angle), 0.05);
            if (piece == 0) continue;
            out.pieces.push_back(piece);
            ++met;
            break;
        }
    }
    out.share = static_cast<double>(met) / many;
    return out;
}

/// Pieces of both sides by one number each: the front's, then the back's.
class Copper {
  public:
    explicit Copper(const ScannedBoard& board)
        : front_(board.layers[0].confidence.size()),
          back_(board.layers.size() > 1 ? board.layers[1].confidence.size() : 1),
          one_(front_ + back_) {
        for (const auto& j : board.joins) one_.unite(id(j.side_a, j.piece_a), id(j.side_b, j.piece_b));
    }
    [[nodiscard]] int id(BoardSide side, int piece) const {
        return piece + (side == BoardSide::front ? 0 : static_cast<int>(front_));
    }
    /// Only the pieces of the net that is met most.
    void keep_most(BoardSide side, std::vector<int>& pieces) {
        std::map<int, int> met;
        for (const int p : pieces) ++met[one_.find(id(side, p))];
        const auto most = std::max_element(met.begin(), met.end(),
                                           [](const auto& a, const auto& b) { return a.second < b.second; });
        std::erase_if(pieces, [&](int p) { return one_.find(id(side, p)) != most->first; });
    }
    void unite(const ScanJoin& j) { one_.unite(id(j.side_a, j.piece_a), id(j.side_b, j.piece_b)); }
    void number(ScannedBoard& out) {
        std::vector<int> number(front_ + back_, -1);
        const auto net = [&](std::size_t i) {
            auto& n = number[static_cast<std::size_t>(one_.find(static_cast<int>(i)))];
            if (n < 0) n = out.nets++;
            return n;
        };
        out.net_of_front.assign(front_, -1);
        out.net_of_back.assign(back_, -1);
        for (std::size_t i = 1; i < front_; ++i) out.net_of_front[i] = net(i);
        for (std::size_t i = 1; i < back_; ++i) out.net_of_back[i] = net(front_ + i);
    }

  private:
    std::size_t front_, back_;
    Unions one_;
};

}  // namespace

void join_through_holes(ScannedBoard& out) {
    constexpr double around = 0.55, arrives = 0.12;
    constexpr float whole_ring = 1.0F, part_of_ring = 0.8F;
    Copper copper(out);
    for (auto& h : out.holes) {
        // All copper around the rim is one pad, also where a hair of it was lost.
        ScanJoin join;
        join.x_mm = h.x_mm;
        join.y_mm = h.y_mm;
        float first = 1;
        for (std::size_t k = 0; k < out.layers.size(); ++k) {
            const auto side = k == 0 ? BoardSide::front : BoardSide::back;
            auto ring = ring_of(out.layers[k], h);
            const bool whole = ring.share >= around;
            if (!whole) {
                // A ring of two pixels does not show; the track that arrives does. Both sides have the hole.
                if (!h.both_sides || ring.share < arrives) continue;
                copper.keep_most(side, ring.pieces);
            }
            const float sure = whole ? whole_ring : part_of_ring;
            if (!h.both_sides) join.piece_a = 0;  // dirt looks like a hole, too: each side for itself
            std::sort(ring.pieces.begin(), ring.pieces.end());
            ring.pieces.erase(std::unique(ring.pieces.begin(), ring.pieces.end()), ring.pieces.end());
            for (const int piece : ring.pieces) {
                if (join.piece_a == 0) {
                    join.side_a = side, join.piece_a = piece, first = sure;
                    continue;
                }
                join.side_b = side;
                join.piece_b = piece;
                join.confidence = std::min(first, sure);
                join.why = join.side_a == side ? "around one hole" : "through a hole";
                copper.unite(join);
                out.joins.push_back(join);
            }
        }
    }
    copper.number(out);
}

/// Holes that one side shows for certain, or both in the same place. `seen`: of each side, the certain ones
/// first.
void collect_holes(const std::vector<ScanHole> (&seen)[2], const std::size_t (&certain)[2], bool has_back,
                   ScannedBoard& out) {
    out.holes.assign(seen[0].begin(), seen[0].begin() + static_cast<std::ptrdiff_t>(certain[0]));
    for (std::size_t k = 0; k < seen[1].size(); ++k) {
        const auto& h = seen[1][k];
        const auto here = [&](double within) {
            return [&h, within](const ScanHole& f) {
                return std::hypot(f.x_mm - h.x_mm, f.y_mm - h.y_mm) < within;
            };
        };
        const auto same = std::find_if(out.holes.begin(), out.holes.end(), here(same_hole_mm));
        // What is only another tone counts when the other side has the like at the very place.
        const bool faint = std::any_of(seen[0].begin() + static_cast<std::ptrdiff_t>(certain[0]),
                                       seen[0].end(), here(faint_match_mm));
        if (same != out.holes.end() && (k < certain[1] || here(faint_match_mm)(*same)))
            same->both_sides = true;
        else if (same == out.holes.end() && (k < certain[1] || faint)) {
            out.holes.push_back(h);
            out.holes.back().both_sides = faint;
        }
    }
    for (auto k = certain[0]; k < seen[0].size(); ++k)  // faint on the front, certain on the back
        for (auto& h : out.holes)
            if (std::hypot(seen[0][k].x_mm - h.x_mm, seen[0][k].y_mm - h.y_mm) < faint_match_mm &&
                !h.both_sides)
                h.both_sides = has_back;
}

void find_pads(ScannedBoard& out) {
    for (const auto& h : out.holes)
        for (std::size_t side = 0; side < out.layers.size(); ++side) {
            const auto& layer = out.layers[side];
            const double r = h.diameter_mm / 2.0;
            double size[2] = {0, 0};
            int seen = 0;
            for (int axis = 0; axis < 2; ++axis) {
                // Across the hole: copper, hole, copper; the shorter way out on either side is the pad's rim.
                double rim[2] = {0, 0};
                for (int way = 0; way < 2; ++way) {
                    const double sign = way == 0 ? -1.0 : 1.0;
                    double d = r + 0.12;
                    for (; d < r + 2.0; d += 0.25 / layer.px_per_mm) {
                        const double x = h.x_mm + (axis == 0 ? sign * d : 0),
                                     y = h.y_mm + (axis == 1 ? sign * d : 0);
                        if (layer.at(x, y) != Ground::copper) break;
                    }
                    rim[way] = d;
                }
                if (std::min(rim[0], rim[1]) > r + 0.13) ++seen;
                size[axis] = 2.0 * std::min(rim[0], rim[1]);
            }
            if (seen == 0) continue;
            out.pads.push_back(
                {h.x_mm, h.y_mm, size[0], size[1], side == 0 ? BoardSide::front : BoardSide::back});
        }
}

}  // namespace grayrelic
