// SPDX-License-Identifier: GPL-3.0-or-later
// Scans of boards that the reader has not seen, painted by an artist that shares nothing with it
// (tests/unseen/boards; 200 with the program unseen-boards).
#include <gmock/gmock.h>

#include "tests/unseen/judge_boards.hpp"

namespace grayrelic {
namespace {

using unseen::board_case;
using unseen::BoardTable;
using unseen::judge;

BoardTable table_of(std::uint64_t first, int many, bool disturbed, bool pale, std::string& told) {
    BoardTable table;
    for (auto seed = first; many > 0; ++seed) {
        const auto c = board_case(seed, disturbed, pale);
        if (c.dpi > 600) continue;  // the finer ones take long, and are in the program
        const auto v = judge(c);
        table.add(c, v);
        told += std::to_string(seed) + " " + c.look + ":" + v.told + "\n";
        --many;
    }
    return table;
}

TEST(UnseenBoards, CleanScansBecomeNets) {
    std::string told;
    const auto table = table_of(1001, 16, false, false, told);
    const auto sum = table.sum();
    EXPECT_GE(sum.joins, 200);
    EXPECT_GE(sum.found, 0.78 * sum.joins) << table.text() << told;
    EXPECT_LE(sum.false_joins, 0.01 * sum.all_joins) << table.text() << told;
}

TEST(UnseenBoards, DisturbedScansRatherLoseThanInvent) {
    std::string told;
    const auto table = table_of(2001, 8, true, false, told);
    const auto sum = table.sum();
    EXPECT_GE(sum.found, 0.48 * sum.joins) << table.text() << told;
    EXPECT_LE(sum.false_joins, 0.02 * sum.all_joins) << table.text() << told;
}

TEST(UnseenBoards, CopperThatHardlyShowsIsNotInvented) {
    std::string told;
    const auto table = table_of(3001, 8, false, true, told);
    const auto sum = table.sum();
    EXPECT_LE(sum.false_joins, 0.01 * sum.all_joins) << table.text() << told;
}

}  // namespace
}  // namespace grayrelic
