// SPDX-License-Identifier: GPL-3.0-or-later
// The board's rim: what does not look like that which stands all around the picture.
#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/trace/scan_ground.hpp"

namespace grayrelic::scan_ground {
namespace {

constexpr double coarse_px_per_mm = 4.0;
constexpr double even_enough = 12.0;  ///< levels that the surroundings may differ from a curved surface
constexpr double least_share = 0.08;  ///< of the picture that the board covers
constexpr double in_one_piece = 0.85;

/// The surroundings' tone, as a surface of second order through the picture's border.
struct Surface {
    Eigen::Matrix<double, 6, 3> c = Eigen::Matrix<double, 6, 3>::Zero();
    double spread = 0;
    static Eigen::Matrix<double, 1, 6> terms(double u, double v) {
        return Eigen::Matrix<double, 1, 6>(1, u, v, u * u, u * v, v * v);
    }
};

Surface border_of(const cv::Mat3b& p) {
    std::vector<std::array<double, 5>> list;
    const auto take = [&](int x, int y) {
        const auto& v = p(y, x);
        list.push_back(
            {2.0 * x / p.cols - 1, 2.0 * y / p.rows - 1, double(v[0]), double(v[1]), double(v[2])});
    };
    for (int x = 0; x < p.cols; ++x)
        for (const int y : {0, 1, p.rows - 2, p.rows - 1}) take(x, std::clamp(y, 0, p.rows - 1));
    for (int y = 0; y < p.rows; ++y)
        for (const int x : {0, 1, p.cols - 2, p.cols - 1}) take(std::clamp(x, 0, p.cols - 1), y);
    Surface out;
    std::vector<double> off(list.size(), 0.0);
    double limit = 1e9;
    for (int pass = 0; pass < 4; ++pass) {
        Eigen::Matrix<double, 6, 6> a = Eigen::Matrix<double, 6, 6>::Identity() * 1e-3;
        Eigen::Matrix<double, 6, 3> b = Eigen::Matrix<double, 6, 3>::Zero();
        for (std::size_t i = 0; i < list.size(); ++i) {
            if (off[i] > limit) continue;
            const auto t = Surface::terms(list[i][0], list[i][1]);
            a += t.transpose() * t;
            b += t.transpose() * Eigen::RowVector3d(list[i][2], list[i][3], list[i][4]);
        }
        out.c = a.ldlt().solve(b);
        for (std::size_t i = 0; i < list.size(); ++i)
            off[i] = (Surface::terms(list[i][0], list[i][1]) * out.c -
                      Eigen::RowVector3d(list[i][2], list[i][3], list[i][4]))
                         .norm();
        auto sorted = off;
        const auto middle = sorted.begin() + static_cast<std::ptrdiff_t>(6 * sorted.size() / 10);
        std::nth_element(sorted.begin(), middle, sorted.end());
        out.spread = *middle;
        limit = std::max(4.0, 3.0 * out.spread);
    }
    return out;
}

/// The surface along one row: there it is a parabola.
class RowOfSurface {
  public:
    RowOfSurface(const Surface& s, int y, cv::Size size) : across_(2.0F / static_cast<float>(size.width)) {
        const double v = 2.0 * y / size.height - 1;
        c0_ = (s.c.row(0) + s.c.row(2) * v + s.c.row(5) * v * v).cast<float>();
        c1_ = (s.c.row(1) + s.c.row(4) * v).cast<float>();
        c2_ = s.c.row(3).cast<float>();
    }
    /// How far a pixel is from it, squared.
    [[nodiscard]] float away2(const cv::Vec3b& p, int x) const {
        const float u = across_ * static_cast<float>(x) - 1.0F;
        float sum = 0;
        for (int k = 0; k < 3; ++k) {
            const float d = static_cast<float>(p[k]) - (c0_[k] + u * (c1_[k] + u * c2_[k]));
            sum += d * d;
        }
        return sum;
    }

  private:
    float across_;
    Eigen::RowVector3f c0_, c1_, c2_;
};

cv::Mat1f away_from(const cv::Mat3b& p, const Surface& s) {
    cv::Mat1f out(p.size());
    for (int y = 0; y < p.rows; ++y) {
        const RowOfSurface row(s, y, p.size());
        for (int x = 0; x < p.cols; ++x) out(y, x) = std::sqrt(row.away2(p(y, x), x));
    }
    return out;
}

/// Where a pixel may be the board's by `near`, it is when `sure` says so, or when it is this far away.
cv::Mat1b farther(const cv::Mat3b& p, const Surface& s, double least, const cv::Mat1b& near,
                  const cv::Mat1b& sure) {
    cv::Mat1b out = sure.clone();
    const auto least2 = static_cast<float>(least * least);
    for (int y = 0; y < p.rows; ++y) {
        const RowOfSurface row(s, y, p.size());
        const auto* n = near.ptr<std::uint8_t>(y);
        auto* o = out.ptr<std::uint8_t>(y);
        for (int x = 0; x < p.cols; ++x)
            if (o[x] != n[x]) o[x] = n[x] != 0 && row.away2(p(y, x), x) > least2 ? 255 : 0;
    }
    return out;
}

std::vector<cv::Point> largest(const cv::Mat1b& mask, double* share = nullptr) {
    std::vector<std::vector<cv::Point>> contours;
    cv::findContours(mask, contours, cv::RETR_EXTERNAL, cv::CHAIN_APPROX_SIMPLE);
    double sum = 0, most = 0;
    std::size_t best = 0;
    for (std::size_t k = 0; k < contours.size(); ++k) {
        const double a = cv::contourArea(contours[k]);
        sum += a;
        if (a > most) most = a, best = k;
    }
    if (share != nullptr) *share = sum > 0 ? most / sum : 0;
    return contours.empty() ? std::vector<cv::Point>{} : std::move(contours[best]);
}

}  // namespace

Rim find_rim(const cv::Mat3b& smooth, double px_per_mm) {
    Rim out;
    const auto all = [&] {
        out.outline = {
            {0, 0}, {smooth.cols - 1, 0}, {smooth.cols - 1, smooth.rows - 1}, {0, smooth.rows - 1}};
        out.inside = cv::Mat1b(smooth.size(), 255);
        out.seen = false;
        return out;
    };
    const double f = std::min(1.0, coarse_px_per_mm / px_per_mm);
    cv::Mat3b small;
    cv::resize(smooth, small, {}, f, f, cv::INTER_AREA);
    if (small.cols < 12 || small.rows < 12) return all();
    const auto lid = border_of(small);
    if (lid.spread > even_enough) return all();
    const auto off = away_from(small, lid);
    const double first = std::max(7.0, 5.0 * lid.spread);
    cv::Mat1b mask = plane(off > first);
    cv::morphologyEx(mask, mask, cv::MORPH_CLOSE, cv::getStructuringElement(cv::MORPH_ELLIPSE, {5, 5}));
    cv::morphologyEx(mask, mask, cv::MORPH_OPEN, cv::getStructuringElement(cv::MORPH_ELLIPSE, {3, 3}));
    double share = 0;
    auto coarse = largest(mask, &share);
    if (coarse.empty() || cv::contourArea(coarse) < least_share * small.rows * small.cols ||
        share < in_one_piece)
        return all();
    // The rim lies half way from the surroundings to what stands just inside.
    cv::Mat1b filled = plane(cv::Mat1b::zeros(small.size())), core;
    cv::drawContours(filled, std::vector<std::vector<cv::Point>>{coarse}, 0, cv::Scalar(255), cv::FILLED);
    cv::erode(filled, core, {}, {-1, -1}, 4, cv::BORDER_CONSTANT, cv::Scalar(0));
    std::vector<float> rim_off;
    cv::Mat1b inner;
    cv::erode(filled, inner, {}, {-1, -1}, 2, cv::BORDER_CONSTANT, cv::Scalar(0));
    for (int y = 0; y < small.rows; ++y)
        for (int x = 0; x < small.cols; ++x)
            if (inner(y, x) != 0 && core(y, x) == 0) rim_off.push_back(off(y, x));
    if (rim_off.empty()) return all();
    std::nth_element(rim_off.begin(), rim_off.begin() + static_cast<std::ptrdiff_t>(rim_off.size() / 2),
                     rim_off.end());
    const double half = std::max(0.6 * first, 0.5 * rim_off[rim_off.size() / 2]);
    // What the coarse look found to be far inside or outside stays so.
    cv::Mat1b sure, near;
    cv::resize(inner, sure, smooth.size(), 0, 0, cv::INTER_NEAREST);
    cv::dilate(filled, near, {}, {-1, -1}, 2);
    cv::resize(near, near, smooth.size(), 0, 0, cv::INTER_NEAREST);
    out.outline = largest(farther(smooth, lid, half, near, sure));
    if (out.outline.empty()) return all();
    out.inside = cv::Mat1b::zeros(smooth.size());
    cv::drawContours(out.inside, std::vector<std::vector<cv::Point>>{out.outline}, 0, cv::Scalar(255),
                     cv::FILLED);
    out.seen = true;
    return out;
}

}  // namespace grayrelic::scan_ground
