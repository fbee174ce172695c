// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/shape.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <polyclipping/clipper.hpp>

namespace grayrelic {
namespace {

namespace lib = ClipperLib;

lib::Path to_lib(const Ring& ring) {
    lib::Path out;
    out.reserve(ring.size());
    for (const auto p : ring) out.emplace_back(p.x, p.y);
    return out;
}

lib::Paths to_lib(const Rings& rings) {
    lib::Paths out;
    out.reserve(rings.size());
    for (const auto& r : rings) out.push_back(to_lib(r));
    return out;
}

Ring from_lib(const lib::Path& path) {
    Ring out;
    out.reserve(path.size());
    for (const auto& p : path) out.push_back({p.X, p.Y});
    return out;
}

Rings from_lib(const lib::Paths& paths) {
    Rings out;
    out.reserve(paths.size());
    for (const auto& p : paths) out.push_back(from_lib(p));
    return out;
}

BoardPieces pieces_of(const lib::PolyTree& tree) {
    BoardPieces out;
    for (const auto* node = tree.GetFirst(); node != nullptr; node = node->GetNext()) {
        if (node->IsHole() || node->Contour.size() < 3) continue;
        Piece p;
        p.outer = from_lib(node->Contour);
        for (const auto* hole : node->Childs)
            if (hole->Contour.size() >= 3) p.holes.push_back(from_lib(hole->Contour));
        p.extent = extent_of(p.outer);
        out.push_back(std::move(p));
    }
    return out;
}

BoardXY rounded(double x, double y) {
    return {static_cast<Nm>(std::llround(x)), static_cast<Nm>(std::llround(y))};
}

}  // namespace

Nm from_mm(double mm) {
    return static_cast<Nm>(std::llround(mm * 1e6));
}

double distance(BoardXY a, BoardXY b) {
    return std::hypot(static_cast<double>(a.x - b.x), static_cast<double>(a.y - b.y));
}

void Extent::add(BoardXY p) {
    if (empty()) {
        *this = {p.x, p.y, p.x, p.y};
        return;
    }
    left = std::min(left, p.x);
    right = std::max(right, p.x);
    bottom = std::min(bottom, p.y);
    top = std::max(top, p.y);
}

void Extent::add(const Extent& o) {
    if (o.empty()) return;
    add(BoardXY{o.left, o.bottom});
    add(BoardXY{o.right, o.top});
}

Extent extent_of(const Ring& ring) {
    Extent out;
    for (const auto p : ring) out.add(p);
    return out;
}

Extent extent_of(const Rings& rings) {
    Extent out;
    for (const auto& r : rings) out.add(extent_of(r));
    return out;
}

double signed_area(const Ring& ring) {
    if (ring.size() < 3) return 0;
    // About the first point: products of far coordinates would lose what matters.
    const auto o = ring.front();
    double sum = 0;
    for (std::size_t i = 1; i + 1 < ring.size(); ++i) {
        const auto a = ring[i] - o, b = ring[i + 1] - o;
        sum += static_cast<double>(a.x) * static_cast<double>(b.y) -
               static_cast<double>(b.x) * static_cast<double>(a.y);
    }
    return sum / 2;
}

double signed_area(const Rings& rings) {
    double sum = 0;
    for (const auto& r : rings) sum += signed_area(r);
    return sum;
}

bool in_ring(const Ring& ring, BoardXY p) {
    // Crossings of a ray to the right; on the edge counts as inside.
    bool inside = false;
    for (std::size_t i = 0, j = ring.size() - 1; i < ring.size(); j = i++) {
        const auto a = ring[j], b = ring[i];
        if ((a.y > p.y) == (b.y > p.y)) {
            if (a.y == p.y && b.y == p.y && p.x >= std::min(a.x, b.x) && p.x <= std::max(a.x, b.x))
                return true;
            if (p == a || p == b) return true;
            continue;
        }
        const auto side = static_cast<double>(b.x - a.x) * static_cast<double>(p.y - a.y) -
                          static_cast<double>(p.x - a.x) * static_cast<double>(b.y - a.y);
        if (side == 0) return true;
        if ((side > 0) == (b.y > a.y)) inside = !inside;
    }
    return inside;
}

bool Piece::contains(BoardXY p) const {
    if (!extent.holds(p) || !in_ring(outer, p)) return false;
    return std::none_of(holes.begin(), holes.end(), [&](const Ring& h) {
        if (!in_ring(h, p)) return false;
        for (std::size_t i = 0, j = h.size() - 1; i < h.size(); j = i++)
            if (distance(p, h[j], h[i]) < 0.5) return false;
        return true;
    });
}

double Piece::area() const {
    return signed_area(outer) + signed_area(holes);
}

Rings rings_of(const BoardPieces& pieces) {
    Rings out;
    for (const auto& p : pieces) {
        out.push_back(p.outer);
        out.insert(out.end(), p.holes.begin(), p.holes.end());
    }
    return out;
}

int circle_steps(double radius) {
    if (radius <= arc_error) return 16;
    const double step = 2 * std::acos(1 - arc_error / radius);
    const int n = static_cast<int>(std::ceil(2 * std::numbers::pi / step / 4)) * 4;
    return std::clamp(n, 16, 2048);
}

Ring circle_ring(BoardXY middle, double radius) {
    const int n = circle_steps(radius);
    const double step = 2 * std::numbers::pi / n;
    const double r = radius * std::sqrt(step / std::sin(step));  // so that its area is the circle's
    Ring out;
    out.reserve(static_cast<std::size_t>(n));
    for (int i = 0; i < n; ++i)
        out.push_back(rounded(static_cast<double>(middle.x) + r * std::cos(step * (i + 0.5)),
                              static_cast<double>(middle.y) + r * std::sin(step * (i + 0.5))));
    return out;
}

Ring stroke_ring(BoardXY a, BoardXY b, double radius) {
    if (a == b) return circle_ring(a, radius);
    const int half = circle_steps(radius) / 2;
    const double step = std::numbers::pi / half;
    const double along = std::atan2(static_cast<double>(b.y - a.y), static_cast<double>(b.x - a.x));
    Ring out;
    out.reserve(2 * static_cast<std::size_t>(half) + 2);
    for (const int end : {0, 1}) {
        const auto m = end == 0 ? b : a;
        const double begin = along - std::numbers::pi / 2 + end * std::numbers::pi;
        for (int i = 0; i <= half; ++i)
            out.push_back(rounded(static_cast<double>(m.x) + radius * std::cos(begin + step * i),
                                  static_cast<double>(m.y) + radius * std::sin(begin + step * i)));
    }
    return out;
}

Ring convex_hull(Ring points) {
    // Andrew's monotone chain (1979).
    std::sort(points.begin(), points.end());
    points.erase(std::unique(points.begin(), points.end()), points.end());
    if (points.size() < 3) return points;
    const auto turn = [](BoardXY a, BoardXY b, BoardXY c) {
        return static_cast<double>(b.x - a.x) * static_cast<double>(c.y - a.y) -
               static_cast<double>(b.y - a.y) * static_cast<double>(c.x - a.x);
    };
    Ring out;
    for (int pass = 0; pass < 2; ++pass) {
        const auto base = out.size();
        for (const auto p : points) {
            while (out.size() >= base + 2 && turn(out[out.size() - 2], out.back(), p) <= 0) out.pop_back();
            out.push_back(p);
        }
        out.pop_back();
        std::reverse(points.begin(), points.end());
    }
    return out;
}

std::vector<BoardXY> arc_points(BoardXY from, BoardXY to, BoardXY middle, bool clockwise) {
    const auto fx = static_cast<double>(from.x - middle.x), fy = static_cast<double>(from.y - middle.y);
    const auto tx = static_cast<double>(to.x - middle.x), ty = static_cast<double>(to.y - middle.y);
    const double r0 = std::hypot(fx, fy), r1 = std::hypot(tx, ty);
    const double begin = std::atan2(fy, fx);
    double sweep = std::atan2(ty, tx) - begin;
    const double whole = 2 * std::numbers::pi;
    if (from == to)
        sweep = clockwise ? -whole : whole;
    else if (clockwise && sweep >= 0)
        sweep -= whole;
    else if (!clockwise && sweep <= 0)
        sweep += whole;
    const int n =
        std::max(1, static_cast<int>(std::ceil(std::abs(sweep) / whole * circle_steps(std::max(r0, r1)))));
    std::vector<BoardXY> out;
    out.reserve(static_cast<std::size_t>(n));
    for (int i = 1; i < n; ++i) {
        const double share = static_cast<double>(i) / n, r = r0 + (r1 - r0) * share,
                     angle = begin + sweep * share;
        out.push_back(rounded(static_cast<double>(middle.x) + r * std::cos(angle),
                              static_cast<double>(middle.y) + r * std::sin(angle)));
    }
    out.push_back(to);
    return out;
}

Ring turned_left(Ring ring) {
    if (signed_area(ring) < 0) std::reverse(ring.begin(), ring.end());
    return ring;
}

BoardPieces united(const Rings& rings) {
    if (rings.empty()) return {};
    lib::Clipper clipper;
    clipper.AddPaths(to_lib(rings), lib::ptSubject, true);
    lib::PolyTree tree;
    clipper.Execute(lib::ctUnion, tree, lib::pftNonZero, lib::pftNonZero);
    return pieces_of(tree);
}

Rings joined(const Rings& rings) {
    return rings_of(united(rings));
}

BoardPieces without(const Rings& rings, const Rings& taken_away) {
    if (rings.empty()) return {};
    lib::Clipper clipper;
    clipper.AddPaths(to_lib(rings), lib::ptSubject, true);
    clipper.AddPaths(to_lib(taken_away), lib::ptClip, true);
    lib::PolyTree tree;
    clipper.Execute(lib::ctDifference, tree, lib::pftNonZero, lib::pftNonZero);
    return pieces_of(tree);
}

Rings overlap(const Rings& a, const Rings& b) {
    if (a.empty() || b.empty()) return {};
    lib::Clipper clipper;
    clipper.AddPaths(to_lib(a), lib::ptSubject, true);
    clipper.AddPaths(to_lib(b), lib::ptClip, true);
    lib::Paths out;
    clipper.Execute(lib::ctIntersection, out, lib::pftNonZero, lib::pftNonZero);
    return from_lib(out);
}

BoardPieces grown(const Rings& rings, double by) {
    if (rings.empty()) return {};
    lib::ClipperOffset offset(2.0, arc_error);
    offset.AddPaths(to_lib(rings), lib::jtRound, lib::etClosedPolygon);
    lib::PolyTree tree;
    offset.Execute(tree, by);
    return pieces_of(tree);
}

double distance(BoardXY p, BoardXY a, BoardXY b) {
    const auto ux = static_cast<double>(b.x - a.x), uy = static_cast<double>(b.y - a.y);
    const auto px = static_cast<double>(p.x - a.x), py = static_cast<double>(p.y - a.y);
    const double long2 = ux * ux + uy * uy;
    const double t = long2 > 0 ? std::clamp((px * ux + py * uy) / long2, 0.0, 1.0) : 0.0;
    return std::hypot(px - t * ux, py - t * uy);
}

Approach approach(BoardXY a, BoardXY b, BoardXY c, BoardXY d) {
    const auto cross = [](BoardXY o, BoardXY p, BoardXY q) {
        return static_cast<double>(p.x - o.x) * static_cast<double>(q.y - o.y) -
               static_cast<double>(p.y - o.y) * static_cast<double>(q.x - o.x);
    };
    const double c1 = cross(a, b, c), c2 = cross(a, b, d), c3 = cross(c, d, a), c4 = cross(c, d, b);
    if (((c1 > 0 && c2 < 0) || (c1 < 0 && c2 > 0)) && ((c3 > 0 && c4 < 0) || (c3 < 0 && c4 > 0))) {
        const double t = c3 / (c3 - c4);
        return {0, rounded(static_cast<double>(a.x) + t * static_cast<double>(b.x - a.x),
                           static_cast<double>(a.y) + t * static_cast<double>(b.y - a.y))};
    }
    // The nearest is at an end of one of them; of equally near ones the middle.
    struct Near {
        double d, x, y;
    };
    const auto foot = [](BoardXY p, BoardXY s, BoardXY e) {
        const auto ux = static_cast<double>(e.x - s.x), uy = static_cast<double>(e.y - s.y);
        const auto px = static_cast<double>(p.x - s.x), py = static_cast<double>(p.y - s.y);
        const double long2 = ux * ux + uy * uy;
        const double t = long2 > 0 ? std::clamp((px * ux + py * uy) / long2, 0.0, 1.0) : 0.0;
        const double dx = px - t * ux, dy = py - t * uy;
        return Near{std::hypot(dx, dy), static_cast<double>(p.x) - dx / 2, static_cast<double>(p.y) - dy / 2};
    };
    const Near all[] = {foot(a, c, d), foot(b, c, d), foot(c, a, b), foot(d, a, b)};
    double least = all[0].d;
    for (const auto& n : all) least = std::min(least, n.d);
    double x = 0, y = 0;
    int count = 0;
    for (const auto& n : all)
        if (n.d <= least + 1) {
            x += n.x;
            y += n.y;
            ++count;
        }
    return {least, rounded(x / count, y / count)};
}

}  // namespace grayrelic
