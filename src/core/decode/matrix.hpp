// SPDX-License-Identifier: GPL-3.0-or-later
// Switch matrix: strobes become active one after another, and the sense lines are read at each one's end.
//
// One frame per scan, which ends when a strobe comes a second time or after a pause of 2.5 strobes. `levels`
// are the sense levels of each strobe in order of arrival; `closed` lists the pairs of strobe and sense that
// are closed; `ghost_possible` says that four of them stand in a rectangle, so that one may not be pressed at
// all. Errors: "overlap" (two strobes at once), "unknown". The active level left to the program is the one at
// which the strobes spend less time.
#pragma once

#include <memory>

#include "core/decode/decoder.hpp"

namespace grayrelic {

[[nodiscard]] std::unique_ptr<Decoder> make_matrix();

}  // namespace grayrelic
