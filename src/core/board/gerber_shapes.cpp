// SPDX-License-Identifier: GPL-3.0-or-later
// What the objects of a layer cover, and what is left of them in order.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/long_work.hpp"
#include "core/base/text.hpp"
#include "core/base/unions.hpp"
#include "core/board/gerber_words.hpp"

namespace grayrelic {
namespace {

constexpr std::size_t most_looked = 2'000'000'000, most_meeting = 10'000'000, most_shape_corners = 8'000'000;

Ring placed(const Ring& ring, BoardXY at, const ApertureTurn& turn) {
    Ring out;
    out.reserve(ring.size());
    for (const auto p : ring) out.push_back(turned(p, turn) + at);
    // A mirror image turns the other way; holes stay holes.
    if (turn.mirror_x != turn.mirror_y) std::reverse(out.begin(), out.end());
    return out;
}

Extent rough(const GerberLayer& layer, const GerberObject& o) {
    if (o.kind == GerberObject::Kind::region) return {o.from.x, o.from.y, o.to.x, o.to.y};
    const auto& a = layer.apertures[o.aperture];
    const auto& turn = layer.turns[o.turn];
    const auto e = extent_of(a.rings);
    // However it is turned, an aperture stays within the circle of its farthest corner.
    double far = 0;
    for (const auto p : {BoardXY{e.left, e.bottom}, BoardXY{e.right, e.top}, BoardXY{e.left, e.top},
                         BoardXY{e.right, e.bottom}})
        if (!e.empty()) far = std::max(far, distance(p, {}));
    const auto reach = static_cast<Nm>(std::ceil(far * turn.scale)) + 1;
    Extent out;
    out.add(o.to);
    if (o.kind != GerberObject::Kind::flash) out.add(o.from);
    if (o.kind == GerberObject::Kind::arc) {
        const auto r =
            static_cast<Nm>(std::ceil(std::max(distance(o.from, o.middle), distance(o.to, o.middle))));
        out.add(o.middle + BoardXY{r, r});
        out.add(o.middle - BoardXY{r, r});
    }
    return out.grown(reach);
}

}  // namespace

Rings GerberLayer::shape(const GerberObject& o) const {
    if (o.kind == GerberObject::Kind::region) return regions[o.region];
    const auto& a = apertures[o.aperture];
    const auto& turn = turns[o.turn];
    Rings out;
    if (o.kind == GerberObject::Kind::flash) {
        for (const auto& r : a.rings) out.push_back(placed(r, o.to, turn));
        return out;
    }
    std::vector<BoardXY> way{o.from};
    if (o.kind == GerberObject::Kind::arc) {
        const auto points = arc_points(o.from, o.to, o.middle, o.clockwise);
        way.insert(way.end(), points.begin(), points.end());
    } else {
        way.push_back(o.to);
    }
    if (a.rings.empty()) return out;
    const bool round = a.form == Aperture::Form::circle;
    const auto pen = round ? Ring{} : placed(a.rings.front(), {}, turn);
    for (std::size_t i = 0; i + 1 < way.size(); ++i) {
        if (round) {
            out.push_back(stroke_ring(way[i], way[i + 1], a.width / 2 * turn.scale));
        } else {
            Ring both;
            for (const auto end : {way[i], way[i + 1]})
                for (const auto p : pen) both.push_back(p + end);
            out.push_back(convex_hull(std::move(both)));
        }
    }
    if (out.size() > 1) out = joined(out);
    return out;
}

Extent GerberLayer::extent() const {
    Extent out;
    for (const auto& o : objects)
        if (o.dark) out.add(rough(*this, o));
    return out;
}

bool looks_like_gerber(std::string_view text) {
    const auto head = text.substr(0, 4096);
    return head.find("%FS") != std::string_view::npos || head.find("%MO") != std::string_view::npos ||
           head.find("%AD") != std::string_view::npos || head.find("%TF") != std::string_view::npos;
}

namespace {

using Grouped = std::vector<std::pair<int, std::size_t>>;  ///< group and object, sorted

/// What can touch is dealt with together: objects from left to right, joined while their boxes meet.
Result<Grouped> grouped(const GerberLayer& layer, Progress& progress) {
    const auto n = layer.objects.size();
    std::vector<Extent> extents(n);
    std::vector<std::size_t> order(n);
    for (std::size_t i = 0; i < n; ++i) {
        extents[i] = rough(layer, layer.objects[i]);
        order[i] = i;
    }
    std::sort(order.begin(), order.end(), [&](auto a, auto b) { return extents[a].left < extents[b].left; });
    Unions groups(n);
    std::vector<std::size_t> open;
    std::size_t looked = 0, meeting = 0;
    for (const auto i : order) {
        std::size_t kept = 0;
        looked += open.size();
        for (const auto other : open) {
            if (extents[other].right < extents[i].left) continue;
            open[kept++] = other;
            if (!extents[other].meets(extents[i])) continue;
            groups.unite(static_cast<int>(other), static_cast<int>(i));
            ++meeting;
        }
        open.resize(kept);
        open.push_back(i);
        // A drawing of a board has neighbours; one where everything lies over everything is none.
        if (looked > most_looked || meeting > most_meeting)
            return fail_at({}, layer.objects[i].line, "too many objects that lie over each other",
                           "a layer of a board");
        if (progress.cancelled()) return fail_cancelled();
    }
    Grouped out(n);
    for (std::size_t i = 0; i < n; ++i) out[i] = {groups.find(static_cast<int>(i)), i};
    std::sort(out.begin(), out.end());
    return out;
}

/// Objects one after the other: dark ones add, clear ones take away from those before.
class Film {
  public:
    void add(Rings shape, bool dark) {
        if (dark != run_dark_) {
            finish();
            run_dark_ = dark;
        }
        run_.insert(run_.end(), std::make_move_iterator(shape.begin()), std::make_move_iterator(shape.end()));
    }
    BoardPieces pieces() {
        finish();
        return joined_ ? std::move(pieces_) : united(area_);
    }

  private:
    void finish() {
        if (run_.empty()) return;
        if (run_dark_) {
            area_.insert(area_.end(), std::make_move_iterator(run_.begin()),
                         std::make_move_iterator(run_.end()));
            joined_ = false;
        } else if (!area_.empty()) {
            pieces_ = without(area_, run_);
            area_ = rings_of(pieces_);
            joined_ = true;
        }
        run_.clear();
    }
    Rings area_, run_;
    BoardPieces pieces_;
    bool run_dark_ = true, joined_ = true;
};

}  // namespace

Result<BoardPieces> layer_pieces(const GerberLayer& layer, Progress& progress) {
    long_work("layer_pieces");
    const auto by_group = grouped(layer, progress);
    if (!by_group) return fail(by_group.error());
    const auto n = by_group->size();
    BoardPieces out;
    std::size_t corners = 0;
    for (std::size_t i = 0; i < n;) {
        const int group = (*by_group)[i].first;
        Film film;
        for (; i < n && (*by_group)[i].first == group; ++i) {
            const auto& o = layer.objects[(*by_group)[i].second];
            auto shape = layer.shape(o);
            for (const auto& ring : shape) corners += ring.size();
            if (corners > most_shape_corners)
                return fail_at({}, o.line, "a layer of too many corners",
                               fmt::format("at most {}", most_shape_corners));
            film.add(std::move(shape), o.dark);
            if (progress.cancelled()) return fail_cancelled();
        }
        auto pieces = film.pieces();
        out.insert(out.end(), std::make_move_iterator(pieces.begin()), std::make_move_iterator(pieces.end()));
        progress.report(static_cast<double>(i) / static_cast<double>(n));
    }
    return out;
}

}  // namespace grayrelic
