// SPDX-License-Identifier: GPL-3.0-or-later
// The two tones that fill the board, from the edges between them.
#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/trace/scan_edges.hpp"
#include "core/trace/scan_ground.hpp"

namespace grayrelic::scan_ground {
namespace {

constexpr double most_tone_pixels = 3e6;
constexpr double cell_px = 12;               ///< of the working picture
constexpr double least_tone_share = 0.0006;  ///< of the board that each of both tones fills
constexpr double least_explained = 0.45;

/// Sums and counts by cell, smoothed.
struct Field {
    cv::Mat3f sum;
    cv::Mat1f count;
    explicit Field(cv::Size size) : sum(size, cv::Vec3f()), count(size, 0.0F) {}
    void add(cv::Point cell, const cv::Vec3f& v, float weight = 1) {
        sum(cell) += v * weight;
        count(cell) += weight;
    }
    [[nodiscard]] Field blurred(double cells) const {
        Field out(count.size());
        cv::GaussianBlur(sum, out.sum, {0, 0}, cells, cells, cv::BORDER_CONSTANT);
        cv::GaussianBlur(count, out.count, {0, 0}, cells, cells, cv::BORDER_CONSTANT);
        return out;
    }
    [[nodiscard]] cv::Vec3f mean() const {
        const auto s = cv::sum(sum);
        const double n = std::max(1e-9, cv::sum(count)[0]);
        return {static_cast<float>(s[0] / n), static_cast<float>(s[1] / n), static_cast<float>(s[2] / n)};
    }
};

/// The mean of what lies near; where nothing does, of what lies farther away.
cv::Mat3f spread_out(const Field& f, double first_cells) {
    const auto mean = f.mean();
    std::vector<Field> levels;
    for (const double s : {first_cells, 2.5 * first_cells, 6 * first_cells}) levels.push_back(f.blurred(s));
    cv::Mat3f out(f.count.size());
    for (int y = 0; y < out.rows; ++y)
        for (int x = 0; x < out.cols; ++x) {
            cv::Vec3f v = mean;
            for (std::size_t k = levels.size(); k-- > 0;) {
                const float n = levels[k].count(y, x);
                const float w = n / (n + 0.02F);
                if (n > 1e-6F) v = v * (1 - w) + levels[k].sum(y, x) * (w / n);
            }
            out(y, x) = v;
        }
    return out;
}

struct Pair {
    cv::Mat3f low, step;
    double explained = 0, low_share = 0, high_share = 0, size = 0;
    std::size_t edges = 0;
    bool seen = false;
    bool fits_rim = true;  ///< one of both tones stands along the board's rim
    bool leads = true;  ///< the rarer tone leads from place to place, as tracks do; pads don't, nor does ink
};

struct Look {
    const cv::Mat3b& picture;
    const cv::Mat1b& inside;
    double noise;
    cv::Size cells;
    cv::Mat1b rim;  ///< just inside the board's rim, where copper never reaches; empty where none is seen
    double cell = cell_px;
    int stride = 2;  ///< of what `refine` takes
    [[nodiscard]] cv::Point cell_of(cv::Point p) const {
        return {std::min(cells.width - 1, static_cast<int>(p.x / cell)),
                std::min(cells.height - 1, static_cast<int>(p.y / cell))};
    }
    /// Where a pixel lies between both tones, and whether it is one of them at all.
    static float along(const cv::Vec3f& v, const cv::Vec3f& low, const cv::Vec3f& step, float& off2) {
        const auto d = v - low;
        const float s2 = std::max(1.0F, step.dot(step));
        const float t = d.dot(step) / s2;
        const auto rest = d - step * std::clamp(t, 0.0F, 1.0F);
        off2 = rest.dot(rest);
        return t;
    }
    void weigh(Pair& p) const {
        long all = 0, low = 0, high = 0, rims = 0, rims_known = 0;
        for (int y = 1; y < picture.rows; y += 3)
            for (int x = 1; x < picture.cols; x += 3) {
                if (inside(y, x) == 0) continue;
                ++all;
                const bool at_rim = !rim.empty() && rim(y, x) != 0;
                rims += at_rim ? 1 : 0;
                const auto c = cell_of({x, y});
                float off2 = 0;
                const auto& step = p.step(c);
                const float t = along(cv::Vec3f(picture(y, x)), p.low(c), step, off2);
                const float size = static_cast<float>(cv::norm(step));
                const float reach =
                    std::max(0.12F * size, std::min(0.35F * size, 7.0F + 3.0F * static_cast<float>(noise)));
                const float beside = std::min(std::abs(t), std::abs(t - 1)) * size;
                if (off2 > reach * reach || beside > reach) continue;
                (t < 0.5F ? low : high) += 1;
                rims_known += at_rim ? 1 : 0;
            }
        p.fits_rim = rims < 40 || 2 * rims_known > rims;
        all = std::max(1L, all);
        p.low_share = static_cast<double>(low) / static_cast<double>(all);
        p.high_share = static_cast<double>(high) / static_cast<double>(all);
        p.explained = p.low_share + p.high_share;
    }
    /// Whether the rarer tone is wide enough to be copper, and long enough to lead somewhere.
    void follow(Pair& p, double px_per_mm) const {
        constexpr double long_mm = 3.4, mostly = 0.6, partly = 0.3, least_wide = 0.12, well_wide = 0.45;
        const bool high = p.high_share < p.low_share;
        cv::Mat1b tone = plane(cv::Mat1b::zeros(picture.size()));
        for (int y = 0; y < picture.rows; ++y)
            for (int x = 0; x < picture.cols; ++x) {
                if (inside(y, x) == 0) continue;
                const auto c = cell_of({x, y});
                float off2 = 0;
                const auto& step = p.step(c);
                const float t = along(cv::Vec3f(picture(y, x)), p.low(c), step, off2), far = high ? t : 1 - t;
                if (far > 0.65F && far < 1.5F && off2 < 0.2F * step.dot(step) + 9.0F) tone(y, x) = 255;
            }
        cv::Mat1b wide;
        cv::erode(tone, wide, cv::getStructuringElement(cv::MORPH_RECT, {3, 3}));
        const double all = cv::countNonZero(tone), left = cv::countNonZero(wide);
        cv::dilate(wide, wide, cv::getStructuringElement(cv::MORPH_RECT, {3, 3}));
        cv::Mat1i labels;
        cv::Mat stats, middles;
        const int n = cv::connectedComponentsWithStats(wide, labels, stats, middles, 8, CV_32S);
        double leading = 0, area = 0;
        for (int k = 1; k < n; ++k) {
            const double a = stats.at<int>(k, cv::CC_STAT_AREA);
            area += a;
            if (std::max(stats.at<int>(k, cv::CC_STAT_WIDTH), stats.at<int>(k, cv::CC_STAT_HEIGHT)) >
                long_mm * px_per_mm)
                leading += a;
        }
        p.leads = (left > least_wide * all && leading > mostly * area) ||
                  (left > well_wide * all && leading > partly * area);
    }
    /// Both tones again, from all pixels that lie clearly with one of them.
    void refine(Pair& p, double cells_near) const {
        Field low(cells), high(cells);
        for (int y = 0; y < picture.rows; y += stride)
            for (int x = y / stride % 2 * (stride / 2); x < picture.cols; x += stride) {
                if (inside(y, x) == 0) continue;
                const auto c = cell_of({x, y});
                float off2 = 0;
                const cv::Vec3f v(picture(y, x));
                const auto& step = p.step(c);
                const float t = along(v, p.low(c), step, off2);
                const float far = 0.2F * step.dot(step) + 9.0F * static_cast<float>(noise * noise);
                if (off2 > far || t < -0.6F || t > 1.6F) continue;
                if (t < 0.3F) low.add(c, v);
                if (t > 0.7F) high.add(c, v);
            }
        const auto mean_low = low.mean(), mean_high = high.mean();
        const cv::Vec3f mean_step = mean_high - mean_low;
        const auto l1 = low.blurred(cells_near), h1 = high.blurred(cells_near);
        // Steps where both tones are near; they change less over the board than the light does.
        Field steps(cells);
        constexpr float some = 0.4F;
        for (int y = 0; y < cells.height; ++y)
            for (int x = 0; x < cells.width; ++x) {
                const float n = std::min(l1.count(y, x), h1.count(y, x));
                if (n > some)
                    steps.add({x, y}, h1.sum(y, x) / h1.count(y, x) - l1.sum(y, x) / l1.count(y, x),
                              std::min(1.0F, n / 10));
            }
        const bool both = cv::sum(steps.count)[0] > 0.5;
        const auto step = both ? spread_out(steps, 3 * cells_near) : cv::Mat3f(cells, mean_step);
        Field base(cells);
        for (int y = 0; y < cells.height; ++y)
            for (int x = 0; x < cells.width; ++x) {
                if (l1.count(y, x) > some) base.add({x, y}, l1.sum(y, x) / l1.count(y, x), l1.count(y, x));
                if (h1.count(y, x) > some)
                    base.add({x, y}, h1.sum(y, x) / h1.count(y, x) - step(y, x), 0.5F * h1.count(y, x));
            }
        cv::Mat3f fine(cells);
        const auto wide = spread_out(base, 1.5 * cells_near);
        for (int y = 0; y < cells.height; ++y)
            for (int x = 0; x < cells.width; ++x)
                fine(y, x) = base.count(y, x) > 2 * some ? base.sum(y, x) / base.count(y, x) : wide(y, x);
        p.low = fine;
        p.step = step;
    }
};

Pair pair_of(const std::vector<const Edge*>& kind, const Look& look) {
    Field low(look.cells), step(look.cells);
    for (const auto* e : kind) {
        low.add(look.cell_of(e->at), e->low);
        step.add(look.cell_of(e->at), e->high - e->low);
    }
    Pair p;
    p.low = spread_out(low, 4);
    p.step = spread_out(step, 8);
    p.size = cv::norm(step.mean());
    p.edges = kind.size();
    look.refine(p, 6);
    look.weigh(p);
    p.seen = p.low_share > least_tone_share && p.high_share > least_tone_share &&
             std::max(p.low_share, p.high_share) > 0.1;
    return p;
}

/// Steps of one ratio may rise from two materials (laminate to copper, and metal to laminate): the kind, and
/// if its lower tones fall into two heaps, each of them.
std::vector<std::vector<const Edge*>> materials_of(const std::vector<const Edge*>& kind, double noise) {
    std::vector<std::vector<const Edge*>> out{kind};
    double low = 1e9, high = -1e9;
    for (const auto* e : kind)
        low = std::min<double>(low, grey(e->low)), high = std::max<double>(high, grey(e->low));
    double middle[2] = {low, high}, sum2[2] = {0, 0};
    std::size_t many[2] = {0, 0};
    const auto heap = [&](const Edge* e) {
        return std::abs(grey(e->low) - middle[0]) <= std::abs(grey(e->low) - middle[1]) ? 0 : 1;
    };
    for (int round = 0; round < 12; ++round) {
        double sum[2] = {0, 0};
        many[0] = many[1] = 0;
        sum2[0] = sum2[1] = 0;
        for (const auto* e : kind) {
            const auto h = static_cast<std::size_t>(heap(e));
            const double g = grey(e->low);
            sum[h] += g, sum2[h] += (g - middle[h]) * (g - middle[h]), ++many[h];
        }
        for (const std::size_t h : {0U, 1U})
            if (many[h] > 0) middle[h] = sum[h] / static_cast<double>(many[h]);
    }
    const double apart = middle[1] - middle[0];
    for (const std::size_t h : {0U, 1U})
        if (many[h] < 25 || many[h] * 8 < kind.size() ||
            std::sqrt(sum2[h] / static_cast<double>(many[h])) > 0.3 * apart)
            return out;
    if (apart < 10 + 5 * noise) return out;
    out.resize(3);
    for (const auto* e : kind) out[1 + static_cast<std::size_t>(heap(e))].push_back(e);
    return out;
}

cv::Mat1b rim_of(const cv::Mat1b& inside) {
    if (cv::countNonZero(inside) > 0.98 * static_cast<double>(inside.total())) return {};
    cv::Mat1b outer, inner;
    cv::erode(inside, outer, {}, {-1, -1}, 3, cv::BORDER_CONSTANT, cv::Scalar(0));
    cv::erode(outer, inner, {}, {-1, -1}, 3, cv::BORDER_CONSTANT, cv::Scalar(0));
    return plane(outer & ~inner);
}

cv::Vec3f mean_of(const cv::Mat3f& field) {
    const auto m = cv::mean(field);
    return {static_cast<float>(m[0]), static_cast<float>(m[1]), static_cast<float>(m[2])};
}

/// Squares of a picture side by side, each from the middle of its share of it. Of a large picture these hold
/// tracks as sharp as they are, where a smaller copy of it would blur thin ones away.
class Tiles {
  public:
    Tiles(cv::Size whole, double px_per_mm, double part)
        : whole_(whole),
          side_(std::min(
              {std::clamp(static_cast<int>(side_mm * px_per_mm), 96, 512), whole.width, whole.height})) {
        const auto many = [&](int length) {
            return std::max(1, static_cast<int>(std::lround(length * part / side_)));
        };
        across_ = many(whole.width);
        down_ = many(whole.height);
    }
    template <typename Plane>
    [[nodiscard]] Plane of(const Plane& whole) const {
        Plane out(down_ * side_, across_ * side_);
        for (int j = 0; j < down_; ++j)
            for (int i = 0; i < across_; ++i)
                whole(cv::Rect(begin(i, across_, whole_.width), begin(j, down_, whole_.height), side_, side_))
                    .copyTo(out(cv::Rect(i * side_, j * side_, side_, side_)));
        return out;
    }
    /// Seams are no edges of anything.
    void mark_seams(cv::Mat1b& inside) const {
        constexpr int wide = 5;
        for (int i = 0; i <= across_; ++i)
            inside.colRange(std::max(0, i * side_ - wide), std::min(inside.cols, i * side_ + wide)).setTo(0);
        for (int j = 0; j <= down_; ++j)
            inside.rowRange(std::max(0, j * side_ - wide), std::min(inside.rows, j * side_ + wide)).setTo(0);
    }

  private:
    static constexpr double side_mm = 8;
    [[nodiscard]] int begin(int k, int many, int length) const {
        return std::clamp(static_cast<int>((k + 0.5) * length / many - 0.5 * side_), 0, length - side_);
    }
    cv::Size whole_;
    int side_, across_ = 1, down_ = 1;
};

/// The pair that explains most of the board; a wider step takes the tones between for its own, so of nearly
/// equals the smaller one counts. Copper that is too narrow to show its full tone makes a smaller step of the
/// same direction: then the full one counts.
Pair choose(const std::vector<Pair>& pairs) {
    const Pair* best = nullptr;
    const auto rank = [](const Pair& p) { return (p.fits_rim ? 2 : 0) + (p.leads ? 1 : 0); };
    for (const auto& p : pairs)
        if (best == nullptr || rank(p) > rank(*best) ||
            (rank(p) == rank(*best) &&
             (p.explained > best->explained + 0.06 ||
              (p.explained > best->explained - 0.06 && p.size < best->size && p.edges * 4 > best->edges))))
            best = &p;
    if (best == nullptr) return {};
    const auto step = [](const Pair& p) {
        const auto m = cv::mean(p.step);
        return cv::Vec3d(m[0], m[1], m[2]);
    };
    for (const auto& p : pairs) {
        const double ratio = p.size / best->size;
        if (ratio < 1.03 || ratio > 2.2 || p.edges * 3 < best->edges ||
            std::abs(p.low_share - best->low_share) > 0.1 || rank(p) < rank(*best))
            continue;
        const auto a = step(p), b = step(*best);
        if (a.dot(b) > 0.975 * cv::norm(a) * cv::norm(b) && p.high_share > 0.3 * best->high_share) best = &p;
    }
    return *best;
}

}  // namespace

bool same_mask(const cv::Vec3f& low, const cv::Vec3f& step, const Tones& other) {
    constexpr double most_apart = 26.0;
    const double a = cv::norm(step), b = cv::norm(other.step_mean);
    return cv::norm(low - other.low_mean) <= most_apart && step.dot(other.step_mean) >= 0.9 * a * b &&
           cv::norm(step - other.step_mean) <= 0.4 * std::max(a, b);
}

Tones find_tones(const cv::Mat3b& smooth, const cv::Mat1b& inside, double px_per_mm, const Tones* like) {
    Tones out;
    const double f =
        std::min(1.0, std::sqrt(most_tone_pixels / (static_cast<double>(smooth.rows) * smooth.cols)));
    cv::Mat3b picture = smooth;
    cv::Mat1b within = inside, rim = rim_of(inside);
    if (f < 1) {
        const Tiles tiles(smooth.size(), px_per_mm, f);
        picture = tiles.of(smooth);
        within = tiles.of(inside);
        tiles.mark_seams(within);
        if (!rim.empty()) rim = tiles.of(rim);
    }
    const auto cells_of = [](cv::Size size, double cell) {
        return cv::Size(static_cast<int>(std::ceil(size.width / cell)),
                        static_cast<int>(std::ceil(size.height / cell)));
    };
    auto edges = find_edges(picture, within, out.noise);
    Look look{picture, within, out.noise, cells_of(picture.size(), cell_px), rim};
    std::vector<Pair> pairs;
    for (const auto& kind : sort_edges(edges, out.noise)) {
        if (kind.size() < 25) continue;
        for (const auto& one : materials_of(kind, out.noise)) {
            auto p = pair_of(one, look);
            if (p.seen && (like == nullptr || same_mask(mean_of(p.low), mean_of(p.step), *like)))
                pairs.push_back(std::move(p));
        }
    }
    double most = 0;
    for (const auto& p : pairs) most = std::max(most, p.explained);
    for (auto& p : pairs)
        if (p.explained > most - 0.2) look.follow(p, px_per_mm);
    Pair best = choose(pairs);
    out.cell = cell_px / f;
    if (!best.seen || best.explained < least_explained) {
        out.doubt =
            best.seen ? "no two tones fill the board"
                      : "copper and board can't be told apart: no edge between two tones that fill the board";
        out.low = cv::Mat3f(look.cells, cv::Vec3f());
        out.step = cv::Mat3f(look.cells, cv::Vec3f(1, 1, 1));
        return out;
    }
    const Look whole{smooth,
                     inside,
                     out.noise,
                     cells_of(smooth.size(), out.cell),
                     rim,
                     out.cell,
                     std::max(2, static_cast<int>(std::lround(2 / f)))};
    if (f < 1)
        for (auto* field : {&best.low, &best.step}) cv::resize(cv::Mat(*field), *field, whole.cells);
    for (const double near : {5.0, 4.0, 3.0}) whole.refine(best, near);
    out.low = best.low;
    out.step = best.step;
    out.leads = best.leads;
    out.low_mean = mean_of(best.low);
    out.step_mean = mean_of(best.step);
    out.grey_step = std::abs(grey(out.step_mean));
    return out;
}

}  // namespace grayrelic::scan_ground
