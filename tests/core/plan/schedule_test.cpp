// SPDX-License-Identifier: GPL-3.0-or-later
// Dates of tasks, worked out by hand beside them, and laws.
#include "core/plan/schedule.hpp"

#include <gmock/gmock.h>

#include <algorithm>
#include <random>

namespace grayrelic {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;

constexpr Day today = std::chrono::year(2026) / 11 / 28;

PlanTask task(const std::string& name, double hours, std::vector<std::string> after = {},
              double wait_least = 0, double wait_most = 0) {
    PlanTask t;
    t.id = name;
    t.least_h = t.likely_h = t.most_h = hours;
    t.after = std::move(after);
    t.wait_least_d = wait_least;
    t.wait_most_d = wait_most;
    return t;
}

PlanTask spread(const std::string& name, double least, double likely, double most,
                std::vector<std::string> after = {}) {
    auto t = task(name, likely, std::move(after));
    t.least_h = least;
    t.most_h = most;
    return t;
}

Schedule dates(const std::vector<PlanTask>& tasks, double hours = 7, int runs = 200, std::uint64_t seed = 1) {
    Progress progress;
    auto s = schedule(tasks, {today, hours, runs, seed}, progress);
    EXPECT_TRUE(s.has_value()) << (s ? "" : s.error().message());
    return s ? *s : Schedule{};
}

std::string refused(const std::vector<PlanTask>& tasks, double hours = 7) {
    Progress progress;
    const auto s = schedule(tasks, {today, hours, 10, 1}, progress);
    return s ? "taken" : s.error().message();
}

/// An hour a day, so that hours are days.
TEST(ScheduleDates, AreTheDayOnWhichTheLastWorkAndWaitEnd) {
    EXPECT_EQ(print(dates({task("a", 3)}).p50), "2026-12-01");
    EXPECT_EQ(print(dates({task("a", 2.5)}).p90), "2026-12-01") << "2.5 days, up";
    EXPECT_EQ(print(dates({task("a", 3), task("b", 2, {"a"})}).p50), "2026-12-03");
    // 1 day of work, then 4 in the post: day 5.
    EXPECT_EQ(print(dates({task("a", 1, {}, 4, 4)}).p50), "2026-12-03");
    // 6 hours a week are 6/7 a day: 6 h take 7 days exactly, and not 8 by a last digit.
    EXPECT_EQ(print(dates({task("a", 6)}, 6).p50), "2026-12-05");
    EXPECT_EQ(print(dates({task("a", 0.6), task("b", 0.6), task("c", 0.6), task("d", 4.2)}, 6).p50),
              "2026-12-05");
    EXPECT_EQ(print(dates({}).p50), "2026-11-28");
}

/// a (1) waits 5; b (2) and c (4) wait for nothing. Rest behind a: 5 + d (1) = 6; behind b and c: 0.
/// a 0..1, then b by name 1..3, c 3..7, d can start at 6 but c is not broken off: 7..8.
TEST(ScheduleOrder, TheLongestRestBehindComesFirstAndWorkIsNotBrokenOff) {
    const auto s = dates({task("c", 4), task("d", 1, {"a"}), task("b", 2), task("a", 1, {}, 5, 5)});
    std::vector<std::string> order;
    for (const auto& t : s.plan) order.push_back(t.task);
    EXPECT_THAT(order, ElementsAre("a", "b", "c", "d"));
    EXPECT_DOUBLE_EQ(s.plan.back().from, 7);
    EXPECT_EQ(print(s.p50), "2026-12-06");
    EXPECT_THAT(s.critical, ElementsAre("a", "d")) << "1 + 5 + 1 is longer than 4";
    EXPECT_THAT(s.start_now, ElementsAre("a", "b", "c"));
    EXPECT_THAT(s.meanwhile, ElementsAre(Meanwhile{"b", "a"}, Meanwhile{"c", "a"}));
}

/// The rest behind counts without a task's own work: y's is longer, though x takes longer itself.
TEST(ScheduleOrder, OwnWorkDoesNotCount) {
    const auto s = dates({task("x", 9), task("y", 1), task("z", 2, {"y"})});
    EXPECT_THAT(s.start_now, ElementsAre("y", "x"));
    EXPECT_EQ(s.plan[1].task, "x") << "z's rest is 0, as x's: by name";
}

/// Nothing can start between 1 and 4: the person is idle.
TEST(ScheduleOrder, WaitsWhereNothingCanStart) {
    const auto s = dates({task("a", 1, {}, 3, 3), task("b", 1, {"a"})});
    EXPECT_DOUBLE_EQ(s.plan[1].from, 4);
    EXPECT_THAT(s.meanwhile, IsEmpty());
    EXPECT_DOUBLE_EQ(s.likely_end, 5);
}

/// A triangle from 0 by 0 to 10 has half of its weight below 10 − √50 = 2.93, nine tenths below 10 − √10
/// = 6.84.
TEST(ScheduleSpread, IsTriangularForHoursAndEvenForWaits) {
    const auto s = dates({spread("a", 0, 0, 10)}, 7, 20'000);
    EXPECT_EQ(print(s.p50), "2026-12-01");
    EXPECT_EQ(print(s.p90), "2026-12-05");
    // Even from 0 to 100: half of the runs up to 50, nine tenths up to 90, each with a spread of a few
    // tenths.
    const auto w = dates({task("a", 0, {}, 0, 100)}, 7, 20'000);
    EXPECT_NEAR(static_cast<double>((w.p50 - today).count()), 50, 1.5);
    EXPECT_NEAR(static_cast<double>((w.p90 - today).count()), 90, 1.5);
    EXPECT_NEAR(w.chance_by(today, today + std::chrono::days(25)), 0.25, 0.015);
    EXPECT_EQ(w.chance_by(today, today + std::chrono::days(100)), 1);
    EXPECT_EQ(w.chance_by(today, today - std::chrono::days(1)), 0);
}

TEST(ScheduleSpread, WithoutSpreadBothDatesAreTheHandWorkedOne) {
    const auto s = dates({task("a", 3, {}, 2, 2), task("b", 4, {"a"})}, 10.5);
    // 10.5 a week are 1.5 a day: 2 days, 2 of wait, 2.667 more: 6.667, so day 7.
    EXPECT_EQ(print(s.p50), "2026-12-05");
    EXPECT_EQ(s.p50, s.p90);
}

/// Drawn networks: names, hours, waits and what comes after what.
std::vector<PlanTask> drawn(std::mt19937& dice, int many, bool chain) {
    const auto up_to = [&](int n) { return static_cast<int>(dice() % static_cast<unsigned>(n + 1)); };
    std::vector<PlanTask> out;
    for (int i = 0; i < many; ++i) {
        const double least = up_to(8) / 4.0, likely = least + up_to(12) / 4.0;
        auto t = spread("t" + std::to_string(100 + i), least, likely, likely + up_to(20) / 4.0);
        if (up_to(2) == 0) {
            t.wait_least_d = up_to(6);
            t.wait_most_d = t.wait_least_d + up_to(9);
        }
        if (chain && i > 0)
            t.after = {out.back().id};
        else
            for (int k = 0; !chain && i > 0 && k < up_to(2); ++k)
                t.after.push_back(out[static_cast<std::size_t>(up_to(i - 1))].id);
        out.push_back(std::move(t));
    }
    return out;
}

TEST(ScheduleLaws, PermutedRowsChangeNothingAndLateIsNotBeforeLikely) {
    std::mt19937 dice(71);
    for (int i = 0; i < 60; ++i) {
        auto tasks = drawn(dice, 1 + static_cast<int>(dice() % 12), false);
        const auto a = dates(tasks, 5);
        std::shuffle(tasks.begin(), tasks.end(), dice);
        const auto b = dates(tasks, 5);
        EXPECT_EQ(a.finish_days, b.finish_days);
        EXPECT_EQ(a.critical, b.critical);
        EXPECT_EQ(a.start_now, b.start_now);
        EXPECT_EQ(a.meanwhile, b.meanwhile);
        EXPECT_GE(a.p90, a.p50);
    }
}

TEST(ScheduleLaws, InAChainMoreHoursAWeekAreNeverLaterAndALongerWaitNeverEarlier) {
    std::mt19937 dice(72);
    for (int i = 0; i < 60; ++i) {
        auto tasks = drawn(dice, 2 + static_cast<int>(dice() % 8), true);
        const auto few = dates(tasks, 4), many = dates(tasks, 9);
        EXPECT_LE(many.p50, few.p50);
        EXPECT_LE(many.p90, few.p90);
        auto& t = tasks[dice() % tasks.size()];
        t.wait_most_d += 3;
        EXPECT_GE(dates(tasks, 4).p50, few.p50);
        EXPECT_GE(dates(tasks, 4).p90, few.p90);
    }
}

/// Of one person: no two works at once, none before what it comes after has ended, none idle while one can
/// start. And never sooner than all works together, or than the longest chain.
TEST(ScheduleLaws, EveryPlanKeepsTheRules) {
    std::mt19937 dice(73);
    for (int i = 0; i < 100; ++i) {
        const auto tasks = drawn(dice, 1 + static_cast<int>(dice() % 14), false);
        const auto s = dates(tasks, 7, 2);
        double now = 0, works = 0;
        std::map<std::string, const PlannedTask*> done;
        for (const auto& t : s.plan) {
            const auto& of =
                *std::find_if(tasks.begin(), tasks.end(), [&](const PlanTask& x) { return x.id == t.task; });
            double ready = 0;
            for (const auto& a : of.after) {
                ASSERT_TRUE(done.contains(a)) << t.task << " before " << a;
                ready = std::max(ready, done[a]->wait_to);
            }
            EXPECT_NEAR(t.from, std::max(now, ready), 1e-9);
            EXPECT_NEAR(t.to - t.from, of.likely_h, 1e-9);
            now = t.to;
            works += of.likely_h;
            done[t.task] = &t;
        }
        EXPECT_EQ(s.plan.size(), tasks.size());
        EXPECT_GE(s.likely_end, works - 1e-9);
        double chain = 0;
        for (const auto& name : s.critical) {
            const auto& of =
                *std::find_if(tasks.begin(), tasks.end(), [&](const PlanTask& x) { return x.id == name; });
            chain += of.likely_h + (of.wait_least_d + of.wait_most_d) / 2;
        }
        EXPECT_GE(s.likely_end, chain - 1e-9);
    }
}

TEST(ScheduleDone, LeavesOnlyTheRestOfTheWait) {
    auto ordered = task("order", 2, {"draw"}, 10, 14);
    ordered.done = "2026-11-24";  // four days ago: 6 to 10 are left
    auto draw = task("draw", 5);
    draw.done = "2026-11-20";
    const auto s = dates({draw, ordered, task("assemble", 1, {"order"})});
    EXPECT_THAT(s.start_now, IsEmpty());
    EXPECT_GE(s.finish_days.front(), 7);
    EXPECT_LE(s.finish_days.back(), 11);
    // What is left of a wait runs beside the work: 10 days from the 24th are 6 from now, and 3 are worked
    // meanwhile.
    ordered.wait_most_d = ordered.wait_least_d = 10;
    const auto beside = dates({draw, ordered, task("assemble", 1, {"order"}), task("case", 3)});
    EXPECT_EQ(print(beside.p90), "2026-12-05") << "6 + 1";
    EXPECT_THAT(beside.meanwhile, ElementsAre(Meanwhile{"case", "order"}));
    ordered.wait_most_d = ordered.wait_least_d = 3;  // long over
    const auto over = dates({draw, ordered, task("assemble", 1, {"order"})});
    EXPECT_EQ(print(over.p90), "2026-11-29");
    EXPECT_THAT(over.start_now, ElementsAre("assemble"));
}

TEST(ScheduleRefuses, WhatCantBeDone) {
    EXPECT_THAT(refused({task("a", 1, {"b"}), task("b", 1, {"a"})}), HasSubstr("waits for"));
    EXPECT_THAT(refused({task("a", 1, {"a"})}), HasSubstr("\"a\" waits for \"a\""));
    EXPECT_THAT(refused({task("a", 1), task("a", 2)}), HasSubstr("twice"));
    EXPECT_THAT(refused({task("a", 1, {"nobody"})}), HasSubstr("\"nobody\", which is no task"));
    EXPECT_THAT(refused({task("a", -1)}), HasSubstr("hours"));
    EXPECT_THAT(refused({spread("a", 3, 2, 4)}), HasSubstr("hours"));
    EXPECT_THAT(refused({task("a", 1, {}, 5, 4)}), HasSubstr("waits"));
    EXPECT_THAT(refused({task("a", 1)}, 0), HasSubstr("hours a week"));
    EXPECT_THAT(refused({task("a", 1)}, -3), HasSubstr("hours a week"));
    EXPECT_THAT(refused({task("a", 1)}, 169), HasSubstr("hours a week"));
    EXPECT_THAT(refused({task("a", std::nan(""))}), HasSubstr("hours"));
    EXPECT_THAT(refused({task("a", 1)}, 5e-324), HasSubstr("thousand years"));
    EXPECT_THAT(refused({task("a", 100'000)}, 1), HasSubstr("thousand years"));
}

TEST(ScheduleCancelled, LeavesNothing) {
    Progress progress;
    progress.cancel();
    EXPECT_FALSE(schedule({task("a", 1)}, {today, 7, 10, 1}, progress).has_value());
}

TEST(Circles, AreNamedInTheirOrder) {
    const auto circle =
        circle_in({task("x", 1), task("a", 1, {"x", "c"}), task("b", 1, {"a"}), task("c", 1, {"b"})});
    ASSERT_EQ(circle.size(), 3U);
    const std::map<std::string, std::string> waits_for{{"a", "c"}, {"b", "a"}, {"c", "b"}};
    for (std::size_t i = 0; i < 3; ++i) EXPECT_EQ(waits_for.at(circle[i]), circle[(i + 1) % 3]);
    EXPECT_THAT(circle_in({task("a", 1), task("b", 1, {"a", "nobody"})}), IsEmpty());
}

}  // namespace
}  // namespace grayrelic
