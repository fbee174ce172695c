// SPDX-License-Identifier: GPL-3.0-or-later
// Where the contacts of parts stand on a board: from a table, from the attributes of the layers, or from a
// test netlist.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/board/board_files.hpp"
#include "core/board/copper.hpp"

namespace grayrelic {

enum class PadSide { top, bottom, both };
template <>
inline constexpr std::array words_of<PadSide>{"top", "bottom", "both"};

struct BoardPad {
    std::string ref, pin;
    BoardXY at;
    PadSide side = PadSide::both;
    std::string net{};  ///< what its source calls its net; may be empty
    std::string file{};
    long line = 0;
    [[nodiscard]] std::string point() const { return pin.empty() ? ref : ref + "." + pin; }
};
using BoardPads = std::vector<BoardPad>;

/// Columns ref, pin, x_mm, y_mm and, where they differ, side (top, bottom, both); millimetres in the files'
/// origin.
[[nodiscard]] Result<BoardPads> read_pads(std::string_view text, const std::string& name);
/// From the attributes .P of flashed pads; a pad on both sides once.
[[nodiscard]] BoardPads pads_of_attributes(const BoardFiles& board);
/// From the records of a test netlist in the folder, with their nets. Its places have no side: both.
[[nodiscard]] BoardPads pads_of_netlist(const BoardFiles& board);

struct CopperNets {
    std::vector<std::vector<std::string>>
        nets;                     ///< points that are joined, in the order of the pads; alone ones too
    std::vector<BoardXY> places;  ///< of each net's first point
    std::vector<std::string> off_copper;  ///< points at whose place there is no copper
    struct Joined {
        std::string a, b;
        std::vector<std::string> points;  ///< a's and b's that are joined
    };
    std::vector<Joined> joined;
    struct Split {
        std::string net;
        std::vector<std::vector<std::string>> pieces;
    };
    std::vector<Split> split;
    /// Two nets that each lost points to the other: a pair exchanged.
    struct Exchanged {
        std::string point_a, net_a, point_b, net_b;
    };
    std::vector<Exchanged> exchanged;
    std::vector<std::string> missing;  ///< points of the netlist that no pad has
    std::vector<std::string> extra;    ///< points of pads that the netlist does not know
    std::size_t same = 0, named = 0;   ///< nets with the same points; nets of the netlist
    bool compared = false;
    [[nodiscard]] bool fine() const {
        return joined.empty() && split.empty() && missing.empty() && off_copper.empty() && same == named;
    }
};

[[nodiscard]] CopperNets nets_of(const BoardCopper& copper, const BoardPads& pads);
/// The same, held against named nets.
[[nodiscard]] CopperNets compare_nets(const BoardCopper& copper, const BoardPads& pads,
                                      const std::vector<Net>& wanted);

}  // namespace grayrelic
