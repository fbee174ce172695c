// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/scan_ground.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <opencv2/imgproc.hpp>

namespace grayrelic::scan_ground {
namespace {

constexpr int sample_every = 5;  ///< pixels, for what is only counted
constexpr double hole_least_mm = 0.35, hole_most_mm = 4.0;
constexpr double round_enough = 0.72;      ///< 4πA/P² of a hole's blob
constexpr double unknown_least_mm2 = 1.5;  ///< smaller spots are dust

using Colour = cv::Vec3d;

/// The value below which a share of the counts lies, of one channel.
Colour median_of(const std::vector<cv::Vec3b>& list) {
    Colour out;
    std::vector<std::uint8_t> v(list.size());
    for (int c = 0; c < 3; ++c) {
        std::transform(list.begin(), list.end(), v.begin(), [c](const cv::Vec3b& p) { return p[c]; });
        if (v.empty()) continue;
        const auto middle = v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2);
        std::nth_element(v.begin(), middle, v.end());
        out[c] = *middle;
    }
    return out;
}

/// The scanner's lid: what stands all around the picture.
Colour border_colour(const cv::Mat& rgb) {
    std::vector<cv::Vec3b> list;
    const int step = std::max(1, std::min(rgb.cols, rgb.rows) / 400);
    for (int x = 0; x < rgb.cols; x += step) {
        list.push_back(rgb.at<cv::Vec3b>(1 % rgb.rows, x));
        list.push_back(rgb.at<cv::Vec3b>(rgb.rows - 1 - 1 % rgb.rows, x));
    }
    for (int y = 0; y < rgb.rows; y += step) {
        list.push_back(rgb.at<cv::Vec3b>(y, 1 % rgb.cols));
        list.push_back(rgb.at<cv::Vec3b>(y, rgb.cols - 1 - 1 % rgb.cols));
    }
    return median_of(list);
}

double distance(const cv::Vec3b& p, const Colour& c) {
    const double r = p[0] - c[0], g = p[1] - c[1], b = p[2] - c[2];
    return std::sqrt(r * r + g * g + b * b);
}

/// The board's rim: the largest thing that does not look like the lid, without its holes.
std::vector<cv::Point> find_outline(const cv::Mat& smooth, const Colour& lid) {
    // The rim lies where the colour is half way between the lid's and the board's.
    std::vector<cv::Vec3b> board;
    for (int y = 0; y < smooth.rows; y += sample_every)
        for (int x = 0; x < smooth.cols; x += sample_every)
            if (distance(smooth.at<cv::Vec3b>(y, x), lid) > 60.0) board.push_back(smooth.at<cv::Vec3b>(y, x));
    const double rim = board.empty() ? 40.0 : std::max(30.0, 0.5 * cv::norm(median_of(board) - lid));
    cv::Mat mask(smooth.size(), CV_8U);
    for (int y = 0; y < smooth.rows; ++y) {
        const auto* p = smooth.ptr<cv::Vec3b>(y);
        auto* m = mask.ptr<std::uint8_t>(y);
        for (int x = 0; x < smooth.cols; ++x) m[x] = distance(p[x], lid) > rim ? 255 : 0;
    }
    std::vector<std::vector<cv::Point>> contours;
    cv::findContours(mask, contours, cv::RETR_EXTERNAL, cv::CHAIN_APPROX_SIMPLE);
    const auto largest = std::max_element(contours.begin(), contours.end(), [](const auto& a, const auto& b) {
        return cv::contourArea(a) < cv::contourArea(b);
    });
    // A picture without a rim around the board is all board.
    if (largest == contours.end() || cv::contourArea(*largest) < 0.1 * smooth.rows * smooth.cols)
        return {{0, 0}, {smooth.cols - 1, 0}, {smooth.cols - 1, smooth.rows - 1}, {0, smooth.rows - 1}};
    return std::move(*largest);
}

struct Colours {
    Colour copper, board;
    double spread = 10;  ///< usual distance of a pixel from its class
};

/// Most of what differs from the board on a board of thin tracks is their rims: half copper, half board. The
/// full colour is that of the upper tenth along the way from the board to them.
Colour full_colour(const std::vector<cv::Vec3b>& others, const Colour& board) {
    const auto usual = median_of(others);
    const auto way = usual - board;
    const double length = cv::norm(way);
    if (others.size() < 10 || length < 1e-6) return usual;
    std::vector<double> along;
    for (const auto& p : others) along.push_back((Colour(p[0], p[1], p[2]) - board).dot(way) / length);
    auto sorted = along;
    const auto tenth = sorted.begin() + static_cast<std::ptrdiff_t>(9 * sorted.size() / 10);
    std::nth_element(sorted.begin(), tenth, sorted.end());
    std::vector<cv::Vec3b> full;
    for (std::size_t i = 0; i < others.size(); ++i)
        if (along[i] >= *tenth) full.push_back(others[i]);
    return median_of(full);
}

/// The two colours that fill the board: its most usual one, and the usual one among those clearly different
/// from it. Holes and soot are darker than both and do not count. Copper is the redder and brighter of them.
Colours find_colours(const cv::Mat& smooth, const cv::Mat& inside) {
    std::vector<cv::Vec3b> sample;
    for (int y = 0; y < smooth.rows; y += sample_every)
        for (int x = 0; x < smooth.cols; x += sample_every)
            if (inside.at<std::uint8_t>(y, x) != 0) sample.push_back(smooth.at<cv::Vec3b>(y, x));
    const auto usual = median_of(sample);
    std::vector<double> off;
    for (const auto& p : sample) off.push_back(distance(p, usual));
    auto spread = off;
    if (!spread.empty())
        std::nth_element(spread.begin(), spread.begin() + static_cast<std::ptrdiff_t>(spread.size() / 2),
                         spread.end());
    const double usual_spread = spread.empty() ? 4.0 : std::max(2.0, spread[spread.size() / 2]);
    const double different = std::max(30.0, 5.0 * usual_spread);
    const double light = usual[0] + usual[1] + usual[2];
    std::vector<cv::Vec3b> others;
    for (std::size_t i = 0; i < sample.size(); ++i) {
        const double sum = sample[i][0] + sample[i][1] + sample[i][2];
        if (off[i] > different && sum > std::min(0.6 * light, 150.0)) others.push_back(sample[i]);
    }
    Colours out{full_colour(others, usual), usual, std::max(4.0, usual_spread)};
    if (others.size() * 1000 < sample.size())
        out.copper = usual + Colour(120, 60, 0);  // as good as no copper
    const auto warmth = [](const Colour& c) { return c[0] + 0.5 * (c[0] - c[2]); };
    if (warmth(out.copper) < warmth(out.board)) std::swap(out.copper, out.board);
    return out;
}

constexpr double block_mm = 4.0;  ///< the light of a scanner or a window changes over centimetres

/// Takes out uneven light: the board's own colour, block by block, as a curved surface (least squares of
/// second order, twice without what lies far off it), is brought to its middle everywhere.
void even_out(cv::Mat& smooth, const cv::Mat& inside, double px_per_mm) {
    const int block = std::max(8, static_cast<int>(block_mm * px_per_mm));
    struct Patch {
        double x, y;
        Colour colour;
    };
    std::vector<Patch> patches;
    std::vector<cv::Vec3b> all, list;
    for (int y0 = 0; y0 + block <= smooth.rows; y0 += block)
        for (int x0 = 0; x0 + block <= smooth.cols; x0 += block) {
            list.clear();
            for (int y = y0; y < y0 + block; y += sample_every)
                for (int x = x0; x < x0 + block; x += sample_every)
                    if (inside.at<std::uint8_t>(y, x) != 0) list.push_back(smooth.at<cv::Vec3b>(y, x));
            const auto full = static_cast<std::size_t>((block + sample_every - 1) / sample_every);
            if (2 * list.size() < full * full) continue;
            patches.push_back({2.0 * (x0 + block / 2) / smooth.cols - 1,
                               2.0 * (y0 + block / 2) / smooth.rows - 1, median_of(list)});
            all.insert(all.end(), list.begin(), list.end());
        }
    if (patches.size() < 24) return;
    const auto usual = median_of(all);
    std::erase_if(patches, [&](const Patch& p) { return cv::norm(p.colour - usual) > 60.0; });
    const auto terms = [](double x, double y) { return std::array<double, 6>{1, x, y, x * x, x * y, y * y}; };
    cv::Mat surface;
    for (int pass = 0; pass < 2; ++pass) {
        if (patches.size() < 24) return;
        cv::Mat a(static_cast<int>(patches.size()), 6, CV_64F),
            b(static_cast<int>(patches.size()), 3, CV_64F);
        for (int i = 0; i < a.rows; ++i) {
            const auto& p = patches[static_cast<std::size_t>(i)];
            const auto t = terms(p.x, p.y);
            for (int k = 0; k < 6; ++k) a.at<double>(i, k) = t[static_cast<std::size_t>(k)];
            for (int k = 0; k < 3; ++k) b.at<double>(i, k) = p.colour[k];
        }
        cv::solve(a, b, surface, cv::DECOMP_SVD);
        const cv::Mat left = a * surface - b;
        std::vector<double> off;
        for (int i = 0; i < left.rows; ++i) off.push_back(cv::norm(left.row(i)));
        auto sorted = off;
        std::nth_element(sorted.begin(), sorted.begin() + static_cast<std::ptrdiff_t>(sorted.size() / 2),
                         sorted.end());
        const double limit = std::max(3.0, 3.0 * sorted[sorted.size() / 2]);
        std::vector<Patch> kept;
        for (std::size_t i = 0; i < patches.size(); ++i)
            if (off[i] <= limit) kept.push_back(patches[i]);
        patches = std::move(kept);
    }
    for (int y = 0; y < smooth.rows; ++y) {
        auto* p = smooth.ptr<cv::Vec3b>(y);
        const double v = 2.0 * y / smooth.rows - 1;
        // Along a row the surface is a parabola in x.
        std::array<std::array<double, 3>, 3> row{};
        for (int k = 0; k < 3; ++k) {
            const auto s = [&](int term) { return surface.at<double>(term, k); };
            row[static_cast<std::size_t>(k)] = {s(0) + s(2) * v + s(5) * v * v - usual[k], s(1) + s(4) * v,
                                                s(3)};
        }
        for (int x = 0; x < smooth.cols; ++x) {
            const double u = 2.0 * x / smooth.cols - 1;
            for (int k = 0; k < 3; ++k) {
                const auto& r = row[static_cast<std::size_t>(k)];
                p[x][k] = cv::saturate_cast<std::uint8_t>(p[x][k] - (r[0] + r[1] * u + r[2] * u * u));
            }
        }
    }
}

/// Spots of neither colour: round ones are holes, larger ones are what nobody can see.
void find_spots(Side& side, const cv::Mat& other, double px_per_mm) {
    cv::Mat labels, stats, middles;
    const int n = cv::connectedComponentsWithStats(other, labels, stats, middles, 8, CV_32S);
    std::vector<std::uint8_t> becomes(static_cast<std::size_t>(n), 0);
    for (int i = 1; i < n; ++i) {
        const int w = stats.at<int>(i, cv::CC_STAT_WIDTH), h = stats.at<int>(i, cv::CC_STAT_HEIGHT);
        const double area = stats.at<int>(i, cv::CC_STAT_AREA);
        const double across = 2.0 * std::sqrt(area / std::numbers::pi);
        const double fill = area / (0.25 * std::numbers::pi * w * h);
        const bool is_round =
            fill > round_enough && fill < 1.25 && std::abs(w - h) <= 0.25 * std::max(w, h) + 1;
        const double mm = across / px_per_mm;
        if (is_round && mm >= hole_least_mm && mm <= hole_most_mm) {
            becomes[static_cast<std::size_t>(i)] = static_cast<std::uint8_t>(Ground::hole);
            side.holes.push_back({middles.at<double>(i, 0), middles.at<double>(i, 1), across, false});
        } else if (area / (px_per_mm * px_per_mm) >= unknown_least_mm2) {
            becomes[static_cast<std::size_t>(i)] = static_cast<std::uint8_t>(Ground::unknown);
        }
    }
    for (int y = 0; y < labels.rows; ++y) {
        const auto* l = labels.ptr<int>(y);
        auto* g = side.ground.ptr<std::uint8_t>(y);
        for (int x = 0; x < labels.cols; ++x)
            if (l[x] > 0 && becomes[static_cast<std::size_t>(l[x])] != 0)
                g[x] = becomes[static_cast<std::size_t>(l[x])];
    }
}

}  // namespace

Side tell_apart(const cv::Mat& rgb, double px_per_mm, const Progress& progress) {
    Side side;
    cv::Mat smooth;
    // Noise is a matter of pixels, tracks of a quarter of a millimetre and more.
    const double sigma = std::clamp(px_per_mm * 0.04, 0.6, 2.0);
    cv::GaussianBlur(rgb, smooth, cv::Size(0, 0), sigma);
    const auto lid = border_colour(smooth);
    side.outline = find_outline(smooth, lid);
    cv::Mat inside = cv::Mat::zeros(rgb.size(), CV_8U);
    cv::drawContours(inside, std::vector<std::vector<cv::Point>>{side.outline}, 0, cv::Scalar(255),
                     cv::FILLED);
    if (progress.cancelled()) return side;
    even_out(smooth, inside, px_per_mm);
    const auto colours = find_colours(smooth, inside);
    const double apart = cv::norm(colours.copper - colours.board);
    // Neither: farther from the line between the two colours than noise explains, or beyond its ends.
    const double far = std::max(6.0 * colours.spread, 0.33 * apart);
    side.ground = cv::Mat::zeros(rgb.size(), CV_8U);
    side.certain = cv::Mat::zeros(rgb.size(), CV_8U);
    cv::Mat other = cv::Mat::zeros(rgb.size(), CV_8U);
    const Colour way = (colours.copper - colours.board) / std::max(1e-6, apart);
    for (int y = 0; y < rgb.rows; ++y) {
        const auto* p = smooth.ptr<cv::Vec3b>(y);
        const auto* in = inside.ptr<std::uint8_t>(y);
        auto* g = side.ground.ptr<std::uint8_t>(y);
        auto* c = side.certain.ptr<std::uint8_t>(y);
        auto* o = other.ptr<std::uint8_t>(y);
        for (int x = 0; x < rgb.cols; ++x) {
            if (in[x] == 0) continue;
            const Colour d(p[x][0] - colours.board[0], p[x][1] - colours.board[1],
                           p[x][2] - colours.board[2]);
            const double along = d.dot(way);
            const double beside2 = d.dot(d) - along * along;
            const double beyond = along < 0 ? -along : along > apart ? along - apart : 0.0;
            g[x] = static_cast<std::uint8_t>(along * 2.0 > apart ? Ground::copper : Ground::board);
            c[x] = static_cast<std::uint8_t>(
                std::clamp(255.0 * std::abs(2.0 * along / apart - 1.0), 0.0, 255.0));
            if (beside2 + beyond * beyond > far * far) o[x] = 255;
        }
    }
    if (progress.cancelled()) return side;
    cv::morphologyEx(other, other, cv::MORPH_CLOSE,
                     cv::getStructuringElement(cv::MORPH_ELLIPSE, cv::Size(3, 3)));
    find_spots(side, other, px_per_mm);
    return side;
}

}  // namespace grayrelic::scan_ground
