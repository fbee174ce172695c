// SPDX-License-Identifier: GPL-3.0-or-later
// A capture, or a stretch of it, as one SVG picture: a row a signal over a common time axis.
#pragma once

#include <string>

#include "core/signal/capture.hpp"

namespace grayrelic {

/// Where more changes fall into a column of a pixel than can be told apart, the row shows a filled band. At
/// most 64 rows; a last line says how many signals are left out. The size of the picture does not grow with
/// the edges.
[[nodiscard]] std::string capture_figure(const Capture& capture, Span window);

}  // namespace grayrelic
