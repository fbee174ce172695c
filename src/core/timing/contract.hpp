// SPDX-License-Identifier: GPL-3.0-or-later
// The contract: the intervals that the host demands or the original device kept, measured from captures.
#pragma once

#include <memory>
#include <optional>
#include <vector>

#include "core/decode/decoder.hpp"
#include "core/dossier/dossier.hpp"
#include "core/signal/capture.hpp"
#include "core/signal/measure.hpp"

namespace grayrelic {

/// An interval with its numbers: measured, or as entered.
struct ContractFigure {
    ContractInterval interval;
    std::optional<Time> min, typ, max;  ///< typ is the median when measured
    long n = 0;                         ///< how many were measured
    Time sampling;                      ///< each measured figure is uncertain by this much, either way
    Evidence evidence;
    std::optional<DelayMeasurement> measured;  ///< the edges behind the figures
    std::string problem;                       ///< why there are none; empty when there are
};

/// Measures one interval. For `from` equal to `to`, from each edge to the next such edge. `capture` may be
/// null when the interval names none.
[[nodiscard]] ContractFigure figure_of(const ContractInterval& interval, const Capture* capture,
                                       std::optional<Time> sample_period, const std::string& capture_title);

/// What a latch-and-shift conversation promises, to be measured from `capture` (its id): reply after the
/// shifting edge, the host's look, clock and latch widths and periods. The shifting edge is the one opposite
/// to the sampling edge. Signals are named as in the roles.
[[nodiscard]] std::vector<ContractInterval> propose_contract(const std::string& capture, const RoleMap& roles,
                                                             const Decoding& decoding);
/// The question that belongs to it: does the reply stand at the next sampling edge after the shifting edge?
/// That the host looks just there can't be seen in a capture, so the fact is assumed.
[[nodiscard]] ReplyQuestion propose_question(const std::string& capture, const RoleMap& roles,
                                             const Decoding& decoding);

/// An interval of a capture that the contract does not allow.
struct ContractBreach {
    std::string interval;  ///< ContractInterval::id
    std::string signal;    ///< the one it ends on, as the capture calls it
    Interval where;
};
/// Every interval in `capture` that lies outside the figures, by more than `sampling`: a reply above its most, a
/// setup, hold or gap under its least, any other kind outside both. Figures without numbers, and those whose signals
/// the capture has not, allow everything. In order of time, at most 100,000.
[[nodiscard]] std::vector<ContractBreach> contract_breaches(const Capture& capture, const std::vector<std::shared_ptr<const ContractFigure>>& figures, Time sampling);

}  // namespace grayrelic
