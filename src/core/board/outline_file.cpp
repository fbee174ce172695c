// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/outline_file.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/text.hpp"
#include "core/board/edge_index.hpp"
#include "core/board/outline_readers.hpp"

namespace grayrelic {
namespace {

constexpr double widest = 2000;  ///< millimetres

/// Chained by the same hand that chains a board's outline.
Result<BoardOutline> outline_of_ways(const WayList& list, const std::string& name) {
    GerberLayer layer;
    layer.apertures.emplace_back();
    for (const auto& w : list.ways) {
        const auto add = [&](std::pair<double, double> a, std::pair<double, double> b) {
            GerberObject o;
            o.kind = GerberObject::Kind::line;
            o.from = {from_mm(a.first), from_mm(a.second)};
            o.to = {from_mm(b.first), from_mm(b.second)};
            o.line = w.line;
            if (!(o.from == o.to)) layer.objects.push_back(o);
        };
        for (const auto& [x, y] : w.points)
            if (!(std::abs(x) <= widest && std::abs(y) <= widest))
                return fail_at(name, w.line, fmt::format("a place at {:.0f}, {:.0f} mm", x, y),
                               fmt::format("millimetres within {:.0f}: is the unit right?", widest));
        for (std::size_t i = 1; i < w.points.size(); ++i) add(w.points[i - 1], w.points[i]);
        if (w.closed && w.points.size() > 2) add(w.points.back(), w.points.front());
    }
    return outline_of(layer);
}

Ring turned(const Ring& ring, int deg) {
    Ring out;
    for (const auto p : ring)
        out.push_back(deg == 0     ? p
                      : deg == 90  ? BoardXY{-p.y, p.x}
                      : deg == 180 ? BoardXY{-p.x, -p.y}
                                   : BoardXY{p.y, -p.x});
    return out;
}

/// What of the case stands into the board, and how far: a post touches none of the board's edges, a nose of
/// the wall only two.
struct StandsIn {
    double depth = 0;  ///< nanometres
    BoardXY at;
};
StandsIn stands_in(const Ring& board, const Rings& room) {
    StandsIn out;
    for (const auto& ring : room)
        for (const auto& p : ring) {
            if (!in_ring(board, p)) continue;
            double near = 1e18;
            for (std::size_t i = 0; i < board.size(); ++i)
                near = std::min(near, distance(p, board[i], board[(i + 1) % board.size()]));
            if (near > out.depth) out = {near, p};
        }
    return out;
}

/// How far the edges are from each other: of a ring that stands out, how far it does.
InsideAnswer judge(const Ring& board, const BoardOutline& room) {
    InsideAnswer out;
    BoardPieces edges;
    Rings all{room.outer};
    all.insert(all.end(), room.cutouts.begin(), room.cutouts.end());
    for (const auto& r : all) edges.push_back({r, {}, extent_of(r)});
    const auto free_at = [&](BoardXY p) {
        if (!in_ring(room.outer, p)) return false;
        return std::none_of(room.cutouts.begin(), room.cutouts.end(),
                            [&](const Ring& c) { return in_ring(c, p); });
    };
    double least = 1e18, most_out = 0;
    for (std::size_t i = 0; i < board.size(); ++i) {
        const auto a = board[i], b = board[(i + 1) % board.size()];
        for (const auto& ring : all) {
            double near = 1e18;
            BoardXY at;
            for (std::size_t k = 0; k < ring.size(); ++k) {
                const auto way = approach(a, b, ring[k], ring[(k + 1) % ring.size()]);
                if (way.distance < near) {
                    near = way.distance;
                    at = way.at;
                }
            }
            if (near < least) {
                least = near;
                out.at = at;
            }
        }
        if (!free_at(a)) {
            double near = 1e18;
            for (const auto& ring : all)
                for (std::size_t k = 0; k < ring.size(); ++k)
                    near = std::min(near, distance(a, ring[k], ring[(k + 1) % ring.size()]));
            if (near >= most_out) {
                most_out = near;
                out.at = a;
            }
            out.inside = false;
            least = 0;
        }
    }
    if (const auto in = stands_in(board, all); in.depth > 0) {
        least = 0;
        if (in.depth > most_out) {
            most_out = in.depth;
            out.at = in.at;
        }
    }
    out.inside = most_out == 0 && least > 0;
    out.least_mm = most_out > 0 ? -most_out / 1e6 : least / 1e6;
    return out;
}

}  // namespace

Result<OutlineDrawing> read_outline(std::string_view text, const std::string& name) {
    if (text.size() > most_outline_bytes)
        return fail_at(name, 0, fmt::format("{} MB", text.size() >> 20U), "a drawing of at most 32 MB");
    const auto head = trim(text.substr(0, 4096));
    if (head.empty()) return fail_at(name, 1, "nothing", "an SVG or DXF drawing");
    if (head.substr(0, 40).find("Binary DXF") != std::string_view::npos)
        return fail_at(name, 1, "a binary DXF", "DXF as text");
    const bool svg = head.starts_with("<") || head.starts_with("\xEF\xBB\xBF<");
    const auto ways = svg ? read_svg_ways(text, name) : read_dxf_ways(text, name);
    if (!ways) return fail(ways.error());
    auto outline = outline_of_ways(*ways, name);
    if (!outline) return fail(outline.error());
    if (!outline->known()) {
        const auto line = ways->ways.empty() ? 1 : ways->ways.front().line;
        if (outline->gaps.empty()) return fail_at(name, line, "no way that closes", "an outline");
        const auto gap = outline->gaps.front();
        return fail_at(
            name, line,
            fmt::format("a way that ends at {:.2f}, {:.2f} mm without going on", to_mm(gap.x), to_mm(gap.y)),
            "an outline that closes");
    }
    OutlineDrawing out{std::move(*outline), ways->remarks};
    for (const auto gap : out.outline.gaps)
        if (out.remarks.size() < 20)
            out.remarks.push_back(
                fmt::format("a way ends at {:.2f}, {:.2f} mm without going on", to_mm(gap.x), to_mm(gap.y)));
    return out;
}

InsideAnswer lies_inside(const Ring& board, const BoardOutline& room, const InsideQuestion& q) {
    InsideAnswer best;
    best.least_mm = -1e9;
    for (const int deg : {0, 90, 180, 270}) {
        if (q.turn_deg && *q.turn_deg != deg) continue;
        auto ring = turned(board, deg);
        const auto own = extent_of(ring), there = extent_of(room.outer);
        const BoardXY shift = q.shift ? *q.shift
                                      : BoardXY{(there.left + there.right - own.left - own.right) / 2,
                                                (there.bottom + there.top - own.bottom - own.top) / 2};
        for (auto& p : ring) p = {p.x + shift.x, p.y + shift.y};
        auto answer = judge(ring, room);
        answer.turn_deg = deg;
        answer.shift = shift;
        if (answer.least_mm > best.least_mm) best = answer;
    }
    return best;
}

}  // namespace grayrelic
