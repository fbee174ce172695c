// SPDX-License-Identifier: GPL-3.0-or-later
// A click answered at once: the part of a picture that is looked at, told apart anew with what the click
// says, by the tones that the last reading found. The pieces and nets follow when the whole is read again.
#pragma once

#include <vector>

#include "core/trace/scan.hpp"

namespace grayrelic {

/// A part of the board, in mm.
struct BoardWindow {
    double x0_mm = 0, y0_mm = 0, x1_mm = 0, y1_mm = 0;
};

/// What the part shows, on a grid of its own. No place is unknown here: that follows from the pieces.
struct ScanSight {
    int width = 0, height = 0;
    double px_per_mm = 0, x0_mm = 0, y0_mm = 0;  ///< of its first pixel's middle
    std::vector<Ground> ground;
    double changed_mm2 = 0;  ///< that became something else by these clicks
};

/// `layer`: this side as last read; `clicks`: those it does not know yet, in their order. The sight has at
/// most `most_pixels`. Nothing when that side was not told apart by its tones, or the part lies beyond the
/// picture.
[[nodiscard]] std::optional<ScanSight> look_again(const Raster& pixels, const ScanLayer& layer,
                                                  const std::vector<ScanClick>& clicks,
                                                  const BoardWindow& part, double most_pixels = 400e3);

}  // namespace grayrelic
