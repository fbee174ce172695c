// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/scan_edges.hpp"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <random>

namespace grayrelic::scan_ground {
namespace {

constexpr std::size_t most_edges = 24'000;
constexpr int most_kinds = 8;
constexpr float near_side = 2.0F, far_side = 3.2F;  ///< pixels from an edge where its two tones are read

/// How much neighbouring pixels of one tone differ: from second differences, which neither light nor most of
/// the copper's shape reaches.
double noise_of(const cv::Mat1f& light, const cv::Mat1b& inside) {
    std::vector<float> d;
    for (int y = 2; y + 2 < light.rows; y += 3)
        for (int x = 4; x + 4 < light.cols; x += 7)
            if (inside(y, x) != 0) d.push_back(std::abs(light(y, x - 4) - 2 * light(y, x) + light(y, x + 4)));
    if (d.size() < 20) return 1.0;
    std::nth_element(d.begin(), d.begin() + static_cast<std::ptrdiff_t>(d.size() * 4 / 10), d.end());
    // Of a normal distribution four tenths lie within 0.524 deviations; 1 + 4 + 1 = 6 variances are in it.
    return std::max(0.25, static_cast<double>(d[d.size() * 4 / 10]) / (0.524 * std::sqrt(6.0)));
}

/// Of edges with one step those whose lower side is one material: its logarithm follows a surface of second
/// order over the picture, but for a shadow or a brighter spot, which changes all colours alike.
std::vector<const Edge*> of_one_material(const std::vector<Edge*>& list, double noise) {
    constexpr float none = -1e9F;
    std::vector<const Edge*> out;
    if (list.empty()) return out;
    const auto logs = [](const Edge& e) {
        return cv::Vec3f(std::log(e.low[0] + 8), std::log(e.low[1] + 8), std::log(e.low[2] + 8));
    };
    // How far off in light, and how far in colour.
    const auto off = [&](const Edge& e, const cv::Vec3f& middle) {
        const auto d = logs(e) - middle;
        const float light = (d[0] + d[1] + d[2]) / 3;
        const float colour =
            std::max({std::abs(d[0] - light), std::abs(d[1] - light), std::abs(d[2] - light)});
        const auto blur = static_cast<float>(2.0 * noise / (grey(e.low) + 8.0));
        return std::pair{light, colour < 0.11F + blur ? 0.0F : none};
    };
    std::mt19937 dice(3);
    cv::Vec3f best = logs(*list.front());
    std::size_t most = 0;
    for (int tries = 0; tries < 60; ++tries) {
        const auto middle = logs(*list[dice() % list.size()]);
        std::size_t n = 0;
        for (std::size_t k = 0; k < list.size(); k += 1 + list.size() / 3000) {
            const auto [light, colour] = off(*list[k], middle);
            n += colour == 0 && std::abs(light) < 0.12F ? 1 : 0;
        }
        if (n > most) most = n, best = middle;
    }
    double wide = 1, high = 1;
    for (const auto* e : list) wide = std::max<double>(wide, e->at.x), high = std::max<double>(high, e->at.y);
    const auto terms = [&](const Edge& e) {
        const double u = 2 * e.at.x / wide - 1, v = 2 * e.at.y / high - 1;
        return Eigen::Matrix<double, 1, 6>(1, u, v, u * u, u * v, v * v);
    };
    Eigen::Matrix<double, 6, 3> surface = Eigen::Matrix<double, 6, 3>::Zero();
    for (int k = 0; k < 3; ++k) surface(0, k) = best[k];
    const auto middle_at = [&](const Edge& e) {
        const Eigen::RowVector3d m = terms(e) * surface;
        return cv::Vec3f(static_cast<float>(m[0]), static_cast<float>(m[1]), static_cast<float>(m[2]));
    };
    for (const float reach : {0.12F, 0.16F, 0.16F, 0.14F, 0.14F}) {
        Eigen::Matrix<double, 6, 6> a = Eigen::Matrix<double, 6, 6>::Zero();
        Eigen::Matrix<double, 6, 3> b = Eigen::Matrix<double, 6, 3>::Zero();
        double n = 0;
        for (const auto* e : list) {
            const auto [light, colour] = off(*e, middle_at(*e));
            if (colour != 0 || std::abs(light) > reach) continue;
            const auto t = terms(*e);
            const auto l = logs(*e);
            a += t.transpose() * t;
            b += t.transpose() * Eigen::RowVector3d(l[0], l[1], l[2]);
            ++n;
        }
        if (n < 20) break;
        // Kept near the surface of before where edges are few.
        const Eigen::Matrix<double, 6, 6> hold =
            Eigen::Matrix<double, 6, 1>(1e-3, 0.02, 0.02, 0.03, 0.03, 0.03).asDiagonal() * n;
        surface = (a + hold).ldlt().solve(b + hold * surface);
    }
    for (auto* e : list) {
        const auto [light, colour] = off(*e, middle_at(*e));
        if (colour == 0 && light > -0.8F && light < 0.6F) e->used = true, out.push_back(e);
    }
    return out;
}

}  // namespace

namespace {

bool alike(const Edge& e, const cv::Vec3f& middle, double noise) {
    const auto d = e.ratio - middle;
    const double blur = 2.5 * noise / (grey(e.low) + 8.0);
    const double reach = 0.03 + std::min(0.12, blur) + 0.16 * cv::norm(middle);
    return d.dot(d) < reach * reach;
}

/// The ratio that most edges not used yet lie near; false when none is left.
bool densest(const std::vector<Edge>& edges, double noise, std::mt19937& dice, cv::Vec3f& best) {
    std::size_t most = 0;
    for (int tries = 0; tries < 160; ++tries) {
        const auto& e = edges[dice() % edges.size()];
        if (e.used) continue;
        std::size_t n = 0;
        for (std::size_t k = 0; k < edges.size(); k += 1 + edges.size() / 6000)
            n += !edges[k].used && alike(edges[k], e.ratio, noise) ? 1 : 0;
        if (n > most) most = n, best = e.ratio;
    }
    return most > 0;
}

}  // namespace

float grey(const cv::Vec3f& v) {
    return 0.3F * v[0] + 0.59F * v[1] + 0.11F * v[2];
}

std::vector<Edge> find_edges(const cv::Mat3b& picture, const cv::Mat1b& inside, double& noise) {
    cv::Mat3f colours;
    picture.convertTo(colours, CV_32F);
    cv::Mat1f light;
    cv::transform(colours, light, cv::Matx13f(0.3F, 0.59F, 0.11F));
    noise = noise_of(light, inside);
    cv::Mat1f gx, gy;
    cv::Sobel(light, gx, CV_32F, 1, 0, 3, 0.125);
    cv::Sobel(light, gy, CV_32F, 0, 1, 3, 0.125);
    const auto least = static_cast<float>(std::max(1.0, 1.6 * noise));
    std::vector<Edge> out;
    const auto at = [&](float x, float y) -> cv::Vec3f {
        return colours(static_cast<int>(std::lround(y)), static_cast<int>(std::lround(x)));
    };
    for (int y = 6; y + 6 < picture.rows; ++y)
        for (int x = 6; x + 6 < picture.cols; ++x) {
            const float u = gx(y, x), v = gy(y, x);
            const float m2 = u * u + v * v;
            if (m2 < least * least || inside(y, x) == 0) continue;
            const float m = std::sqrt(m2), nx = u / m, ny = v / m;
            const auto beside = [&](float s) {
                const int i = x + static_cast<int>(std::lround(s * nx)),
                          j = y + static_cast<int>(std::lround(s * ny));
                return gx(j, i) * gx(j, i) + gy(j, i) * gy(j, i);
            };
            if (beside(1) > m2 || beside(-1) >= m2) continue;
            const auto fx = static_cast<float>(x), fy = static_cast<float>(y);
            const auto l1 = at(fx - near_side * nx, fy - near_side * ny),
                       l2 = at(fx - far_side * nx, fy - far_side * ny);
            const auto h1 = at(fx + near_side * nx, fy + near_side * ny),
                       h2 = at(fx + far_side * nx, fy + far_side * ny);
            if (inside(static_cast<int>(fy - far_side * ny * 1.5F),
                       static_cast<int>(fx - far_side * nx * 1.5F)) == 0 ||
                inside(static_cast<int>(fy + far_side * ny * 1.5F),
                       static_cast<int>(fx + far_side * nx * 1.5F)) == 0)
                continue;
            Edge e{{x, y}, (l1 + l2) * 0.5F, (h1 + h2) * 0.5F, {}, false};
            const float apart = grey(e.high) - grey(e.low);
            // Both sides flat, or the tones are not those of areas.
            if (apart < 3.0F * static_cast<float>(noise) ||
                std::abs(grey(l1) - grey(l2)) > 0.3F * apart + 1.2F * static_cast<float>(noise) ||
                std::abs(grey(h1) - grey(h2)) > 0.3F * apart + 1.2F * static_cast<float>(noise))
                continue;
            for (int k = 0; k < 3; ++k) e.ratio[k] = std::log((e.high[k] + 8.0F) / (e.low[k] + 8.0F));
            out.push_back(e);
        }
    std::mt19937 dice(1);
    std::shuffle(out.begin(), out.end(), dice);
    if (out.size() > most_edges) out.resize(most_edges);
    return out;
}

std::vector<std::vector<const Edge*>> sort_edges(std::vector<Edge>& edges, double noise) {
    std::vector<std::vector<const Edge*>> out;
    const auto within = [&](const Edge& e, const cv::Vec3f& middle) { return alike(e, middle, noise); };
    std::mt19937 dice(2);
    std::size_t left = edges.size();
    while (out.size() < most_kinds && left * 60 > edges.size() && left > 8) {
        cv::Vec3f best;
        if (!densest(edges, noise, dice, best)) break;
        for (int pass = 0; pass < 2; ++pass) {
            cv::Vec3f sum;
            int n = 0;
            for (const auto& e : edges)
                if (!e.used && within(e, best)) sum += e.ratio, ++n;
            if (n > 0) best = sum * (1.0F / static_cast<float>(n));
        }
        std::vector<Edge*> like;
        for (auto& e : edges)
            if (!e.used && within(e, best)) like.push_back(&e);
        auto kind = of_one_material(like, noise);
        if (kind.empty()) break;
        left -= kind.size();
        out.push_back(std::move(kind));
    }
    return out;
}

}  // namespace grayrelic::scan_ground
