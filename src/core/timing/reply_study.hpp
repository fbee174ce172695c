// SPDX-License-Identifier: GPL-3.0-or-later
// What an option's numbers mean beyond one simulation: its slowest case as a sum, how far each number may go,
// the corners, and how much the simulated replies prove.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/timing/reply.hpp"

namespace grayrelic {

/// The slowest reply that the numbers allow: every wait at its longest at once. A simulation seldom meets it;
/// a board that runs for a year does.
[[nodiscard]] Time slowest_reply(const ReplyModel& model);
[[nodiscard]] Time fastest_reply(const ReplyModel& model);

/// How far one number may go, with the others as they are, so that even the slowest reply is in time.
struct Sensitivity {
    std::string key;
    Time now;
    std::optional<Time> at_most;  ///< nothing: not even 0 would do
    bool holds = false;           ///< now ≤ at_most
};
/// For the times that add to the slowest reply. `enough` as in ReplySummary. For `mixed`, the firmware's
/// numbers are held against the shortest pause between bursts.
[[nodiscard]] std::vector<Sensitivity> sensitivities(const ReplyModel& model, Time enough,
                                                     const std::vector<ReplyTask>& tasks);

struct ReplyCorner {
    std::string name;  ///< "fast", "typical", "slow"
    Time latency;
    Time margin;  ///< to the tightest deadline
};
[[nodiscard]] std::vector<ReplyCorner> reply_corners(const ReplyModel& model, const ReplySummary& summary);

/// How much the simulated share of missed replies proves.
struct Confidence {
    long replies = 0;
    double missed_share = 0;
    double at_most_share = 0;  ///< the true share is at most this, with 95 % confidence (Clopper and Pearson)
    std::vector<std::string> assumed;  ///< labels of numbers that nobody has measured
};
[[nodiscard]] Confidence confidence_of(const ReplySummary& summary, const BuildOption& option);

}  // namespace grayrelic
