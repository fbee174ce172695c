// SPDX-License-Identifier: GPL-3.0-or-later
// Clicks as a person would place them who sees the board beside what was read.
#include "tests/unseen/click_boards.hpp"

#include <algorithm>
#include <opencv2/imgproc.hpp>

#include "tests/unseen/boards_film.hpp"

namespace grayrelic::unseen {
namespace {

constexpr double scale = 12, margin = 0;  ///< pixels to the mm of what is compared
constexpr double least_mm2 = 1.0;         ///< smaller areas nobody would bother with
constexpr double deep_mm = 0.11;          ///< from the rims, which are blurred

enum Shown : std::uint8_t { board, copper, pad, ink, hole };

/// What is drawn, seen from the front through the board.
cv::Mat1b shown_of(const BoardLayout& b, int side) {
    Film pads(b, scale, margin), holes(b, scale, margin), strokes(b, scale, margin);
    for (const auto& p : b.pads) {
        if (!on(p, side)) continue;
        pads.pad(p, 0);
        if (p.hole > 0) holes.disc(p.x, p.y, p.hole);
    }
    for (const auto& v : b.vias)
        if (v.look == ViaLook::open) holes.disc(v.x, v.y, v.hole), pads.disc(v.x, v.y, v.across);
    for (const auto& i : b.ink)
        if (i.side == side) strokes.line(i.x1, i.y1, i.x2, i.y2, i.width);
    cv::Mat1b out(pads.at.size(), static_cast<std::uint8_t>(board));
    out.setTo(copper, copper_of(b, side, scale, margin) > 0.5F);
    out.setTo(ink, strokes.at > 0.5F);
    out.setTo(pad, pads.at > 0.5F);
    out.setTo(hole, holes.at > 0.5F);
    return out;
}

bool wrong(std::uint8_t drawn, Ground read) {
    switch (drawn) {
        case board: return read == Ground::copper;
        case copper: return read == Ground::board || read == Ground::silk;
        case pad: return read != Ground::copper && read != Ground::unknown;
        case hole: return read == Ground::copper || read == Ground::board;
        default: return read == Ground::copper;  // ink
    }
}

struct Wrong {
    double mm2 = 0;                                    ///< of all areas
    std::vector<std::pair<double, ScanClick>> places;  ///< largest area first
    std::vector<std::size_t> sides;
};

/// Where what was read is not what is drawn: for each area what stands deepest in it.
Wrong wrongs_of(const std::array<cv::Mat1b, 2>& drawn, const ScannedBoard& read) {
    struct Place {
        double mm2;
        std::size_t side;
        ScanClick click;
    };
    std::vector<Place> found;
    Wrong out;
    for (std::size_t side = 0; side < 2; ++side) {
        const auto& d = drawn[side];
        cv::Mat1b off(d.size(), static_cast<std::uint8_t>(0));
        for (int y = 0; y < d.rows; ++y)
            for (int x = 0; x < d.cols; ++x)
                if (wrong(d(y, x), read.layers[side].at((x + 0.5) / scale, (y + 0.5) / scale)))
                    off(y, x) = static_cast<std::uint8_t>(1 + d(y, x));
        for (const auto kind : {board, copper, pad, ink, hole}) {
            cv::Mat mask = off == 1 + kind;
            cv::Mat1f depth;
            cv::copyMakeBorder(mask, mask, 1, 1, 1, 1, cv::BORDER_CONSTANT, cv::Scalar(0));
            cv::distanceTransform(mask, depth, cv::DIST_L2, cv::DIST_MASK_PRECISE);
            cv::Mat1i label;
            cv::Mat stats, middles;
            const int n = cv::connectedComponentsWithStats(mask, label, stats, middles, 8, CV_32S);
            std::vector<std::pair<float, cv::Point>> deepest(static_cast<std::size_t>(n), {0.0F, {}});
            for (int y = 0; y < label.rows; ++y)
                for (int x = 0; x < label.cols; ++x)
                    if (auto& best = deepest[static_cast<std::size_t>(label(y, x))];
                        label(y, x) > 0 && depth(y, x) > best.first)
                        best = {depth(y, x), {x - 1, y - 1}};
            for (int k = 1; k < n; ++k) {
                const double mm2 = stats.at<int>(k, cv::CC_STAT_AREA) / (scale * scale);
                const auto& [far, at] = deepest[static_cast<std::size_t>(k)];
                if (far / scale < deep_mm) continue;
                out.mm2 += mm2;
                if (mm2 < least_mm2) continue;
                constexpr ClickKind says[] = {ClickKind::board, ClickKind::copper, ClickKind::pad,
                                              ClickKind::silk, ClickKind::hole};
                found.push_back({mm2, side, {says[kind], (at.x + 0.5) / scale, (at.y + 0.5) / scale}});
            }
        }
    }
    std::stable_sort(found.begin(), found.end(),
                     [](const Place& a, const Place& b) { return a.mm2 > b.mm2; });
    for (const auto& p : found) out.places.emplace_back(p.mm2, p.click), out.sides.push_back(p.side);
    return out;
}

}  // namespace

Result<ScannedBoard> read_with_clicks(const BoardLayout& layout, ScanPicture& front, ScanPicture& back,
                                      int most, int& clicks) {
    const std::array<cv::Mat1b, 2> drawn{shown_of(layout, 0), shown_of(layout, 1)};
    Progress progress;
    auto read = read_scans(front, &back, progress);
    clicks = 0;
    std::vector<ScanClick> tried;
    while (read && clicks < most) {
        const auto now = wrongs_of(drawn, *read);
        std::size_t k = 0;
        const auto known = [&](const ScanClick& c) {
            return std::any_of(tried.begin(), tried.end(), [&](const ScanClick& t) {
                return t.kind == c.kind && std::hypot(t.x_mm - c.x_mm, t.y_mm - c.y_mm) < 1.0;
            });
        };
        while (k < now.places.size() && known(now.places[k].second)) ++k;
        if (k == now.places.size()) break;
        auto& picture = now.sides[k] == 0 ? front : back;
        picture.clicks.push_back(now.places[k].second);
        tried.push_back(now.places[k].second);
        ++clicks;
        auto next = read_scans(front, &back, progress);
        if (!next) return next;
        if (wrongs_of(drawn, *next).mm2 < now.mm2)
            read = std::move(next);
        else
            picture.clicks.pop_back();  // it made things worse: taken back
    }
    return read;
}

}  // namespace grayrelic::unseen
