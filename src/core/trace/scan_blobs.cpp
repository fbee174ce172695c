// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/scan_blobs.hpp"

#include <algorithm>
#include <cstdint>

#include "core/base/unions.hpp"

namespace grayrelic::scan_ground {
namespace {

struct Run {
    int y, begin, end;  ///< end: one past its last pixel
};

std::vector<Run> runs_of(const cv::Mat1b& matter, const Kinds& of) {
    std::vector<Run> out;
    for (int y = 0; y < matter.rows; ++y) {
        const auto* m = matter.ptr<std::uint8_t>(y);
        for (int x = 0; x < matter.cols;) {
            while (x < matter.cols && !of[m[x]]) ++x;
            const int begin = x;
            while (x < matter.cols && of[m[x]]) ++x;
            if (x > begin) out.push_back({y, begin, x});
        }
    }
    return out;
}

/// Runs of neighbouring rows that lie above one another are of one area.
void unite_rows(const std::vector<Run>& runs, Unions& one) {
    std::size_t above = 0;  // the first run of the row before that may touch
    for (std::size_t k = 0; k < runs.size(); ++k) {
        const auto& r = runs[k];
        while (above < k &&
               (runs[above].y < r.y - 1 || (runs[above].y == r.y - 1 && runs[above].end <= r.begin)))
            ++above;
        for (auto a = above; a < k && runs[a].y == r.y - 1 && runs[a].begin < r.end; ++a)
            one.unite(static_cast<int>(a), static_cast<int>(k));
    }
}

}  // namespace

Kinds kinds(std::initializer_list<Matter> list) {
    Kinds out{};
    for (const auto m : list) out[static_cast<std::size_t>(m)] = true;
    return out;
}

std::vector<Area> areas_of(const cv::Mat1b& matter, const Kinds& of) {
    const auto runs = runs_of(matter, of);
    Unions one(runs.size());
    unite_rows(runs, one);
    std::vector<int> number(runs.size(), -1);
    std::vector<Area> out;
    for (std::size_t k = 0; k < runs.size(); ++k) {
        const auto& r = runs[k];
        auto& n = number[static_cast<std::size_t>(one.find(static_cast<int>(k)))];
        if (n < 0) {
            n = static_cast<int>(out.size());
            out.emplace_back().first = {r.begin, r.y};
        }
        auto& area = out[static_cast<std::size_t>(n)];
        const int many = r.end - r.begin;
        area.pixels += many;
        area.middle += cv::Point2d(0.5 * many * (r.begin + r.end - 1), static_cast<double>(many) * r.y);
        area.box |= cv::Rect(r.begin, r.y, many, 1);
    }
    for (auto& a : out) a.middle *= 1.0 / a.pixels;
    return out;
}

}  // namespace grayrelic::scan_ground
