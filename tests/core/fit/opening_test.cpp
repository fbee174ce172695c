// SPDX-License-Identifier: GPL-3.0-or-later
// Connectors behind openings, figures of the files, boards in cases whose walls have noses and posts.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/board/outline_file.hpp"
#include "core/fit/fit_analysis.hpp"
#include "core/fit/fit_text.hpp"

namespace grayrelic {
namespace {

using ::testing::HasSubstr;

FitItem item(const char* what, FitRole role, double mm, double tolerance = 0) {
    FitItem i;
    i.what = what;
    i.role = role;
    i.mm.value = mm;
    i.mm.uncertainty = tolerance;
    i.mm.evidence.kind = EvidenceKind::measured;
    return i;
}

TEST(Openings, LeavePlayOnTheNearerSide) {
    FitCase c;
    c.id = "jack";
    c.kind = FitKind::opening;
    c.items = {item("opening", FitRole::gives, 12, 0.2), item("jack", FitRole::takes, 9, 0.1),
               item("stands", FitRole::stands, 24.8, 0.3), item("middle", FitRole::opens, 24, 0.2)};
    // (12 − 9) / 2 − 0.8 = 0.7; at the worst (11.8 − 9.1) / 2 − 0.8 − 0.3 − 0.2 = 0.05
    auto r = fit_of(c, {});
    EXPECT_EQ(r.verdict, Verdict::holds);
    EXPECT_NEAR(r.tightest_mm, 0.05, 1e-9);
    EXPECT_THAT(r.says, HasSubstr("0.80 mm off the opening's middle"));
    c.items[2].mm.uncertainty = 0.4;
    EXPECT_EQ(fit_of(c, {}).verdict, Verdict::doubt);
    c.items[2].mm.value = 22.4;  // 1.6 mm off on the other side: more than half of what is left
    EXPECT_EQ(fit_of(c, {}).verdict, Verdict::stop);
    c.items.pop_back();
    r = fit_of(c, {});
    EXPECT_EQ(r.verdict, Verdict::unknown);
    EXPECT_THAT(r.says, HasSubstr("where the opening's middle lies"));
}

TEST(Openings, TakeTheConnectorsPlaceFromTheFiles) {
    FabricationAnalysis board;
    auto read = std::make_shared<ReadBoard>();
    // The edge begins at 10, 20: places are measured from there.
    read->outline.outer = {{from_mm(10), from_mm(20)},
                           {from_mm(60), from_mm(20)},
                           {from_mm(60), from_mm(50)},
                           {from_mm(10), from_mm(50)}};
    board.read = read;
    board.pads = {{"J1", "1", {from_mm(30), from_mm(22)}, PadSide::both, {}, {}, 0},
                  {"J1", "2", {from_mm(40), from_mm(26)}, PadSide::both, {}, {}, 0}};
    const auto places = places_in(&board);
    EXPECT_DOUBLE_EQ(*places("J1.x"), 25);  // (30 + 40) / 2 − 10
    EXPECT_DOUBLE_EQ(*places("J1.y"), 4);
    EXPECT_DOUBLE_EQ(*places("board.x"), 50);
    EXPECT_DOUBLE_EQ(*places("board.y"), 30);
    for (const char* none : {"J2.x", "J1.z", "J1", "board", ".x", ""}) EXPECT_FALSE(places(none)) << none;
    FitCase c;
    c.kind = FitKind::room;
    c.items = {item("shell", FitRole::gives, 50.6), *parse_place_line("- board.x")};
    auto r = fit_of(c, {}, places);
    EXPECT_NEAR(r.room.nominal_mm, 0.6, 1e-9);
    EXPECT_TRUE(r.lines[1].from_files);
    EXPECT_EQ(r.lines[1].evidence.source, "the fabrication files");
    r = fit_of(c, {});
    EXPECT_EQ(r.verdict, Verdict::unknown);
    EXPECT_THAT(r.lines[1].problem, HasSubstr("do not have board.x"));
    EXPECT_EQ(parse_place_line("stands J1.x")->role, FitRole::stands);
    for (const char* other : {"stands 12", "- lid 3", "J1.x", "- J1.z", "", "+ a b.x"})
        EXPECT_FALSE(parse_place_line(other)) << other;
    const auto opens = parse_fit_line("opens middle of the jack's hole 24.5 ± 0.3 measured");
    ASSERT_TRUE(opens) << opens.error().message();
    EXPECT_EQ(opens->role, FitRole::opens);
}

Ring room_ring(double left, double bottom, double right, double top) {
    return {{from_mm(left), from_mm(bottom)},
            {from_mm(right), from_mm(bottom)},
            {from_mm(right), from_mm(top)},
            {from_mm(left), from_mm(top)}};
}

TEST(Cases, PostsAndNosesSayHowFarTheyStandIn) {
    InsideQuestion as_drawn;
    as_drawn.turn_deg = 0;
    as_drawn.shift = BoardXY{0, 0};
    const auto board = room_ring(0, 0, 40, 20);
    BoardOutline room;
    room.outer = room_ring(-1, -1, 41, 21);
    EXPECT_TRUE(lies_inside(board, room, as_drawn).inside);
    EXPECT_NEAR(lies_inside(board, room, as_drawn).least_mm, 1, 1e-6);
    // A post whose nearest corner lies 3 mm behind the board's upper edge.
    room.cutouts = {room_ring(10, 17, 12, 19)};
    auto a = lies_inside(board, room, as_drawn);
    EXPECT_FALSE(a.inside);
    EXPECT_NEAR(a.least_mm, -3, 1e-6);
    // A nose of the wall that reaches 2 mm over the right edge; all corners of the board are free.
    room.cutouts.clear();
    room.outer = {{from_mm(-1), from_mm(-1)}, {from_mm(41), from_mm(-1)}, {from_mm(41), from_mm(9)},
                  {from_mm(38), from_mm(10)}, {from_mm(41), from_mm(11)}, {from_mm(41), from_mm(21)},
                  {from_mm(-1), from_mm(21)}};
    a = lies_inside(board, room, as_drawn);
    EXPECT_FALSE(a.inside);
    EXPECT_NEAR(a.least_mm, -2, 1e-6);
    EXPECT_EQ(a.at, (BoardXY{from_mm(38), from_mm(10)}));
}

TEST(Cases, AreThoseOfRectanglesOnRandomOnes) {
    int inside = 0, out = 0;
    for (unsigned seed = 1; seed <= 300; ++seed) {
        std::mt19937 chance(seed);
        const auto any = [&](double from, double to) {
            return std::uniform_real_distribution<double>(from, to)(chance);
        };
        const double w = any(10, 60), h = any(10, 60), x = any(-3, 3), y = any(-3, 3), cw = w + any(-2, 6),
                     ch = h + any(-2, 6);
        BoardOutline room;
        room.outer = room_ring(0, 0, cw, ch);
        InsideQuestion q;
        q.turn_deg = 0;
        q.shift = BoardXY{from_mm(x), from_mm(y)};
        const auto a = lies_inside(room_ring(0, 0, w, h), room, q);
        // What is left on each side; the least of them decides.
        const double left = std::min({x, y, cw - x - w, ch - y - h});
        if (std::abs(left) < 1e-3) continue;
        EXPECT_EQ(a.inside, left > 0) << "seed " << seed;
        if (left > 0) {
            EXPECT_NEAR(a.least_mm, left, 1e-4) << "seed " << seed;
        } else {
            EXPECT_LE(a.least_mm, 1e-9) << "seed " << seed;
            // A corner that is out on two sides is that far from the case's corner.
            double most = 0;
            for (const double px : {x, x + w})
                for (const double py : {y, y + h}) {
                    const double dx = std::max({-px, px - cw, 0.0}), dy = std::max({-py, py - ch, 0.0});
                    most = std::max(most, std::hypot(dx, dy));
                }
            for (const double px : {0.0, cw})
                for (const double py : {0.0, ch})
                    if (px > x && px < x + w && py > y && py < y + h)
                        most = std::max(most, std::min({px - x, x + w - px, py - y, y + h - py}));
            EXPECT_NEAR(a.least_mm, -most, 1e-4) << "seed " << seed;
        }
        ++(left > 0 ? inside : out);
    }
    EXPECT_GT(inside, 20);
    EXPECT_GT(out, 40);
}

}  // namespace
}  // namespace grayrelic
