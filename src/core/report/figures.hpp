// SPDX-License-Identifier: GPL-3.0-or-later
// Round marks along an axis, and their texts.
#pragma once

#include <string>
#include <vector>

namespace grayrelic {

/// Round marks along an axis from low to high: steps of 1, 2 or 5 times a power of ten, at most `most` of
/// them.
[[nodiscard]] std::vector<double> axis_marks(double low, double high, int most);
/// A mark's text with the decimals that its step needs, in one unit for the whole axis.
struct AxisUnit {
    double factor = 1.0;
    std::string suffix;
    int decimals = 0;
    [[nodiscard]] std::string text(double seconds) const;
};
[[nodiscard]] AxisUnit axis_unit(double low, double high, double step);

}  // namespace grayrelic
