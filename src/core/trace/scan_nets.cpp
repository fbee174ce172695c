// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/palette.hpp"
#include "core/base/unions.hpp"
#include "core/trace/nets.hpp"
#include "core/trace/scan.hpp"

namespace grayrelic {

namespace {

/// The surest ways through the copper: of all joins those that make the weakest place of any way as sure as
/// it can be (a spanning forest, the surest joins first).
class Ways {
  public:
    explicit Ways(const ScannedBoard& scan) : scan_(scan), back_(scan.layers[0].confidence.size()) {
        const auto many = back_ + (scan.layers.size() > 1 ? scan.layers[1].confidence.size() : 1);
        from_.resize(many);
        std::vector<const ScanJoin*> joins;
        for (const auto& j : scan.joins) joins.push_back(&j);
        std::stable_sort(joins.begin(), joins.end(),
                         [&](const ScanJoin* a, const ScanJoin* b) { return surety(*a) > surety(*b); });
        Unions one(many);
        for (const auto* j : joins) {
            const auto a = id(j->side_a, j->piece_a), b = id(j->side_b, j->piece_b);
            if (!one.unite(static_cast<int>(a), static_cast<int>(b))) continue;
            from_[a].push_back({b, j});
            from_[b].push_back({a, j});
        }
    }
    /// How surely the copper at one place leads to each of the others.
    [[nodiscard]] std::vector<ScanPath> paths(const std::vector<std::pair<BoardSide, int>>& places) const {
        std::map<std::size_t, ScanPath> seen;
        std::vector<std::size_t> queue{id(places.front().first, places.front().second)};
        seen[queue.front()].confidence = copper(queue.front());
        while (!queue.empty()) {
            const auto at = queue.back();
            queue.pop_back();
            for (const auto& [to, join] : from_[at]) {
                if (seen.count(to) != 0) continue;
                auto path = seen[at];
                if (join->confidence < path.confidence) {
                    path.confidence = join->confidence;
                    path.weakest = UnknownPlace{join->x_mm,    join->y_mm,    join->side_a,
                                                join->piece_a, join->piece_b, join->why};
                }
                if (copper(to) < path.confidence) path = {copper(to), std::nullopt};
                seen[to] = std::move(path);
                queue.push_back(to);
            }
        }
        std::vector<ScanPath> out;
        out.reserve(places.size());
        for (const auto& [side, piece] : places) out.push_back(seen[id(side, piece)]);
        return out;
    }

  private:
    struct Step {
        std::size_t to;
        const ScanJoin* join;
    };
    [[nodiscard]] std::size_t id(BoardSide side, int piece) const {
        return static_cast<std::size_t>(piece) + (side == BoardSide::front ? 0 : back_);
    }
    [[nodiscard]] double copper(std::size_t id) const {
        return id < back_ ? scan_.layers[0].confidence[id] : scan_.layers[1].confidence[id - back_];
    }
    [[nodiscard]] double surety(const ScanJoin& j) const {
        return std::min({static_cast<double>(j.confidence), copper(id(j.side_a, j.piece_a)),
                         copper(id(j.side_b, j.piece_b))});
    }
    const ScannedBoard& scan_;
    std::size_t back_;
    std::vector<std::vector<Step>> from_;
};

/// Nets that lead to copper which comes near what can't be seen.
std::vector<char> lead_into_unknown(const ScannedBoard& scan) {
    std::vector<char> out(static_cast<std::size_t>(scan.nets), 0);
    for (std::size_t side = 0; side < scan.layers.size(); ++side) {
        const auto& nets = side == 0 ? scan.net_of_front : scan.net_of_back;
        for (std::size_t i = 1; i < nets.size(); ++i)
            if (nets[i] >= 0 && scan.layers[side].touches_unknown[i] != 0)
                out[static_cast<std::size_t>(nets[i])] = 1;
    }
    return out;
}

/// Where two nets may meet, then where one rests on a guess; what would join two named ones first.
std::vector<ScanQuestion> questions_of(const ScannedBoard& scan, const std::vector<ScanNet>& found,
                                       const std::map<int, int>& first_point) {
    std::vector<ScanQuestion> out;
    for (std::size_t side = 0; side < scan.layers.size(); ++side) {
        const auto& nets = side == 0 ? scan.net_of_front : scan.net_of_back;
        for (const auto& u : scan.layers[side].unknown) {
            const auto net = [&](int piece) {
                return piece > 0 ? nets[static_cast<std::size_t>(piece)] : -1;
            };
            const auto point = [&](int n) {
                const auto at = first_point.find(n);
                return at == first_point.end() ? -1 : at->second;
            };
            const int a = net(u.piece_a), b = net(u.piece_b);
            if (a != b) out.push_back({u, point(a), point(b)});
        }
    }
    std::stable_sort(out.begin(), out.end(), [](const ScanQuestion& x, const ScanQuestion& y) {
        return (x.a >= 0) + (x.b >= 0) > (y.a >= 0) + (y.b >= 0);
    });
    std::vector<ScanQuestion> guesses;
    for (const auto& n : found)
        for (std::size_t k = 1; k < n.points.size(); ++k)
            if (const auto& weak = n.paths[k].weakest; weak && n.paths[k].confidence < sure_join)
                guesses.push_back({*weak, n.points.front(), n.points[k], true});
    std::stable_sort(guesses.begin(), guesses.end(), [](const ScanQuestion& x, const ScanQuestion& y) {
        return std::pair(x.place.x_mm, x.place.y_mm) < std::pair(y.place.x_mm, y.place.y_mm);
    });
    // One probe settles a place, whatever else hangs on it.
    const auto last = std::unique(guesses.begin(), guesses.end(), [](const auto& x, const auto& y) {
        return x.place.x_mm == y.place.x_mm && x.place.y_mm == y.place.y_mm;
    });
    out.insert(out.end(), guesses.begin(), last);
    return out;
}

}  // namespace

ScanNets nets_of_scan(const ScannedBoard& scan, const BoardModel& board) {
    ScanNets out;
    std::map<int, std::vector<int>> by_net;
    std::map<int, std::pair<BoardSide, int>> copper;  // by point
    for (std::size_t p = 0; p < board.points.size(); ++p) {
        if (!board.points[p].place) continue;
        const auto found = scan.piece_at(*board.points[p].place);
        if (!found) {
            out.unseen.push_back(static_cast<int>(p));
            continue;
        }
        copper[static_cast<int>(p)] = *found;
        by_net[scan.net_of(*found)].push_back(static_cast<int>(p));
    }
    const Ways ways(scan);
    const auto unknown = lead_into_unknown(scan);
    std::map<int, int> first_point;
    for (auto& [net, points] : by_net) {
        first_point[net] = points.front();
        std::vector<std::pair<BoardSide, int>> places;
        for (const int p : points) places.push_back(copper[p]);
        ScanNet one;
        one.paths = ways.paths(places);
        one.confidence = 1;
        for (const auto& path : one.paths) one.confidence = std::min(one.confidence, path.confidence);
        one.points = std::move(points);
        one.touches_unknown = unknown[static_cast<std::size_t>(net)] != 0;
        out.nets.push_back(std::move(one));
    }
    out.questions = questions_of(scan, out.nets, first_point);
    return out;
}

std::vector<MeterReading> merge_scan(const ScanNets& scan, const BoardModel& board, const NetState& ledger,
                                     double least) {
    std::vector<MeterReading> out;
    const auto net_of = [&](int p) {
        return p < static_cast<int>(ledger.net_of.size()) ? ledger.net_of[static_cast<std::size_t>(p)]
                                                          : -1 - p;
    };
    for (const auto& net : scan.nets) {
        if (net.points.empty()) continue;
        // One reading to each net of the ledger that it does not join yet; none to one it must not join.
        std::set<int> met{net_of(net.points.front())};
        for (std::size_t k = 1; k < net.points.size(); ++k) {
            const int p = net.points[k], n = net_of(p);
            const auto& path = net.paths[k];
            if (path.confidence < least || met.count(n) > 0) continue;
            const bool contradicted = std::any_of(
                met.begin(), met.end(), [&](int m) { return m >= 0 && n >= 0 && ledger.separated(m, n); });
            if (contradicted) continue;
            met.insert(n);
            MeterReading r;
            r.a = board.table.name(net.points.front());
            r.b = board.table.name(p);
            r.tool = "scan";
            r.note = path.weakest
                         ? fmt::format("copper in the scans, confidence {:.2f}: {} at {:.2f}, {:.2f} mm, {}",
                                       path.confidence, path.weakest->why, path.weakest->x_mm,
                                       path.weakest->y_mm, word(path.weakest->side))
                         : fmt::format("copper seen in the scans, confidence {:.2f}", path.confidence);
            out.push_back(std::move(r));
        }
    }
    return out;
}

std::vector<CopperRun> copper_along(const ScanLayer& layer, double x1, double y1, double x2, double y2) {
    std::vector<CopperRun> out;
    const double length = std::hypot(x2 - x1, y2 - y1);
    if (!(length > 0) || length > 2000.0 || layer.px_per_mm <= 0) return out;
    // A quarter of a pixel: fine against the rim of a track, which is blurred over about two.
    const auto steps = static_cast<long>(std::ceil(length * layer.px_per_mm * 4.0));
    bool on = false;
    for (long i = 0; i <= steps; ++i) {
        const double t = static_cast<double>(i) / static_cast<double>(steps);
        const bool copper = layer.at(x1 + t * (x2 - x1), y1 + t * (y2 - y1)) == Ground::copper;
        if (copper && !on) out.push_back({t * length, t * length});
        if (copper) out.back().to_mm = t * length;
        on = copper;
    }
    return out;
}

std::string scan_csv(const ScannedBoard& scan) {
    std::string out = "kind,side,x_mm,y_mm,width_mm,height_mm,hole_mm\n";
    for (const auto& [x, y] : scan.outline) out += fmt::format("outline,both,{:.3f},{:.3f},,,\n", x, y);
    for (const auto& p : scan.pads)
        out += fmt::format("pad,{},{:.3f},{:.3f},{:.3f},{:.3f},\n", word(p.side), p.x_mm, p.y_mm, p.width_mm,
                           p.height_mm);
    for (const auto& h : scan.holes)
        out += fmt::format("hole,{},{:.3f},{:.3f},,,{:.3f}\n", h.both_sides ? "both" : "one", h.x_mm, h.y_mm,
                           h.diameter_mm);
    return out;
}

std::string scan_svg(const ScannedBoard& scan) {
    double x0 = 1e300, y0 = 1e300, x1 = -1e300, y1 = -1e300;
    const auto note = [&](double x, double y) {
        x0 = std::min(x0, x), x1 = std::max(x1, x);
        y0 = std::min(y0, y), y1 = std::max(y1, y);
    };
    for (const auto& [x, y] : scan.outline) note(x, y);
    for (const auto& h : scan.holes) note(h.x_mm, h.y_mm);
    if (x1 < x0) x0 = y0 = 0, x1 = y1 = 10;
    std::string out = fmt::format(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" "
        "width=\"{0:.3f}mm\" height=\"{1:.3f}mm\" "
        "viewBox=\"{2:.3f} {3:.3f} {0:.3f} {1:.3f}\">\n<title>Outline, pads and holes in "
        "millimetres</title>\n",
        x1 - x0 + 4, y1 - y0 + 4, x0 - 2, y0 - 2);
    if (!scan.outline.empty()) {
        out += in_colours(
            "<polygon id=\"outline\" fill=\"none\" stroke=\"@ink\" stroke-width=\"0.1\" points=\"");
        for (const auto& [x, y] : scan.outline) out += fmt::format("{:.3f},{:.3f} ", x, y);
        out += "\"/>\n";
    }
    for (const auto side : {BoardSide::front, BoardSide::back}) {
        out += fmt::format("<g id=\"pads-{}\" fill=\"none\" stroke=\"{}\" stroke-width=\"0.08\">\n",
                           word(side), side == BoardSide::front ? paper::umber : paper::ink2);
        for (const auto& p : scan.pads)
            if (p.side == side)
                out += fmt::format("<ellipse cx=\"{:.3f}\" cy=\"{:.3f}\" rx=\"{:.3f}\" ry=\"{:.3f}\"/>\n",
                                   p.x_mm, p.y_mm, p.width_mm / 2, p.height_mm / 2);
        out += "</g>\n";
    }
    out += in_colours("<g id=\"holes\" fill=\"@ink\">\n");
    for (const auto& h : scan.holes)
        out += fmt::format("<circle cx=\"{:.3f}\" cy=\"{:.3f}\" r=\"{:.3f}\"/>\n", h.x_mm, h.y_mm,
                           h.diameter_mm / 2);
    return out + "</g>\n</svg>\n";
}

}  // namespace grayrelic
