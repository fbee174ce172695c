// SPDX-License-Identifier: GPL-3.0-or-later
// Movement: laws that hold for any curve, and for the plain one an account kept in whole numbers of the
// smallest part.
#include "core/input/pointer.hpp"

#include <cmath>
#include <numeric>
#include <random>

#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

MoveCurve plain(double counts_per_step, long dead, long limit) {
    MoveCurve c;
    c.counts_per_step = counts_per_step;
    c.dead = dead;
    c.limit = limit;
    return c;
}

MoveResult moved(const MoveCurve& c, const std::vector<long>& counts) {
    Progress progress;
    return move_through(c, counts, progress).value();
}

std::vector<long> drawn(unsigned seed, std::size_t polls, long most) {
    std::mt19937 random(seed);
    std::vector<long> out(polls);
    for (auto& c : out) c = std::uniform_int_distribution<long>(-most, most)(random);
    return out;
}

TEST(Pointer, DeadZoneGainAndCarriedRemainderWorkedOutByHand) {
    // 4 counts a step, nothing moves up to 10, at most 13. 3: carried. 3 + 3 = 6: one step, 2 carried. 2 − 7
    // = −5: one step back, −1. −1 + 40 = 39: nine steps wanted, three possible, 27 carried. 27: three
    // more, 15. 15: three, 3. 3: none.
    const auto r = moved(plain(4, 10, 13), {3, 3, -7, 40, 0, 0, 0});
    EXPECT_EQ(r.out, (std::vector<long>{0, 11, -11, 13, 13, 13, 0}));
    EXPECT_EQ(r.carried, 3);
    EXPECT_EQ(r.lost, 0);
    EXPECT_EQ(r.saturated, 2U) << "with 39 and with 27 counts waiting";
}

TEST(Pointer, NoCountIsLostOverAMillionMovements) {
    for (const double per_step : {1.0, 3.0, 7.5, 0.25, 12.345}) {
        const auto c = plain(per_step, 20, 100);
        const auto counts = drawn(5, 1'000'000, 60);
        const auto r = moved(c, counts);
        // In thousandths of a count, so that nothing is rounded.
        const auto part = static_cast<long long>(std::llround(per_step * 1000));
        long long in = 0, out = 0, worst = 0;
        for (std::size_t i = 0; i < counts.size(); ++i) {
            in += counts[i] * 1000;
            const long o = r.out[i];
            ASSERT_TRUE(o == 0 || (std::abs(o) > 20 && std::abs(o) <= 100)) << o;
            out += (o > 0 ? o - 20 : o < 0 ? o + 20 : 0) * part;
            // Below the limit less than one step waits.
            if (std::abs(o) < 100) worst = std::max(worst, std::llabs(in - out));
        }
        EXPECT_LT(worst, part);
        EXPECT_NEAR(r.carried * 1000, static_cast<double>(in - out), 1e-3) << per_step;
    }
}

MoveCurve measured_curve() {
    MoveCurve c = plain(2.5, 0, 127);
    c.table = {{16, 0, {}}, {40, 3, {}}, {80, 20, {}}, {127, 64, {}}};
    return c;
}

MoveCurve power_curve() {
    MoveCurve c = plain(3, 12, 127);
    c.exponent = 1.7;
    return c;
}

class AnyCurve : public testing::TestWithParam<int> {
  protected:
    [[nodiscard]] static MoveCurve curve() {
        switch (GetParam()) {
            case 0: return plain(4, 10, 80);
            case 1: return measured_curve();
            default: return power_curve();
        }
    }
};

TEST_P(AnyCurve, IsOddSymmetric) {
    auto counts = drawn(9, 20'000, 300);
    const auto there = moved(curve(), counts);
    for (auto& c : counts) c = -c;
    const auto back = moved(curve(), counts);
    for (std::size_t i = 0; i < counts.size(); ++i) ASSERT_EQ(there.out[i], -back.out[i]);
    EXPECT_NEAR(there.carried, -back.carried, 1e-6);
}

TEST_P(AnyCurve, IsMonotone) {
    long before = 0;
    for (long counts = 0; counts < 12'000; counts += 5) {
        const auto out = moved(curve(), {counts}).out[0];
        ASSERT_GE(out, before);
        before = out;
    }
    EXPECT_EQ(before, curve().limit);
}

TEST_P(AnyCurve, NeitherLosesNorOvershoots) {
    const auto c = curve();
    const auto counts = drawn(13, 1'000'000, 40);
    const auto r = moved(c, counts);
    const double in = static_cast<double>(std::accumulate(counts.begin(), counts.end(), 0LL));
    double out = 0, now = 0;
    for (std::size_t i = 0; i < counts.size(); ++i) {
        // The old side's own curve, applied to what was sent.
        const double step = speed_of(c, r.out[i]) * c.counts_per_step;
        out += step;
        now += static_cast<double>(counts[i]);
        ASSERT_LE(std::abs(step), std::abs(now) + 1e-6) << "poll " << i;
        now -= step;
    }
    EXPECT_NEAR(out + r.carried, in, 1e-4);
}

TEST_P(AnyCurve, TheNextPositionWouldBeTooFar) {
    const auto c = curve();
    for (long counts = 1; counts < 3000; counts += 7) {
        const double wanted = static_cast<double>(counts) / c.counts_per_step;
        const auto at = position_for(c, wanted);
        ASSERT_LE(speed_of(c, at), wanted * (1 + 1e-9) + 1e-9);
        if (at < c.limit) {
            // The next one that is faster is too fast.
            long next = at + 1;
            while (next < c.limit && speed_of(c, next) <= speed_of(c, at)) ++next;
            if (speed_of(c, next) > speed_of(c, at)) {
                ASSERT_GT(speed_of(c, next), wanted);
            }
        }
    }
}
INSTANTIATE_TEST_SUITE_P(Curves, AnyCurve, testing::Values(0, 1, 2), [](const auto& one) {
    return std::string(std::array{"Plain", "Measured", "Power"}[static_cast<std::size_t>(one.param)]);
});

TEST(Pointer, ACurveThatCanMoveNothingIsRefused) {
    EXPECT_EQ(problem_of(plain(4, 10, 10)), "the limit 10 is not above the dead zone 10: nothing could move");
    auto c = measured_curve();
    c.table[2].speed = 2;
    EXPECT_EQ(problem_of(c), "the curve does not rise at 80: speed 2 behind 3 at 40");
    c = measured_curve();
    c.limit = 16;
    EXPECT_EQ(problem_of(c), "the curve moves nothing up to the limit");
    Progress progress;
    EXPECT_FALSE(move_through(c, std::vector<long>{1}, progress));
}

TEST(Pointer, WithoutTheCurveMovementIsLost) {
    // What the picture "before" shows: three counts a poll at four a step never move anything.
    const auto c = plain(4, 10, 80);
    const std::vector<long> slow(100, 3);
    const auto before = move_plainly(c, slow);
    EXPECT_EQ(std::count(before.begin(), before.end(), 0), 100);
    const auto r = moved(c, slow);
    EXPECT_EQ(std::count(r.out.begin(), r.out.end(), 11), 75) << "300 counts are 75 steps";
}

TEST(Moves, AreReadAndRefusedWithTheirLine) {
    EXPECT_EQ(read_moves("time,counts\n0,5\n1,-3\n2,+7\n", "m.csv").value(), (std::vector<long>{5, -3, 7}));
    EXPECT_EQ(test::message(read_moves("counts\n5\nfast\n", "m.csv")),
              "m.csv:3: found \"fast\", expected a whole number of counts");
    EXPECT_EQ(test::message(read_moves("count\n5\n", "m.csv")),
              "m.csv:1: found no column \"counts\", expected a column counts, one row a poll");
    EXPECT_EQ(test::message(read_curve_table("out,speed\n0,0\n5,3\n4,4\n", "c.csv")),
              "c.csv:4: found speed 4 at 4 behind 3 at 5, expected a curve that rises");
    EXPECT_EQ(test::message(read_curve_table("out,speed\n0,0\n", "c.csv")),
              "c.csv:1: found fewer than two points, expected at least two rows with out and speed");
}

}  // namespace
}  // namespace grayrelic
