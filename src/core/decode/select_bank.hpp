// SPDX-License-Identifier: GPL-3.0-or-later
// Select and enable multiplexed parallel: a select line swaps two banks of inputs onto the data lines; while
// the enable line is inactive the lines are forced to one level whatever the inputs say.
//
// One frame per interval of constant select while enabled, read just before it ends; `bank` is the select
// level. `levels` stand in the order in which the data lines were given, the first most significant. The
// interval that the capture's end cuts off is read at the end.
// The enable level left to the program is the one at which the data lines differ; without an enable line the
// bridge is always enabled.
#pragma once

#include <memory>

#include "core/decode/decoder.hpp"

namespace grayrelic {

[[nodiscard]] std::unique_ptr<Decoder> make_select_bank();

}  // namespace grayrelic
