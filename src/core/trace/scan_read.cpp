// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <iterator>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>
#include <thread>

#include "core/trace/scan.hpp"
#include "core/trace/scan_ground.hpp"
#include "core/trace/scan_holes.hpp"

namespace grayrelic {
namespace {

using Seen = scan_ground::Side;

constexpr double most_grid_pixels = 60e6;
constexpr double hole_match_mm = 0.6;

/// The grid that holds what the front shows.
struct Grid {
    int width = 0, height = 0;
    double px_per_mm = 0, x0 = 0, y0 = 0;
};

Grid grid_of(const ScanPicture& front) {
    double x0 = 1e300, y0 = 1e300, x1 = -1e300, y1 = -1e300;
    for (const double u : {0.0, static_cast<double>(front.pixels.width - 1)})
        for (const double v : {0.0, static_cast<double>(front.pixels.height - 1)}) {
            const auto [x, y] = front.placement.to_mm(u, v);
            x0 = std::min(x0, x), x1 = std::max(x1, x);
            y0 = std::min(y0, y), y1 = std::max(y1, y);
        }
    Grid g;
    const double area = std::max(1e-9, (x1 - x0) * (y1 - y0));
    g.px_per_mm = std::min(front.placement.px_per_mm, std::sqrt(most_grid_pixels / area));
    g.x0 = x0;
    g.y0 = y0;
    g.width = std::max(1, static_cast<int>(std::ceil((x1 - x0) * g.px_per_mm)) + 1);
    g.height = std::max(1, static_cast<int>(std::ceil((y1 - y0) * g.px_per_mm)) + 1);
    return g;
}

cv::Mat lay(const ScanPicture& picture, const std::array<double, 6>& m, const Grid& g) {
    const cv::Mat source(picture.pixels.height, picture.pixels.width, CV_8UC3,
                         const_cast<std::uint8_t*>(picture.pixels.rgb.data()));  // read only
    // Grid pixel (i, j) lies at x0 + i/s, y0 + j/s; its colour is at m of that.
    const double s = 1.0 / g.px_per_mm;
    const cv::Matx23d map(m[0] * s, m[1] * s, m[0] * g.x0 + m[1] * g.y0 + m[2], m[3] * s, m[4] * s,
                          m[3] * g.x0 + m[4] * g.y0 + m[5]);
    cv::Mat out;
    cv::warpAffine(source, out, map, cv::Size(g.width, g.height), cv::INTER_LINEAR | cv::WARP_INVERSE_MAP,
                   cv::BORDER_REPLICATE);
    return out;
}

std::vector<scan_ground::Touch> touches_of(const std::vector<ScanClick>& clicks, const Grid& g) {
    std::vector<scan_ground::Touch> out;
    for (const auto& c : clicks) {
        const double x = (c.x_mm - g.x0) * g.px_per_mm, y = (c.y_mm - g.y0) * g.px_per_mm;
        if (std::abs(x) < 1e6 && std::abs(y) < 1e6)
            out.push_back({c.kind, {static_cast<int>(std::lround(x)), static_cast<int>(std::lround(y))}});
    }
    return out;
}

/// Fits the back's map to the front's holes; gives what is left over, in mm.
std::optional<double> register_back(const std::vector<ScanHole>& front, const std::vector<ScanHole>& back,
                                    std::array<double, 6>& m) {
    std::vector<std::pair<const ScanHole*, const ScanHole*>> pairs;
    // A first offset by vote lets the references be a millimetre or two out.
    double dx = 0, dy = 0;
    int most = 0;
    for (std::size_t i = 0; i < std::min<std::size_t>(front.size(), 60); ++i)
        for (const auto& b : back) {
            const double ox = b.x_mm - front[i].x_mm, oy = b.y_mm - front[i].y_mm;
            if (std::hypot(ox, oy) > 2.0) continue;
            int votes = 0;
            for (const auto& f : front)
                for (const auto& q : back)
                    if (std::abs(q.x_mm - f.x_mm - ox) < 0.25 && std::abs(q.y_mm - f.y_mm - oy) < 0.25) {
                        ++votes;
                        break;
                    }
            if (votes > most) most = votes, dx = ox, dy = oy;
        }
    for (const auto& f : front) {
        const ScanHole* best = nullptr;
        double least = hole_match_mm;
        for (const auto& b : back)
            if (const double d = std::hypot(b.x_mm - dx - f.x_mm, b.y_mm - dy - f.y_mm); d < least)
                least = d, best = &b;
        if (best != nullptr) pairs.emplace_back(&f, best);
    }
    if (pairs.size() < 3) return std::nullopt;
    const auto n = static_cast<Eigen::Index>(pairs.size());
    Eigen::MatrixXd a(n, 3);
    Eigen::MatrixXd to(n, 2);
    for (Eigen::Index i = 0; i < n; ++i) {
        const auto& [f, b] = pairs[static_cast<std::size_t>(i)];
        a.row(i) << f->x_mm, f->y_mm, 1.0;
        to.row(i) << b->x_mm, b->y_mm;
    }
    const auto solver = a.colPivHouseholderQr();
    if (solver.rank() < 3) return std::nullopt;
    const Eigen::MatrixXd s = solver.solve(to);  // true place -> place under the old map
    const auto old = m;
    for (std::size_t first = 0; first < 6; first += 3) {  // of each row
        const double p = old[first], q = old[first + 1], r = old[first + 2];
        m[first] = p * s(0, 0) + q * s(0, 1);
        m[first + 1] = p * s(1, 0) + q * s(1, 1);
        m[first + 2] = p * s(2, 0) + q * s(2, 1) + r;
    }
    const Eigen::MatrixXd left = a * s - to;
    return std::sqrt(left.squaredNorm() / static_cast<double>(n));
}

/// What a person drew, as 1 + Ground for each pixel.
cv::Mat1b draw(const std::vector<ScanStroke>& strokes, const Grid& g) {
    cv::Mat1b out = scan_ground::plane(cv::Mat1b::zeros(g.height, g.width));
    for (const auto& s : strokes) {
        const auto at = [&](double x, double y) {
            // Sixteenths of a pixel, as cv::line takes them.
            return cv::Point(
                static_cast<int>(std::lround(std::clamp((x - g.x0) * g.px_per_mm, -1e6, 1e6) * 16.0)),
                static_cast<int>(std::lround(std::clamp((y - g.y0) * g.px_per_mm, -1e6, 1e6) * 16.0)));
        };
        const auto value = s.kind == StrokeKind::join  ? Ground::copper
                           : s.kind == StrokeKind::cut ? Ground::board
                                                       : Ground::unknown;
        const int thick = std::clamp(static_cast<int>(std::lround(s.width_mm * g.px_per_mm)), 1, 2000);
        cv::line(out, at(s.x1_mm, s.y1_mm), at(s.x2_mm, s.y2_mm),
                 cv::Scalar(1.0 + static_cast<double>(value)), thick, cv::LINE_8, 4);
    }
    return out;
}

void measure_outline(const Seen& side, const Grid& g, ScannedBoard& out) {
    if (side.rim.outline.empty()) return;
    std::vector<cv::Point2f> points;
    for (const auto& p : side.rim.outline) points.push_back(p);
    const auto box = cv::minAreaRect(points);
    // Pixel middles: the rim lies half a pixel outside.
    out.width_mm = (box.size.width + 1.0) / g.px_per_mm;
    out.height_mm = (box.size.height + 1.0) / g.px_per_mm;
    const double turn = std::abs(std::remainder(static_cast<double>(box.angle), 180.0));
    if (turn > 45.0) std::swap(out.width_mm, out.height_mm);
    std::vector<cv::Point2f> corners;
    cv::approxPolyDP(points, corners, 0.3 * g.px_per_mm, true);
    for (const auto& c : corners)
        out.outline.emplace_back(g.x0 + c.x / g.px_per_mm, g.y0 + c.y / g.px_per_mm);
}

}  // namespace

Ground ScanLayer::at(double x, double y) const {
    const long i = std::lround((x - x0_mm) * px_per_mm), j = std::lround((y - y0_mm) * px_per_mm);
    if (i < 0 || j < 0 || i >= width || j >= height) return Ground::outside;
    return ground[static_cast<std::size_t>(j) * static_cast<std::size_t>(width) +
                  static_cast<std::size_t>(i)];
}

int ScanLayer::piece_near(double x, double y, double within) const {
    const double ci = (x - x0_mm) * px_per_mm, cj = (y - y0_mm) * px_per_mm, r = within * px_per_mm;
    if (!(std::abs(ci) < 1e8) || !(std::abs(cj) < 1e8)) return 0;
    double least = r * r + 1.0;
    int found = 0;
    for (int j = std::max(0, static_cast<int>(cj - r)); j <= std::min<double>(height - 1, cj + r + 1); ++j)
        for (int i = std::max(0, static_cast<int>(ci - r)); i <= std::min<double>(width - 1, ci + r + 1);
             ++i) {
            const int p = piece[static_cast<std::size_t>(j) * static_cast<std::size_t>(width) +
                                static_cast<std::size_t>(i)];
            const double d = (i - ci) * (i - ci) + (j - cj) * (j - cj);
            if (p > 0 && d < least) least = d, found = p;
        }
    return found;
}

std::optional<std::pair<BoardSide, int>> ScannedBoard::piece_at(const BoardPlace& place,
                                                                double within) const {
    // The nearest copper, on either side: a pad's own before a neighbour's.
    for (const double reach : {0.25, 0.5, within})
        for (std::size_t k = 0; k < layers.size() && reach <= within; ++k) {
            const auto side = k == 0 ? BoardSide::front : BoardSide::back;
            if (place.side && *place.side != side) continue;
            if (const int p = layers[k].piece_near(place.x_mm, place.y_mm, reach); p > 0)
                return std::pair{side, p};
        }
    return std::nullopt;
}

int ScannedBoard::net_at(const BoardPlace& place, double within) const {
    const auto found = piece_at(place, within);
    return found ? net_of(*found) : -1;
}

namespace {

/// How far another map lays the corners of the grid off, in mm.
double moved_by(const ScanPlacement& old, const std::array<double, 6>& map, const Grid& g) {
    double moved = 0;
    ScanPlacement fitted = old;
    fitted.m = map;
    for (const double x : {g.x0, g.x0 + g.width / g.px_per_mm})
        for (const double y : {g.y0, g.y0 + g.height / g.px_per_mm}) {
            const auto [u, v] = fitted.to_px(x, y);
            const auto [s, t] = old.to_px(x, y);
            moved = std::max(moved, std::hypot(u - s, v - t) / old.px_per_mm);
        }
    return moved;
}

/// From places of the grid under one map to those of the same pixels under another; three points say all of
/// it.
cv::Matx23d grid_map(const ScanPlacement& from, const ScanPlacement& to, const Grid& g) {
    const auto at = [&](double i, double j) {
        const auto [u, v] = from.to_px(g.x0 + i / g.px_per_mm, g.y0 + j / g.px_per_mm);
        const auto [x, y] = to.to_mm(u, v);
        return cv::Point2d((x - g.x0) * g.px_per_mm, (y - g.y0) * g.px_per_mm);
    };
    const auto o = at(0, 0), i = at(g.width, 0), j = at(0, g.height);
    const double w = g.width, h = g.height;
    return {(i.x - o.x) / w, (j.x - o.x) / h, o.x, (i.y - o.y) / w, (j.y - o.y) / h, o.y};
}

/// Both sides on their way from pictures to pieces.
struct Reading {
    const ScanPicture& front;
    const ScanPicture* back;
    Grid g;
    Progress& progress;
    std::array<double, 6> maps[2];
    Seen sides[2];
    std::vector<ScanHole> seen[2];  ///< holes of each side, the certain ones first
    std::size_t certain[2] = {0, 0};

    [[nodiscard]] const ScanPicture& picture(std::size_t k) const { return k == 0 ? front : *back; }

    /// Does the same for both sides, each on a processor of its own.
    template <typename Work>
    void both(Work&& work) {
        std::optional<std::jthread> other;
        if (back != nullptr) other.emplace([&] { work(1U); });
        work(0U);
    }
    void look(std::size_t k) {
        sides[k] = scan_ground::tell_apart(lay(picture(k), maps[k], g), g.px_per_mm,
                                           touches_of(picture(k).clicks, g), progress);
        if (!progress.cancelled())
            sides[k].spots = scan_ground::find_spots(sides[k].told.matter, g.px_per_mm);
    }
    void agree() {
        if (const int odd = back == nullptr ? -1 : scan_ground::odd_one(sides[0], sides[1]); odd >= 0) {
            const auto k = static_cast<std::size_t>(odd);
            if (scan_ground::tell_like(lay(picture(k), maps[k], g), g.px_per_mm,
                                       touches_of(picture(k).clicks, g), sides[1 - k].tones, sides[k]))
                sides[k].spots = scan_ground::find_spots(sides[k].told.matter, g.px_per_mm);
        }
        const int which = back == nullptr ? -1 : scan_ground::agree(sides[0], sides[1]);
        if (which < 0) return;
        const auto k = static_cast<std::size_t>(which);
        scan_ground::tell_again(lay(picture(k), maps[k], g), g.px_per_mm, sides[k]);
        sides[k].spots = scan_ground::find_spots(sides[k].told.matter, g.px_per_mm);
    }
    void measure_spots(std::size_t k) {
        seen[k].clear();
        for (const bool sure : {true, false}) {
            for (const auto& s : sides[k].spots)
                if (s.certain == sure)
                    seen[k].push_back(
                        {g.x0 + s.x / g.px_per_mm, g.y0 + s.y / g.px_per_mm, s.across / g.px_per_mm});
            if (sure) certain[k] = seen[k].size();
        }
    }
    [[nodiscard]] std::vector<ScanHole> sure_holes(std::size_t k) const {
        return {seen[k].begin(), seen[k].begin() + static_cast<std::ptrdiff_t>(certain[k])};
    }
    /// Lays the back by the holes; what is left over, in mm.
    std::optional<double> lay_back() {
        const auto old = maps[1];
        const auto left = register_back(sure_holes(0), sure_holes(1), maps[1]);
        if (moved_by(back->placement, maps[1], g) > 0.03) {  // by more than a trifle
            move_back(old);
            measure_spots(1);
        }
        return left;
    }
    /// What was found under the old map, laid by the new one.
    void move_back(const std::array<double, 6>& old) {
        // A place of the grid, and where the same pixel of the picture lay before.
        ScanPlacement before, now;
        before.m = old;
        now.m = maps[1];
        const auto map = grid_map(now, before, g);
        auto& side = sides[1];
        for (auto* plane : {&side.told.matter, &side.told.along, &side.rim.inside}) {
            cv::Mat1b moved;
            cv::warpAffine(*plane, moved, map, plane->size(), cv::INTER_NEAREST | cv::WARP_INVERSE_MAP,
                           cv::BORDER_CONSTANT, cv::Scalar(0));
            *plane = moved;
        }
        const auto back_map = grid_map(before, now, g);
        const auto at = [&](double x, double y) {
            return cv::Point2d(back_map(0, 0) * x + back_map(0, 1) * y + back_map(0, 2),
                               back_map(1, 0) * x + back_map(1, 1) * y + back_map(1, 2));
        };
        for (auto& s : side.spots) {
            const auto p = at(s.x, s.y);
            s.x = p.x, s.y = p.y;
        }
        for (auto& p : side.rim.outline) p = at(p.x, p.y);
    }
    void make_pieces(std::size_t k, ScanLayer& layer, std::vector<ScanJoin>& joins) {
        layer.px_per_mm = g.px_per_mm;
        layer.x0_mm = g.x0;
        layer.y0_mm = g.y0;
        scan_ground::find_pieces(sides[k], draw(picture(k).strokes, g), g.px_per_mm, layer, joins);
        const auto side = k == 0 ? BoardSide::front : BoardSide::back;
        for (auto& u : layer.unknown) u.side = side;
        layer.tones = std::make_shared<const ScanTones>(ScanTones{sides[k].tones, maps[k]});
        for (auto& j : joins) j.side_a = j.side_b = side;
    }
};

}  // namespace

Result<ScannedBoard> read_scans(const ScanPicture& front, const ScanPicture* back, Progress& progress) {
    for (const auto* p : {&front, back})
        if (p != nullptr)
            if (auto fine = check_raster(p->pixels, p == back ? "back" : "front"); !fine)
                return fail(fine.error());
    const auto g = grid_of(front);
    if (static_cast<double>(g.width) * g.height > 1.1 * most_grid_pixels || g.px_per_mm < 2.0)
        return fail_at("front", 0, fmt::format("{:.2f} pixels to the millimetre", g.px_per_mm),
                       "at least 2; are the references right?");
    ScannedBoard out;
    Reading r{front,
              back,
              g,
              progress,
              {front.placement.m, back == nullptr ? std::array<double, 6>{} : back->placement.m},
              {},
              {}};
    r.both([&](std::size_t k) { r.look(k); });
    progress.report(0.5);
    if (progress.cancelled()) return fail_cancelled();
    r.agree();
    r.measure_spots(0);
    if (back != nullptr) {
        r.measure_spots(1);
        out.registration_mm = r.lay_back();
    }
    progress.report(0.75);
    if (progress.cancelled()) return fail_cancelled();
    out.layers.resize(back == nullptr ? 1 : 2);
    std::vector<ScanJoin> joins[2];
    r.both([&](std::size_t k) { r.make_pieces(k, out.layers[k], joins[k]); });
    if (progress.cancelled()) return fail_cancelled();
    for (auto& list : joins) std::move(list.begin(), list.end(), std::back_inserter(out.joins));
    collect_holes(r.seen, r.certain, back != nullptr, out);
    join_through_holes(out);
    find_pads(out);
    measure_outline(r.sides[0], g, out);
    progress.report(1.0);
    return out;
}

}  // namespace grayrelic
