// SPDX-License-Identifier: GPL-3.0-or-later
// A replica's capture held against the original's, edge by edge and word by word, and against the contract.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/verdict.hpp"
#include "core/decode/compare_frames.hpp"
#include "core/signal/compare_captures.hpp"
#include "core/timing/contract.hpp"

namespace grayrelic {

struct GoldenInterval {
    std::string id, name;
    long n = 0;        ///< how often the replica shows it
    Time least, most;  ///< of the replica
    ContractLimits limits;
    long broken = 0;
    std::optional<Time> first;  ///< where it is broken for the first time, in the replica's time
};

struct GoldenResult {
    CaptureComparison edges;
    std::optional<FrameComparison> words;   ///< when both are decoded
    std::vector<GoldenInterval> intervals;  ///< of the contract, those the replica has
    Verdict verdict =
        Verdict::unknown;  ///< stop: the contract is broken, or a word differs; doubt: edges differ
    std::string says;
};

/// Signals of the contract are looked for under the replica's names. Refused: captures without a common
/// signal, an edge to align on that is not there.
[[nodiscard]] Result<GoldenResult> compare_golden(
    const GoldenPair& pair, const IntervalSource& original, const IntervalSource& replica,
    const std::vector<std::shared_ptr<const ContractFigure>>& contract, Progress& progress);

}  // namespace grayrelic
