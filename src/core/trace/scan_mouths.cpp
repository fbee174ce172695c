// SPDX-License-Identifier: GPL-3.0-or-later
// Tracks that bend, or lie for a while, below ink and dirt. A track that comes up to a cover has to go on
// below it: where only one other piece can be reached through places wide enough for the track, that is where
// it goes.
#include <algorithm>
#include <cmath>
#include <map>
#include <opencv2/imgproc.hpp>
#include <queue>

#include "core/base/unions.hpp"
#include "core/trace/scan_ground.hpp"

namespace grayrelic::scan_ground {
namespace {

constexpr double most_hidden_mm = 0.75;  ///< of a way that nothing beside it bears out
constexpr double most_between_mm = 2.6;  ///< where ends of two tracks have nobody but each other
constexpr float seen_beside = 0.3F;      ///< what a pixel counts where copper shows beside the cover
constexpr double least_track_px = 3.8;   ///< where it is sure; half a pixel on either side is not
constexpr std::size_t most_mouths = 20'000;

struct Hidden {
    const Pieces& pieces;
    const cv::Mat1b& metal;
    cv::Mat1b near_cover;
    cv::Mat1f to_board, to_seen;  ///< how far the nearest sure board is; the nearest that is sure of anything
    double px_per_mm;
    [[nodiscard]] bool has(cv::Point p) const {
        return p.x >= 0 && p.y >= 0 && p.x < pieces.label.cols && p.y < pieces.label.rows;
    }
    [[nodiscard]] bool sure(cv::Point p) const { return pieces.label(p) > 0 && pieces.reached(p) == 0; }
    [[nodiscard]] bool hidden(cv::Point p) const { return pieces.reached(p) != 0; }
};

/// Where a piece comes up to a cover.
struct Mouth {
    int piece = 0;
    std::vector<cv::Point> rim;
    cv::Point2d at, inwards;
    double width = 0;
    bool is_end = false;  ///< a track ends here, board on both its flanks
};

struct Reached {
    int piece = 0, mouth = -1;
    float cost = 0;
    cv::Point at;
    bool straight = false;
    double deep = 0;  ///< how wide what was reached is there, px
};

cv::Point rounded(cv::Point2d p) {
    return {static_cast<int>(std::lround(p.x)), static_cast<int>(std::lround(p.y))};
}

/// How far the piece reaches from here along a way, and whether board stands there.
double reach(const Hidden& f, int piece, cv::Point2d from, cv::Point2d way, double most, bool& flanked) {
    double d = 0;
    const auto is_piece = [&](double out) {
        const auto p = rounded(from + way * out);
        return f.has(p) && f.sure(p) && f.pieces.label(p) == piece;
    };
    while (d < most && (is_piece(d) || is_piece(d + 1.0))) d += 0.5;
    bool board = false;
    for (const double more : {1.0, 2.0, 3.0, 4.0})
        if (const auto p = rounded(from + way * (d + more)); f.has(p))
            board |= f.pieces.label(p) == -1 || f.near_cover(p) != 0;
    flanked &= board && d < most;
    return d;
}

void look_back(const Hidden& f, Mouth& m) {
    cv::Point2d sum(0, 0);
    for (const auto p : m.rim) sum += cv::Point2d(p);
    m.at = sum * (1.0 / static_cast<double>(m.rim.size()));
    double extent = 0;
    for (const auto p : m.rim) extent = std::max(extent, cv::norm(cv::Point2d(p) - m.at));
    const int r = std::clamp(static_cast<int>(std::lround(1.6 * extent)), 6, 60);
    cv::Point2d back(0, 0);
    for (int dy = -r; dy <= r; ++dy)
        for (int dx = -r; dx <= r; ++dx)
            if (const auto p = rounded(m.at) + cv::Point(dx, dy);
                dx * dx + dy * dy <= r * r && f.has(p) && f.sure(p) && f.pieces.label(p) == m.piece)
                back += cv::Point2d(dx, dy);
    const double length = cv::norm(back);
    if (length < 1e-6) return;
    m.inwards = back * (1.0 / length);
    const cv::Point2d across(-m.inwards.y, m.inwards.x);
    double width[2] = {0, 0};
    bool flanked = true;
    double begin = 0;
    const auto first = [&](double out) {
        const auto p = rounded(m.at + m.inwards * out);
        return f.has(p) && f.sure(p) && f.pieces.label(p) == m.piece;
    };
    while (begin < extent + 6 && !first(begin)) begin += 0.5;
    cv::Point2d middle = m.at;
    for (const int k : {0, 1}) {
        const auto from = middle + m.inwards * (begin + 1.5 + 2.0 * k);
        if (const auto p = rounded(from); !f.has(p) || f.metal(p) != 0) return;
        const double most = 3 * extent + 12;
        const double left = reach(f, m.piece, from, -across, most, flanked),
                     right = reach(f, m.piece, from, across, most, flanked);
        width[k] = left + right;
        middle += across * (0.5 * (right - left));
    }
    m.width = std::min(width[0], width[1]);
    m.is_end = flanked && m.width >= least_track_px && m.width <= 2 * extent + 5 &&
               std::abs(width[0] - width[1]) <= 0.5 * m.width + 2;
}

std::vector<Mouth> find_mouths(const Hidden& f, cv::Mat1i& number) {
    std::vector<Mouth> out;
    number = cv::Mat1i(f.pieces.label.size(), -1);
    const cv::Point ways[] = {{1, 0}, {-1, 0}, {0, 1}, {0, -1}};
    const auto is_rim = [&](cv::Point p) {
        if (!f.has(p) || f.near_cover(p) == 0 || !f.sure(p)) return false;
        return std::any_of(std::begin(ways), std::end(ways),
                           [&](cv::Point w) { return f.has(p + w) && f.hidden(p + w); });
    };
    for (int y = 0; y < number.rows; ++y)
        for (int x = 0; x < number.cols; ++x) {
            if (number(y, x) >= 0 || !is_rim({x, y}) || out.size() >= most_mouths) continue;
            Mouth m;
            m.piece = f.pieces.label(y, x);
            const int id = static_cast<int>(out.size());
            std::vector<cv::Point> queue{{x, y}};
            number(y, x) = id;
            while (!queue.empty()) {
                const auto p = queue.back();
                queue.pop_back();
                m.rim.push_back(p);
                for (int dy = -2; dy <= 2; ++dy)
                    for (int dx = -2; dx <= 2; ++dx)
                        if (const auto q = p + cv::Point(dx, dy);
                            is_rim(q) && number(q) < 0 && f.pieces.label(q) == m.piece)
                            number(q) = id, queue.push_back(q);
            }
            look_back(f, m);
            out.push_back(std::move(m));
        }
    return out;
}

/// Twice the most that board is away from copper of this piece near here.
double depth_near(const Hidden& f, cv::Point at, double width) {
    const int r = static_cast<int>(std::lround(1.5 * width + 3));
    float out = 0;
    for (int dy = -r; dy <= r; ++dy)
        for (int dx = -r; dx <= r; ++dx)
            if (const auto p = at + cv::Point(dx, dy);
                f.has(p) && f.sure(p) && f.pieces.label(p) == f.pieces.label(at)) {
                if (f.metal(p) != 0) return 0;  // a pad
                out = std::max(out, f.to_board(p));
            }
    return 2.0 * static_cast<double>(out);
}

/// The way of a track from its mouth, below what covers.
class Walk {
  public:
    Walk(const Hidden& f, const Mouth& m, const cv::Mat1i& number)
        : f_(f),
          m_(m),
          number_(number),
          most_(static_cast<float>(most_between_mm * f.px_per_mm + 5.0)),
          least_(static_cast<float>(std::max(1.0, 0.4 * m.width - 0.5))) {
        const int r = static_cast<int>(1.5F * most_) + 2;
        const auto middle = rounded(m.at);
        window_ =
            cv::Rect(middle.x - r, middle.y - r, 2 * r + 1, 2 * r + 1) & cv::Rect({}, f.pieces.label.size());
        cost_ = cv::Mat1f(window_.size(), 1e9F);
        for (const auto p : m.rim)
            if (window_.contains(p)) queue_.push({0.0F, p}), cost_(p - window_.tl()) = 0;
    }
    /// The pieces that a track as wide as this mouth can reach, nearest first.
    std::vector<Reached> all() {
        while (!queue_.empty()) {
            const auto [c, p] = queue_.top();
            queue_.pop();
            auto& here = cost_(p - window_.tl());
            if (c > here || here < 0) continue;
            here = -1;  // done
            for (int dy = -1; dy <= 1; ++dy)
                for (int dx = -1; dx <= 1; ++dx)
                    if (dx != 0 || dy != 0) step(c, p + cv::Point(dx, dy), dx != 0 && dy != 0 ? 1.41F : 1.0F);
        }
        std::vector<Reached> out;
        out.reserve(found_.size());
        for (const auto& [piece, r] : found_) out.push_back(r);
        std::sort(out.begin(), out.end(), [](const Reached& a, const Reached& b) { return a.cost < b.cost; });
        return out;
    }

    /// What covers goes on farther than was looked: there may be more to reach.
    [[nodiscard]] bool cut_short() const { return cut_short_; }

  private:
    struct Step {
        float cost;
        cv::Point at;
        bool operator<(const Step& o) const { return cost > o.cost; }
    };
    void step(float cost, cv::Point q, float length) {
        if (!window_.contains(q)) return;
        if (f_.sure(q)) {
            arrive(cost, q);
            return;
        }
        if (!f_.hidden(q) || f_.to_board(q) < least_) return;
        const bool beside = f_.to_board(q) >= f_.to_seen(q) + 1.5F;
        const float next = cost + length * (beside ? seen_beside : 1.0F);
        if (next > most_) {
            cut_short_ = true;
            return;
        }
        if (next >= cost_(q - window_.tl())) return;
        cost_(q - window_.tl()) = next;
        queue_.push({next, q});
    }
    void arrive(float cost, cv::Point q) {
        const int piece = f_.pieces.label(q);
        if (piece == m_.piece || found_.count(piece) != 0) return;
        const auto way = cv::Point2d(q) - m_.at;
        const double ahead = -(way.x * m_.inwards.x + way.y * m_.inwards.y),
                     aside = std::abs(way.x * m_.inwards.y - way.y * m_.inwards.x);
        found_[piece] = {piece,
                         number_(q),
                         cost,
                         q,
                         ahead > 0 && aside < 0.5 * m_.width + 0.3 * ahead,
                         depth_near(f_, q, m_.width)};
    }
    const Hidden& f_;
    const Mouth& m_;
    const cv::Mat1i& number_;
    float most_, least_;
    bool cut_short_ = false;
    cv::Rect window_;
    cv::Mat1f cost_;
    std::priority_queue<Step> queue_;
    std::map<int, Reached> found_;
};

}  // namespace

std::vector<Below> follow_below(const Sorted& sorted, const Pieces& pieces, double px_per_mm,
                                const std::vector<int>& united) {
    constexpr double ends_meet = 0.7, straight_on = 0.7;
    Hidden f{pieces, sorted.metal, {}, {}, {}, px_per_mm};
    cv::dilate(sorted.cover, f.near_cover, cv::getStructuringElement(cv::MORPH_RECT, {5, 5}));
    cv::distanceTransform(plane(sorted.board == 0), f.to_board, cv::DIST_L2, 3);
    cv::distanceTransform(plane((sorted.board == 0) & (sorted.copper == 0)), f.to_seen, cv::DIST_L2, 3);
    cv::Mat1i number;
    const auto mouths = find_mouths(f, number);
    std::vector<std::vector<Reached>> all(mouths.size());
    std::vector<char> more(mouths.size(), 0);
    for (std::size_t k = 0; k < mouths.size(); ++k) {
        if (!mouths[k].is_end) continue;
        Walk walk(f, mouths[k], number);
        all[k] = walk.all();
        more[k] = walk.cut_short() ? 1 : 0;
    }
    std::vector<Below> out;
    Unions groups(united.size());
    for (std::size_t k = 0; k < united.size(); ++k) groups.unite(static_cast<int>(k), united[k]);
    const auto group = [&](int piece) { return groups.find(piece); };
    // What it is one with already, it has found.
    const auto has_found = [&](std::size_t k) {
        return std::any_of(all[k].begin(), all[k].end(),
                           [&](const Reached& o) { return group(o.piece) == group(mouths[k].piece); });
    };
    // What was found leaves fewer for the others to choose from.
    for (std::size_t before = mouths.size() + 1; before != out.size();) {
        before = out.size();
        for (std::size_t k = 0; k < mouths.size(); ++k) {
            const auto& m = mouths[k];
            if (all[k].empty() || has_found(k)) continue;
            const auto& best = all[k].front();
            const auto rival = [&](const Reached& o) {
                return group(o.piece) != group(best.piece) && o.cost < 1.6F * best.cost + 3;
            };
            if (std::any_of(all[k].begin(), all[k].end(), rival)) continue;
            // A track that goes on straight across has found its own way.
            const bool mutual = best.mouth >= 0 && mouths[static_cast<std::size_t>(best.mouth)].is_end &&
                                !has_found(static_cast<std::size_t>(best.mouth));
            const bool pour = best.deep > 2.2 * m.width + 3;
            const bool near = best.straight && best.cost < most_hidden_mm * px_per_mm + 5.0;
            if (pour || (!mutual && !near)) continue;
            out.push_back(
                {m.piece, best.piece, 0.5 * (m.at + cv::Point2d(best.at)), mutual ? ends_meet : straight_on});
            groups.unite(m.piece, best.piece);
        }
    }
    return out;
}

}  // namespace grayrelic::scan_ground
