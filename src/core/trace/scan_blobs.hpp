// SPDX-License-Identifier: GPL-3.0-or-later
// Connected areas of a picture, by runs along its rows: only their figures are kept, no picture of labels, so
// that many millions of pixels cost one pass. For the scan readers only.
#pragma once

#include <array>
#include <opencv2/core.hpp>
#include <vector>

#include "core/trace/scan_ground.hpp"

namespace grayrelic::scan_ground {

/// An area whose pixels touch by their sides.
struct Area {
    int pixels = 0;
    cv::Rect box;
    cv::Point first;     ///< of its pixels: topmost, then leftmost
    cv::Point2d middle;  ///< of its pixels
};

/// Which kinds of matter make an area, by number.
using Kinds = std::array<bool, 256>;
[[nodiscard]] Kinds kinds(std::initializer_list<Matter> list);

/// All areas of these kinds, topmost first, then leftmost.
[[nodiscard]] std::vector<Area> areas_of(const cv::Mat1b& matter, const Kinds& of);

}  // namespace grayrelic::scan_ground
