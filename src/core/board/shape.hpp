// SPDX-License-Identifier: GPL-3.0-or-later
// Flat shapes in whole nanometres: rings, their union and difference, what lies where. Joining, cutting and
// growing are done by the library polyclipping (Debian's libpolyclipping-dev).
//
// x to the right, y upwards, as in fabrication files. A ring is closed without repeating its first point. An
// outer ring turns counter-clockwise, a ring around a hole clockwise; area is then positive and negative.
#pragma once

#include <cstdint>
#include <vector>

#include "core/base/progress.hpp"
#include "core/base/result.hpp"

namespace grayrelic {

using Nm = std::int64_t;
[[nodiscard]] constexpr double to_mm(Nm v) {
    return static_cast<double>(v) * 1e-6;
}
[[nodiscard]] Nm from_mm(double mm);

struct BoardXY {
    Nm x = 0, y = 0;
    bool operator==(const BoardXY&) const = default;
    auto operator<=>(const BoardXY&) const = default;
    friend BoardXY operator+(BoardXY a, BoardXY b) { return {a.x + b.x, a.y + b.y}; }
    friend BoardXY operator-(BoardXY a, BoardXY b) { return {a.x - b.x, a.y - b.y}; }
};
[[nodiscard]] double distance(BoardXY a, BoardXY b);  ///< nanometres

/// Empty while left is right of right.
struct Extent {
    Nm left = 1, bottom = 1, right = 0, top = 0;
    [[nodiscard]] bool empty() const { return left > right; }
    [[nodiscard]] Nm width() const { return empty() ? 0 : right - left; }
    [[nodiscard]] Nm height() const { return empty() ? 0 : top - bottom; }
    [[nodiscard]] bool holds(BoardXY p) const {
        return p.x >= left && p.x <= right && p.y >= bottom && p.y <= top;
    }
    [[nodiscard]] bool meets(const Extent& o) const {
        return !empty() && !o.empty() && left <= o.right && o.left <= right && bottom <= o.top &&
               o.bottom <= top;
    }
    [[nodiscard]] Extent grown(Nm by) const { return {left - by, bottom - by, right + by, top + by}; }
    void add(BoardXY p);
    void add(const Extent& o);
};

using Ring = std::vector<BoardXY>;
using Rings = std::vector<Ring>;
[[nodiscard]] Extent extent_of(const Ring& ring);
[[nodiscard]] Extent extent_of(const Rings& rings);
/// Square nanometres; negative where it turns clockwise.
[[nodiscard]] double signed_area(const Ring& ring);
[[nodiscard]] double signed_area(const Rings& rings);
/// Inside or on the edge.
[[nodiscard]] bool in_ring(const Ring& ring, BoardXY p);

/// One connected shape: an outer ring and the rings of its holes.
struct Piece {
    Ring outer;
    Rings holes;
    Extent extent;
    [[nodiscard]] bool contains(BoardXY p) const;
    [[nodiscard]] double area() const;  ///< square nanometres
};
using BoardPieces = std::vector<Piece>;
[[nodiscard]] Rings rings_of(const BoardPieces& pieces);

/// Straight pieces of a circle never lie farther from it than this, in nanometres.
inline constexpr double arc_error = 2500;
/// How many straight pieces a whole circle of this radius has: at least 16, a multiple of 4.
[[nodiscard]] int circle_steps(double radius);
/// With as many sides as the error allows, of the circle's area.
[[nodiscard]] Ring circle_ring(BoardXY middle, double radius);
/// What a round pen leaves on its way from a to b.
[[nodiscard]] Ring stroke_ring(BoardXY a, BoardXY b, double radius);
[[nodiscard]] Ring convex_hull(Ring points);
/// Points on an arc, from `from` (left out) to `to` (as given). A whole circle where they are the same spot.
[[nodiscard]] std::vector<BoardXY> arc_points(BoardXY from, BoardXY to, BoardXY middle, bool clockwise);
/// Outer rings counter-clockwise.
[[nodiscard]] Ring turned_left(Ring ring);

/// What is inside of rings by the rule that winding is not zero, as pieces. Cancellable.
[[nodiscard]] BoardPieces united(const Rings& rings);
[[nodiscard]] Rings joined(const Rings& rings);
[[nodiscard]] BoardPieces without(const Rings& rings, const Rings& taken_away);
[[nodiscard]] Rings overlap(const Rings& a, const Rings& b);
/// Wider by this much on all sides, round at the corners; narrower for a negative one.
[[nodiscard]] BoardPieces grown(const Rings& rings, double by);

/// From a spot to a stretch, and between two stretches; zero where they cross.
[[nodiscard]] double distance(BoardXY p, BoardXY a, BoardXY b);
struct Approach {
    double distance = 0;  ///< nanometres
    BoardXY at;  ///< half way between the two nearest spots; in the middle of the run where they are parallel
};
[[nodiscard]] Approach approach(BoardXY a, BoardXY b, BoardXY c, BoardXY d);

}  // namespace grayrelic
