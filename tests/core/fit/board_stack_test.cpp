// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/board_stack.hpp"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <complex>
#include <map>
#include <random>

namespace grayrelic {
namespace {

using ::testing::HasSubstr;

Ring box(double left, double bottom, double right, double top) {
    return {{from_mm(left), from_mm(bottom)},
            {from_mm(right), from_mm(bottom)},
            {from_mm(right), from_mm(top)},
            {from_mm(left), from_mm(top)}};
}

BoardPad pad(const char* ref, const char* pin, double x, double y, PadSide side = PadSide::both) {
    return {ref, pin, {from_mm(x), from_mm(y)}, side, {}, {}, 0};
}

PartBody body(const char* ref, double left, double bottom, double right, double top, double height,
              bool back = false) {
    return {ref, {from_mm(left), from_mm(bottom), from_mm(right), from_mm(top)}, back, height};
}

StackBoard plain(const char* name, double width, double height) {
    StackBoard b;
    b.name = name;
    b.outline = {box(0, 0, width, height)};
    return b;
}

TEST(BoardStacks, LieAsTheyAreTurned) {
    auto b = plain("a", 10, 20);
    const BoardXY p{from_mm(3), from_mm(1)};
    b.x_mm = 100;
    EXPECT_EQ(in_stack(b, p), (BoardXY{from_mm(103), from_mm(1)}));
    b.turn_deg = 90;  // counter-clockwise: x goes to y
    EXPECT_EQ(in_stack(b, p), (BoardXY{from_mm(99), from_mm(3)}));
    b.turn_deg = 180;
    EXPECT_EQ(in_stack(b, p), (BoardXY{from_mm(97), from_mm(-1)}));
    b.turn_deg = 270;
    EXPECT_EQ(in_stack(b, p), (BoardXY{from_mm(101), from_mm(-3)}));
    b.turn_deg = 0;
    b.over = true;  // about the upright axis
    EXPECT_EQ(in_stack(b, p), (BoardXY{from_mm(97), from_mm(1)}));
    const auto e = in_stack(b, Extent{from_mm(1), from_mm(2), from_mm(4), from_mm(6)});
    EXPECT_EQ(e.left, from_mm(96));
    EXPECT_EQ(e.right, from_mm(99));
    EXPECT_EQ(e.bottom, from_mm(2));
}

TEST(BoardStacks, AnIronComesInFromTheSide) {
    auto low = plain("low", 40, 40), up = plain("up", 40, 40);
    // Surface pads of the front: 2 mm, 5 mm and 20 mm from the edge of the board above.
    low.pads = {pad("U1", "1", 2, 20, PadSide::top), pad("U1", "2", 5, 20, PadSide::top),
                pad("U1", "3", 20, 20, PadSide::top), pad("U1", "4", 20, 20, PadSide::bottom)};
    up.gap_mm = 4;  // 4 − 1 for the tip: 3 mm in
    const auto covered = [&] {
        std::vector<std::string> out;
        for (const auto& c : judge_stack({low, up}).covered) out.push_back(c.pin);
        return out;
    };
    EXPECT_EQ(covered(), (std::vector<std::string>{"2", "3"}));
    up.gap_mm = 7;
    EXPECT_EQ(covered(), std::vector<std::string>{"3"});
    up.gap_mm.reset();
    EXPECT_EQ(covered(), (std::vector<std::string>{"1", "2", "3"}))
        << "an unknown gap is as bad as plausible";
    up.gap_mm = 4;
    up.outline.push_back(box(18, 18, 22, 22));  // a window over the third one
    EXPECT_EQ(covered(), std::vector<std::string>{"2"});
    up.outline.pop_back();
    low.left_out = {"U1"};
    EXPECT_TRUE(covered().empty()) << "what is not fitted has no joint";
}

TEST(BoardStacks, ARoleCoversWhatAnotherLeavesFree) {
    // The strip's last joint lies under U9, which only one role has.
    auto low = plain("low", 40, 20), up = plain("up", 40, 20);
    for (auto* b : {&low, &up}) {
        b->pads = {pad("J1", "1", 10, 10), pad("J1", "2", 12.54, 10)};
        b->joins = {"J1"};
    }
    up.gap_mm = 11;
    auto strip = judge_strip({low, up}, 0, "J1", 1, "J1");
    EXPECT_EQ(strip.verdict, Verdict::holds);
    EXPECT_FALSE(strip.lower_last);
    EXPECT_THAT(strip.says, HasSubstr("into up from above"));
    up.bodies = {body("U9", 5, 5, 15, 15, 4)};
    strip = judge_strip({low, up}, 0, "J1", 1, "J1");
    EXPECT_EQ(strip.verdict, Verdict::holds);
    EXPECT_TRUE(strip.lower_last);
    low.bodies = {body("U8", 5, 5, 15, 15, 4, true)};
    strip = judge_strip({low, up}, 0, "J1", 1, "J1");
    EXPECT_EQ(strip.verdict, Verdict::stop);
    EXPECT_THAT(strip.says, HasSubstr("neither end"));
    low.bodies.clear();
    // With a third board below the lower end is out of reach too.
    const auto base = plain("base", 60, 60);
    low.gap_mm = 3;
    EXPECT_EQ(judge_strip({base, low, up}, 1, "J1", 2, "J1").verdict, Verdict::stop);
    EXPECT_EQ(judge_strip({low, up}, 0, "J7", 1, "J1").verdict, Verdict::unknown);
}

TEST(BoardStacks, PartsThatFaceEachOtherShareTheGap) {
    auto low = plain("low", 40, 40), up = plain("up", 40, 40);
    low.bodies = {body("C1", 5, 5, 10, 10, 6)};
    up.bodies = {body("U2", 8, 8, 20, 20, 4, true), body("U3", 5, 5, 10, 10, 9)};
    up.gap_mm = 11;
    EXPECT_TRUE(judge_stack({low, up}).clashes.empty());  // 6 + 4 of 11
    up.gap_mm = 10.3;
    auto c = judge_stack({low, up}).clashes;
    ASSERT_EQ(c.size(), 1U);  // 0.3 mm left
    EXPECT_EQ(c[0].verdict, Verdict::doubt);
    EXPECT_EQ(c[0].lower_part + c[0].upper_part, "C1U2");
    up.gap_mm = 5;
    c = judge_stack({low, up}).clashes;
    ASSERT_EQ(c.size(), 2U);  // C1 into U2, and into the board itself
    EXPECT_EQ(c[0].verdict, Verdict::stop);
    EXPECT_DOUBLE_EQ(c[0].needs_mm, 10);
    EXPECT_TRUE(c[1].upper_part.empty());
    EXPECT_DOUBLE_EQ(c[1].needs_mm, 6);
    up.bodies.clear();
    up.pads = {pad("R1", "1", 7, 7)};  // its lead comes down over C1
    up.gap_mm = 7.4;                   // 6 + 1.5 are needed
    c = judge_stack({low, up}).clashes;
    ASSERT_EQ(c.size(), 1U);
    EXPECT_TRUE(c[0].leads);
    EXPECT_EQ(c[0].verdict, Verdict::stop);
    up.gap_mm.reset();
    EXPECT_EQ(judge_stack({low, up}).clashes.at(0).verdict, Verdict::unknown);
    low.joins = {"C1"};
    EXPECT_TRUE(judge_stack({low, up}).clashes.empty()) << "connectors of the stack make the gap";
}

TEST(BoardStacks, WhatNobodyDescribedIsSaidOnlyWhereALevelLiesOverIt) {
    auto low = plain("low", 40, 40), up = plain("up", 10, 40);
    up.gap_mm = 10;
    low.pads = {pad("U1", "1", 5, 5), pad("U2", "1", 30, 5), pad("U3", "1", 5, 30, PadSide::bottom)};
    EXPECT_EQ(judge_stack({low, up}).unknown, std::vector<std::string>{"low/U1"});
    low.behind = {"U1"};
    EXPECT_TRUE(judge_stack({low, up}).unknown.empty());
    low.outline.clear();
    EXPECT_EQ(judge_stack({low, up}).guessed, std::vector<std::string>{"low"});
}

// An oracle that shares nothing with the code: complex numbers turn, rays tell inside, edges are walked.
using Spot = std::complex<double>;
struct RandomLevel {
    std::vector<std::vector<Spot>> rings;  ///< in the stack
    struct Joint {
        std::string name;
        Spot at;
        bool up;
    };
    std::vector<Joint> joints;
    double gap = 0, thick = 1.6;
};

Spot laid(Spot p, const StackBoard& b) {
    if (b.over) p = Spot(-p.real(), p.imag());
    return p * std::polar(1.0, b.turn_deg * std::acos(-1.0) / 180) + Spot(b.x_mm, b.y_mm);
}

bool within(const std::vector<Spot>& ring, Spot p) {
    bool in = false;
    for (std::size_t i = 0, k = ring.size() - 1; i < ring.size(); k = i++)
        if ((ring[i].imag() > p.imag()) != (ring[k].imag() > p.imag()) &&
            p.real() < (ring[k].real() - ring[i].real()) * (p.imag() - ring[i].imag()) /
                               (ring[k].imag() - ring[i].imag()) +
                           ring[i].real())
            in = !in;
    return in;
}

double walked(const std::vector<std::vector<Spot>>& rings, Spot p) {
    double least = 1e9;
    for (const auto& r : rings)
        for (std::size_t i = 0; i < r.size(); ++i) {
            const Spot a = r[i], b = r[(i + 1) % r.size()];
            const int steps = static_cast<int>(std::abs(b - a) / 0.01) + 1;
            for (int s = 0; s <= steps; ++s)
                least = std::min(least, std::abs(a + (b - a) * (static_cast<double>(s) / steps) - p));
        }
    return least;
}

TEST(BoardStacks, CoverWhatAnOracleSaysOnRandomOnes) {
    int joints = 0, covered = 0, on_edge = 0;
    for (unsigned seed = 1; seed <= 120; ++seed) {
        std::mt19937 chance(seed);
        const auto any = [&](double from, double to) {
            return std::uniform_real_distribution<double>(from, to)(chance);
        };
        std::vector<StackBoard> stack;
        std::vector<RandomLevel> levels;
        const int count = 2 + static_cast<int>(chance() % 3);
        for (int i = 0; i < count; ++i) {
            StackBoard b;
            RandomLevel l;
            b.name = "level" + std::to_string(i);
            const double w = any(20, 60), h = any(20, 60), cw = any(3, 15), ch = any(3, 15);
            // A corner is cut out, and sometimes a window.
            std::vector<std::vector<Spot>> rings{
                {{0, 0}, {w, 0}, {w, h - ch}, {w - cw, h - ch}, {w - cw, h}, {0, h}}};
            if (chance() % 2 == 0) {
                const double x = any(2, w - cw - 4), y = any(2, h - ch - 4);
                rings.push_back({{x, y}, {x, y + 3}, {x + 2, y + 3}, {x + 2, y}});
            }
            b.turn_deg = 90 * static_cast<int>(chance() % 4);
            b.over = chance() % 2 == 0;
            b.x_mm = any(-15, 15);
            b.y_mm = any(-15, 15);
            b.thick_mm = l.thick = chance() % 2 == 0 ? 1.6 : 0.8;
            l.gap = any(1.5, 7);
            if (i > 0) b.gap_mm = l.gap;
            for (const auto& ring : rings) {
                Ring own;
                std::vector<Spot> moved;
                for (const auto& p : ring) {
                    own.push_back({from_mm(p.real()), from_mm(p.imag())});
                    moved.push_back(laid(p, b));
                }
                b.outline.push_back(own);
                l.rings.push_back(moved);
            }
            for (int k = 0; k < 25; ++k) {
                const Spot at(any(1, w - cw - 1), any(1, h - 1));
                const std::string ref = "P" + std::to_string(k);
                const int kind = static_cast<int>(chance() % 3);
                const bool omitted = chance() % 6 == 0;
                b.pads.push_back({ref,
                                  "1",
                                  {from_mm(at.real()), from_mm(at.imag())},
                                  kind == 0   ? PadSide::both
                                  : kind == 1 ? PadSide::top
                                              : PadSide::bottom,
                                  {},
                                  {},
                                  0});
                if (omitted) {
                    b.left_out.insert(ref);
                    continue;
                }
                // Through the board it stands on the front and is soldered behind; else beside itself.
                const bool joint_on_front = kind == 1;
                l.joints.push_back({ref, laid(at, b), joint_on_front != b.over});
            }
            stack.push_back(std::move(b));
            levels.push_back(std::move(l));
        }
        std::map<std::pair<std::size_t, std::string>, std::size_t> found;
        for (const auto& c : judge_stack(stack).covered) found[{c.level, c.ref}] = c.by;
        for (std::size_t i = 0; i < levels.size(); ++i)
            for (const auto& j : levels[i].joints) {
                ++joints;
                std::optional<std::size_t> by;
                bool unsure = false;
                const int step = j.up ? 1 : -1;
                double room = 0;
                for (int k = static_cast<int>(i) + step; k >= 0 && k < count && !by; k += step) {
                    const auto at = static_cast<std::size_t>(k);
                    room += j.up ? levels[at].gap : levels[at + 1].gap;
                    const auto& r = levels[at].rings;
                    const double way = walked(r, j.at);
                    if (way < 0.03 || std::abs(way - (room - 1.0)) < 0.03) unsure = true;
                    const bool under = within(r[0], j.at) && (r.size() < 2 || !within(r[1], j.at));
                    if (under && way > room - 1.0) by = at;
                    room += levels[at].thick;
                }
                if (unsure) {
                    ++on_edge;
                    continue;
                }
                const auto it = found.find({i, j.name});
                ASSERT_EQ(it != found.end(), by.has_value())
                    << "seed " << seed << " level " << i << " " << j.name;
                if (!by) continue;
                ++covered;
                EXPECT_EQ(it->second, *by) << "seed " << seed;
            }
    }
    EXPECT_GT(joints, 3000);
    EXPECT_GT(covered, 500);
    EXPECT_LT(on_edge, joints / 20);
}

TEST(BoardStacks, MeetWhereAnOracleSaysOnRandomOnes) {
    int meets = 0, free = 0;
    for (unsigned seed = 1; seed <= 200; ++seed) {
        std::mt19937 chance(seed);
        const auto any = [&](double from, double to) {
            return std::uniform_real_distribution<double>(from, to)(chance);
        };
        std::vector<StackBoard> stack{plain("low", 50, 40), plain("up", 50, 40)};
        stack[1].x_mm = any(-20, 20);
        stack[1].over = chance() % 2 == 0;
        if (stack[1].over) stack[1].x_mm += 50;  // it is mirrored about x = 0
        stack[1].gap_mm = any(4, 16);
        struct Solid {
            double left, bottom, right, top, height;
            bool towards;
        };
        std::vector<Solid> solids[2];
        for (int level = 0; level < 2; ++level)
            for (int k = 0; k < 3; ++k) {
                const double x = any(0, 40), y = any(0, 30), w = any(2, 10), h = any(2, 10), high = any(1, 9);
                const bool back = chance() % 2 == 0;
                auto& b = stack[static_cast<std::size_t>(level)];
                b.bodies.push_back(body(("U" + std::to_string(k)).c_str(), x, y, x + w, y + h, high, back));
                const double x0 = b.over ? b.x_mm - x - w : b.x_mm + x;
                const bool faces_up = back == b.over;
                solids[level].push_back({x0, y, x0 + w, y + h, high, faces_up == (level == 0)});
            }
        const double u0 = stack[1].over ? stack[1].x_mm - 50 : stack[1].x_mm;
        const auto apart = [](double a0, double a1, double b0, double b1) { return a1 < b0 || b1 < a0; };
        double worst = 1e9;
        for (const auto& a : solids[0]) {
            if (!a.towards) continue;
            if (!apart(a.left, a.right, u0, u0 + 50) && !apart(a.bottom, a.top, 0, 40))
                worst = std::min(worst, *stack[1].gap_mm - a.height);
            for (const auto& b : solids[1])
                if (b.towards && !apart(a.left, a.right, b.left, b.right) &&
                    !apart(a.bottom, a.top, b.bottom, b.top))
                    worst = std::min(worst, *stack[1].gap_mm - a.height - b.height);
        }
        for (const auto& b : solids[1])
            if (b.towards && !apart(b.left, b.right, 0, 50))
                worst = std::min(worst, *stack[1].gap_mm - b.height);
        if (std::abs(worst) < 1e-6 || std::abs(worst - 0.5) < 1e-6) continue;
        auto is = Verdict::holds;
        for (const auto& c : judge_stack(stack).clashes) is = worse(is, c.verdict);
        const auto want = worst < 0 ? Verdict::stop : worst < 0.5 ? Verdict::doubt : Verdict::holds;
        EXPECT_EQ(is, want) << "seed " << seed << ": " << worst;
        ++(want == Verdict::holds ? free : meets);
    }
    EXPECT_GT(meets, 40);
    EXPECT_GT(free, 40);
}

}  // namespace
}  // namespace grayrelic
