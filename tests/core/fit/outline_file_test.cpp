// SPDX-License-Identifier: GPL-3.0-or-later
// Drawings written here from the published formats alone; areas and places by arithmetic.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <numbers>
#include <random>

#include "core/board/outline_file.hpp"
#include "core/board/svg_path.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

double area_mm2(const Ring& r) {
    return std::abs(signed_area(r)) / 1e12;
}

std::string svg_of(const std::string& inside,
                   const std::string& head = "width=\"100mm\" height=\"50mm\" viewBox=\"0 0 100 50\"") {
    return "<?xml version=\"1.0\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" " + head + ">\n" + inside +
           "\n</svg>\n";
}

std::string dxf_of(const std::string& entities, int unit = 4) {
    return fmt::format(
        "0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n{}\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n{}"
        "0\nENDSEC\n0\nEOF\n",
        unit, entities);
}
std::string dxf_line(double x1, double y1, double x2, double y2) {
    return fmt::format("0\nLINE\n8\n0\n10\n{}\n20\n{}\n11\n{}\n21\n{}\n", x1, y1, x2, y2);
}

TEST(SvgOutlines, ShapesHaveTheAreasOfTheirArithmetic) {
    const double pi = std::numbers::pi;
    struct Case {
        const char* inside;
        double area;
    };
    for (const auto& [inside, area] : {
             Case{"<rect x=\"2\" y=\"3\" width=\"40\" height=\"20\"/>", 800},
             Case{"<rect width=\"40\" height=\"20\" rx=\"5\"/>", 800 - (4 - pi) * 25},
             Case{"<circle cx=\"20\" cy=\"20\" r=\"10\"/>", pi * 100},
             Case{"<ellipse cx=\"20\" cy=\"20\" rx=\"10\" ry=\"4\"/>", pi * 40},
             Case{"<polygon points=\"0,0 30,0 30,20\"/>", 300},
             Case{"<path d=\"m10 10h20v10h-20z\"/>", 200},
             Case{"<path d=\"M10,10 l20,0 0,10 -20,0Z\"/>", 200},
             // half a disc of radius 10 on a side of 20
             Case{"<path d=\"M0 0H20A10 10 0 0 1 0 0Z\"/>", pi * 50},
             // the arc's flags stand together
             Case{"<path d=\"M0 0H20a10 10 0 01-20 0z\"/>", pi * 50},
             // a parabola: two thirds of the box of 20 × 10 that its handle's half reaches
             Case{"<path d=\"M0 0Q10 20 20 0Z\"/>", 20.0 * 10 * 2 / 3},
             // the same as a cubic: handles at two thirds
             Case{"<path d=\"M0 0C6.6666667 13.3333333 13.3333333 13.3333333 20 0Z\"/>", 20.0 * 10 * 2 / 3},
             Case{"<g transform=\"translate(5 5) scale(2)\"><rect width=\"10\" height=\"5\"/></g>", 200},
             Case{"<g transform=\"rotate(30)\"><rect width=\"10\" height=\"5\" transform=\"skewX(20)\"/></g>",
                  50},
             Case{"<rect width=\"10\" height=\"5\" transform=\"matrix(0 2 -3 0 7 8)\"/>", 300},
         }) {
        const auto d = read_outline(svg_of(inside), "case.svg");
        ASSERT_TRUE(d) << inside << " " << d.error().message();
        EXPECT_NEAR(area_mm2(d->outline.outer), area, area * 0.004 + 0.01) << inside;
    }
}

TEST(SvgOutlines, UnitsAreThoseOfTheRoot) {
    const std::string box = "<rect width=\"10\" height=\"5\"/>";
    for (const auto& [head, scale] : std::vector<std::pair<std::string, double>>{
             {"width=\"100mm\" height=\"50mm\" viewBox=\"0 0 100 50\"", 1},
             {"width=\"10cm\" height=\"5cm\" viewBox=\"0 0 200 100\"", 0.5},
             {"width=\"1in\" height=\"1in\" viewBox=\"0 0 96 96\"", 25.4 / 96},
             {"width=\"72pt\" height=\"72pt\" viewBox=\"0 0 72 72\"", 25.4 / 72},
             {"width=\"96\" height=\"96\"", 25.4 / 96}}) {
        const auto d = read_outline(svg_of(box, head), "c.svg");
        ASSERT_TRUE(d) << head;
        EXPECT_NEAR(to_mm(extent_of(d->outline.outer).width()), 10 * scale, 1e-3) << head;
    }
    const auto none = read_outline(svg_of(box, ""), "c.svg");
    ASSERT_TRUE(none);
    ASSERT_FALSE(none->remarks.empty());
    EXPECT_THAT(none->remarks[0], HasSubstr("says no size"));
}

TEST(SvgOutlines, WaysOfSeveralPiecesAreChainedAndHolesFound) {
    const auto d = read_outline(
        svg_of("<path d=\"M0 0H40V20\"/><path d=\"M40 20H0\"/><line x1=\"0\" y1=\"20\" x2=\"0\" y2=\"0\"/>"
               "<circle cx=\"10\" cy=\"10\" r=\"2\"/><text x=\"1\" y=\"1\">lid</text>"
               "<g style=\"display:none\"><rect width=\"90\" height=\"40\"/></g>"),
        "case.svg");
    ASSERT_TRUE(d) << d.error().message();
    EXPECT_NEAR(area_mm2(d->outline.outer), 800, 0.1);
    ASSERT_EQ(d->outline.cutouts.size(), 1U);
    EXPECT_NEAR(area_mm2(d->outline.cutouts[0]), 4 * std::numbers::pi, 0.1);
    EXPECT_THAT(d->remarks, testing::Contains(HasSubstr("text")));
}

TEST(DxfOutlines, EntitiesHaveTheAreasOfTheirArithmetic) {
    const double pi = std::numbers::pi;
    const auto square =
        dxf_line(0, 0, 40, 0) + dxf_line(40, 20, 40, 0) + dxf_line(40, 20, 0, 20) + dxf_line(0, 20, 0, 0);
    struct Case {
        std::string entities;
        double area;
        int unit = 4;
    };
    for (const auto& c :
         {Case{square, 800}, Case{square, 800 * 25.4 * 25.4 / 100, 0 + 1},
          Case{"0\nCIRCLE\n8\n0\n10\n5\n20\n5\n40\n3\n", 9 * pi},
          // an arc of half a circle and its chord
          Case{"0\nARC\n10\n0\n20\n0\n40\n10\n50\n0\n51\n180\n" + dxf_line(-10, 0, 10, 0), 50 * pi},
          // across 0 degrees
          Case{"0\nARC\n10\n0\n20\n0\n40\n10\n50\n270\n51\n90\n" + dxf_line(0, -10, 0, 10), 50 * pi},
          Case{"0\nLWPOLYLINE\n90\n4\n70\n1\n10\n0\n20\n0\n10\n30\n20\n0\n10\n30\n20\n10\n10\n0\n20\n10\n",
               300},
          // a slot: two sides of 20, two half discs of radius 5 by a bulge of 1
          Case{"0\nLWPOLYLINE\n90\n4\n70\n1\n10\n0\n20\n0\n10\n20\n20\n0\n42\n1\n10\n20\n20\n10\n10\n0\n20\n1"
               "0\n42\n1\n",
               200 + 25 * pi},
          Case{"0\nPOLYLINE\n66\n1\n70\n1\n0\nVERTEX\n10\n0\n20\n0\n0\nVERTEX\n10\n20\n20\n0\n0\nVERTEX\n10\n"
               "20\n20\n10\n0\nSEQEND\n",
               100},
          Case{"0\nELLIPSE\n10\n0\n20\n0\n11\n10\n21\n0\n40\n0.4\n41\n0\n42\n6.283185307179586\n",
               40 * pi}}) {
        if (c.unit == 1) {
            // an inch is 25.4 mm: 40 × 20 inches
            const auto d = read_outline(dxf_of(c.entities, 1), "case.dxf");
            ASSERT_TRUE(d) << d.error().message();
            EXPECT_NEAR(area_mm2(d->outline.outer), 800 * 25.4 * 25.4, 1);
            continue;
        }
        const auto d = read_outline(dxf_of(c.entities, c.unit), "case.dxf");
        ASSERT_TRUE(d) << c.entities << d.error().message();
        EXPECT_NEAR(area_mm2(d->outline.outer), c.area, c.area * 0.004 + 0.01) << c.entities;
    }
}

TEST(OutlineFiles, BadOnesSayPlaceAndReason) {
    for (const auto& [text, want] : std::vector<std::pair<std::string, std::string>>{
             {"", "c:1: found nothing"},
             {svg_of("<path d=\"M0 0H40V20\"/>"), "c:3: found a way that ends at"},
             {svg_of("<path d=\"M0 0L1\"/>"), "c:3: found \"L1\" in a path"},
             {svg_of("<path d=\"M0 0 nonsense\"/>"), "c:3: found \"nonsense\" in a path"},
             {svg_of("<use href=\"#a\"/>"), "c:3: found a clone"},
             {svg_of("<rect width=\"5\" height=\"5\" transform=\"turn(3)\"/>"), "c:3: found \"turn(3)\""},
             {svg_of("<rect width=\"99999\" height=\"5\"/>"), "is the unit right?"},
             {"<svg><rect", "c:1: found"},
             {"<html></html>", "expected an SVG drawing"},
             {svg_of(""), "found no way that closes"},
             {"0\nSECTION\n2\nENTITIES\n" + dxf_line(0, 0, 1, 1), "expected 0 and EOF"},
             {dxf_of(dxf_line(0, 0, 10, 0) + dxf_line(10, 0, 10, 5)), "a way that ends at"},
             {dxf_of("0\nLINE\n10\n0\n20\nzero\n11\n1\n21\n1\n"), "found \"zero\", expected a number"},
             {dxf_of("0\nSPLINE\n70\n8\n"), "expected lines and arcs"},
             {dxf_of("0\nINSERT\n2\nblock\n"), "blocks exploded"},
             {dxf_of("0\nARC\n10\n0\n20\n0\n"), "a radius, 40"},
             {"zero\nSECTION\n", "c:1: found \"zero\", expected a group code"}}) {
        const auto d = read_outline(text, "c");
        ASSERT_FALSE(d) << text;
        EXPECT_THAT(d.error().message(), HasSubstr(want)) << text;
    }
}

TEST(OutlineFiles, DeepAndLongDrawingsAreRefused) {
    std::string deep;
    for (int i = 0; i < 5000; ++i) deep += "<g>";
    for (int i = 0; i < 5000; ++i) deep += "</g>";
    EXPECT_FALSE(read_outline(svg_of(deep), "c"));
    std::string path = "<path d=\"M0 0";
    for (int i = 0; i < 500'000; ++i) path += "h1v1";
    EXPECT_FALSE(read_outline(svg_of(path + "z\"/>"), "c"));
}

Ring box_ring(double x, double y, double w, double h) {
    return {{from_mm(x), from_mm(y)},
            {from_mm(x + w), from_mm(y)},
            {from_mm(x + w), from_mm(y + h)},
            {from_mm(x), from_mm(y + h)}};
}

TEST(LyingInside, LeavesWhatArithmeticLeaves) {
    for (unsigned seed = 1; seed <= 200; ++seed) {
        std::mt19937 chance(seed);
        std::uniform_real_distribution<double> size(10, 90), where(-40, 40);
        const double w = size(chance), h = size(chance), rw = size(chance), rh = size(chance);
        BoardOutline room;
        room.outer = box_ring(where(chance), where(chance), rw, rh);
        InsideQuestion q;
        q.turn_deg = 0;
        const auto a = lies_inside(box_ring(where(chance), where(chance), w, h), room, q);
        const double left = std::min((rw - w) / 2, (rh - h) / 2);  // middle on middle
        EXPECT_EQ(a.inside, left > 0) << seed;
        if (left > 0) {
            EXPECT_NEAR(a.least_mm, left, 1e-4) << seed;
        } else {
            // A corner stands out to the side, to the top, or past the corner.
            const double dx = std::max(0.0, (w - rw) / 2), dy = std::max(0.0, (h - rh) / 2);
            EXPECT_NEAR(a.least_mm, -std::hypot(dx, dy), 1e-4) << seed;
        }
        q.turn_deg.reset();
        const double turned = std::min((rw - h) / 2, (rh - w) / 2);
        if (std::max(left, turned) > 0) {
            EXPECT_NEAR(lies_inside(box_ring(0, 0, w, h), room, q).least_mm, std::max(left, turned), 1e-4);
        }
    }
}

TEST(LyingInside, APostWithinTheBoardIsInTheWay) {
    BoardOutline room;
    room.outer = box_ring(0, 0, 60, 40);
    room.cutouts = {circle_ring({from_mm(30), from_mm(20)}, 2e6)};
    const auto a = lies_inside(box_ring(0, 0, 50, 30), room, {});
    EXPECT_FALSE(a.inside);
    // Beside the board it is 3 mm away: the board 10 to 20, the post from 23.
    InsideQuestion q;
    q.turn_deg = 0;
    q.shift = BoardXY{from_mm(10), from_mm(5)};
    room.cutouts = {circle_ring({from_mm(25), from_mm(20)}, 2e6)};
    EXPECT_NEAR(lies_inside(box_ring(0, 0, 10, 30), room, q).least_mm, 3, 0.01);
}

}  // namespace
}  // namespace grayrelic
