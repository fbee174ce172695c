// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board/pad_patterns.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <boost/geometry/geometries/box.hpp>
#include <boost/geometry/geometries/point_xy.hpp>
#include <boost/geometry/index/rtree.hpp>
#include <cmath>
#include <set>

#include "core/base/long_work.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

/// Filled shapes larger than this are no pads.
constexpr Nm largest_pad = 12'000'000;

void add_layer(const BoardFile& file, PadSide side, std::vector<Land>& out) {
    for (const auto& o : file.layer->objects) {
        if (!o.dark) continue;
        if (o.kind == GerberObject::Kind::flash) {
            out.push_back({o.to, side});
        } else if (o.kind == GerberObject::Kind::region) {
            const auto e = extent_of(file.layer->regions[o.region]);
            if (e.width() <= largest_pad && e.height() <= largest_pad)
                out.push_back({{(e.left + e.right) / 2, (e.bottom + e.top) / 2}, side});
        }
    }
}

namespace bg = boost::geometry;
using Spot = bg::model::d2::point_xy<double>;
using SpotBox = bg::model::box<Spot>;

class LandIndex {
  public:
    explicit LandIndex(const std::vector<Land>& lands) : lands_(lands) {
        std::vector<std::pair<SpotBox, std::size_t>> spots;
        spots.reserve(lands.size());
        for (std::size_t i = 0; i < lands.size(); ++i)
            spots.emplace_back(SpotBox(spot(lands[i].at), spot(lands[i].at)), i);
        tree_ = decltype(tree_)(spots.begin(), spots.end());
    }
    /// The nearest that will do; nothing within `reach` millimetres.
    [[nodiscard]] std::optional<std::size_t> nearest(double x, double y, double reach, PadSide side,
                                                     bool surface) const {
        std::optional<std::size_t> best;
        double least = reach;
        const SpotBox box(Spot(x - reach, y - reach), Spot(x + reach, y + reach));
        for (auto it = tree_.qbegin(bg::index::intersects(box)); it != tree_.qend(); ++it) {
            const auto& land = lands_[it->second];
            if (surface ? !land.hole && land.side != side && land.side != PadSide::both : !land.hole)
                continue;
            const double off = std::hypot(to_mm(land.at.x) - x, to_mm(land.at.y) - y);
            if (off <= least) {
                least = off;
                best = it->second;
            }
        }
        return best;
    }

  private:
    static Spot spot(BoardXY at) { return {to_mm(at.x), to_mm(at.y)}; }
    const std::vector<Land>& lands_;
    bg::index::rtree<std::pair<SpotBox, std::size_t>, bg::index::linear<16>> tree_;
};

struct Turned {
    std::vector<NumberedPlace> places;  ///< in the files' directions, the first at the origin
    NumberedPlace middle;
};

Turned turned(const PadPattern& pattern, PadSide side, int turn) {
    Turned out;
    static constexpr int cosine[] = {1, 0, -1, 0}, sine[] = {0, 1, 0, -1};
    const double c = cosine[turn / 90 % 4], s = sine[turn / 90 % 4],
                 mirror = side == PadSide::bottom ? -1 : 1;
    double left = 1e9, right = -1e9, bottom = 1e9, top = -1e9;
    for (const auto& p : pattern.places) {
        const double x = (c * p.x_mm - s * p.y_mm) * mirror, y = s * p.x_mm + c * p.y_mm;
        out.places.push_back({p.number, x, y});
        left = std::min(left, x);
        right = std::max(right, x);
        bottom = std::min(bottom, y);
        top = std::max(top, y);
    }
    const auto first = out.places.front();
    for (auto& p : out.places) {
        p.x_mm -= first.x_mm;
        p.y_mm -= first.y_mm;
    }
    out.middle = {"", (left + right) / 2 - first.x_mm, (bottom + top) / 2 - first.y_mm};
    return out;
}

class PatternSearch {
  public:
    PatternSearch(const std::vector<Land>& lands, const PadPattern& pattern, const PatternQuestion& q)
        : lands_(lands), pattern_(pattern), q_(q), index_(lands) {}

    std::vector<PatternPlace> run() {
        for (const auto side : {PadSide::top, PadSide::bottom}) {
            if (q_.side && *q_.side != PadSide::both && *q_.side != side) continue;
            for (const int turn : {0, 90, 180, 270}) try_turn(side, turn);
        }
        std::sort(found_.begin(), found_.end(), [](const PatternPlace& a, const PatternPlace& b) {
            return std::tie(a.residual_mm, a.middle.x, a.middle.y, a.turn_deg) <
                   std::tie(b.residual_mm, b.middle.x, b.middle.y, b.turn_deg);
        });
        return std::move(found_);
    }

  private:
    void try_turn(PadSide side, int turn) {
        const auto t = turned(pattern_, side, turn);
        // The contact that is farthest from the first is tried first: most anchors fail there.
        std::size_t far = 0;
        for (std::size_t i = 0; i < t.places.size(); ++i)
            if (std::hypot(t.places[i].x_mm, t.places[i].y_mm) >
                std::hypot(t.places[far].x_mm, t.places[far].y_mm))
                far = i;
        if (!q_.known.empty()) {
            // Where a contact is known, the first one lies beside it.
            for (const auto& p : t.places)
                if (p.number == q_.known.front().first)
                    try_at(t, far, side, turn, to_mm(q_.known.front().second.x) - p.x_mm,
                           to_mm(q_.known.front().second.y) - p.y_mm);
            return;
        }
        std::set<std::pair<Nm, Nm>> seen;
        for (const auto& land : lands_) {
            if (pattern_.surface ? !land.hole && land.side != side && land.side != PadSide::both : !land.hole)
                continue;
            if (seen.emplace(land.at.x, land.at.y).second)
                try_at(t, far, side, turn, to_mm(land.at.x), to_mm(land.at.y));
        }
    }

    void try_at(const Turned& t, std::size_t far, PadSide side, int turn, double x, double y) {
        const double reach = q_.tolerance_mm;
        if (!index_.nearest(x + t.places[far].x_mm, y + t.places[far].y_mm, 2 * reach, side,
                            pattern_.surface))
            return;
        // The whole is moved by the mean of what its contacts are off, so that the first one's own error
        // counts no more than another's.
        double dx = 0, dy = 0;
        std::vector<std::size_t> at(t.places.size());
        for (int round = 0; round < 2; ++round) {
            double sum_x = 0, sum_y = 0;
            for (std::size_t i = 0; i < t.places.size(); ++i) {
                const double px = x + dx + t.places[i].x_mm, py = y + dy + t.places[i].y_mm;
                const auto land =
                    index_.nearest(px, py, round == 0 ? 2 * reach : reach, side, pattern_.surface);
                if (!land) return;
                at[i] = *land;
                sum_x += to_mm(lands_[*land].at.x) - px;
                sum_y += to_mm(lands_[*land].at.y) - py;
            }
            dx += sum_x / static_cast<double>(at.size());
            dy += sum_y / static_cast<double>(at.size());
        }
        keep(t, at, side, turn, x + dx, y + dy);
    }

    void keep(const Turned& t, const std::vector<std::size_t>& at, PadSide side, int turn, double x,
              double y) {
        if (std::set<std::size_t>(at.begin(), at.end()).size() != at.size()) return;
        PatternPlace p;
        p.side = side;
        p.turn_deg = turn;
        p.middle = {from_mm(x + t.middle.x_mm), from_mm(y + t.middle.y_mm)};
        for (std::size_t i = 0; i < at.size(); ++i) {
            const auto& land = lands_[at[i]];
            p.residual_mm = std::max(p.residual_mm, std::hypot(to_mm(land.at.x) - x - t.places[i].x_mm,
                                                               to_mm(land.at.y) - y - t.places[i].y_mm));
            p.pads.push_back({q_.ref, t.places[i].number, land.at, land.hole ? PadSide::both : side});
        }
        for (const auto& contact : q_.known)
            if (std::none_of(p.pads.begin(), p.pads.end(), [&](const BoardPad& pad) {
                    return pad.pin == contact.first &&
                           distance(pad.at, contact.second, contact.second) <= q_.tolerance_mm * 2e6;
                }))
                return;
        for (const auto& other : found_)
            if (other.side == side && other.turn_deg == turn &&
                distance(other.middle, p.middle, p.middle) < q_.tolerance_mm * 1e6)
                return;
        found_.push_back(std::move(p));
    }

    const std::vector<Land>& lands_;
    const PadPattern& pattern_;
    const PatternQuestion& q_;
    LandIndex index_;
    std::vector<PatternPlace> found_;
};

}  // namespace

std::vector<Land> lands_of(const BoardFiles& board) {
    std::vector<Land> all;
    for (const auto* drill : board.drills()) {
        if (!drill->drill) continue;
        for (const auto& h : drill->drill->holes) all.push_back({h.middle(), PadSide::both, true});
    }
    for (const auto& f : board.files) {
        if (!f.layer) continue;
        if (f.role == FileRole::copper_top || f.role == FileRole::mask_top) add_layer(f, PadSide::top, all);
        if (f.role == FileRole::copper_bottom || f.role == FileRole::mask_bottom)
            add_layer(f, PadSide::bottom, all);
    }
    // A hole's place is that of the pads around it; copper and mask say the same place twice.
    constexpr Nm same = 20'000;
    std::map<std::tuple<Nm, Nm, int>, Land> once;
    std::set<std::pair<Nm, Nm>> holes;
    const auto cell = [](Nm v) { return (v >= 0 ? v + same / 2 : v - same / 2) / same; };
    for (const auto& l : all)
        if (l.hole) holes.emplace(cell(l.at.x), cell(l.at.y));
    for (const auto& l : all)
        if (l.hole || holes.count({cell(l.at.x), cell(l.at.y)}) == 0)
            once.emplace(std::tuple(cell(l.at.x), cell(l.at.y), static_cast<int>(l.side)), l);
    std::vector<Land> out;
    out.reserve(once.size());
    for (const auto& [key, land] : once) out.push_back(land);
    return out;
}

PadPattern pattern_of(const Package& package) {
    PadPattern out;
    out.surface = package.shape->mount == PackageMount::surface;
    for (const auto& p : pads_of(package))
        if (!p.belly) out.places.push_back({p.number, p.x, -p.y});
    return out;
}

Result<PadPattern> pattern_of(const Connector& connector, FaceGender gender, std::string_view numbering) {
    if (connector.id.starts_with("edge-") && gender == FaceGender::plug)
        return fail_usage("a card's edge", "a part that stands on pads: its fingers are named by a table");
    if (!numbering.empty() && connector.numbering(numbering).id != numbering)
        return fail_usage("the numbering " + in_quotes(numbering), "one of " + connector.id);
    PadPattern out;
    out.surface = true;  // there are both kinds of nearly every connector
    for (auto& p : face_places(connector, gender, numbering)) out.places.push_back(std::move(p));
    return out;
}

std::vector<PatternPlace> find_pattern(const std::vector<Land>& lands, const PadPattern& pattern,
                                       const PatternQuestion& question) {
    if (question.known.empty()) long_work("find_pattern");
    if (pattern.places.size() < 2 || lands.size() < pattern.places.size()) return {};
    return PatternSearch(lands, pattern, question).run();
}

}  // namespace grayrelic
