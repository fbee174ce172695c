// SPDX-License-Identifier: GPL-3.0-or-later
// The rails as what flows: sources on the left, loads on the right, each way as wide as its current.
#pragma once

#include "core/electrical/rails_study.hpp"
#include "core/report/drawing.hpp"

namespace grayrelic {

/// Places are "source NAME", "part REF", "rail NAME". `chosen`: one of them, which stands out. As wide as it
/// needs to be, at least `width`.
[[nodiscard]] Drawing draw_rails(const RailTree& tree, const RailModeFigures& figures, double width,
                                 const std::string& chosen = {});

}  // namespace grayrelic
