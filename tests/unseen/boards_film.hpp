// SPDX-License-Identifier: GPL-3.0-or-later
// Coverage of one material over a board, by signed distances. For the artist of tests/unseen only.
#pragma once

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>

#include "tests/unseen/boards.hpp"

namespace grayrelic::unseen {

/// A sheet of coverages, 0 to 1, over the board and a margin.
struct Film {
    cv::Mat1f at;
    double scale, margin;  ///< pixels to the mm; mm around the board
    Film(const BoardLayout& b, double s, double m)
        : at(static_cast<int>((b.height + 2 * m) * s), static_cast<int>((b.width + 2 * m) * s), 0.0F),
          scale(s),
          margin(m) {}

    /// Paints what lies within a distance function's zero, in mm, inside a box.
    template <class Distance>
    void add(double x1, double y1, double x2, double y2, const Distance& distance) {
        const int c1 = std::max(0, static_cast<int>((x1 + margin) * scale) - 2),
                  c2 = std::min(at.cols - 1, static_cast<int>((x2 + margin) * scale) + 2);
        const int r1 = std::max(0, static_cast<int>((y1 + margin) * scale) - 2),
                  r2 = std::min(at.rows - 1, static_cast<int>((y2 + margin) * scale) + 2);
        for (int r = r1; r <= r2; ++r)
            for (int c = c1; c <= c2; ++c) {
                const double d = distance((c + 0.5) / scale - margin, (r + 0.5) / scale - margin);
                auto& v = at(r, c);
                v = std::max(v, static_cast<float>(std::clamp(0.5 - d * scale, 0.0, 1.0)));
            }
    }
    void line(double x1, double y1, double x2, double y2, double width) {
        const double h = width / 2, dx = x2 - x1, dy = y2 - y1, l2 = std::max(1e-12, dx * dx + dy * dy);
        add(std::min(x1, x2) - h, std::min(y1, y2) - h, std::max(x1, x2) + h, std::max(y1, y2) + h,
            [&](double x, double y) {
                const double t = std::clamp(((x - x1) * dx + (y - y1) * dy) / l2, 0.0, 1.0);
                return std::hypot(x - x1 - t * dx, y - y1 - t * dy) - h;
            });
    }
    void disc(double x, double y, double across) { line(x, y, x, y, across); }
    void box(double x1, double y1, double x2, double y2) {
        add(x1, y1, x2, y2, [&](double x, double y) { return std::max({x1 - x, x - x2, y1 - y, y - y2}); });
    }
    void pad(const BoardPad& p, double more) {
        const double w = p.w + 2 * more, h = p.h + 2 * more;
        if (p.square)
            box(p.x - w / 2, p.y - h / 2, p.x + w / 2, p.y + h / 2);
        else if (w > h)
            line(p.x - (w - h) / 2, p.y, p.x + (w - h) / 2, p.y, h);
        else
            line(p.x, p.y - (h - w) / 2, p.x, p.y + (h - w) / 2, w);
    }
};

[[nodiscard]] bool on(const BoardPad& p, int side);
[[nodiscard]] cv::Mat1f copper_of(const BoardLayout& b, int side, double scale, double margin);

}  // namespace grayrelic::unseen
