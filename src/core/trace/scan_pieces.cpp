// SPDX-License-Identifier: GPL-3.0-or-later
// Pieces of copper: what is sure first, then what is narrow, pale or covered, to the nearest that is sure.
#include <algorithm>
#include <cmath>
#include <numeric>
#include <opencv2/imgproc.hpp>

#include "core/trace/scan_ground.hpp"

namespace grayrelic::scan_ground {
namespace {

constexpr int sure_copper = 147, sure_board = 109;  ///< of Told::along: 0.65 and 0.35 of the way
constexpr double pad_least_mm = 0.27;               ///< thinner metal is ink of its colour, but around holes
constexpr double unknown_least_mm2 = 1.5;           ///< smaller hidden spots are dust
constexpr double step_for_trust = 8.0;              ///< noises between the tones that leave no doubt

cv::Mat disc(int r) {
    return cv::getStructuringElement(cv::MORPH_ELLIPSE, {2 * r + 1, 2 * r + 1});
}

/// Every undecided pixel takes the label of the nearest decided one.
void grow(Pieces& p, const cv::Mat1b& undecided) {
    p.reached = cv::Mat1b::zeros(p.label.size());
    std::vector<cv::Point> now, next;
    const cv::Point ways[] = {{1, 0}, {-1, 0}, {0, 1}, {0, -1}};
    const cv::Rect all({}, p.label.size());
    for (int y = 0; y < undecided.rows; ++y) {
        const auto* u = undecided.ptr<std::uint8_t>(y);
        for (int x = 0; x < undecided.cols; ++x)
            if (u[x] != 0)
                for (const auto w : ways)
                    if (const cv::Point q = cv::Point(x, y) + w;
                        all.contains(q) && p.label(q) != 0 && undecided(q) == 0) {
                        now.emplace_back(q);
                        break;
                    }
    }
    for (int step = 1; !now.empty(); ++step) {
        next.clear();
        for (const auto at : now)
            for (const auto w : ways) {
                const auto q = at + w;
                if (!all.contains(q) || undecided(q) == 0 || p.label(q) != 0) continue;
                p.label(q) = p.label(at);
                p.reached(q) = static_cast<std::uint8_t>(std::min(255, step));
                next.push_back(q);
            }
        std::swap(now, next);
    }
}

bool board_is_between(const Tones& t) {
    if (!t.doubt.empty()) return false;
    const cv::Vec3f copper = t.high_is_copper ? t.step_mean : -t.step_mean;
    const cv::Vec3f board = t.high_is_copper ? t.low_mean : t.low_mean + t.step_mean;
    return std::any_of(t.shades.begin(), t.shades.end(), [&](const Shade& s) {
        return s.matter == Matter::metal && (s.colour - board).dot(copper) < 0.3F * copper.dot(copper);
    });
}

const char* reason(const Meeting& m, double px_per_mm) {
    switch (m.cause) {
        case Meeting::Cause::covered:
            return 2 * m.half > 0.75 * px_per_mm + 5 ? "hidden" : "covered by ink or dirt";
        case Meeting::Cause::narrow: return "copper narrower than five pixels";
        case Meeting::Cause::pale: return "a gap too narrow or too pale to be sure of";
    }
    return "";
}

}  // namespace

void find_pieces(const Side& side, const cv::Mat1b& drawn, double px_per_mm, ScanLayer& layer) {
    const auto& matter = side.told.matter;
    const auto is = [&](Matter m) { return cv::Mat1b(matter == static_cast<int>(m)); };
    // Holes are round; on its way from metal to the mask a rim passes through their tone.
    const cv::Mat1b like_hole = is(Matter::hole);
    cv::Mat1b near_metal, cover, near_hole, metal, hole;
    cv::morphologyEx(like_hole, hole, cv::MORPH_OPEN, cv::getStructuringElement(cv::MORPH_RECT, {3, 3}));
    // What has a hole's tone and is none (soot, a shadow) hides what lies below.
    cv::Mat1b places = plane(cv::Mat1b::zeros(hole.size()));
    for (const auto& r : side.spots)
        cv::circle(places, cv::Point(static_cast<int>(std::lround(r.x)), static_cast<int>(std::lround(r.y))),
                   static_cast<int>(std::lround(0.5 * r.across + 4)), cv::Scalar(255), cv::FILLED);
    hole &= places;
    cv::dilate(hole, near_hole, disc(std::max(3, static_cast<int>(0.2 * px_per_mm))));
    for (const auto& r : side.spots)
        if (r.certain) {
            const cv::Point at(static_cast<int>(std::lround(r.x)), static_cast<int>(std::lround(r.y)));
            cv::circle(near_hole, at, static_cast<int>(std::lround(0.5 * r.across + 0.3 * px_per_mm + 2)),
                       cv::Scalar(255), cv::FILLED);
            cv::circle(hole, at, static_cast<int>(std::lround(0.4 * r.across)), cv::Scalar(255), cv::FILLED);
        }
    hole &= ~is(Matter::copper) & ~is(Matter::metal);
    // The rims of bright ink have the tone of metal; metal itself is wider.
    const cv::Mat1b bright = is(Matter::metal);
    const int thick = std::max(5, static_cast<int>(std::lround(pad_least_mm * px_per_mm)));
    cv::Mat1b deep;
    const auto kernel = cv::getStructuringElement(cv::MORPH_ELLIPSE, {thick, thick});
    cv::erode(bright, deep, kernel, {thick / 2, thick / 2});
    cv::dilate(deep, metal, kernel, {thick - 1 - thick / 2, thick - 1 - thick / 2});
    cv::dilate(metal, metal, disc(1));
    metal &= bright;
    metal |= bright & near_hole;
    cv::dilate(metal, near_metal, disc(2));
    metal |= bright & near_metal;
    cv::dilate(metal, near_metal, disc(4));
    cv::Mat1b over = plane(is(Matter::ink) | is(Matter::other) | (bright & ~metal) | (like_hole & ~hole));
    // The blurred rim of a pad is neither metal nor board; it covers nothing.
    const cv::Mat1b soft = plane(over & near_metal);
    cv::dilate(over & ~near_metal, cover, disc(1));
    cover &= ~metal & ~hole;
    const cv::Mat1b said_copper = plane(drawn == 1 + static_cast<int>(Ground::copper));
    const cv::Mat1b said_board = plane(drawn == 1 + static_cast<int>(Ground::board));
    const cv::Mat1b said_unknown = plane(drawn == 1 + static_cast<int>(Ground::unknown));
    cv::Mat1b copper = plane((is(Matter::copper) & (side.told.along >= sure_copper)) & ~cover);
    cv::Mat1b wide;
    cv::morphologyEx(copper, wide, cv::MORPH_OPEN, cv::getStructuringElement(cv::MORPH_RECT, {3, 3}));
    wide |= copper & near_hole;
    wide |= metal;
    cv::Mat1b board = plane(is(Matter::board) & (side.told.along <= sure_board) & ~cover);
    // Where board has a tone between copper and metal, a track's way into its pad passes through it.
    if (board_is_between(side.tones)) {
        cv::Mat1b rims;
        cv::dilate(metal, rims, disc(3));
        board &= ~rims;
    }
    wide = (wide & ~said_board & ~said_unknown) | said_copper;
    board = (board & ~said_copper & ~said_unknown) | said_board;
    if (!side.tones.doubt.empty()) {  // nothing but what a hand drew is known
        wide = said_copper.clone();
        board = said_board.clone();
    }
    Pieces pieces;
    pieces.many = cv::connectedComponents(wide, pieces.label, 4, CV_32S);
    pieces.label.setTo(-1, board);
    const cv::Mat1b inside = plane(matter != static_cast<int>(Matter::outside));
    const cv::Mat1b undecided = plane(inside & ~wide & ~board & ~hole & ~said_unknown);
    grow(pieces, undecided);
    auto meetings = find_meetings(pieces, matter, cover);
    // One piece where copper goes on below what crosses it.
    std::vector<int> top(static_cast<std::size_t>(pieces.many));
    std::iota(top.begin(), top.end(), 0);
    const auto find = [&](int k) {
        while (top[static_cast<std::size_t>(k)] != k)
            k = top[static_cast<std::size_t>(k)] =
                top[static_cast<std::size_t>(top[static_cast<std::size_t>(k)])];
        return k;
    };
    for (auto& m : meetings)
        if (goes_on(m, pieces, metal, px_per_mm))
            m.joined = true, top[static_cast<std::size_t>(find(m.a))] = find(m.b);
    std::vector<int> number(static_cast<std::size_t>(pieces.many), 0);
    int many = 1;
    for (int k = 1; k < pieces.many; ++k)
        if (const auto t = static_cast<std::size_t>(find(k)); number[t] == 0) number[t] = many++;
    const auto piece_of = [&](int label) {
        return label > 0 ? number[static_cast<std::size_t>(find(label))] : 0;
    };
    // What each pixel is, and how sure each piece.
    layer.width = matter.cols;
    layer.height = matter.rows;
    layer.ground.assign(matter.total(), Ground::outside);
    layer.piece.assign(matter.total(), 0);
    layer.confidence.assign(static_cast<std::size_t>(many), 0.0F);
    layer.touches_unknown.assign(static_cast<std::size_t>(many), 0);
    std::vector<double> surety(static_cast<std::size_t>(many), 0.0),
        area(static_cast<std::size_t>(many), 0.0);
    for (int y = 0; y < matter.rows; ++y)
        for (int x = 0; x < matter.cols; ++x) {
            const auto i = static_cast<std::size_t>(y) * static_cast<std::size_t>(matter.cols) +
                           static_cast<std::size_t>(x);
            const auto m = static_cast<Matter>(matter(y, x));
            auto& g = layer.ground[i];
            if (drawn(y, x) != 0)
                g = static_cast<Ground>(drawn(y, x) - 1);
            else if (m == Matter::copper || m == Matter::metal)
                g = pieces.label(y, x) > 0 ? Ground::copper : Ground::board;
            else if (m == Matter::hole)
                g = Ground::hole;
            else if (m == Matter::ink)
                g = Ground::silk;
            else if (m == Matter::other)
                g = pieces.label(y, x) > 0 && soft(y, x) != 0 ? Ground::copper : Ground::board;
            else if (m == Matter::board)
                g = Ground::board;
            if (g != Ground::copper) continue;
            const int p = piece_of(pieces.label(y, x));
            layer.piece[i] = p;
            if (p == 0) continue;
            const double along = m == Matter::metal || drawn(y, x) != 0
                                     ? 1.0
                                     : std::clamp((side.told.along(y, x) - 128.0) / 32.0, 0.0, 1.0);
            surety[static_cast<std::size_t>(p)] += along;
            area[static_cast<std::size_t>(p)] += 1;
        }
    const double trust =
        side.tones.doubt.empty()
            ? std::clamp(std::min(side.tones.grey_step / std::max(0.3, side.tones.noise) / step_for_trust,
                                  side.tones.grey_step / 10.0),
                         0.0, 1.0)
            : 1.0;
    for (std::size_t p = 1; p < layer.confidence.size(); ++p)
        layer.confidence[p] =
            static_cast<float>(std::sqrt(trust) * std::min(1.0, 1.1 * surety[p] / std::max(1.0, area[p])));
    // What nobody can see: large spots of no known kind, and where pieces may or may not meet.
    const auto mark = [&](cv::Point at, int p, int q) {
        layer.ground[static_cast<std::size_t>(at.y) * static_cast<std::size_t>(matter.cols) +
                     static_cast<std::size_t>(at.x)] = Ground::unknown;
        for (const int k : {p, q})
            if (k > 0) layer.touches_unknown[static_cast<std::size_t>(k)] = 1;
    };
    const cv::Mat1b dark = plane(is(Matter::other) | said_unknown | (like_hole & ~hole));
    cv::Mat1i spots;
    cv::Mat stats, middles;
    const int n = cv::connectedComponentsWithStats(dark, spots, stats, middles, 8, CV_32S);
    std::vector<char> large(static_cast<std::size_t>(n), 0);
    for (int k = 1; k < n; ++k) {
        const double mm2 = stats.at<int>(k, cv::CC_STAT_AREA) / (px_per_mm * px_per_mm);
        const double box = stats.at<int>(k, cv::CC_STAT_WIDTH) * stats.at<int>(k, cv::CC_STAT_HEIGHT) /
                           (px_per_mm * px_per_mm);
        large[static_cast<std::size_t>(k)] = mm2 >= unknown_least_mm2 && mm2 > 0.2 * box ? 1 : 0;
    }
    for (int y = 0; y < matter.rows; ++y)
        for (int x = 0; x < matter.cols; ++x)
            if (large[static_cast<std::size_t>(spots(y, x))] != 0 || said_unknown(y, x) != 0) {
                mark({x, y}, 0, 0);
                if (pieces.reached(y, x) > 0 && pieces.reached(y, x) < 4)
                    mark({x, y}, piece_of(pieces.label(y, x)), 0);
                for (const cv::Point w : {cv::Point(3, 0), {-3, 0}, {0, 3}, {0, -3}}) {
                    const cv::Point q = cv::Point(x, y) + w;
                    if (q.x >= 0 && q.y >= 0 && q.x < matter.cols && q.y < matter.rows &&
                        pieces.label(q) > 0 && pieces.reached(q) < 4)
                        mark({x, y}, piece_of(pieces.label(q)), 0);
                }
            }
    for (const auto& m : meetings) {
        const int a = piece_of(m.a), b = piece_of(m.b);
        if (m.joined || a == b) continue;
        for (const auto at : m.pixels) mark(at, a, b);
        layer.unknown.push_back({layer.x0_mm + m.at.x / px_per_mm, layer.y0_mm + m.at.y / px_per_mm,
                                 BoardSide::front, a, b, reason(m, px_per_mm)});
    }
    const auto unknown = std::count(layer.ground.begin(), layer.ground.end(), Ground::unknown);
    layer.unknown_mm2 = static_cast<double>(unknown) / (px_per_mm * px_per_mm);
    layer.doubt = side.tones.doubt;
    layer.grey_step = side.tones.grey_step;
    layer.noise = side.tones.noise;
}

}  // namespace grayrelic::scan_ground
