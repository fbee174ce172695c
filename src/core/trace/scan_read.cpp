// SPDX-License-Identifier: GPL-3.0-or-later
#include <fmt/format.h>

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>
#include <thread>

#include "core/trace/scan.hpp"
#include "core/trace/scan_ground.hpp"

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

void draw(const std::vector<ScanStroke>& strokes, const Grid& g, cv::Mat& ground) {
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
        cv::line(ground, at(s.x1_mm, s.y1_mm), at(s.x2_mm, s.y2_mm), cv::Scalar(static_cast<double>(value)),
                 thick, cv::LINE_8, 4);
    }
}

void find_pieces(const Seen& side, const Grid& g, ScanLayer& layer) {
    layer.width = g.width;
    layer.height = g.height;
    layer.px_per_mm = g.px_per_mm;
    layer.x0_mm = g.x0;
    layer.y0_mm = g.y0;
    const cv::Mat copper = side.ground == static_cast<int>(Ground::copper);
    cv::Mat labels, stats, middles;
    const int n = cv::connectedComponentsWithStats(copper, labels, stats, middles, 4, CV_32S);
    layer.piece.assign(labels.begin<int>(), labels.end<int>());
    layer.ground.resize(layer.piece.size());
    std::transform(side.ground.begin<std::uint8_t>(), side.ground.end<std::uint8_t>(), layer.ground.begin(),
                   [](std::uint8_t v) { return static_cast<Ground>(v); });
    std::vector<double> sum(static_cast<std::size_t>(n), 0.0);
    layer.touches_unknown.assign(static_cast<std::size_t>(n), 0);
    layer.confidence.assign(static_cast<std::size_t>(n), 0.0F);
    long unknown = 0;
    const int reach = std::max(1, static_cast<int>(std::lround(0.25 * g.px_per_mm)));
    for (int y = 0; y < g.height; ++y) {
        const auto* l = labels.ptr<int>(y);
        const auto* c = side.certain.ptr<std::uint8_t>(y);
        const auto* gr = side.ground.ptr<std::uint8_t>(y);
        for (int x = 0; x < g.width; ++x) {
            if (l[x] > 0)
                sum[static_cast<std::size_t>(l[x])] +=
                    c[x] > 127 ? 255.0 : 2.0 * c[x];  // rims are blurred on any scan
            if (gr[x] != static_cast<std::uint8_t>(Ground::unknown)) continue;
            ++unknown;
            for (const int dx : {-reach, reach})
                if (x + dx >= 0 && x + dx < g.width && l[x + dx] > 0)
                    layer.touches_unknown[static_cast<std::size_t>(l[x + dx])] = 1;
            for (const int dy : {-reach, reach})
                if (y + dy >= 0 && y + dy < g.height)
                    if (const int p = labels.at<int>(y + dy, x); p > 0)
                        layer.touches_unknown[static_cast<std::size_t>(p)] = 1;
        }
    }
    layer.unknown_mm2 = static_cast<double>(unknown) / (g.px_per_mm * g.px_per_mm);
    for (int i = 1; i < n; ++i)
        layer.confidence[static_cast<std::size_t>(i)] = static_cast<float>(
            sum[static_cast<std::size_t>(i)] / (255.0 * std::max(1, stats.at<int>(i, cv::CC_STAT_AREA))));
}

void join_through_holes(ScannedBoard& out) {
    const auto front = out.layers[0].confidence.size();
    const auto back = out.layers.size() > 1 ? out.layers[1].confidence.size() : 1;
    std::vector<int> parent(front + back);
    std::iota(parent.begin(), parent.end(), 0);
    const auto find = [&](int x) {
        while (parent[static_cast<std::size_t>(x)] != x)
            x = parent[static_cast<std::size_t>(x)] =
                parent[static_cast<std::size_t>(parent[static_cast<std::size_t>(x)])];
        return x;
    };
    for (const auto& h : out.holes) {
        // All copper around the rim is one pad, also where a hair of it was lost.
        int first = -1;
        for (std::size_t side = 0; side < out.layers.size(); ++side)
            for (int k = 0; k < 16; ++k) {
                const double angle = 2.0 * std::numbers::pi * k / 16.0, r = h.diameter_mm / 2.0 + 0.18;
                const int piece = out.layers[side].piece_near(h.x_mm + r * std::cos(angle),
                                                              h.y_mm + r * std::sin(angle), 0.06);
                if (piece == 0) continue;
                const int id = find(piece + (side == 0 ? 0 : static_cast<int>(front)));
                if (first < 0)
                    first = id;
                else
                    parent[static_cast<std::size_t>(id)] = find(first);
            }
    }
    std::vector<int> number(parent.size(), -1);
    const auto net = [&](std::size_t i) {
        auto& n = number[static_cast<std::size_t>(find(static_cast<int>(i)))];
        if (n < 0) n = out.nets++;
        return n;
    };
    out.net_of_front.assign(front, -1);
    out.net_of_back.assign(back, -1);
    for (std::size_t i = 1; i < front; ++i) out.net_of_front[i] = net(i);
    for (std::size_t i = 1; i < back; ++i) out.net_of_back[i] = net(front + i);
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

void measure_outline(const Seen& side, const Grid& g, ScannedBoard& out) {
    if (side.outline.empty()) return;
    std::vector<cv::Point2f> points;
    for (const auto& p : side.outline) points.push_back(p);
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

int ScannedBoard::net_at(const BoardPlace& place, double within) const {
    for (std::size_t side = 0; side < layers.size(); ++side) {
        if (place.side && (*place.side == BoardSide::front) != (side == 0)) continue;
        if (const int p = layers[side].piece_near(place.x_mm, place.y_mm, within); p > 0)
            return (side == 0 ? net_of_front : net_of_back)[static_cast<std::size_t>(p)];
    }
    return -1;
}

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
    Seen sides[2];
    std::array<double, 6> back_map = back == nullptr ? std::array<double, 6>{} : back->placement.m;
    {
        std::optional<std::jthread> other;
        if (back != nullptr)
            other.emplace(
                [&] { sides[1] = scan_ground::tell_apart(lay(*back, back_map, g), g.px_per_mm, progress); });
        sides[0] = scan_ground::tell_apart(lay(front, front.placement.m, g), g.px_per_mm, progress);
    }
    progress.report(0.5);
    if (progress.cancelled()) return fail_cancelled();
    const auto to_mm = [&](std::vector<ScanHole>& holes) {
        for (auto& h : holes) {
            h.x_mm = g.x0 + h.x_mm / g.px_per_mm;
            h.y_mm = g.y0 + h.y_mm / g.px_per_mm;
            h.diameter_mm /= g.px_per_mm;
        }
    };
    to_mm(sides[0].holes);
    to_mm(sides[1].holes);
    if (back != nullptr) {
        out.registration_mm = register_back(sides[0].holes, sides[1].holes, back_map);
        double moved = 0;
        for (const double x : {g.x0, g.x0 + g.width / g.px_per_mm})
            for (const double y : {g.y0, g.y0 + g.height / g.px_per_mm}) {
                ScanPlacement fitted = back->placement;
                fitted.m = back_map;
                const auto [u, v] = fitted.to_px(x, y);
                const auto [s, t] = back->placement.to_px(x, y);
                moved = std::max(moved, std::hypot(u - s, v - t) / back->placement.px_per_mm);
            }
        if (moved > 0.03) {  // it was out by more than a trifle: laid anew
            sides[1] = scan_ground::tell_apart(lay(*back, back_map, g), g.px_per_mm, progress);
            to_mm(sides[1].holes);
        }
    }
    progress.report(0.75);
    if (progress.cancelled()) return fail_cancelled();
    out.layers.resize(back == nullptr ? 1 : 2);
    {
        std::optional<std::jthread> other;
        if (back != nullptr)
            other.emplace([&] {
                draw(back->strokes, g, sides[1].ground);
                find_pieces(sides[1], g, out.layers[1]);
            });
        draw(front.strokes, g, sides[0].ground);
        find_pieces(sides[0], g, out.layers[0]);
    }
    if (progress.cancelled()) return fail_cancelled();
    out.holes = sides[0].holes;
    for (const auto& h : sides[1].holes) {
        const auto same = std::find_if(out.holes.begin(), out.holes.end(), [&](const ScanHole& f) {
            return std::hypot(f.x_mm - h.x_mm, f.y_mm - h.y_mm) < hole_match_mm;
        });
        if (same == out.holes.end())
            out.holes.push_back(h);
        else
            same->both_sides = true;
    }
    join_through_holes(out);
    find_pads(out);
    measure_outline(sides[0], g, out);
    progress.report(1.0);
    return out;
}

}  // namespace grayrelic
