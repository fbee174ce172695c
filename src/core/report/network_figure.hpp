// SPDX-License-Identifier: GPL-3.0-or-later
// A network of parts as a ladder of its stages: inputs on the left, each stage a column of parts, outputs on
// the right, a line for each net. It follows from the net list; nobody draws it.
#pragma once

#include <functional>
#include <string>

#include "core/logic/network.hpp"
#include "core/logic/simulate.hpp"
#include "core/report/drawing.hpp"

namespace grayrelic {

struct NetworkDrawingOptions {
    double width = 860;
    std::function<Level(int net)> level;  ///< levels to write beside the nets while stepping; none: no levels
    std::function<std::string(int part)> note;  ///< a second line in a part's box, such as its slowest delay
};
[[nodiscard]] Drawing draw_network(const Network& network, const NetworkDrawingOptions& options);

}  // namespace grayrelic
