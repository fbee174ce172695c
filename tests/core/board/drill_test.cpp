// SPDX-License-Identifier: GPL-3.0-or-later
// Drill files in the forms that the format allows; places and sizes by arithmetic.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "core/board/drill.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;
using testing::SizeIs;

struct PlaceCase {
    const char* name;
    std::string text;
    double x, y, mm;
};
class OneHole : public testing::TestWithParam<PlaceCase> {};
TEST_P(OneHole, StandsWhereItWasMeant) {
    const auto& c = GetParam();
    const auto f = read_drill(c.text, "d.drl");
    ASSERT_TRUE(f) << f.error().message();
    ASSERT_THAT(f->holes, SizeIs(1));
    EXPECT_NEAR(to_mm(f->holes[0].middle().x), c.x, 0.0006);
    EXPECT_NEAR(to_mm(f->holes[0].middle().y), c.y, 0.0006);
    EXPECT_NEAR(f->holes[0].diameter / 1e6, c.mm, 0.0006);
}
INSTANTIATE_TEST_SUITE_P(
    Forms, OneHole,
    testing::Values(
        PlaceCase{"Decimals", "M48\nMETRIC\nT1C0.8\n%\nT1\nX12.5Y-3.25\nM30\n", 12.5, -3.25, 0.8},
        // Trailing zeros kept: 12500 is 12.500.
        PlaceCase{"MetricTrailing", "M48\nMETRIC,TZ,000.000\nT01C0.800\n%\nT01\nX12500Y-3250\nM30\n", 12.5,
                  -3.25, 0.8},
        // Leading zeros kept: 0125 is 012.500, -00325 is -003.250.
        PlaceCase{"MetricLeading", "M48\nMETRIC,LZ,000.000\nT01C0.800\n%\nT01\nX0125Y-00325\nM30\n", 12.5,
                  -3.25, 0.8},
        // 2.4: 5000 is 0.5 inch, 12.7 mm.
        PlaceCase{"InchTrailing", "M48\nINCH,TZ\nT1C0.0315\n%\nT1\nX5000Y10000\nM30\n", 12.7, 25.4, 0.8001},
        PlaceCase{"InchLeading", "M48\nINCH,LZ\nT1C0.0315\n%\nT1\nX005Y01\nM30\n", 12.7, 25.4, 0.8001},
        PlaceCase{"M71", "M48\nM71\nT1C0.8\n%\nT1\nX1.0Y2.0\nM30\n", 1, 2, 0.8},
        PlaceCase{"StatedInARemark", "M48\n;FILE_FORMAT=4:2\nMETRIC,TZ\nT1C0.8\n%\nT1\nX1250Y325\nM30\n",
                  12.5, 3.25, 0.8},
        PlaceCase{"ToolWithFeedAndSpeed",
                  "M48\r\nMETRIC\r\nT01F200S65C0.8\r\nM95\r\nT01\r\nX1.0Y2.0\r\nT00\r\nM30\r\n", 1, 2, 0.8}),
    [](const auto& one) { return one.param.name; });

TEST(Drill, ModalPlacesRepeatsAndSlots) {
    const auto f =
        read_drill("M48\nMETRIC\nT1C1.0\n%\nT1\nX1.0Y1.0\nY2.0\nR3X2.0\nX20.0Y5.0G85X23.0Y5.0\nM30\n", "d");
    ASSERT_TRUE(f) << f.error().message();
    ASSERT_THAT(f->holes, SizeIs(6));
    EXPECT_EQ(f->holes[1].middle(), (BoardXY{from_mm(1), from_mm(2)}));
    EXPECT_EQ(f->holes[4].middle(), (BoardXY{from_mm(7), from_mm(2)}));
    EXPECT_TRUE(f->holes[5].slot());
    // 3 mm long between its ends, 1 mm wide.
    EXPECT_NEAR(signed_area(f->holes[5].rings()) * 1e-12, 3 + std::numbers::pi / 4, 0.01);
}

TEST(Drill, RoutedSlotsWithArcs) {
    // Half a turn of radius 2 by A, then the same back by I and J: a ring 1 mm wide.
    const auto f = read_drill(
        "M48\nMETRIC\nT1C1.0\n%\nT1\nG00X2.0Y0.0\nM15\nG03X-2.0Y0.0A2.0\nG03X2.0Y0.0I2.0J0.0\nM16\nG05\nX9."
        "0Y9.0\nM30\n",
        "d");
    ASSERT_TRUE(f) << f.error().message();
    ASSERT_THAT(f->holes, SizeIs(2));
    EXPECT_NEAR(signed_area(f->holes[0].rings()) * 1e-12, std::numbers::pi * (2.5 * 2.5 - 1.5 * 1.5), 0.05);
    EXPECT_FALSE(f->holes[1].slot());
}

TEST(Drill, PlatingIsSaidByFileOrTool) {
    EXPECT_TRUE(read_drill("M48\nMETRIC\nT1C1.0\n%\nT1\nX1.0Y1.0\nM30\n", "d")->holes[0].plated);
    EXPECT_FALSE(
        read_drill("M48\n; #@! TF.FileFunction,NonPlated,1,2,NPTH\nMETRIC\nT1C1.0\n%\nT1\nX1.0Y1.0\nM30\n",
                   "d")
            ->holes[0]
            .plated);
    const auto mixed = read_drill(
        "M48\n;TYPE=PLATED\nMETRIC\nT1C1.0\n;TYPE=NON_PLATED\nT2C3.0\n%\nT1\nX1.0Y1.0\nT2\nX5.0Y5.0\nM30\n",
        "d");
    EXPECT_TRUE(mixed->holes[0].plated);
    EXPECT_FALSE(mixed->holes[1].plated);
}

TEST(Drill, AFormatThatIsNotStatedIsAGuess) {
    EXPECT_TRUE(read_drill("M48\nMETRIC\nT1C1.0\n%\nT1\nX1000Y1000\nM30\n", "d")->format_guessed);
    EXPECT_FALSE(read_drill("M48\nMETRIC\nT1C1.0\n%\nT1\nX1.0Y1.0\nM30\n", "d")->format_guessed);
}

TEST(Drill, WhatIsWrongIsSaidWithItsLine) {
    for (const auto& [text, line, says] :
         {std::tuple("M48\nMETRIC\nT1C1.0\n%\nT1\nX1.0Y1.0\n", 6L, "M30"),
          {"M48\nMETRIC\n%\nT3\nX1.0Y1.0\nM30\n", 4L, "T3"},
          {"M48\nMETRIC\nT1C1.0\n%\nX1.0Y1.0\nM30\n", 5L, "tool"},
          {"M48\nMETRIC\nT1C1.0\n%\nT1\nG91\nM30\n", 6L, "absolute"},
          {"M48\nMETRIC\nT1C1.0\n%\nT1\nG01X1.0Y1.0\nM30\n", 6L, "M15"},
          {"M48\nMETRIC\nT1C9000.0\n%\nM30\n", 3L, "diameter"},
          {"M48\nMETRIC\nT1C1.0\n%\nT1\nXY\nM30\n", 6L, "digits"},
          {"M48\nMETRIC\nT1C1.0\n%\nT1\nX1.0Y1.0\nR100000X1.0\nM30\n", 7L, "2 m"}}) {
        const auto f = read_drill(text, "d");
        ASSERT_FALSE(f) << text;
        EXPECT_EQ(f.error().line, line) << f.error().message();
        EXPECT_THAT(f.error().message(), HasSubstr(says));
    }
}

}  // namespace
}  // namespace grayrelic
