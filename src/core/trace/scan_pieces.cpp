// SPDX-License-Identifier: GPL-3.0-or-later
// Pieces of copper: what is sure first, then what is narrow, pale or covered, to the nearest that is sure.
#include <algorithm>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>

#include "core/base/unions.hpp"
#include "core/trace/scan_ground.hpp"

namespace grayrelic::scan_ground {
namespace {

constexpr int least_piece_px = 15;         ///< of area, to lead from one piece to another
constexpr double unknown_least_mm2 = 1.5;  ///< smaller hidden spots are dust
constexpr double step_for_trust = 8.0;     ///< noises between the tones that leave no doubt

cv::Mat1b is(const cv::Mat1b& matter, Matter m) {
    return plane(matter == static_cast<int>(m));
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

Pieces grow_pieces(const Sorted& sorted, const cv::Mat1b& matter) {
    Pieces pieces;
    pieces.many = cv::connectedComponents(sorted.copper, pieces.label, 4, CV_32S);
    pieces.label.setTo(-1, sorted.board);
    const cv::Mat1b inside = plane(matter != static_cast<int>(Matter::outside));
    grow(pieces, plane(inside & ~sorted.copper & ~sorted.board & ~sorted.hole & ~sorted.said_unknown));
    return pieces;
}

namespace {

/// Which pieces are one: beyond doubt, and as far as can be inferred.
struct United {
    Unions sure, all;
    std::vector<Below> guesses;  ///< in `all`, not in `sure`
};

United unite(std::vector<Meeting>& meetings, const Pieces& pieces, const Sorted& sorted, double px_per_mm) {
    const auto many = static_cast<std::size_t>(pieces.many);
    United out{Unions(many), Unions(many), {}};
    // Specks beside a pad are board that is woven, or dirt: a chain of them is no track.
    std::vector<int> area(many, 0);
    for (int y = 0; y < pieces.label.rows; ++y)
        for (int x = 0; x < pieces.label.cols; ++x)
            if (const int l = pieces.label(y, x); l > 0 && pieces.reached(y, x) == 0)
                ++area[static_cast<std::size_t>(l)];
    const auto speck = [&](int l) { return area[static_cast<std::size_t>(l)] < least_piece_px; };
    for (auto& m : meetings) {
        if (speck(m.a) || speck(m.b)) continue;
        m.joined = goes_on(m, pieces, sorted.metal, px_per_mm);
        if (m.joined > 0) out.all.unite(m.a, m.b);
        if (m.joined >= 1)
            out.sure.unite(m.a, m.b);
        else if (m.joined > 0)
            out.guesses.push_back({m.a, m.b, m.at, m.joined});
    }
    std::vector<int> united(many);
    for (std::size_t k = 0; k < many; ++k) united[k] = out.all.find(static_cast<int>(k));
    for (const auto& b : follow_below(sorted, pieces, px_per_mm, united))
        if (out.all.unite(b.a, b.b)) out.guesses.push_back(b);
    return out;
}

/// For each label its piece, from 1 on, and `many`: one above the last.
std::vector<int> numbers_of(Unions& sure, int labels, int& many) {
    std::vector<int> number(static_cast<std::size_t>(labels), 0), out = number;
    many = 1;
    for (int k = 1; k < labels; ++k) {
        auto& n = number[static_cast<std::size_t>(sure.find(k))];
        if (n == 0) n = many++;
        out[static_cast<std::size_t>(k)] = n;
    }
    return out;
}

Ground ground_of(Matter m, bool in_piece, bool soft) {
    switch (m) {
        case Matter::outside: return Ground::outside;
        case Matter::copper:
        case Matter::metal: return in_piece ? Ground::copper : Ground::board;
        case Matter::hole: return Ground::hole;
        case Matter::ink: return Ground::silk;
        case Matter::other: return in_piece && soft ? Ground::copper : Ground::board;
        case Matter::board: break;
    }
    return Ground::board;
}

/// What each pixel is, and how sure each piece.
void fill(const Side& side, const Sorted& sorted, const cv::Mat1b& drawn, const cv::Mat1i& piece, int many,
          ScanLayer& layer) {
    const auto& matter = side.told.matter;
    layer.width = matter.cols;
    layer.height = matter.rows;
    layer.ground.assign(matter.total(), Ground::outside);
    layer.piece.assign(matter.total(), 0);
    layer.confidence.assign(static_cast<std::size_t>(many), 0.0F);
    layer.touches_unknown.assign(static_cast<std::size_t>(many), 0);
    std::vector<double> surety(static_cast<std::size_t>(many), 0.0),
        area(static_cast<std::size_t>(many), 0.0);
    std::size_t i = 0;
    for (int y = 0; y < matter.rows; ++y)
        for (int x = 0; x < matter.cols; ++x, ++i) {
            const auto m = static_cast<Matter>(matter(y, x));
            auto& g = layer.ground[i];
            g = drawn(y, x) != 0 ? static_cast<Ground>(drawn(y, x) - 1)
                                 : ground_of(m, piece(y, x) > 0, sorted.soft(y, x) != 0);
            if (g != Ground::copper) continue;
            const int p = layer.piece[i] = std::max(0, piece(y, x));
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
}

void mark(ScanLayer& layer, cv::Point at, int p, int q) {
    layer.ground[static_cast<std::size_t>(at.y) * static_cast<std::size_t>(layer.width) +
                 static_cast<std::size_t>(at.x)] = Ground::unknown;
    for (const int k : {p, q})
        if (k > 0) layer.touches_unknown[static_cast<std::size_t>(k)] = 1;
}

/// Large spots of no known kind, and what was said to be unknown.
void mark_spots(const cv::Mat1b& matter, const Sorted& sorted, const cv::Mat1i& piece,
                const cv::Mat1b& reached, double px_per_mm, ScanLayer& layer) {
    const cv::Mat1b dark = plane(is(matter, Matter::other) | sorted.said_unknown | sorted.no_hole);
    cv::Mat1i spots;
    cv::Mat stats, middles;
    const int n = cv::connectedComponentsWithStats(dark, spots, stats, middles, 8, CV_32S);
    std::vector<int> tone(static_cast<std::size_t>(n), 0);
    for (int y = 0; y < matter.rows; ++y)
        for (int x = 0; x < matter.cols; ++x)
            tone[static_cast<std::size_t>(spots(y, x))] += sorted.no_hole(y, x) != 0 ? 1 : 0;
    std::vector<char> large(static_cast<std::size_t>(n), 0);
    for (int k = 1; k < n; ++k) {
        const int area = stats.at<int>(k, cv::CC_STAT_AREA), w = stats.at<int>(k, cv::CC_STAT_WIDTH),
                  h = stats.at<int>(k, cv::CC_STAT_HEIGHT);
        const double mm2 = area / (px_per_mm * px_per_mm), box = w * h / (px_per_mm * px_per_mm);
        // Round, of a hole's tone, and no copper around: a hole for a bolt.
        const double fill = mm2 / (0.25 * std::numbers::pi * box);
        const bool bolt = tone[static_cast<std::size_t>(k)] > 0.85 * area && fill > 0.9 && fill < 1.1 &&
                          std::abs(w - h) <= 0.06 * std::max(w, h) + 2;
        large[static_cast<std::size_t>(k)] = mm2 >= unknown_least_mm2 && mm2 > 0.2 * box && !bolt ? 1 : 0;
    }
    const cv::Rect all({}, matter.size());
    for (int y = 0; y < matter.rows; ++y)
        for (int x = 0; x < matter.cols; ++x) {
            if (large[static_cast<std::size_t>(spots(y, x))] == 0 && sorted.said_unknown(y, x) == 0) continue;
            mark(layer, {x, y}, reached(y, x) > 0 && reached(y, x) < 4 ? piece(y, x) : 0, 0);
            for (const cv::Point w : {cv::Point(3, 0), {-3, 0}, {0, 3}, {0, -3}})
                if (const cv::Point q = cv::Point(x, y) + w;
                    all.contains(q) && piece(q) > 0 && reached(q) < 4)
                    mark(layer, {x, y}, piece(q), 0);
        }
}

}  // namespace

void find_pieces(const Side& side, const cv::Mat1b& drawn, double px_per_mm, ScanLayer& layer,
                 std::vector<ScanJoin>& joins) {
    const auto& matter = side.told.matter;
    const auto sorted = sort_pixels(side, drawn, px_per_mm);
    auto pieces = grow_pieces(sorted, matter);
    auto meetings = find_meetings(pieces, matter, sorted.cover);
    auto united = unite(meetings, pieces, sorted, px_per_mm);
    int many = 1;
    const auto number = numbers_of(united.sure, pieces.many, many);
    for (auto& l : pieces.label) l = l > 0 ? number[static_cast<std::size_t>(l)] : l;
    fill(side, sorted, drawn, pieces.label, many, layer);
    mark_spots(matter, sorted, pieces.label, pieces.reached, px_per_mm, layer);
    for (const auto& g : united.guesses) {
        const int a = number[static_cast<std::size_t>(g.a)], b = number[static_cast<std::size_t>(g.b)];
        if (a != b)
            joins.push_back({layer.x0_mm + g.at.x / px_per_mm, layer.y0_mm + g.at.y / px_per_mm,
                             BoardSide::front, BoardSide::front, a, b, static_cast<float>(g.confidence),
                             "goes on below ink or dirt"});
    }
    for (const auto& m : meetings) {
        const int a = number[static_cast<std::size_t>(m.a)], b = number[static_cast<std::size_t>(m.b)];
        if (united.all.same(m.a, m.b)) continue;
        for (const auto at : m.pixels) mark(layer, at, a, b);
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
