// SPDX-License-Identifier: GPL-3.0-or-later
// Round places within copper: holes by their tone, and what may be a covered one.
#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>

#include "core/trace/scan_blobs.hpp"

namespace grayrelic::scan_ground {
namespace {

constexpr double least_mm = 0.22, most_mm = 4.5;
constexpr double least_px = 4.0;
constexpr double ringed = 0.62;  ///< share of copper around a round place

bool is_copper(std::uint8_t m) {
    return m == static_cast<std::uint8_t>(Matter::copper) || m == static_cast<std::uint8_t>(Matter::metal);
}

/// Ways out from a place, evenly all around.
constexpr int many_ways = 32;
const std::array<cv::Point2d, many_ways>& ways() {
    static const auto all = [] {
        std::array<cv::Point2d, many_ways> out;
        for (std::size_t k = 0; k < out.size(); ++k) {
            const double angle = 2 * std::numbers::pi * static_cast<double>(k) / many_ways;
            out[k] = {std::cos(angle), std::sin(angle)};
        }
        return out;
    }();
    return all;
}

/// The matter at so many pixels along a way from a place; outside beyond the picture.
std::uint8_t along(const cv::Mat1b& matter, cv::Point2d from, cv::Point2d way, double r) {
    const int x = static_cast<int>(std::lround(from.x + r * way.x)),
              y = static_cast<int>(std::lround(from.y + r * way.y));
    return x < 0 || y < 0 || x >= matter.cols || y >= matter.rows ? static_cast<std::uint8_t>(Matter::outside)
                                                                  : matter(y, x);
}

/// Whether ink stands around a place, just outside what may be a hole: then it is the inside of a letter.
bool within_ink(const cv::Mat1b& matter, cv::Point2d middle, double r) {
    constexpr double partly = 0.3;
    const auto met = std::count_if(ways().begin(), ways().end(), [&](const cv::Point2d& way) {
        return along(matter, middle, way, r + 3.0) == static_cast<std::uint8_t>(Matter::ink) ||
               along(matter, middle, way, r + 4.0) == static_cast<std::uint8_t>(Matter::ink);
    });
    return static_cast<double>(met) > partly * many_ways;
}

/// Whether a component is round, and as wide as holes are.
bool is_round(double area, int w, int h, double px_per_mm) {
    const double across = 2.0 * std::sqrt(area / std::numbers::pi),
                 fill = area / (0.25 * std::numbers::pi * w * h);
    return across >= least_px && across >= least_mm * px_per_mm && across <= most_mm * px_per_mm &&
           fill >= 0.76 && fill <= 1.2 && std::abs(w - h) <= 0.22 * std::max(w, h) + 1.5;
}

void add_round(const Kinds& of, const cv::Mat1b& matter, double px_per_mm, std::vector<Round>& out) {
    for (const auto& area : areas_of(matter, of)) {
        const int w = area.box.width, h = area.box.height;
        if (!is_round(area.pixels, w, h, px_per_mm)) continue;
        const double across = 2.0 * std::sqrt(area.pixels / std::numbers::pi);
        Round s{area.middle.x, area.middle.y, across, false};
        int copper = 0, metal = 0, hole = 0, inner = 0;
        for (const auto way : ways()) {
            const auto at = [&](double r) { return along(matter, {s.x, s.y}, way, r); };
            // Rims are blurred: copper within three pixels of the round place's own.
            const double r = 0.25 * (w + h);
            copper += is_copper(at(r + 1.5)) || is_copper(at(r + 2.5)) || is_copper(at(r + 3.5)) ? 1 : 0;
            for (const double more : {2.5, 3.5})
                if (at(r + more) == static_cast<std::uint8_t>(Matter::metal)) {
                    ++metal;
                    break;
                }
            for (const double part : {0.0, 0.4})
                hole += at(part * r) == static_cast<std::uint8_t>(Matter::hole) ? 1 : 0, ++inner;
        }
        if (copper < ringed * many_ways) continue;
        // Whatever is round within metal is a hole; within copper under a mask it may be dirt.
        s.certain = hole * 2 > inner ||
                    (metal >= ringed * many_ways && !within_ink(matter, {s.x, s.y}, 0.25 * (w + h)));
        const bool known = std::any_of(out.begin(), out.end(), [&](const Round& o) {
            return std::hypot(o.x - s.x, o.y - s.y) < 0.5 * std::max(o.across, s.across);
        });
        if (!known) out.push_back(s);
    }
}

/// Where a track ends in copper under the mask: it leads somewhere, and if the other side has the like at the
/// very place, through the board.
void add_ends(const cv::Mat1b& matter, double px_per_mm, std::vector<Round>& out) {
    constexpr double least_land_mm = 0.12, most_land_mm = 0.7, most_ways = 0.33;
    const cv::Mat1b copper =
        plane((matter == static_cast<int>(Matter::copper)) | (matter == static_cast<int>(Matter::metal)));
    cv::Mat1f depth;
    cv::distanceTransform(copper, depth, cv::DIST_L2, 3);
    struct End {
        float r;
        int x, y;
    };
    std::vector<End> ends;
    const auto least = static_cast<float>(std::max(2.0, least_land_mm * px_per_mm)),
               most = static_cast<float>(most_land_mm * px_per_mm);
    for (int y = 1; y + 1 < depth.rows; ++y) {
        const auto *d = depth.ptr<float>(y), *up = depth.ptr<float>(y - 1), *down = depth.ptr<float>(y + 1);
        for (int x = 1; x + 1 < depth.cols; ++x) {
            if (d[x] < least || d[x] > most || d[x] < d[x - 1] || d[x] < d[x + 1] || d[x] < up[x] ||
                d[x] < down[x])
                continue;
            int met = 0, longest = 0, run = 0;
            bool metal = false;
            for (std::size_t k = 0; k < 2 * many_ways && !metal; ++k) {
                const auto m = along(matter, cv::Point2d(x, y), ways()[k % many_ways], d[x] + 2.0);
                // At a pad, below ink or dirt, at the rim nothing ends.
                metal = m != static_cast<std::uint8_t>(Matter::copper) &&
                        m != static_cast<std::uint8_t>(Matter::board);
                const bool here = is_copper(m);
                met += here && k < many_ways ? 1 : 0;
                run = here ? 0 : run + 1;
                longest = std::max(longest, run);
            }
            // Board on more than half of the way around without a break: no bend, no crossing.
            if (metal || met > most_ways * many_ways || longest < 5 * many_ways / 8) continue;
            ends.push_back({d[x], x, y});
        }
    }
    std::sort(ends.begin(), ends.end(), [](const End& a, const End& b) { return a.r > b.r; });
    std::vector<Round> found;
    for (const auto& e : ends) {
        const bool known = std::any_of(found.begin(), found.end(), [&](const Round& o) {
            return std::hypot(o.x - e.x, o.y - e.y) < std::max(2.0 * e.r, 0.3 * px_per_mm);
        });
        if (!known)
            found.push_back(
                {static_cast<double>(e.x), static_cast<double>(e.y), static_cast<double>(e.r), false});
        if (found.size() > 4000) break;
    }
    for (const auto& r : found)
        if (std::none_of(out.begin(), out.end(), [&](const Round& o) {
                return std::hypot(o.x - r.x, o.y - r.y) < std::max(o.across, r.across);
            }))
            out.push_back(r);
}

}  // namespace

void open_metal(cv::Mat1b& matter, double px_per_mm) {
    constexpr double all_around = 0.8;
    for (const auto tone : {Matter::copper, Matter::board}) {
        for (const auto& area : areas_of(matter, kinds({tone}))) {
            const int w = area.box.width, h = area.box.height;
            if (!is_round(area.pixels, w, h, px_per_mm)) continue;
            const auto is_metal = [&](const cv::Point2d& way) {
                for (const double more : {2.5, 3.5, 4.5})
                    if (along(matter, area.middle, way, 0.25 * (w + h) + more) ==
                        static_cast<std::uint8_t>(Matter::metal))
                        return true;
                return false;
            };
            const auto met = std::count_if(ways().begin(), ways().end(), is_metal);
            if (static_cast<double>(met) < all_around * many_ways ||
                within_ink(matter, area.middle, 0.25 * (w + h)))
                continue;
            cv::Mat1b part = matter(area.box);
            cv::Mat1i label;
            cv::connectedComponents(plane(part == static_cast<int>(tone)), label, 4, CV_32S);
            const int own = label(area.first - area.box.tl());
            part.setTo(static_cast<int>(Matter::hole), plane(label == own));
        }
    }
}

std::vector<Round> find_spots(const cv::Mat1b& matter, double px_per_mm) {
    std::vector<Round> out;
    add_round(kinds({Matter::hole}), matter, px_per_mm, out);
    add_round(kinds({Matter::board, Matter::ink, Matter::hole, Matter::other}), matter, px_per_mm, out);
    // Without a mask every via shows its hole.
    if (cv::countNonZero(matter == static_cast<int>(Matter::metal)) > 200) add_ends(matter, px_per_mm, out);
    return out;
}

}  // namespace grayrelic::scan_ground
