// SPDX-License-Identifier: GPL-3.0-or-later
// A hidden fault, found by the program's own advice.
#pragma once

#include "core/diagnose/diagnosis.hpp"
#include "standin/fault_bench.hpp"

namespace grayrelic::standin {

struct FaultGame {
    std::string hidden, found;
    int rank = 0;  ///< of the hidden one among the suspects at the end; 0: it is not among them
    int measurements = 0;
    LeastReadings best;             ///< from the complaint on
    std::vector<std::string> path;  ///< "beep:U1.3+U1.3 pad=open"
};
/// A fault that shows itself: of the seed and those after it the first whose board has a complaint; a board
/// without one is not brought to the bench. Fails where the stand-in can't play a part of the board, or no
/// fault of it shows.
[[nodiscard]] Result<FaultGame> play_fault(const FaultBook& book, std::uint64_t seed);

}  // namespace grayrelic::standin
