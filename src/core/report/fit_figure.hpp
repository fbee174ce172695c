// SPDX-License-Identifier: GPL-3.0-or-later
// A section through what has to fit: what gives room on the left, what takes it on the right, to one scale,
// and between their ends what is left.
#pragma once

#include "core/fit/fit_analysis.hpp"
#include "core/report/drawing.hpp"

namespace grayrelic {

/// Places are the numbers of the lines, from 0.
[[nodiscard]] Drawing draw_fit(const FitResult& fit, double width, double height);

}  // namespace grayrelic
