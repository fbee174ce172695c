// SPDX-License-Identifier: GPL-3.0-or-later
// The d attribute of an SVG path as ways of chords, in the path's own units, y downwards.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/board/way_list.hpp"

namespace grayrelic {

struct SvgPath {
    std::vector<Way> ways;
    std::string problem;  ///< what was found where something else should be; empty: none
};
/// `mm`: how many millimetres a unit is, for the chords' error.
[[nodiscard]] SvgPath svg_path(std::string_view d, double mm);

}  // namespace grayrelic
