// SPDX-License-Identifier: GPL-3.0-or-later
// The readers behind outline_file.hpp.
#pragma once

#include <string_view>

#include "core/base/result.hpp"
#include "core/board/way_list.hpp"

namespace grayrelic {

[[nodiscard]] Result<WayList> read_dxf_ways(std::string_view text, const std::string& name);
[[nodiscard]] Result<WayList> read_svg_ways(std::string_view text, const std::string& name);

}  // namespace grayrelic
