// SPDX-License-Identifier: GPL-3.0-or-later
// Rules: one fault planted where all else is roomy; its figure and place by arithmetic.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/base/file_system.hpp"
#include "core/board/board_rules.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::Contains;
using testing::HasSubstr;
using testing::IsEmpty;

/// 60 × 40 mm with one plated pad, room everywhere; more is added by layer.
struct RoomyBoard {
    std::string top, bottom{}, mask{}, silk{}, drill{}, plain{};
    double width = 60, height = 40;
    [[nodiscard]] BoardFiles files() const {
        const std::string head =
            "%FSLAX33Y33*%\n%MOMM*%\nG01*\n%ADD10C,2.4*%\n%ADD11C,1*%\n%ADD12C,0.5*%\n%ADD13C,0.1*%\n%ADD14R,"
            "2X1*%\n";
        const auto mm = [](double v) { return std::to_string(std::lround(v * 1000)); };
        PackedFolder folder;
        folder.files = {
            {"copper-bottom.gbr", head + "D10*\nX20000Y20000D03*\n" + bottom + "M02*\n"},
            {"copper-top.gbr", head + "D10*\nX20000Y20000D03*\n" + top + "M02*\n"},
            {"drill.drl", "M48\nMETRIC\nT1C1.0\nT2C0.3\nT3C0.2\n%\nT1\nX20.0Y20.0\n" + drill + "M30\n"},
            {"mask-top.gbr", head + "D10*\nX20000Y20000D03*\n" + mask + "M02*\n"},
            {"npth.drl", "M48\nMETRIC\nT1C3.2\n%\nT1\nX50.0Y30.0\n" + plain + "M30\n"},
            {"outline.gbr", head + "D13*\nX0Y0D02*\nX" + mm(width) + "D01*\nY" + mm(height) +
                                "D01*\nX0D01*\nY0D01*\nM02*\n"},
            {"silk-top.gbr", head + "D13*\nX30000Y30000D02*\nX35000D01*\n" + silk + "M02*\n"}};
        Progress progress;
        return board_of(folder, "roomy", progress);
    }
};

const BoardProcess& process(const char* id) {
    static const auto data = BoardProcessLibrary::load(disk(), {test::source_folder() / "data"});
    EXPECT_THAT(data.problems, IsEmpty());
    return *data.find(id);
}

RuleReport judge(const RoomyBoard& b, const char* id = "house-basic") {
    const auto files = b.files();
    EXPECT_THAT(files.refused, IsEmpty()) << files.refused.front().message();
    Progress progress;
    const auto copper = copper_of(files, progress);
    return *judge_board(files, **copper, outline_of(files), process(id), progress);
}

TEST(BoardRules, ARoomyBoardHolds) {
    const auto r = judge({""});
    EXPECT_TRUE(r.makeable);
    EXPECT_THAT(r.violations, IsEmpty()) << r.violations.front().what;
    EXPECT_THAT(r.not_looked_at, IsEmpty());
}

struct Planted {
    const char* name;
    RoomyBoard board;
    BoardRule rule;
    double mm, x, y;
    const char* file;
};
class OneFault : public testing::TestWithParam<Planted> {};
TEST_P(OneFault, OnceWithItsFigureAtItsPlace) {
    const auto& p = GetParam();
    const auto r = judge(p.board);
    ASSERT_EQ(r.violations.size(), 1U) << (r.violations.empty() ? "none" : r.violations[1].what);
    const auto& v = r.violations[0];
    EXPECT_EQ(v.rule, p.rule) << v.what;
    EXPECT_NEAR(v.mm, p.mm, 0.006);
    EXPECT_NEAR(to_mm(v.at.x), p.x, 0.3);
    EXPECT_NEAR(to_mm(v.at.y), p.y, 0.3);
    EXPECT_EQ(v.file, p.file);
    EXPECT_EQ(r.makeable, p.rule == BoardRule::neck);
    EXPECT_EQ(r.to_do.empty(), p.rule == BoardRule::neck);
}
INSTANTIATE_TEST_SUITE_P(
    Rules, OneFault,
    testing::Values(
        Planted{
            "Track", {"D13*\nX5000Y5000D02*\nX9000D01*\n"}, BoardRule::track, 0.1, 7, 5, "copper-top.gbr"},
        // Three lines end to end are one track.
        Planted{"TrackOfThreeLines",
                {"", "D13*\nX5000Y5000D02*\nX15000D01*\nY9000D01*\nX17000D01*\n"},
                BoardRule::track,
                0.1,
                10,
                5,
                "copper-bottom.gbr"},
        // Two lines of 0.5, 0.6 apart from middle to middle.
        Planted{"Gap",
                {"D12*\nX5000Y5000D02*\nX15000D01*\nX5000Y5600D02*\nX15000D01*\n"},
                BoardRule::gap,
                0.1,
                10,
                5.3,
                "copper-top.gbr"},
        // Discs of 1 mm, 1.08 apart.
        Planted{"GapOfDiscs",
                {"D11*\nX5000Y5000D03*\nX6080Y5000D03*\n"},
                BoardRule::gap,
                0.08,
                5.54,
                5,
                "copper-top.gbr"},
        // A pad of 0.5 about a hole of 0.3: 0.1 on both layers, said once.
        Planted{"Ring",
                {"D12*\nX9000Y30000D03*\n", "D12*\nX9000Y30000D03*\n", "", "", "T2\nX9.0Y30.0\n"},
                BoardRule::ring,
                0.1,
                9,
                30,
                "copper-top.gbr"},
        // A hole of 0.3 that is 0.25 off the middle of its pad of 1: 0.5 − 0.25 − 0.15.
        Planted{"RingOffTheMiddle",
                {"D11*\nX9000Y30000D03*\n", "D11*\nX9000Y30000D03*\n", "", "", "T2\nX9.25Y30.0\n"},
                BoardRule::ring,
                0.1,
                9.25,
                30,
                "copper-top.gbr"},
        Planted{"Hole",
                {"D11*\nX9000Y30000D03*\n", "", "", "", "T3\nX9.0Y30.0\n"},
                BoardRule::hole,
                0.2,
                9,
                30,
                "drill.drl"},
        // 3.2 holes with their middles 3.35 apart: a wall of 0.15.
        Planted{"HoleGap",
                {"", "", "", "", "", "X53.35Y30.0\n"},
                BoardRule::hole_gap,
                0.15,
                51.675,
                30,
                "npth.drl"},
        // A track of 0.5 whose middle runs 0.35 from the edge.
        Planted{
            "Edge", {"D12*\nX20000Y350D02*\nX40000D01*\n"}, BoardRule::edge, 0.1, 30, 0.2, "copper-top.gbr"},
        Planted{"HoleAtTheEdge",
                {"", "", "", "", "", "X30.0Y38.25\n"},
                BoardRule::edge,
                0.15,
                30,
                39.2,
                "npth.drl"},
        // Openings of 2 × 1, 2.05 apart.
        Planted{"MaskSliver",
                {"", "", "D14*\nX30000Y10000D03*\nX32050Y10000D03*\n"},
                BoardRule::mask_sliver,
                0.05,
                31.025,
                10,
                "mask-top.gbr"},
        // A line of 0.1 across the pad's opening, 2.4 wide: it is 0.1 across.
        Planted{"SilkOnPad",
                {"", "", "", "D13*\nX15000Y20000D02*\nX25000D01*\n"},
                BoardRule::silk_on_pad,
                0.1,
                20,
                20,
                "silk-top.gbr"},
        Planted{"Size", {"", "", "", "", "", "", 520, 40}, BoardRule::size, 520, 260, 20, "outline.gbr"},
        // Two squares of a pour, joined by a bridge of 0.08.
        Planted{"Neck",
                {"G36*\nX5000Y5000D02*\nX8000D01*\nY6460D01*\nX8500D01*\nY5000D01*\nX11500D01*\nY8000D01*"
                 "\nX8500D01*\nY6540D01*\nX8000D01*\nY8000D01*\nX5000D01*\nY5000D01*\nG37*\n"},
                BoardRule::neck,
                0.08,
                8.25,
                6.5,
                "copper-top.gbr"}),
    [](const auto& one) { return one.param.name; });

TEST(BoardRules, JustAtTheLimitIsAllowed) {
    // Gap 0.15 and ring 0.13, as the process says.
    RoomyBoard b{
        "D12*\nX5000Y5000D02*\nX15000D01*\nX5000Y5650D02*\nX15000D01*\n%ADD20C,0.56*%\nD20*\nX9000Y30000D03*"
        "\n",
        "", "", "", "T2\nX9.0Y30.0\n"};
    EXPECT_THAT(judge(b).violations, IsEmpty());
}

TEST(BoardRules, LinesThatFillAnAreaAreNoTracks) {
    std::string fill = "D13*\n";
    for (int i = 0; i < 30; ++i) {
        const auto y = std::to_string(5000 + i * 80);
        fill += "X5000Y" + y + "D02*\nX9000Y" + y + "D01*\n";
    }
    EXPECT_THAT(judge({fill}).violations, IsEmpty());
}

TEST(BoardRules, AtHomeAJoinedHoleNeedsAWire) {
    const auto r = judge({""}, "home-toner");
    ASSERT_EQ(r.violations.size(), 1U);
    EXPECT_EQ(r.violations[0].rule, BoardRule::hole);
    EXPECT_FALSE(r.makeable);
    EXPECT_THAT(r.to_do, Contains(HasSubstr("wire through each")));
}

TEST(BoardRules, RatesOverThreeHundredPlantedGaps) {
    // Two tracks, gap drawn from 0.02 to 0.3 mm at any angle; said exactly when below 0.15 mm by more than
    // the grace.
    std::mt19937 chance(11);
    int missed = 0, invented = 0, off = 0;
    for (int i = 0; i < 300; ++i) {
        const double gap = 0.02 + static_cast<double>(chance() % 281) / 1000,
                     angle = static_cast<double>(chance() % 360) * 3.14159265358979 / 180;
        const double length = 2 + static_cast<double>(chance() % 60) / 10, c = std::cos(angle),
                     s = std::sin(angle), d = 0.5 + gap;
        const auto xy = [&](double along, double across) {
            return "X" + std::to_string(std::lround((38 + along * c - across * s) * 1e6)) + "Y" +
                   std::to_string(std::lround((12 + along * s + across * c) * 1e6));
        };
        const auto files = [&] {
            PackedFolder folder;
            folder.files = {{"top.gbr", "%FSLAX36Y36*%\n%MOMM*%\n%ADD10C,0.5*%\nD10*\n" + xy(0, 0) +
                                            "D02*\n" + xy(length, 0) + "D01*\n" + xy(0, d) + "D02*\n" +
                                            xy(length, d) + "D01*\nM02*\n"}};
            Progress progress;
            return board_of(folder, "pair", progress);
        }();
        Progress progress;
        const auto copper = copper_of(files, progress);
        const auto r = judge_board(files, **copper, {}, process("house-basic"), progress);
        const bool bad = gap < 0.15 - 0.0035;
        if (bad && r->violations.empty()) ++missed;
        if (!bad && !r->violations.empty()) ++invented;
        if (bad && (r->violations.size() != 1 || std::abs(r->violations[0].mm - gap) > 0.004)) ++off;
    }
    EXPECT_EQ(missed, 0);
    EXPECT_EQ(invented, 0);
    EXPECT_EQ(off, 0);
}

TEST(BoardProcesses, WhatIsWrongInOneIsSaid) {
    EXPECT_THAT(
        process_from_json(R"({"id":"x","name":"X","source":"s","where":"mill","track_mm":1})", "p.json")
            .error()
            .message(),
        HasSubstr("home or house"));
    EXPECT_THAT(
        process_from_json(
            R"({"id":"x","name":"X","source":"s","where":"home","track_mm":-1,"gap_mm":1,"ring_mm":1,"hole_mm":1,"hole_gap_mm":1,"edge_mm":1,"copper_layers":1})",
            "p.json")
            .error()
            .message(),
        HasSubstr("track_mm"));
}

}  // namespace
}  // namespace grayrelic
