// SPDX-License-Identifier: GPL-3.0-or-later
// Repair, start over, or wire around by hand: what each is expected to take until there is a working board.
//
// Each way succeeds with a chance; a failed one leads on to starting over. Chances of a lost pad or leg and
// minutes a joint are of the technique; what the person's own record says goes before (decision 38).
#pragma once

#include <array>
#include <string>
#include <vector>

#include "core/base/result.hpp"
#include "core/base/words.hpp"
#include "core/build/build_parts.hpp"
#include "core/dossier/unit_build.hpp"

namespace grayrelic {

enum class ReworkKind { repair, by_hand, start_over };
template <>
inline constexpr std::array words_of<ReworkKind>{"repair", "by-hand", "start-over"};

struct ReworkWay {
    ReworkKind kind = ReworkKind::repair;
    double minutes = 0;                               ///< of one try
    double money = 0;                                 ///< parts and boards of one try
    double chance = 0;                                ///< that it works
    double expected_minutes = 0, expected_money = 0;  ///< with what follows when it fails
    std::string why;                                  ///< "16 joints to lift, each loses its pad at 1 %"
};
struct ReworkWays {
    std::vector<ReworkWay> ways;
    std::size_t best = 0;  ///< the least expected money, hours among it
    std::vector<std::string> rests_on;
};
/// `place`: a part, "U3", or one of its leads, "U3.4". `hour`: money for an hour of work.
[[nodiscard]] Result<ReworkWays> rework_ways(const Analysis& a, const BuildBoard& board,
                                             const std::string& place, double hour);

/// Minutes a joint, by what was written down of this job's units; nothing: nothing was.
struct WorkRecord {
    std::optional<double> minutes_per_joint;
    double minutes = 0, joints = 0;                             ///< behind it
    std::optional<double> etch_minutes, etch_least, etch_most;  ///< of earlier baths
    int baths = 0;
};
[[nodiscard]] WorkRecord work_record(const Dossier& dossier);
/// Minutes for the whole of a board; nothing without a record.
[[nodiscard]] std::optional<double> minutes_for(const BuildBoard& board, const WorkRecord& record);

}  // namespace grayrelic
