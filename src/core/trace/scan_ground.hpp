// SPDX-License-Identifier: GPL-3.0-or-later
// One picture on the board's grid told apart into copper, bare board, holes and what nobody can see. For
// scan_read.cpp only; places are in grid pixels here.
#pragma once

#include <opencv2/core.hpp>
#include <vector>

#include "core/trace/scan.hpp"

namespace grayrelic::scan_ground {

struct Side {
    cv::Mat ground;   ///< CV_8U, values of Ground
    cv::Mat certain;  ///< CV_8U, how sure each pixel is, 0 to 255
    std::vector<ScanHole> holes;
    std::vector<cv::Point> outline;
};

[[nodiscard]] Side tell_apart(const cv::Mat& rgb, double px_per_mm, const Progress& progress);

}  // namespace grayrelic::scan_ground
