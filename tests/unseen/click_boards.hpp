// SPDX-License-Identifier: GPL-3.0-or-later
// Clicks as a person would place them who sees the board beside what was read, by one rule: the largest area,
// over both sides, that was read as what it is not gets a click at its deepest place that says what is drawn
// there. A click after which more is wrong than before is taken back, and counts all the same. It ends when
// no area of a square millimetre is left, or with the last click.
#pragma once

#include "core/trace/scan.hpp"
#include "tests/unseen/boards.hpp"

namespace grayrelic::unseen {

/// The last reading; `clicks`: how many it took. The pictures keep those that were not taken back.
[[nodiscard]] Result<ScannedBoard> read_with_clicks(const BoardLayout& layout, ScanPicture& front,
                                                    ScanPicture& back, int most, int& clicks);

}  // namespace grayrelic::unseen
