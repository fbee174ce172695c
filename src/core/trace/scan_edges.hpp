// SPDX-License-Identifier: GPL-3.0-or-later
// Edges of a picture where two flat tones meet, sorted by what they lie between. For scan_tones.cpp only.
#pragma once

#include <opencv2/core.hpp>
#include <vector>

namespace grayrelic::scan_ground {

/// A place where two tones meet, the lighter one second.
struct Edge {
    cv::Point at;
    cv::Vec3f low, high;
    cv::Vec3f ratio;  ///< of the logarithms, by colour
    bool used = false;
};

[[nodiscard]] float grey(const cv::Vec3f& v);
/// Edges away from the rim; `noise` becomes the deviation of a pixel within one tone.
[[nodiscard]] std::vector<Edge> find_edges(const cv::Mat3b& picture, const cv::Mat1b& inside, double& noise);
/// Edges of one kind: the same step from the same material, whatever the light.
[[nodiscard]] std::vector<std::vector<const Edge*>> sort_edges(std::vector<Edge>& edges, double noise);

}  // namespace grayrelic::scan_ground
