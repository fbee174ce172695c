// SPDX-License-Identifier: GPL-3.0-or-later
// Parts found among clutter: places worked out from the standards' dimensions, turned, moved and disturbed by
// arithmetic that shares nothing with the search.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/board/board_analysis.hpp"
#include "core/board/pad_patterns.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

/// IEC 60807: nine contacts, 2.77 apart, rows 2.84 apart; looking into the socket contact 1 stands upper
/// right. Its mirror image covers the same places.
PadPattern nine_contacts() {
    PadPattern out;
    out.surface = true;
    for (int n = 1; n <= 5; ++n) out.places.push_back({std::to_string(n), (3 - n) * 2.77, 1.42});
    for (int n = 6; n <= 9; ++n) out.places.push_back({std::to_string(n), (7.5 - n) * 2.77, -1.42});
    return out;
}

/// Sixteen pins in two rows, 2.54 apart, the rows 7.62: turned by half it covers the same places.
PadPattern sixteen_pins() {
    PadPattern out;
    for (int n = 1; n <= 8; ++n) out.places.push_back({std::to_string(n), -3.81, (4.5 - n) * 2.54});
    for (int n = 9; n <= 16; ++n) out.places.push_back({std::to_string(n), 3.81, (n - 12.5) * 2.54});
    return out;
}

/// Three pads of which no two distances are alike: it lies in one way only.
PadPattern three_pads() {
    PadPattern out;
    out.surface = true;
    out.places = {{"1", 0, 0}, {"2", 3.1, 0.4}, {"3", 0.7, 1.9}};
    return out;
}

struct Spot {
    double x, y;
};
/// Where a place of the pattern comes to in the files: seen from the side, turned, then mirrored for the
/// back.
Spot spot_of(const NumberedPlace& p, int quarters, bool back, Spot middle) {
    double x = p.x_mm, y = p.y_mm;
    for (int i = 0; i < quarters; ++i) {
        const double was = x;
        x = -y;
        y = was;
    }
    return {middle.x + (back ? -x : x), middle.y + y};
}

struct Scattered {
    std::vector<Land> lands;
    std::vector<Spot> middles;  ///< of the instances' origins
    int quarters = 0;
    bool back = false;
};

Scattered scatter(std::mt19937& chance, const PadPattern& pattern, int instances, bool hole) {
    Scattered out;
    std::uniform_real_distribution<double> anywhere(0, 150), off(-0.04, 0.04);
    out.quarters = static_cast<int>(chance() % 4);
    out.back = chance() % 2 == 0;
    for (int i = 0; i < instances; ++i) {
        const Spot middle{20.0 + 40 * i + off(chance) * 50, anywhere(chance)};
        out.middles.push_back(middle);
        for (const auto& p : pattern.places) {
            const auto s = spot_of(p, out.quarters, out.back, middle);
            out.lands.push_back({{from_mm(s.x + off(chance)), from_mm(s.y + off(chance))},
                                 hole       ? PadSide::both
                                 : out.back ? PadSide::bottom
                                            : PadSide::top,
                                 hole});
        }
    }
    const int clutter = 20 + static_cast<int>(chance() % 400);
    for (int i = 0; i < clutter; ++i)
        out.lands.push_back({{from_mm(anywhere(chance)), from_mm(anywhere(chance))},
                             chance() % 2 == 0 ? PadSide::top : PadSide::bottom,
                             chance() % 3 == 0});
    std::shuffle(out.lands.begin(), out.lands.end(), chance);
    return out;
}

/// How many of the ways lie with all contacts where the instance has them.
int ways_at(const std::vector<PatternPlace>& ways, const PadPattern& pattern, const Scattered& s,
            Spot middle) {
    int count = 0;
    for (const auto& w : ways) {
        bool all = w.side == (s.back ? PadSide::bottom : PadSide::top);
        for (std::size_t i = 0; i < pattern.places.size() && all; ++i) {
            const auto want = spot_of(pattern.places[i], s.quarters, s.back, middle);
            all = std::hypot(to_mm(w.pads[i].at.x) - want.x, to_mm(w.pads[i].at.y) - want.y) < 0.15;
        }
        count += all ? 1 : 0;
    }
    return count;
}

TEST(PadPatterns, EachInstanceIsFoundAmongClutterOnAnySideInAnyTurn) {
    int found = 0, wanted = 0;
    for (unsigned seed = 1; seed <= 300; ++seed) {
        std::mt19937 chance(seed);
        const bool hole = seed % 3 == 1;
        const auto pattern = seed % 3 == 0 ? nine_contacts() : hole ? sixteen_pins() : three_pads();
        const auto s = scatter(chance, pattern, 1 + static_cast<int>(seed % 3), hole);
        PatternQuestion q;
        q.side = s.back ? PadSide::bottom : PadSide::top;
        const auto ways = find_pattern(s.lands, pattern, q);
        for (const auto& middle : s.middles) {
            ++wanted;
            const int here = ways_at(ways, pattern, s, middle);
            EXPECT_LE(here, 1) << seed;
            found += here;
        }
    }
    EXPECT_EQ(found, wanted);
}

TEST(PadPatterns, OnePointedContactSettlesTheTurnOfASymmetricPart) {
    for (unsigned seed = 1; seed <= 200; ++seed) {
        std::mt19937 chance(seed);
        const auto pattern = sixteen_pins();
        const auto s = scatter(chance, pattern, 2, true);
        PatternQuestion q;
        q.ref = "U1";
        q.side = s.back ? PadSide::bottom : PadSide::top;
        EXPECT_EQ(find_pattern(s.lands, pattern, q).size(), 4U) << seed;  // two parts, two turns each
        const auto one = spot_of(pattern.places[0], s.quarters, s.back, s.middles[1]);
        q.known = {{"1", {from_mm(one.x), from_mm(one.y)}}};
        const auto ways = find_pattern(s.lands, pattern, q);
        ASSERT_EQ(ways.size(), 1U) << seed;
        EXPECT_EQ(ways_at(ways, pattern, s, s.middles[1]), 1) << seed;
        EXPECT_EQ(ways.front().turn_deg, s.quarters * 90) << seed;
    }
}

TEST(PadPatterns, AMirroredLayoutDoesNotTakeItsPinOneForTheConnectors) {
    // The layout has contact 1 where a connector on the other side would have it.
    std::mt19937 chance(5);
    auto s = scatter(chance, nine_contacts(), 1, true);
    const auto wrong = spot_of({"1", -2 * 2.77, 1.42}, s.quarters, s.back, s.middles[0]);
    PatternQuestion q;
    q.side = s.back ? PadSide::bottom : PadSide::top;
    q.known = {{"1", {from_mm(wrong.x), from_mm(wrong.y)}}};
    EXPECT_TRUE(find_pattern(s.lands, nine_contacts(), q).empty());
    // Standing on the other side it would fit.
    q.side = s.back ? PadSide::top : PadSide::bottom;
    EXPECT_EQ(find_pattern(s.lands, nine_contacts(), q).size(), 1U);
    // What is one contact short is not there.
    q = {};
    std::erase_if(s.lands, [&](const Land& l) {
        return std::hypot(to_mm(l.at.x) - wrong.x, to_mm(l.at.y) - wrong.y) < 0.2;
    });
    EXPECT_TRUE(find_pattern(s.lands, nine_contacts(), q).empty());
}

TEST(PadPatterns, PointingNamesThePartOrSaysWhatElseWouldTell) {
    std::vector<Land> lands;
    const auto pattern = nine_contacts();
    for (const auto& p : pattern.places)
        lands.push_back({{from_mm(30 + p.x_mm), from_mm(20 + p.y_mm)}, PadSide::both, true});
    // Contact 3 stands in the middle of its row: from there it fits standing on the front and on the back.
    const auto three = pads_from_pointing(lands, &pattern, {"J1", "3", {from_mm(30.2), from_mm(21.3)}}, {});
    EXPECT_FALSE(three.all);
    ASSERT_EQ(three.pads.size(), 1U);
    EXPECT_EQ(three.pads[0].at, (BoardXY{from_mm(30), from_mm(21.42)}));
    EXPECT_THAT(three.says, HasSubstr("2 ways"));
    const auto both =
        pads_from_pointing(lands, &pattern, {"J1", "1", {from_mm(35.5), from_mm(21.4)}}, three.pads);
    EXPECT_TRUE(both.all);
    EXPECT_EQ(both.pads.size(), 9U);
    EXPECT_THAT(pads_from_pointing(lands, &pattern, {"J1", "1", {from_mm(70), from_mm(70)}}, {}).says,
                HasSubstr("no pad"));
    EXPECT_THAT(pads_from_pointing(lands, &pattern, {"J1", "77", {from_mm(30), from_mm(21.4)}}, {}).says,
                HasSubstr("no contact 77"));
    const auto unknown = pads_from_pointing(lands, nullptr, {"X9", "1", {from_mm(30), from_mm(21.4)}}, {});
    EXPECT_EQ(unknown.pads.size(), 1U);
    EXPECT_THAT(unknown.says, HasSubstr("nothing tells what X9 is"));
}

TEST(Placements, HeadingsUnitsAndSidesAreUnderstood) {
    const auto t = read_placements(
        "Designator;Mid X;Mid Y;Rotation;Layer\nU1;10.5mm;1in;90;Top\nR2;500mil;-3;;Bottom\n", "parts.csv");
    ASSERT_TRUE(t) << t.error().message();
    ASSERT_EQ(t->size(), 2U);
    EXPECT_EQ((*t)[0].at, (BoardXY{from_mm(10.5), from_mm(25.4)}));
    EXPECT_EQ((*t)[0].turn_deg, 90);
    EXPECT_EQ((*t)[1].at, (BoardXY{from_mm(12.7), from_mm(-3)}));
    EXPECT_EQ((*t)[1].side, PadSide::bottom);
    EXPECT_FALSE((*t)[1].turn_deg);
    EXPECT_TRUE(looks_like_placements("ref,x_mm,y_mm,rot,side\nU1,1,2,0,top\n"));
    EXPECT_FALSE(looks_like_placements("ref,pin,x_mm,y_mm,side\nU1,1,1,2,top\n"));  // pads
    EXPECT_FALSE(looks_like_placements("time,A,B\n0,1,0\n"));
}

TEST(Placements, BadTablesSayWhere) {
    for (const auto& [text, want] : std::vector<std::pair<std::string, std::string>>{
             {"ref,x\nU1,1\n", "p.csv:1: found a heading without y"},
             {"ref,x,y\nU1,1,two\n", "p.csv:2: found \"two\""},
             {"ref,x,y\nU1,1,9e9\n", "p.csv:2:"},
             {"ref,x,y,side\nU1,1,2,left\n", "p.csv:2: found \"left\", expected top or bottom"},
             {"ref,x,y\nU1,1,2\nU1,3,4\n", "p.csv:3: found \"U1\" again, after line 2"},
             {"ref,x,y,turn\nU1,1,2,north\n", "p.csv:2: found \"north\""},
             {"ref,x,y\n", "p.csv:1: found no part"}}) {
        const auto t = read_placements(text, "p.csv");
        ASSERT_FALSE(t) << text;
        EXPECT_THAT(t.error().message(), HasSubstr(want));
    }
}

TEST(Placements, ATurnFromTheTableSettlesWhatTheCopperCannot) {
    std::mt19937 chance(9);
    const auto pattern = sixteen_pins();
    const auto s = scatter(chance, pattern, 2, true);
    Placement p;
    p.ref = "U1";
    p.at = {from_mm(s.middles[0].x + 0.3), from_mm(s.middles[0].y)};
    p.side = s.back ? PadSide::bottom : PadSide::top;
    const std::map<std::string, PadPattern> patterns{{"U1", pattern}};
    auto placed = place_parts(s.lands, {p}, patterns);
    EXPECT_TRUE(placed[0].pads.empty());
    EXPECT_THAT(placed[0].problem, HasSubstr("fits in 2 turns, and the table tells none"));
    p.turn_deg = s.quarters * 90 + 360;
    placed = place_parts(s.lands, {p}, patterns);
    ASSERT_EQ(placed[0].pads.size(), 16U);
    const auto one = spot_of(pattern.places[0], s.quarters, s.back, s.middles[0]);
    EXPECT_NEAR(to_mm(placed[0].pads[0].at.x), one.x, 0.1);
    EXPECT_THAT(placed[0].problem, HasSubstr("check where contact 1 lies"));
    p.turn_deg = s.quarters * 90 + 45;
    EXPECT_THAT(place_parts(s.lands, {p}, patterns)[0].problem, HasSubstr("none of them the table's"));
    p.at.x += from_mm(9);
    EXPECT_THAT(place_parts(s.lands, {p}, patterns)[0].problem, HasSubstr("no pads as U1 needs them"));
    p.ref = "U7";
    EXPECT_THAT(place_parts(s.lands, {p}, patterns)[0].problem, HasSubstr("package is not known"));
}

}  // namespace
}  // namespace grayrelic
