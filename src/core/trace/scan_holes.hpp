// SPDX-License-Identifier: GPL-3.0-or-later
// Holes of a scanned board: collected from both sides, joining what lies around them, with their pads. For
// scan_read.cpp only.
#pragma once

#include <cstddef>
#include <vector>

#include "core/trace/scan.hpp"

namespace grayrelic {

/// Holes that one side shows for certain, or both in the same place. `seen`: of each side, the certain ones
/// first.
void collect_holes(const std::vector<ScanHole> (&seen)[2], const std::size_t (&certain)[2], bool has_back,
                   ScannedBoard& out);
/// One net of all copper around a hole; front and back are joined only where both show it.
void join_through_holes(ScannedBoard& out);
void find_pads(ScannedBoard& out);

}  // namespace grayrelic
