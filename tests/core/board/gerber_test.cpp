// SPDX-License-Identifier: GPL-3.0-or-later
// The layer reader against files written by hand from the published specification, with areas by arithmetic.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

#include "core/board/aperture_macro.hpp"
#include "core/board/gerber.hpp"

namespace grayrelic {
namespace {

using std::numbers::pi;
using testing::HasSubstr;

Result<GerberLayer> read_text(const std::string& text) {
    Progress progress;
    return read_gerber(text, "t.gbr", progress);
}

double area_mm2(const GerberLayer& layer) {
    Progress progress;
    const auto pieces = layer_pieces(layer, progress);
    double total = 0;
    for (const auto& p : *pieces) total += p.area();
    return total * 1e-12;
}

struct AreaCase {
    const char* name;
    std::string body;  ///< after format and unit
    double mm2;
    std::size_t pieces = 1;
};

const std::string head = "%FSLAX36Y36*%\n%MOMM*%\n";

class Areas : public testing::TestWithParam<AreaCase> {};
TEST_P(Areas, AsTheArithmeticSays) {
    const auto& c = GetParam();
    const auto layer = read_text(head + c.body + "M02*\n");
    ASSERT_TRUE(layer) << layer.error().message();
    Progress progress;
    EXPECT_EQ(layer_pieces(*layer, progress)->size(), c.pieces);
    // Arcs are 2.5 µm off at most: of the outlines here that is less than 0.3 %.
    EXPECT_NEAR(area_mm2(*layer), c.mm2, 0.003 * c.mm2 + 1e-6);
}
INSTANTIATE_TEST_SUITE_P(
    Specified, Areas,
    testing::Values(
        AreaCase{"Circle", "%ADD10C,2.0*%\nD10*\nX0Y0D03*\n", pi},
        AreaCase{"CircleWithHole", "%ADD10C,2.0X1.0*%\nD10*\nX5000000Y0D03*\n", pi - pi / 4},
        AreaCase{"Rectangle", "%ADD10R,2.0X0.5*%\nD10*\nX0Y0D03*\n", 1.0},
        AreaCase{"RectangleWithHole", "%ADD10R,2.0X1.5X0.6*%\nD10*\nX0Y0D03*\n", 3.0 - pi * 0.09},
        // A rectangle of 1 × 1 with half circles of 1 at both ends.
        AreaCase{"Obround", "%ADD10O,2.0X1.0*%\nD10*\nX0Y0D03*\n", 1.0 + pi / 4},
        AreaCase{"ObroundUpright", "%ADD10O,1.0X3.0*%\nD10*\nX0Y0D03*\n", 2.0 + pi / 4},
        // A regular n-gon in a circle of diameter d: n/8 d² sin(360°/n).
        AreaCase{"Hexagon", "%ADD10P,2.0X6*%\nD10*\nX0Y0D03*\n", 6.0 / 8 * 4 * std::sin(pi / 3)},
        AreaCase{"TriangleTurnedWithHole", "%ADD10P,3.0X3X30.0X0.5*%\nD10*\nX0Y0D03*\n",
                 3.0 / 8 * 9 * std::sin(2 * pi / 3) - pi / 16},
        AreaCase{"Line", "%ADD10C,0.5*%\nD10*\nX0Y0D02*\nX10000000Y0D01*\n", 10 * 0.5 + pi / 16},
        // What a rectangle leaves on its way up is as wide as it.
        AreaCase{"LineWithRectangle", "%ADD10R,1.0X2.0*%\nD10*\nX0Y0D02*\nX0Y5000000D01*\n", 7.0},
        AreaCase{"QuarterArc", "%ADD10C,0.2*%\nG75*\nD10*\nX5000000Y0D02*\nG03*\nX0Y5000000I-5000000J0D01*\n",
                 pi / 2 * 5 * 0.2 + pi * 0.01},
        AreaCase{"WholeCircleDrawn",
                 "%ADD10C,0.2*%\nG75*\nD10*\nX5000000Y0D02*\nG02*\nX5000000Y0I-5000000J0D01*\n",
                 2 * pi * 5 * 0.2},
        AreaCase{"SingleQuadrant",
                 "%ADD10C,0.2*%\nG74*\nD10*\nX5000000Y0D02*\nG03*\nX0Y5000000I5000000J0D01*\n",
                 pi / 2 * 5 * 0.2 + pi * 0.01},
        AreaCase{
            "Region",
            "G36*\nX0Y0D02*\nG01*\nX4000000Y0D01*\nX4000000Y3000000D01*\nX0Y3000000D01*\nX0Y0D01*\nG37*\n",
            12},
        // A half disc of radius 2: its arc counter-clockwise, its chord straight.
        AreaCase{"RegionWithArc",
                 "G75*\nG36*\nX2000000Y0D02*\nG03*\nX-2000000Y0I-2000000J0D01*\nG01*\nX2000000Y0D01*\nG37*\n",
                 2 * pi},
        AreaCase{"TwoContours",
                 "G36*\nX0Y0D02*\nG01*\nX1000000Y0D01*\nX1000000Y1000000D01*\nX0Y1000000D01*\nX0Y0D01*"
                 "\nX5000000Y0D02*\n"
                 "X6000000Y0D01*\nX6000000Y1000000D01*\nX5000000Y1000000D01*\nX5000000Y0D01*\nG37*\n",
                 2, 2},
        // A cut-in: the contour goes to the hole and back along one line.
        AreaCase{"CutIn",
                 "G36*\nX0Y0D02*\nG01*\nX10000000Y0D01*\nX10000000Y10000000D01*\nX0Y10000000D01*"
                 "\nX0Y5000000D01*\nX4000000Y5000000D01*\n"
                 "X4000000Y6000000D01*\nX6000000Y6000000D01*\nX6000000Y4000000D01*\nX4000000Y4000000D01*"
                 "\nX4000000Y5000000D01*\n"
                 "X0Y5000000D01*\nX0Y0D01*\nG37*\n",
                 96},
        AreaCase{"ClearThenDark",
                 "%ADD10R,4X4*%\n%ADD11C,2*%\n%ADD12C,1*%\nD10*\nX0Y0D03*\n%LPC*%\nD11*\nX0Y0D03*\n%LPD*%"
                 "\nD12*\nX0Y0D03*\n",
                 16 - pi + pi / 4, 2},
        AreaCase{"MacroOutline", "%AMT*4,1,3,0,0,3,0,0,4,0,0,0*%\n%ADD10T*%\nD10*\nX0Y0D03*\n", 6},
        AreaCase{"MacroExpressions",
                 "%AMB*$3=$1x2+($2-1)/4*21,1,$3,$2,0,0,0*%\n%ADD10B,1.5X3.0*%\nD10*\nX0Y0D03*\n", 3.5 * 3},
        AreaCase{"MacroExposureOff", "%AMD*1,1,4,0,0*1,0,2,0,0*%\n%ADD10D*%\nD10*\nX0Y0D03*\n", 3 * pi},
        AreaCase{"MacroVectorLine", "%AMV*20,1,0.5,0,0,3,4,0*%\n%ADD10V*%\nD10*\nX0Y0D03*\n", 2.5},
        AreaCase{"MacroPolygon", "%AMP8*5,1,8,0,0,2,22.5*%\n%ADD10P8*%\nD10*\nX0Y0D03*\n",
                 std::sqrt(2.0) * 2},
        // A ring of 4 and 3 with four gaps of 0.5 across: each gap takes a strip of the ring, by integral
        // 0.2528 mm².
        AreaCase{"MacroThermal", "%AMTH*7,0,0,4,3,0.5,45*%\n%ADD10TH*%\nD10*\nX0Y0D03*\n",
                 pi*(4 - 2.25) - 4 * ((0.25 * std::sqrt(4 - 0.0625) + 4 * std::asin(0.125)) -
                                      (0.25 * std::sqrt(2.25 - 0.0625) + 2.25 * std::asin(0.25 / 1.5))),
                 4},
        AreaCase{"Repeat", "%ADD10C,1*%\nD10*\n%SRX3Y2I2.0J3.0*%\nX0Y0D03*\n%SR*%\n", 6 * pi / 4, 6},
        AreaCase{"Block",
                 "%ADD11R,1X2*%\n%ABD12*%\nD11*\nX0Y0D03*\nX3000000Y0D03*\n%AB*%\nD12*\nX0Y0D03*"
                 "\nX0Y10000000D03*\n",
                 8, 4},
        AreaCase{"Scaled", "%ADD10R,1X2*%\nD10*\n%LS2*%\nX0Y0D03*\n", 8},
        AreaCase{"TwiceTheSame", "%ADD10C,2*%\nD10*\nX0Y0D03*\nX0Y0D03*\n", pi}),
    [](const auto& one) { return one.param.name; });

TEST(Gerber, ZerosAndUnits) {
    // 1.5 mm three times: leading zeros left out, trailing ones left out, and in inches (1.5 / 25.4 =
    // 0.059055).
    for (const auto& [format, x] :
         {std::pair("%FSLAX24Y24*%\n%MOMM*%\n", "15000"), std::pair("%FSTAX24Y24*%\n%MOMM*%\n", "015"),
          std::pair("%FSLAX26Y26*%\n%MOIN*%\n", "59055")}) {
        const auto layer = read_text(std::string(format) + "%ADD10C,0.1*%\nD10*\nX" + x + "Y0D03*\nM02*\n");
        ASSERT_TRUE(layer) << layer.error().message();
        EXPECT_NEAR(to_mm(layer->objects.at(0).to.x), 1.5, 1e-4) << format;
    }
}

TEST(Gerber, MirrorTurnAndScaleInTheirOrder) {
    // An L of two squares: mirrored left to right, then turned by 90°: the right arm comes to point down.
    const auto layer = read_text(
        head + "%AML*21,1,1,1,0,0,0*21,1,1,1,2,0,0*%\n%ADD10L*%\nD10*\n%LMX*%\n%LR90*%\nX0Y0D03*\nM02*\n");
    ASSERT_TRUE(layer);
    Progress progress;
    const auto pieces = *layer_pieces(*layer, progress);
    // The arm at (2, 0) mirrored stands at (-2, 0), turned at (0, -2).
    EXPECT_TRUE(std::any_of(pieces.begin(), pieces.end(), [](const auto& p) {
        return p.contains({0, from_mm(-2)});
    }));
    EXPECT_FALSE(std::any_of(pieces.begin(), pieces.end(), [](const auto& p) {
        return p.contains({0, from_mm(2)});
    }));
}

TEST(Gerber, AttributesSayWhatAPadIs) {
    const auto layer =
        read_text(head +
                  "%TF.FileFunction,Copper,L1,Top*%\n%TA.AperFunction,ComponentPad*%\n%ADD10C,1*%\n%TD."
                  "AperFunction*%\nD10*\n"
                  "%TO.N,/RESET\\u002A*%\n%TO.P,J1,7*%\nX0Y0D03*\n%TD*%\nX5000000Y0D03*\nM02*\n");
    ASSERT_TRUE(layer) << layer.error().message();
    EXPECT_EQ(layer->attributes.at(".FileFunction"), "Copper,L1,Top");
    EXPECT_EQ(layer->apertures.at(0).function, "ComponentPad");
    const auto& m = layer->marks[layer->objects[0].marks];
    EXPECT_EQ(m.net, "/RESET*");
    EXPECT_EQ(m.ref, "J1");
    EXPECT_EQ(m.pin, "7");
    EXPECT_EQ(layer->marks[layer->objects[1].marks], ObjectMarks{});
}

TEST(Gerber, RegionThatCrossesItselfIsSaid) {
    // A bow tie: two triangles of 1 mm² each.
    const auto layer = read_text(
        head +
        "G36*\nX0Y0D02*\nG01*\nX2000000Y2000000D01*\nX2000000Y0D01*\nX0Y2000000D01*\nX0Y0D01*\nG37*\nM02*\n");
    ASSERT_TRUE(layer);
    ASSERT_EQ(layer->notes.size(), 1U);
    EXPECT_THAT(layer->notes[0].text, HasSubstr("crosses itself"));
    EXPECT_NEAR(area_mm2(*layer), 2, 1e-6);
}

struct Refusal {
    const char* name;
    std::string text;
    long line;
    const char* says;
};
class Refused : public testing::TestWithParam<Refusal> {};
TEST_P(Refused, WithItsLineAndWhatToExport) {
    const auto layer = read_text(GetParam().text);
    ASSERT_FALSE(layer);
    EXPECT_EQ(layer.error().line, GetParam().line);
    EXPECT_THAT(layer.error().message(), HasSubstr(GetParam().says));
}
INSTANTIATE_TEST_SUITE_P(
    Files, Refused,
    testing::Values(
        Refusal{"Cut", head + "%ADD10C,1*%\nD10*\nX0Y0D03*\n", 6, "M02"},
        Refusal{"CutWithinABlock", head + "%ADD10C,1*%\nD10*\nX0Y0D", 5, "cut"},
        Refusal{"Incremental", "%FSLIX26Y26*%\n", 1, "FSLA"},
        Refusal{"NoAperture", head + "X0Y0D03*\nM02*\n", 3, "Dnn"},
        Refusal{"UnknownAperture", head + "D11*\nM02*\n", 3, "D11"},
        Refusal{"Negative", head + "%IPNEG*%\nM02*\n", 3, "positive"},
        Refusal{"Offset", head + "%OFA1.0B0*%\nM02*\n", 3, "OF"},
        Refusal{"Huge", head + "%ADD10C,90000*%\nM02*\n", 3, "2000 mm"},
        Refusal{"Far", head + "%ADD10C,1*%\nD10*\nX9999999999999Y0D03*\nM02*\n", 5, "format and unit"},
        Refusal{"TwoRadii",
                head + "%ADD10C,1*%\nG75*\nD10*\nX0Y0D02*\nG02*\nX9000000Y0I1000000J0D01*\nM02*\n", 8, "G75"},
        Refusal{"RegionOpen", head + "G36*\nX0Y0D02*\nG01*\nX1000000Y0D01*\nM02*\n", 7, "G37"},
        Refusal{"MacroRecursion", head + "%AMX*1,1,((((1+,0,0*%\n%ADD10X*%\nM02*\n", 3, "expression"},
        Refusal{"DivideByNothing", head + "%AMX*1,1,1/0,0,0*%\n%ADD10X*%\nM02*\n", 3, "expression"},
        Refusal{"ManyRepeats", head + "%ADD10C,1*%\nD10*\n%SRX9999Y9999I0.1J0.1*%\nX0Y0D03*\n%SR*%\nM02*\n",
                7, "too many"},
        Refusal{"NoUnit", "%FSLAX26Y26*%\n%ADD10C,1*%\nM02*\n", 2, "%MO"},
        Refusal{"Empty", "  \n", 1, "empty"}),
    [](const auto& one) { return one.param.name; });

TEST(Gerber, WhatWouldTakeForEverIsRefused) {
    std::uint32_t state = 1;
    const auto next = [&] { return (state = state * 1664525 + 1013904223) >> 12; };
    const auto xy = [&] {
        return "X" + std::to_string(next() % 100'000'000) + "Y" + std::to_string(next() % 100'000'000);
    };
    std::string scribble = head + "G36*\n" + xy() + "D02*\nG01*\n";
    for (int i = 0; i < 3000; ++i) scribble += xy() + "D01*\n";
    const auto region = read_text(scribble + "G37*\nM02*\n");
    ASSERT_FALSE(region);
    EXPECT_THAT(region.error().message(), HasSubstr("over and over"));
    // Ten thousand long lines across each other: fifty million pairs.
    std::string hatch = head + "%ADD10C,0.1*%\nD10*\n";
    for (int i = 0; i < 10'000; ++i) hatch += xy() + "D02*\n" + xy() + "D01*\n";
    const auto lines = read_text(hatch + "M02*\n");
    ASSERT_TRUE(lines);
    Progress progress;
    const auto pieces = layer_pieces(*lines, progress);
    ASSERT_FALSE(pieces);
    EXPECT_THAT(pieces.error().message(), HasSubstr("over each other"));
}

TEST(Macro, Expressions) {
    // By hand: products before sums, brackets, signs, unset variables are 0.
    for (const auto& [text, value] : {std::pair("1+2x3", 7.0),
                                      {"(1+2)x3", 9.0},
                                      {"-2x-3", 6.0},
                                      {"$1/$2", 2.5},
                                      {"$9+1", 1.0},
                                      {"8/4/2", 1.0},
                                      {"2X.5", 1.0}}) {
        const auto v = macro_value(text, {5, 2}, "f", 1);
        ASSERT_TRUE(v) << text;
        EXPECT_DOUBLE_EQ(*v, value) << text;
    }
    for (const auto* bad : {"", "1+", "$0", "(1", "1)", "1//2", "a"})
        EXPECT_FALSE(macro_value(bad, {}, "f", 1)) << bad;
}

}  // namespace
}  // namespace grayrelic
