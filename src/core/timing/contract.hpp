// SPDX-License-Identifier: GPL-3.0-or-later
// The contract: the intervals that the host demands or the original device kept, measured from captures.
#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <vector>

#include "core/decode/decoder.hpp"
#include "core/dossier/dossier.hpp"
#include "core/dossier/event_name.hpp"
#include "core/signal/capture.hpp"
#include "core/signal/measure.hpp"

namespace grayrelic {

/// A capture to measure from, with what was decoded in it.
struct IntervalSource {
    std::string id, title;
    const Capture* capture = nullptr;  ///< null when it could not be read
    const Decoding* decoding = nullptr;
    std::optional<Time> sample_period;
};

/// What one capture (one specimen) gave.
struct SpecimenFigure {
    std::string id, title;
    long n = 0;
    Time min, typ, max;
};

/// An interval with its numbers: measured, or as entered.
struct ContractFigure {
    ContractInterval interval;
    std::optional<Time> min, typ, max;  ///< over all specimens; typ is the median when measured
    long n = 0;                         ///< how many were measured
    Statistics statistics;              ///< of all of them, in seconds
    Time sampling;                      ///< each measured figure is uncertain by this much, either way
    Evidence evidence;
    Spread lengths;                         ///< how those of the first capture lie, in seconds
    std::vector<SpecimenFigure> specimens;  ///< one for each capture that has it
    int unmeasured = 0;                     ///< captures that gave nothing, beside those that did
    std::string problem;                    ///< why there are none; empty when there are
};

/// Measures one interval over its captures. For `from` equal to `to`, from each event to the next such event.
/// `sources` are those that the interval names, in its order.
[[nodiscard]] ContractFigure figure_of(const ContractInterval& interval,
                                       const std::vector<IntervalSource>& sources);

/// Says in the evidence where a measured figure comes from, by the titles of its specimens.
void say_source(ContractFigure& figure);

/// When something happens in a capture, in order. Frame events need the decoding.
[[nodiscard]] Result<std::vector<Time>> event_times(const EventName& event, const Capture& capture,
                                                    const Decoding* decoding);
/// The interval's occurrences in one capture, its own rules applied.
[[nodiscard]] Result<DelayMeasurement> measure_interval(const ContractInterval& interval,
                                                        const Capture& capture, const Decoding* decoding);

/// The same, one answered occurrence after the other, without keeping them: a capture may hold millions.
[[nodiscard]] Status visit_interval(const ContractInterval& interval, const Capture& capture,
                                    const Decoding* decoding,
                                    const std::function<void(const Interval&)>& visit);

/// What a replica must keep: a reply, a host's look at most; set-up, hold, gap and recovery at least; width
/// and period both. The guard makes each of them tighter; the sampling is left to who compares.
struct ContractLimits {
    std::optional<Time> least, most;
};
[[nodiscard]] ContractLimits limits_of(const ContractFigure& figure);

/// An interval of a capture that the contract does not allow.
struct ContractBreach {
    std::string interval;  ///< ContractInterval::id
    std::string signal;    ///< the one it ends on, as the capture calls it
    Interval where;
};
/// Every interval in `capture` that lies outside limits_of() by more than the sampling of both. Figures
/// without numbers, and those whose signals the capture has not, allow everything; so do those without a
/// guard that were measured from this very capture (`id`). In order of time, at most 100,000.
[[nodiscard]] std::vector<ContractBreach> contract_breaches(
    const Capture& capture, const std::vector<std::shared_ptr<const ContractFigure>>& figures, Time sampling,
    const Decoding* decoding = nullptr, std::string_view id = {});

}  // namespace grayrelic
