// SPDX-License-Identifier: GPL-3.0-or-later
// Pixels by what they mean for pieces of copper: what is sure, and what hides something.
#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/trace/scan_ground.hpp"

namespace grayrelic::scan_ground {
namespace {

constexpr int sure_copper = 147, sure_board = 109;  ///< of Told::along: 0.65 and 0.35 of the way
constexpr double pad_least_mm = 0.27;               ///< thinner metal is ink of its colour, but around holes

cv::Mat ellipse(int r) {
    return cv::getStructuringElement(cv::MORPH_ELLIPSE, {2 * r + 1, 2 * r + 1});
}

int near_hole_px(double px_per_mm) {
    return std::max(3, static_cast<int>(0.2 * px_per_mm));
}
int thick_metal_px(double px_per_mm) {
    return std::max(5, static_cast<int>(std::lround(pad_least_mm * px_per_mm)));
}

bool board_is_between(const Tones& t) {
    if (!t.doubt.empty()) return false;
    const cv::Vec3f copper = t.high_is_copper ? t.step_mean : -t.step_mean;
    const cv::Vec3f board = t.high_is_copper ? t.low_mean : t.low_mean + t.step_mean;
    return std::any_of(t.shades.begin(), t.shades.end(), [&](const Shade& s) {
        return s.matter == Matter::metal && (s.colour - board).dot(copper) < 0.3F * copper.dot(copper);
    });
}

/// Some rows of a side, so few that all planes of them stay near the processor.
struct Strip {
    const Side& side;
    cv::Rect at;  ///< in the picture
    cv::Mat1b matter, along;
    double px_per_mm;
    [[nodiscard]] cv::Mat1b where(Matter m) const { return plane(matter == static_cast<int>(m)); }
    [[nodiscard]] cv::Point middle(const Round& r) const {
        return {static_cast<int>(std::lround(r.x)) - at.x, static_cast<int>(std::lround(r.y)) - at.y};
    }
    void draw(cv::Mat1b& on, const Round& r, double radius) const {
        cv::circle(on, middle(r), static_cast<int>(std::lround(radius)), cv::Scalar(255), cv::FILLED);
    }
};

/// Where a hole's tone stands for a hole: at a round place. What has the tone and is none (soot, a shadow)
/// hides what lies below. `near`: so close to a hole that copper may be thin.
void sort_holes(const Strip& s, Sorted& out, cv::Mat1b& near) {
    cv::morphologyEx(s.where(Matter::hole), out.hole, cv::MORPH_OPEN,
                     cv::getStructuringElement(cv::MORPH_RECT, {3, 3}));
    cv::Mat1b places = plane(cv::Mat1b::zeros(s.matter.size()));
    for (const auto& r : s.side.spots) s.draw(places, r, 0.5 * r.across + 4);
    out.hole &= places;
    cv::dilate(out.hole, near, ellipse(near_hole_px(s.px_per_mm)));
    for (const auto& r : s.side.spots)
        if (r.certain) {
            s.draw(near, r, 0.5 * r.across + 0.3 * s.px_per_mm + 2);
            s.draw(out.hole, r, 0.4 * r.across);
        }
    out.hole &= ~s.where(Matter::copper) & ~s.where(Matter::metal);
}

/// The rims of bright ink have the tone of metal; metal itself is wider.
void sort_metal(const cv::Mat1b& bright, const cv::Mat1b& near_hole, double px_per_mm, Sorted& out) {
    const int thick = thick_metal_px(px_per_mm);
    cv::Mat1b deep, near_metal;
    const auto kernel = cv::getStructuringElement(cv::MORPH_ELLIPSE, {thick, thick});
    cv::erode(bright, deep, kernel, {thick / 2, thick / 2});
    cv::dilate(deep, out.metal, kernel, {thick - 1 - thick / 2, thick - 1 - thick / 2});
    cv::dilate(out.metal, out.metal, ellipse(1));
    out.metal &= bright;
    out.metal |= bright & near_hole;
    cv::dilate(out.metal, near_metal, ellipse(2));
    out.metal |= bright & near_metal;
}

/// On its way from a hole to its ring the picture passes through other tones: specks there are no pieces.
void drop_specks(const std::vector<Round>& spots, double px_per_mm, cv::Mat1b& copper) {
    constexpr double least_mm2 = 0.035;
    const double least = std::max(12.0, least_mm2 * px_per_mm * px_per_mm);
    for (const auto& r : spots) {
        if (!r.certain) continue;
        const int reach = static_cast<int>(std::lround(0.5 * r.across + 3.0));
        const cv::Point middle(static_cast<int>(std::lround(r.x)), static_cast<int>(std::lround(r.y)));
        const auto box = cv::Rect(middle.x - reach - 1, middle.y - reach - 1, 2 * reach + 3, 2 * reach + 3) &
                         cv::Rect({}, copper.size());
        if (box.empty()) continue;
        cv::Mat1b part = copper(box), at_rim = plane(cv::Mat1b::zeros(box.size()));
        cv::circle(at_rim, middle - box.tl(), reach, cv::Scalar(255), cv::FILLED);
        cv::Mat1i label;
        cv::Mat stats, middles;
        const int n = cv::connectedComponentsWithStats(part, label, stats, middles, 4, CV_32S);
        std::vector<int> near(static_cast<std::size_t>(n), 0);
        for (int y = 0; y < label.rows; ++y)
            for (int x = 0; x < label.cols; ++x)
                if (at_rim(y, x) != 0) ++near[static_cast<std::size_t>(label(y, x))];
        for (int k = 1; k < n; ++k)
            if (const int area = stats.at<int>(k, cv::CC_STAT_AREA);
                area < least && near[static_cast<std::size_t>(k)] == area)
                part.setTo(0, plane(label == k));
    }
}

Sorted sort_strip(const Strip& s, const cv::Mat1b& drawn) {
    Sorted out;
    cv::Mat1b near_hole, near_metal;
    sort_holes(s, out, near_hole);
    const cv::Mat1b bright = s.where(Matter::metal);
    sort_metal(bright, near_hole, s.px_per_mm, out);
    cv::dilate(out.metal, near_metal, ellipse(4));
    out.no_hole = plane(s.where(Matter::hole) & ~out.hole);
    const cv::Mat1b over =
        plane(s.where(Matter::ink) | s.where(Matter::other) | (bright & ~out.metal) | out.no_hole);
    // The blurred rim of a pad is neither metal nor board; it covers nothing.
    out.soft = plane(over & near_metal);
    cv::dilate(over & ~near_metal, out.cover, ellipse(1));
    out.cover &= ~out.metal & ~out.hole;
    out.said_unknown = plane(drawn == 1 + static_cast<int>(Ground::unknown));
    const cv::Mat1b copper = plane((s.where(Matter::copper) & (s.along >= sure_copper)) & ~out.cover);
    cv::morphologyEx(copper, out.copper, cv::MORPH_OPEN, cv::getStructuringElement(cv::MORPH_RECT, {3, 3}));
    out.copper |= copper & near_hole;
    out.copper |= out.metal;
    out.board = plane(s.where(Matter::board) & (s.along <= sure_board) & ~out.cover);
    // What a person called board may also be the blurred rim of a pad: there only what is wider than such.
    const cv::Mat1b called = plane(s.where(Matter::board) & (s.along == 0) & near_metal);
    if (cv::countNonZero(called) > 0) {
        cv::Mat1b wide;
        cv::morphologyEx(called, wide, cv::MORPH_OPEN, cv::getStructuringElement(cv::MORPH_RECT, {5, 5}));
        out.board &= ~called | wide;
    }
    // Where board has a tone between copper and metal, a track's way into its pad passes through it.
    if (board_is_between(s.side.tones)) {
        cv::Mat1b rims;
        cv::dilate(out.metal, rims, ellipse(3));
        out.board &= ~rims;
    }
    return out;
}

}  // namespace

Sorted sort_pixels(const Side& side, const cv::Mat1b& drawn, double px_per_mm) {
    constexpr int rows = 256;
    const auto size = side.told.matter.size();
    const int halo = 24 + near_hole_px(px_per_mm) + 2 * thick_metal_px(px_per_mm);
    Sorted out;
    const auto planes = {&Sorted::copper, &Sorted::board, &Sorted::metal,   &Sorted::hole,
                         &Sorted::cover,  &Sorted::soft,  &Sorted::no_hole, &Sorted::said_unknown};
    for (const auto p : planes) (out.*p).create(size);
    for (int y = 0; y < size.height; y += rows) {
        const int first = std::max(0, y - halo), last = std::min(size.height, y + rows + halo),
                  end = std::min(size.height, y + rows);
        const cv::Rect at(0, first, size.width, last - first);
        const auto part =
            sort_strip({side, at, side.told.matter(at), side.told.along(at), px_per_mm}, drawn(at));
        for (const auto p : planes)
            (part.*p).rowRange(y - first, end - first).copyTo((out.*p).rowRange(y, end));
    }
    drop_specks(side.spots, px_per_mm, out.copper);
    const cv::Mat1b said_copper = plane(drawn == 1 + static_cast<int>(Ground::copper));
    const cv::Mat1b said_board = plane(drawn == 1 + static_cast<int>(Ground::board));
    if (!side.tones.doubt.empty()) {  // nothing but what a hand drew is known
        out.copper = said_copper.clone();
        out.board = said_board.clone();
        return out;
    }
    out.copper = (out.copper & ~said_board & ~out.said_unknown) | said_copper;
    out.board = (out.board & ~said_copper & ~out.said_unknown) | said_board;
    return out;
}

}  // namespace grayrelic::scan_ground
