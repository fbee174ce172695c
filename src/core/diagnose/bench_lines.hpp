// SPDX-License-Identifier: GPL-3.0-or-later
// Which lines of a board are driven from outside and by its module, and where what they do is seen.
#pragma once

#include "core/diagnose/bench_board.hpp"

namespace grayrelic {

/// Fills `driven`, `watched` and `storage_bits`. `circuit` (null for none) has the ports' facts.
void find_lines(BenchBoard& board, const Circuit* circuit);

}  // namespace grayrelic
