// SPDX-License-Identifier: GPL-3.0-or-later
// Boards that nobody rehearsed, as fabrication files with what is true of them. Written from the published
// format specifications alone; shares nothing with the readers.
//
// Each contact stands alone on its column, each net has a lane of its own. A net's contacts go down their
// columns on the one side, through a via, and along the lane on the other: nothing crosses that is not meant
// to. Then faults are planted.
#pragma once

#include <cstdint>
#include <map>
#include <string>
#include <utility>
#include <vector>

namespace unseen {

struct FabBoard {
    std::map<std::string, std::string> files;      ///< name to text
    std::string pads_csv, nets_csv;                ///< what was meant
    std::vector<std::vector<std::string>> copper;  ///< what the copper joins, faults and all; points in order
    std::size_t same = 0;                          ///< nets that came out as meant
    std::size_t joined = 0, split = 0;             ///< pairs of nets that meet; nets in pieces
    double width_mm = 0, height_mm = 0;
    std::map<std::pair<double, bool>, std::size_t> holes;  ///< by diameter in mm and plating
    std::string story;                                     ///< of its settings, for a message
};

struct FabWish {
    std::size_t nets = 0, contacts = 0;  ///< 0: drawn
    bool faults = true;
};
[[nodiscard]] FabBoard fab_board(std::uint64_t seed, const FabWish& wish = {});

}  // namespace unseen
