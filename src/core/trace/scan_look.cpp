// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/scan_look.hpp"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/trace/scan_ground.hpp"

namespace grayrelic {
namespace {

using namespace scan_ground;

/// The part's grid, as far as the layer reaches.
struct PartGrid {
    int width = 0, height = 0;
    double px_per_mm = 0, x0 = 0, y0 = 0;
    [[nodiscard]] bool empty() const { return width < 2 || height < 2; }
};

PartGrid grid_of(const ScanLayer& layer, const BoardWindow& part, double most_pixels) {
    PartGrid g;
    g.x0 = std::max(layer.x0_mm, std::min(part.x0_mm, part.x1_mm));
    g.y0 = std::max(layer.y0_mm, std::min(part.y0_mm, part.y1_mm));
    const double x1 = std::min(layer.x0_mm + layer.width / layer.px_per_mm, std::max(part.x0_mm, part.x1_mm)),
                 y1 =
                     std::min(layer.y0_mm + layer.height / layer.px_per_mm, std::max(part.y0_mm, part.y1_mm));
    if (!(x1 > g.x0) || !(y1 > g.y0)) return g;
    g.px_per_mm = std::min(layer.px_per_mm, std::sqrt(most_pixels / ((x1 - g.x0) * (y1 - g.y0))));
    g.width = static_cast<int>((x1 - g.x0) * g.px_per_mm);
    g.height = static_cast<int>((y1 - g.y0) * g.px_per_mm);
    return g;
}

/// The picture's part on that grid; averaged where the grid is coarser than the picture.
cv::Mat3b lay(const Raster& pixels, const std::array<double, 6>& m, const PartGrid& g) {
    const cv::Mat whole(pixels.height, pixels.width, CV_8UC3,
                        const_cast<std::uint8_t*>(pixels.rgb.data()));  // read only
    const double s = 1.0 / g.px_per_mm;
    double u0 = 1e9, v0 = 1e9, u1 = -1e9, v1 = -1e9;
    for (const double x : {g.x0, g.x0 + g.width * s})
        for (const double y : {g.y0, g.y0 + g.height * s}) {
            const double u = m[0] * x + m[1] * y + m[2], v = m[3] * x + m[4] * y + m[5];
            u0 = std::min(u0, u), u1 = std::max(u1, u);
            v0 = std::min(v0, v), v1 = std::max(v1, v);
        }
    const auto bound = [](double v, int most) { return static_cast<int>(std::clamp(v, 0.0, double(most))); };
    const cv::Rect box(cv::Point(bound(u0 - 3, whole.cols - 2), bound(v0 - 3, whole.rows - 2)),
                       cv::Point(bound(u1 + 4, whole.cols), bound(v1 + 4, whole.rows)));
    if (box.width < 2 || box.height < 2) return {};
    // Pixels of the grid to one of the picture.
    const double scale = g.px_per_mm / std::sqrt(std::abs(m[0] * m[4] - m[1] * m[3]));
    cv::Mat source = whole(box);
    double fx = 1, fy = 1;
    if (scale < 0.7) {
        const cv::Size to(std::max(2, static_cast<int>(std::lround(box.width * scale))),
                          std::max(2, static_cast<int>(std::lround(box.height * scale))));
        fx = static_cast<double>(to.width) / box.width;
        fy = static_cast<double>(to.height) / box.height;
        cv::Mat small;
        cv::resize(source, small, to, 0, 0, cv::INTER_AREA);
        source = small;
    }
    // The middle of pixel (i, j) of a copy f times as large lies at (i + 0.5)/f - 0.5 of the picture.
    const cv::Matx23d map(m[0] * s * fx, m[1] * s * fx,
                          (m[0] * g.x0 + m[1] * g.y0 + m[2] - box.x + 0.5) * fx - 0.5, m[3] * s * fy,
                          m[4] * s * fy, (m[3] * g.x0 + m[4] * g.y0 + m[5] - box.y + 0.5) * fy - 0.5);
    cv::Mat out;
    cv::warpAffine(source, out, map, cv::Size(g.width, g.height), cv::INTER_LINEAR | cv::WARP_INVERSE_MAP,
                   cv::BORDER_REPLICATE);
    if (scale >= 0.7) cv::GaussianBlur(out, out, {0, 0}, 0.9);
    return out;
}

/// The fields as they are over the part, one cell of theirs to `cell` of its pixels.
Tones tones_over(const Tones& whole, const ScanLayer& layer, const PartGrid& g) {
    Tones out = whole;
    const double of_layer = layer.px_per_mm / g.px_per_mm;  // pixels of the layer to one of the part
    out.cell = whole.cell / of_layer;
    const double i0 = (g.x0 - layer.x0_mm) * layer.px_per_mm, j0 = (g.y0 - layer.y0_mm) * layer.px_per_mm;
    const cv::Size cells(static_cast<int>(std::ceil(g.width / out.cell)) + 1,
                         static_cast<int>(std::ceil(g.height / out.cell)) + 1);
    // Cell k's middle lies at (k + 0.5) cells, whichever grid.
    const cv::Matx23d map(1, 0, i0 / whole.cell, 0, 1, j0 / whole.cell);
    for (const auto& [from, to] : {std::pair{&whole.low, &out.low}, std::pair{&whole.step, &out.step}}) {
        cv::Mat moved;
        cv::warpAffine(*from, moved, map, cells, cv::INTER_LINEAR | cv::WARP_INVERSE_MAP,
                       cv::BORDER_REPLICATE);
        *to = moved;
    }
    return out;
}

Ground ground_of(Matter m) {
    switch (m) {
        case Matter::outside: return Ground::outside;
        case Matter::copper:
        case Matter::metal: return Ground::copper;
        case Matter::hole: return Ground::hole;
        case Matter::ink: return Ground::silk;
        case Matter::board:
        case Matter::other: break;
    }
    return Ground::board;
}

}  // namespace

std::optional<ScanSight> look_again(const Raster& pixels, const ScanLayer& layer,
                                    const std::vector<ScanClick>& clicks, const BoardWindow& part,
                                    double most_pixels) {
    if (!layer.tones || !check_raster(pixels, {})) return std::nullopt;
    const auto g = grid_of(layer, part, most_pixels);
    if (g.empty()) return std::nullopt;
    const auto picture = lay(pixels, layer.tones->map, g);
    if (picture.empty()) return std::nullopt;
    auto tones = tones_over(layer.tones->tones, layer, g);
    cv::Mat1b inside(g.height, g.width, static_cast<std::uint8_t>(0));
    ScanSight out{g.width, g.height, g.px_per_mm, g.x0, g.y0, {}, 0};
    for (int y = 0; y < g.height; ++y)
        for (int x = 0; x < g.width; ++x)
            if (layer.at(g.x0 + x / g.px_per_mm, g.y0 + y / g.px_per_mm) != Ground::outside)
                inside(y, x) = 255;
    const auto before = tell(picture, inside, tones);
    for (const auto& c : clicks) {
        // A click may lie beyond the part.
        const PartGrid around{7, 7, layer.px_per_mm, c.x_mm - 3 / layer.px_per_mm,
                              c.y_mm - 3 / layer.px_per_mm};
        const auto near = lay(pixels, layer.tones->map, around);
        if (near.empty()) continue;
        const auto there = tones_over(layer.tones->tones, layer, around);
        take_click(cv::Vec3f(near(3, 3)), there.low(0, 0), there.step(0, 0), c.kind, tones);
    }
    const auto after = tell(picture, inside, tones);
    out.ground.reserve(after.matter.total());
    long changed = 0;
    for (int y = 0; y < g.height; ++y)
        for (int x = 0; x < g.width; ++x) {
            out.ground.push_back(ground_of(static_cast<Matter>(after.matter(y, x))));
            changed += out.ground.back() != ground_of(static_cast<Matter>(before.matter(y, x))) ? 1 : 0;
        }
    out.changed_mm2 = static_cast<double>(changed) / (g.px_per_mm * g.px_per_mm);
    return out;
}

}  // namespace grayrelic
