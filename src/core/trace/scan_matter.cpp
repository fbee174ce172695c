// SPDX-License-Identifier: GPL-3.0-or-later
// What is neither of the two tones: metal, ink, holes and dirt, by colour and by what each lies on; and which
// of the two tones is copper.
#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <opencv2/imgproc.hpp>

#include "core/trace/scan_ground.hpp"

namespace grayrelic::scan_ground {
namespace {

constexpr double most_shade_pixels = 6e6;
constexpr int most_shades = 7;
constexpr double round_least_mm = 0.26, round_most_mm = 4.5;
constexpr double ink_most_mm = 0.42;  ///< usual thickness of strokes

/// Numbers of classes in a working picture: the two tones first.
enum : std::uint8_t { none = 0, low = 1, high = 2, first_shade = 3 };

struct Blob {
    int shade = 0;
    double x = 0, y = 0, across = 0, area = 0, thick = 0;
    bool is_round = false;
    int ring = 0;  ///< class of most of what stands around it
    double ring_share = 0;
};

double grey_of(const cv::Vec3f& c) {
    return 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2];
}

struct Work {
    cv::Mat1b kind;
    std::vector<cv::Vec3f> colours;  ///< of the shades, relative
    double px_per_mm = 1;
    cv::Mat3b picture;
    double dark = 0;  ///< grey levels below which a shade is too dark for metal
    [[nodiscard]] bool is_dark(int shade) const {
        return shade >= first_shade && grey_of(colours[static_cast<std::size_t>(shade - first_shade)]) < dark;
    }
    double steep = 14;  ///< change over two pixels above which a colour is a rim's
};

/// What stands around a round blob of this radius.
void look_around(const Work& w, double r, Blob& b) {
    // Outwards to where the colour comes to rest: a rim's own colour says nothing.
    std::map<int, int> around;
    int seen = 0;
    for (int a = 0; a < 32; ++a) {
        const double angle = 2 * std::numbers::pi * a / 32;
        const auto at = [&](double more) {
            return cv::Point(std::clamp(static_cast<int>(std::lround(b.x + (r + more) * std::cos(angle))), 0,
                                        w.kind.cols - 1),
                             std::clamp(static_cast<int>(std::lround(b.y + (r + more) * std::sin(angle))), 0,
                                        w.kind.rows - 1));
        };
        double least = 1e9;
        int rests = none;
        for (double more = 1.0; more < std::clamp(0.3 * w.px_per_mm, 3.1, 6.5); more += 1.0) {
            const double change =
                cv::norm(cv::Vec3d(w.picture(at(more + 1))) - cv::Vec3d(w.picture(at(more - 1))));
            if (w.is_dark(w.kind(at(more)))) continue;  // still the hole's own shadow
            if (change < least) least = change, rests = w.kind(at(more));
            if (change < w.steep) break;
        }
        ++around[rests];
        ++seen;
    }
    for (const auto& [c, many] : around)
        if (c != none && many > b.ring_share * seen)
            b.ring = c, b.ring_share = static_cast<double>(many) / seen;
}

void measure(const Work& w, int shade, std::vector<Blob>& out) {
    const cv::Mat1b mask = plane(w.kind == shade);
    cv::Mat1i labels;
    cv::Mat stats, middles;
    const int n = cv::connectedComponentsWithStats(mask, labels, stats, middles, 8, CV_32S);
    cv::Mat1f depth;
    cv::distanceTransform(mask, depth, cv::DIST_L2, 3);
    std::vector<float> deepest(static_cast<std::size_t>(n), 0.0F);
    for (int y = 0; y < labels.rows; ++y)
        for (int x = 0; x < labels.cols; ++x)
            if (labels(y, x) > 0) {
                auto& d = deepest[static_cast<std::size_t>(labels(y, x))];
                d = std::max(d, depth(y, x));
            }
    for (int k = 1; k < n; ++k) {
        const int bw = stats.at<int>(k, cv::CC_STAT_WIDTH), bh = stats.at<int>(k, cv::CC_STAT_HEIGHT);
        Blob b;
        b.shade = shade;
        b.area = stats.at<int>(k, cv::CC_STAT_AREA);
        if (b.area < 4) continue;
        b.x = middles.at<double>(k, 0);
        b.y = middles.at<double>(k, 1);
        b.across = 2.0 * std::sqrt(b.area / std::numbers::pi);
        b.thick = 2.0 * deepest[static_cast<std::size_t>(k)] - 1.0;
        const double fill = b.area / (0.25 * std::numbers::pi * bw * bh), mm = b.across / w.px_per_mm;
        b.is_round = fill > 0.76 && fill < 1.2 && std::abs(bw - bh) <= 0.22 * std::max(bw, bh) + 1.5 &&
                     mm > round_least_mm && mm < round_most_mm && b.across > 3.5;
        // A ring around a hole is round too, and no hole.
        const cv::Point middle(std::clamp(static_cast<int>(std::lround(b.x)), 0, labels.cols - 1),
                               std::clamp(static_cast<int>(std::lround(b.y)), 0, labels.rows - 1));
        b.is_round = b.is_round && labels(middle) == k;
        if (b.is_round) look_around(w, 0.25 * (bw + bh), b);
        out.push_back(b);
    }
}

}  // namespace

void name_shades(const cv::Mat3b& smooth, const cv::Mat1b& inside, bool rim_seen, double px_per_mm,
                 const std::vector<Touch>& touches, Tones& t) {
    Work w;
    const double f =
        std::min(1.0, std::sqrt(most_shade_pixels / (static_cast<double>(smooth.rows) * smooth.cols)));
    cv::Mat3b picture = smooth;
    cv::Mat1b within = inside;
    if (f < 1) {
        cv::resize(smooth, picture, {}, f, f, cv::INTER_AREA);
        cv::resize(inside, within, picture.size(), 0, 0, cv::INTER_NEAREST);
    }
    w.px_per_mm = px_per_mm * f;
    w.picture = picture;
    w.dark = 0.55 * std::max(grey_of(t.low_mean), grey_of(t.low_mean + t.step_mean));
    w.steep = 14.0 + 4.0 * t.noise;
    Tones plain = t;
    plain.shades.clear();
    plain.cell = t.cell * f;
    const bool two_tones = t.doubt.empty();
    const auto told = tell(picture, within, plain);
    // Colours of what is neither, away from its rims, relative to the light.
    const auto relative = [&](int y, int x) {
        const auto c = plain.low(std::min(plain.low.rows - 1, static_cast<int>(y / plain.cell)),
                                 std::min(plain.low.cols - 1, static_cast<int>(x / plain.cell)));
        cv::Vec3f q(picture(y, x));
        if (two_tones)
            for (int k = 0; k < 3; ++k)
                q[k] = std::min(400.0F, q[k] * (t.low_mean[k] + 6.0F) / (c[k] + 6.0F));
        return q;
    };
    const cv::Mat1b neither = plane(told.matter == static_cast<int>(Matter::other));
    // Where the colour changes from pixel to pixel it is a rim's; in the middle of a stroke it does not.
    cv::Mat1b core;
    cv::erode(neither, core, cv::getStructuringElement(cv::MORPH_CROSS, {3, 3}));
    for (int y = 1; y + 1 < core.rows; ++y)
        for (int x = 1; x + 1 < core.cols; ++x) {
            if (core(y, x) == 0) continue;
            const cv::Vec3f across = cv::Vec3f(picture(y, x + 1)) - cv::Vec3f(picture(y, x - 1));
            const cv::Vec3f down = cv::Vec3f(picture(y + 1, x)) - cv::Vec3f(picture(y - 1, x));
            if (across.dot(across) + down.dot(down) > w.steep * w.steep) core(y, x) = 0;
        }
    std::vector<cv::Vec3f> sample;
    for (int y = 0; y < core.rows; ++y)
        for (int x = y % 2; x < core.cols; x += 2)
            if (core(y, x) != 0) sample.push_back(relative(y, x));
    if (sample.size() > 30'000) {
        std::vector<cv::Vec3f> fewer;
        for (std::size_t k = 0; k < sample.size(); k += 1 + sample.size() / 30'000)
            fewer.push_back(sample[k]);
        sample = std::move(fewer);
    }
    if (sample.size() > 40) {
        cv::Mat1i label;
        cv::Mat1f middle;
        cv::setRNGSeed(7);
        const int many = std::min<int>(most_shades, static_cast<int>(sample.size()) / 10);
        cv::kmeans(cv::Mat(static_cast<int>(sample.size()), 3, CV_32F, sample.data()), many, label,
                   cv::TermCriteria(cv::TermCriteria::COUNT | cv::TermCriteria::EPS, 20, 0.5), 2,
                   cv::KMEANS_PP_CENTERS, middle);
        std::vector<std::pair<int, cv::Vec3f>> found(static_cast<std::size_t>(many));
        for (int k = 0; k < many; ++k)
            found[static_cast<std::size_t>(k)] = {0, {middle(k, 0), middle(k, 1), middle(k, 2)}};
        for (const int l : label) ++found[static_cast<std::size_t>(l)].first;
        std::sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
        for (const auto& one : found)
            if (const auto& c = one.second;
                one.first > 5 && std::none_of(w.colours.begin(), w.colours.end(), [&](const cv::Vec3f& o) {
                    return cv::norm(o - c) < one_shade;
                }))
                w.colours.push_back(c);
    }
    const auto of_picture = w.colours.size();
    // A click on a colour of its own makes it one.
    std::vector<std::pair<ClickKind, cv::Point>> clicks;
    for (const auto& c : touches) {
        const cv::Point p(static_cast<int>(c.at.x * f), static_cast<int>(c.at.y * f));
        if (p.x < 2 || p.y < 2 || p.x >= picture.cols - 2 || p.y >= picture.rows - 2) continue;
        clicks.emplace_back(c.kind, p);
        if (neither(p) != 0) {
            const auto q = relative(p.y, p.x);
            if (std::none_of(w.colours.begin(), w.colours.end(),
                             [&](const cv::Vec3f& o) { return cv::norm(o - q) < 0.7 * one_shade; }))
                w.colours.push_back(q);
        }
    }
    const auto reach2 = [&](std::size_t k) {
        return k < of_picture ? 1e18F : static_cast<float>(one_shade * one_shade);
    };
    const auto nearest = [&](const cv::Vec3f& q) {
        int best = none;
        double least = 1e18;
        for (std::size_t k = 0; k < w.colours.size(); ++k)
            if (const double d = cv::norm(q - w.colours[k], cv::NORM_L2SQR); d < least && d < reach2(k))
                least = d, best = first_shade + static_cast<int>(k);
        return best;
    };
    w.kind = cv::Mat1b::zeros(picture.size());
    for (int y = 0; y < w.kind.rows; ++y)
        for (int x = 0; x < w.kind.cols; ++x) {
            const auto m = static_cast<Matter>(told.matter(y, x));
            if (m == Matter::outside) continue;
            w.kind(y, x) = m == Matter::board    ? static_cast<std::uint8_t>(low)
                           : m == Matter::copper ? static_cast<std::uint8_t>(high)
                           : w.colours.empty()   ? static_cast<std::uint8_t>(none)
                                                 : static_cast<std::uint8_t>(nearest(relative(y, x)));
        }
    const int kinds = first_shade + static_cast<int>(w.colours.size());
    std::vector<Blob> blobs;
    for (int k = 1; k < kinds; ++k) measure(w, k, blobs);
    // What stands around round spots is metal, or bare copper; the spots are holes.
    std::vector<double> rings(static_cast<std::size_t>(kinds), 0.0),
        spots(static_cast<std::size_t>(kinds), 0.0);
    std::vector<double> thick(static_cast<std::size_t>(kinds), 0.0),
        area(static_cast<std::size_t>(kinds), 0.0), compact(static_cast<std::size_t>(kinds), 0.0),
        held(static_cast<std::size_t>(kinds), 0.0);
    double all_rings = 0;
    for (const auto& b : blobs) {
        const auto s = static_cast<std::size_t>(b.shade);
        if (b.thick < 2.5) continue;  // a rim's
        area[s] += b.area;
        thick[s] += b.area * b.thick;
        if (b.area > 0.5 * b.thick * b.thick && b.area < 4.0 * b.thick * b.thick &&
            b.thick > 0.3 * w.px_per_mm)
            compact[s] += b.area;
        // Ringed by the tone that fills most of the board: a pad without a hole, or dirt.
        if (b.is_round && b.ring_share > 0.6 && b.ring != b.shade) {
            const double weight = std::min(b.across, 1.2 * w.px_per_mm);
            rings[static_cast<std::size_t>(b.ring)] += weight;
            spots[s] += weight;
            held[s] += b.area;
            all_rings += weight;
        }
    }
    std::vector<Matter> matter(static_cast<std::size_t>(kinds), Matter::other);
    const auto share = [&](int k) {
        return all_rings > 0 ? rings[static_cast<std::size_t>(k)] / all_rings : 0.0;
    };
    double shades_rings = 0;
    for (int k = first_shade; k < kinds; ++k) shades_rings += rings[static_cast<std::size_t>(k)];
    for (int k = first_shade; k < kinds; ++k) {
        const auto s = static_cast<std::size_t>(k);
        const double mean_thick = thick[s] / std::max(1.0, area[s]) / w.px_per_mm;
        if (!w.is_dark(k) && rings[s] > 0.15 * all_rings && rings[s] > 0.25 * w.px_per_mm)
            matter[s] = Matter::metal;
        else if (held[s] > 0.35 * area[s])
            matter[s] = Matter::hole;
        else if (mean_thick < ink_most_mm)
            matter[s] = Matter::ink;
        else
            matter[s] = Matter::other;
    }
    // A side without a hole to see: pads are compact, and thicker than any stroke.
    if (shades_rings < 0.25 * w.px_per_mm)
        for (int k = first_shade; k < kinds; ++k)
            if (const auto s = static_cast<std::size_t>(k); !w.is_dark(k) && compact[s] > 0.6 * area[s] &&
                                                            matter[s] == Matter::other &&
                                                            area[s] > 0.3 * w.px_per_mm * w.px_per_mm)
                matter[s] = Matter::metal;
    // A thin ring shows its metal thinned by what lies around: whose mixture it is, is the same metal.
    for (int k = first_shade; k < kinds; ++k) {
        const auto s = static_cast<std::size_t>(k);
        if (matter[s] != Matter::other && matter[s] != Matter::ink) continue;
        if (thick[s] / std::max(1.0, area[s]) < 0.3 * w.px_per_mm || compact[s] < 0.4 * area[s]) continue;
        const auto& full = w.colours[s - first_shade];
        for (int m = first_shade; m < kinds && matter[s] != Matter::metal; ++m) {
            if (matter[static_cast<std::size_t>(m)] != Matter::metal) continue;
            for (const cv::Vec3f& ground :
                 {t.low_mean, cv::Vec3f(t.low_mean + t.step_mean), cv::Vec3f(10, 10, 10)}) {
                const auto way = full - ground,
                           part = w.colours[static_cast<std::size_t>(m - first_shade)] - ground;
                const float share_of = part.dot(way) / std::max(1.0F, way.dot(way));
                if (share_of > 0.6F && share_of < 0.98F && cv::norm(part - way * share_of) < 20.0)
                    matter[s] = Matter::metal;
            }
        }
    }
    for (const auto& [kind, p] : clicks) {
        const int k = w.kind(p);
        if (k < first_shade) continue;
        matter[static_cast<std::size_t>(k)] = matter_of(kind);
    }
    t.shades.clear();
    for (int k = first_shade; k < kinds; ++k)
        t.shades.push_back({w.colours[static_cast<std::size_t>(k - first_shade)],
                            matter[static_cast<std::size_t>(k)],
                            reach2(static_cast<std::size_t>(k - first_shade))});
    // Which of both tones is copper? Laminate stands along the rim and around most pads.
    double vote = 0;  // above 0: the higher tone is laminate
    const auto band = [&](const cv::Mat1b& where) {
        double l = 0, h = 0;
        for (int y = 0; y < w.kind.rows; ++y)
            for (int x = 0; x < w.kind.cols; ++x)
                if (where(y, x) != 0)
                    (w.kind(y, x) == low ? l : h) += w.kind(y, x) == low || w.kind(y, x) == high ? 1 : 0;
        return l + h < 30 ? 0.0 : (h - l) / (h + l);
    };
    const auto disc = [](double r) {
        const int n = std::max(1, static_cast<int>(std::lround(r)));
        return cv::getStructuringElement(cv::MORPH_ELLIPSE, {2 * n + 1, 2 * n + 1});
    };
    if (rim_seen) {
        cv::Mat1b outer, inner;
        cv::erode(within, outer, disc(0.12 * w.px_per_mm + 1), {-1, -1}, 1, cv::BORDER_CONSTANT,
                  cv::Scalar(0));
        cv::erode(outer, inner, disc(0.25 * w.px_per_mm), {-1, -1}, 1, cv::BORDER_CONSTANT, cv::Scalar(0));
        vote += 1.2 * band(plane(outer & ~inner));
    }
    cv::Mat1b pads = plane(cv::Mat1b::zeros(picture.size()));
    for (int k = first_shade; k < kinds; ++k)
        if (matter[static_cast<std::size_t>(k)] == Matter::metal) pads |= w.kind == k;
    cv::morphologyEx(pads, pads, cv::MORPH_OPEN, disc(1));
    if (cv::countNonZero(pads) > 50) {
        cv::Mat1b near, around;
        cv::dilate(pads, near, disc(0.03 * w.px_per_mm + 2));
        cv::dilate(near, around, disc(0.07 * w.px_per_mm + 1));
        vote += 1.5 * band(plane(around & ~near));
    }
    // Holes that stand in one of the tones: bare copper.
    const double before = vote;
    if (all_rings > 0 && share(low) + share(high) > 0.3) vote += 2.0 * (share(low) - share(high));
    const bool agree = std::abs(before) < 0.5 || before * vote > 0;
    vote -= 0.15;  // copper mostly shines lighter
    t.vote = agree ? vote : 0.3 * vote;
    t.settled = std::abs(vote) > 0.35 && agree;
    t.high_is_copper = vote < 0;
    for (const auto& [kind, p] : clicks) {
        const int k = w.kind(p);
        if (k != low && k != high) continue;
        if (kind == ClickKind::copper || kind == ClickKind::pad)
            t.high_is_copper = k == high, t.settled = true, t.vote = vote_of_person;
        if (kind == ClickKind::board) t.high_is_copper = k == low, t.settled = true, t.vote = vote_of_person;
    }
    if (!t.settled && t.doubt.empty()) t.doubt = copper_not_told;
}

}  // namespace grayrelic::scan_ground
