// SPDX-License-Identifier: GPL-3.0-or-later
// What the pin-outs say about the nets found so far: supplies, outputs against each other, inputs that nobody
// drives, and how buses run.
#pragma once

#include <string>
#include <vector>

#include "core/trace/board_model.hpp"
#include "core/trace/nets.hpp"

namespace grayrelic {

struct PartIssue {
    enum class Kind {
        supply_to_ground,  ///< a supply and a ground pin in one net
        supply_astray,     ///< a supply or ground pin that readings separate from its rail
        outputs_joined,    ///< two outputs that drive both levels in one net
        input_floating,    ///< an input separated from everything that could drive it
        not_connected,     ///< a pin marked as not connected is joined to something
    };
    Kind kind = Kind::supply_to_ground;
    std::vector<int> points;
    std::string says, why;
};
[[nodiscard]] std::vector<PartIssue> check_parts(const BoardModel& board, const NetState& state);

/// Two buses that meet in three bits or more.
struct BusRun {
    std::string a, b;                  ///< "J1 D", "U2 D"
    int bits = 0;                      ///< that are joined
    std::string order;                 ///< "straight", "reversed", "shifted by 2", "crossed"
    std::vector<std::string> crossed;  ///< "3 to 5" of bits that break the order
};
[[nodiscard]] std::vector<BusRun> find_bus_runs(const BoardModel& board, const NetState& state);

}  // namespace grayrelic
