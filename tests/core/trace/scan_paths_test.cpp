// SPDX-License-Identifier: GPL-3.0-or-later
// How surely copper leads from one named point to another: boards written down pixel by pixel.
#include <gmock/gmock.h>

#include <string>
#include <vector>

#include "core/base/unions.hpp"
#include "core/trace/scan.hpp"

namespace grayrelic {
namespace {

/// A layer of one pixel to the millimetre; each digit is the piece there.
ScanLayer layer_of(const std::vector<std::string>& rows, std::vector<float> confidence) {
    ScanLayer out;
    out.px_per_mm = 1;
    out.width = static_cast<int>(rows.front().size());
    out.height = static_cast<int>(rows.size());
    for (const auto& row : rows)
        for (const char c : row) {
            out.piece.push_back(c == '.' ? 0 : c - '0');
            out.ground.push_back(c == '.' ? Ground::board : Ground::copper);
        }
    out.touches_unknown.assign(confidence.size(), 0);
    out.confidence = std::move(confidence);
    return out;
}

BoardModel points(const std::vector<std::pair<const char*, double>>& at_x) {
    BoardModel out;
    for (const auto& [name, x] : at_x) {
        const int p = out.add(name);
        out.points[static_cast<std::size_t>(p)].place = BoardPlace{x, 0, BoardSide::front};
    }
    return out;
}

/// Four pieces in a row on the front; from the first to the second a weak way straight across, and a surer
/// one by the third.
ScannedBoard four_pieces() {
    ScannedBoard out;
    out.layers = {layer_of({"1.2.3.4"}, {0, 0.95F, 0.9F, 0.99F, 0.5F})};
    const auto front = BoardSide::front;
    out.joins = {{1, 0, front, front, 1, 2, 0.7F, "weak"},
                 {2, 0, front, front, 1, 3, 0.85F, "surer"},
                 {3, 0, front, front, 3, 2, 0.75F, "between"},
                 {5, 0, front, front, 3, 4, 0.9F, "last"}};
    out.net_of_front = {-1, 0, 0, 0, 0};
    out.nets = 1;
    return out;
}

TEST(ScanPaths, TheSurestWayCountsAndItsWeakestPlace) {
    const auto nets = nets_of_scan(four_pieces(), points({{"A", 0}, {"B", 2}, {"C", 4}, {"D", 6}}));
    ASSERT_EQ(nets.nets.size(), 1U);
    const auto& paths = nets.nets[0].paths;
    ASSERT_EQ(paths.size(), 4U);
    EXPECT_FLOAT_EQ(static_cast<float>(paths[0].confidence), 0.95F);
    // By the third piece: the least of 0.95, 0.85, 0.99, 0.75, 0.9; straight across it would be 0.7.
    EXPECT_FLOAT_EQ(static_cast<float>(paths[1].confidence), 0.75F);
    ASSERT_TRUE(paths[1].weakest);
    EXPECT_EQ(paths[1].weakest->why, "between");
    EXPECT_EQ(paths[1].weakest->x_mm, 3);
    EXPECT_FLOAT_EQ(static_cast<float>(paths[2].confidence), 0.85F);
    // The copper of the last piece is weaker than every join on the way.
    EXPECT_FLOAT_EQ(static_cast<float>(paths[3].confidence), 0.5F);
    EXPECT_FALSE(paths[3].weakest);
    EXPECT_FLOAT_EQ(static_cast<float>(nets.nets[0].confidence), 0.5F);
}

TEST(ScanPaths, OnlyAGuessIsAskedAbout) {
    const auto nets = nets_of_scan(four_pieces(), points({{"A", 0}, {"B", 2}, {"C", 4}}));
    // A to B rests on 0.75, below 0.8; A to C on 0.85.
    ASSERT_EQ(nets.questions.size(), 1U);
    EXPECT_TRUE(nets.questions[0].is_guess);
    EXPECT_EQ(nets.questions[0].a, 0);
    EXPECT_EQ(nets.questions[0].b, 1);
    EXPECT_EQ(nets.questions[0].place.why, "between");
}

TEST(ScanPaths, WhatMayMeetComesBeforeWhatIsGuessed) {
    auto board = four_pieces();
    board.layers[0].unknown = {{4.5, 0, BoardSide::front, 3, 4, "hidden"}};
    board.joins.pop_back();
    board.net_of_front = {-1, 0, 0, 0, 1};
    board.nets = 2;
    const auto nets = nets_of_scan(board, points({{"A", 0}, {"B", 2}, {"D", 6}}));
    ASSERT_EQ(nets.questions.size(), 2U);
    EXPECT_FALSE(nets.questions[0].is_guess);
    EXPECT_EQ(nets.questions[0].place.why, "hidden");
    EXPECT_TRUE(nets.questions[1].is_guess);
}

TEST(ScanPaths, TheOtherSideIsReachedThroughAHole) {
    ScannedBoard board;
    board.layers = {layer_of({"1...."}, {0, 0.9F}), layer_of({"1...2"}, {0, 0.9F, 0.8F})};
    board.joins = {{0, 0, BoardSide::front, BoardSide::back, 1, 1, 1.0F, "through a hole"},
                   {2, 0, BoardSide::back, BoardSide::back, 1, 2, 0.6F, "guessed"}};
    board.net_of_front = {-1, 0};
    board.net_of_back = {-1, 0, 0};
    board.nets = 1;
    auto model = points({{"A", 0}});
    model.points[static_cast<std::size_t>(model.add("B"))].place = BoardPlace{4, 0, BoardSide::back};
    const auto nets = nets_of_scan(board, model);
    ASSERT_EQ(nets.nets.size(), 1U);
    EXPECT_FLOAT_EQ(static_cast<float>(nets.nets[0].paths[1].confidence), 0.6F);
    EXPECT_EQ(nets.nets[0].paths[1].weakest->side, BoardSide::back);
}

TEST(Unions, SetsAreJoinedOnce) {
    Unions u(5);
    EXPECT_TRUE(u.unite(0, 1));
    EXPECT_TRUE(u.unite(3, 4));
    EXPECT_FALSE(u.unite(1, 0));
    EXPECT_FALSE(u.same(1, 3));
    EXPECT_TRUE(u.unite(1, 3));
    EXPECT_TRUE(u.same(0, 4));
    EXPECT_FALSE(u.same(2, 4));
}

}  // namespace
}  // namespace grayrelic
