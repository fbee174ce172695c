// SPDX-License-Identifier: GPL-3.0-or-later
// Round places within copper: holes by their tone, and what may be a covered one.
#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>

#include "core/trace/scan_ground.hpp"

namespace grayrelic::scan_ground {
namespace {

constexpr double least_mm = 0.22, most_mm = 4.5;
constexpr double least_px = 4.0;
constexpr double ringed = 0.62;  ///< share of copper around a round place

bool is_copper(std::uint8_t m) {
    return m == static_cast<std::uint8_t>(Matter::copper) || m == static_cast<std::uint8_t>(Matter::metal);
}

/// Whether a component is round, and as wide as holes are.
bool is_round(double area, int w, int h, double px_per_mm) {
    const double across = 2.0 * std::sqrt(area / std::numbers::pi),
                 fill = area / (0.25 * std::numbers::pi * w * h);
    return across >= least_px && across >= least_mm * px_per_mm && across <= most_mm * px_per_mm &&
           fill >= 0.76 && fill <= 1.2 && std::abs(w - h) <= 0.22 * std::max(w, h) + 1.5;
}

void add_round(const cv::Mat1b& mask, const cv::Mat1b& matter, double px_per_mm, std::vector<Round>& out) {
    cv::Mat1i labels;
    cv::Mat stats, middles;
    const int n = cv::connectedComponentsWithStats(mask, labels, stats, middles, 4, CV_32S);
    for (int k = 1; k < n; ++k) {
        const int w = stats.at<int>(k, cv::CC_STAT_WIDTH), h = stats.at<int>(k, cv::CC_STAT_HEIGHT);
        const double area = stats.at<int>(k, cv::CC_STAT_AREA),
                     across = 2.0 * std::sqrt(area / std::numbers::pi);
        if (!is_round(area, w, h, px_per_mm)) continue;
        Round s{middles.at<double>(k, 0), middles.at<double>(k, 1), across, false};
        int copper = 0, metal = 0, hole = 0, inner = 0;
        for (int a = 0; a < 32; ++a) {
            const double angle = 2 * std::numbers::pi * a / 32;
            const auto at = [&](double r) -> std::uint8_t {
                const int x = static_cast<int>(std::lround(s.x + r * std::cos(angle))),
                          y = static_cast<int>(std::lround(s.y + r * std::sin(angle)));
                return x < 0 || y < 0 || x >= matter.cols || y >= matter.rows ? 0 : matter(y, x);
            };
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
        if (copper < ringed * 32) continue;
        // Whatever is round within metal is a hole; within copper under a mask it may be dirt.
        s.certain = hole * 2 > inner || metal >= ringed * 32;
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
            constexpr int many = 32;
            for (int k = 0; k < 2 * many && !metal; ++k) {
                const double angle = 2 * std::numbers::pi * k / many, r = d[x] + 2.0;
                const int i = static_cast<int>(std::lround(x + r * std::cos(angle))),
                          j = static_cast<int>(std::lround(y + r * std::sin(angle)));
                if (i < 0 || j < 0 || i >= matter.cols || j >= matter.rows) continue;
                // At a pad, or below ink or dirt, nothing ends.
                const auto m = static_cast<Matter>(matter(j, i));
                metal = m != Matter::copper && m != Matter::board;
                const bool here = is_copper(matter(j, i));
                met += here && k < many ? 1 : 0;
                run = here ? 0 : run + 1;
                longest = std::max(longest, run);
            }
            // Board on more than half of the way around without a break: no bend, no crossing.
            if (metal || met > most_ways * many || longest < 5 * many / 8) continue;
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
        const cv::Mat1b mask = plane(matter == static_cast<int>(tone));
        cv::Mat1i labels;
        cv::Mat stats, middles;
        const int n = cv::connectedComponentsWithStats(mask, labels, stats, middles, 4, CV_32S);
        for (int k = 1; k < n; ++k) {
            const int w = stats.at<int>(k, cv::CC_STAT_WIDTH), h = stats.at<int>(k, cv::CC_STAT_HEIGHT);
            if (!is_round(stats.at<int>(k, cv::CC_STAT_AREA), w, h, px_per_mm)) continue;
            constexpr int many = 32;
            int met = 0;
            for (int a = 0; a < many; ++a) {
                bool metal = false;
                for (const double more : {2.5, 3.5, 4.5}) {
                    const double angle = 2 * std::numbers::pi * a / many, r = 0.25 * (w + h) + more;
                    const int x = static_cast<int>(
                                  std::lround(middles.at<double>(k, 0) + r * std::cos(angle))),
                              y = static_cast<int>(
                                  std::lround(middles.at<double>(k, 1) + r * std::sin(angle)));
                    metal |= x >= 0 && y >= 0 && x < matter.cols && y < matter.rows &&
                             matter(y, x) == static_cast<std::uint8_t>(Matter::metal);
                }
                met += metal ? 1 : 0;
            }
            if (met < all_around * many) continue;
            const cv::Rect box(stats.at<int>(k, cv::CC_STAT_LEFT), stats.at<int>(k, cv::CC_STAT_TOP), w, h);
            matter(box).setTo(static_cast<int>(Matter::hole), plane(labels(box) == k));
        }
    }
}

std::vector<Round> find_spots(const cv::Mat1b& matter, double px_per_mm) {
    std::vector<Round> out;
    add_round(plane(matter == static_cast<int>(Matter::hole)), matter, px_per_mm, out);
    const cv::Mat1b copper =
        plane((matter == static_cast<int>(Matter::copper)) | (matter == static_cast<int>(Matter::metal)));
    add_round(plane((copper == 0) & (matter != static_cast<int>(Matter::outside))), matter, px_per_mm, out);
    // Without a mask every via shows its hole.
    if (cv::countNonZero(matter == static_cast<int>(Matter::metal)) > 200) add_ends(matter, px_per_mm, out);
    return out;
}

}  // namespace grayrelic::scan_ground
