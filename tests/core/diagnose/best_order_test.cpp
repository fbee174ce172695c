// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/best_order.hpp"

#include <gtest/gtest.h>

#include <algorithm>
#include <functional>
#include <map>
#include <random>
#include <set>

namespace grayrelic {
namespace {

/// All trees of tests over the things that are left, without any bound: the least expected effort.
double all_trees(const std::vector<std::size_t>& left, const std::vector<double>& chances,
                 const std::vector<OrderTest>& tests) {
    double whole = 0;
    for (const auto i : left) whole += chances[i];
    double best = -1;
    for (const auto& t : tests) {
        std::map<int, std::vector<std::size_t>> parts;
        for (const auto i : left) parts[t.shows[i]].push_back(i);
        if (parts.size() < 2) continue;
        double effort = t.effort;
        for (const auto& [shows, some] : parts) {
            double share = 0;
            for (const auto i : some) share += chances[i];
            effort += share / whole * all_trees(some, chances, tests);
        }
        if (best < 0 || effort < best) best = effort;
    }
    return std::max(best, 0.0);
}

TEST(BestOrder, IsWhatTryingAllTreesFinds) {
    std::mt19937_64 random(7);
    int parted = 0;
    for (int round = 0; round < 300; ++round) {
        const auto n = 2 + random() % 5, count = 1 + random() % 6;
        std::vector<double> chances;
        std::vector<std::size_t> all;
        for (std::size_t i = 0; i < n; ++i) {
            chances.push_back(0.05 + static_cast<double>(random() % 100) / 100);
            all.push_back(i);
        }
        std::vector<OrderTest> tests;
        for (std::size_t t = 0; t < count; ++t) {
            OrderTest test{1.0 + static_cast<double>(random() % 3) / 2, {}};
            for (std::size_t i = 0; i < n; ++i)
                test.shows.push_back(static_cast<std::uint16_t>(random() % 3));
            tests.push_back(test);
        }
        const auto order = best_order(chances, tests, 100'000);
        ASSERT_TRUE(order.has_value());
        EXPECT_NEAR(order->effort, all_trees(all, chances, tests), 1e-9) << round;
        if (order->first) ++parted;
    }
    EXPECT_GT(parted, 200);
}

TEST(BestOrder, FourThingsTakeTwoHalvings) {
    const std::vector<OrderTest> halves{{1, {0, 0, 1, 1}}, {1, {0, 1, 0, 1}}, {1, {0, 1, 1, 1}}};
    const auto order = best_order({1, 1, 1, 1}, halves, 1000);
    ASSERT_TRUE(order.has_value());
    EXPECT_DOUBLE_EQ(order->effort, 2);
    EXPECT_EQ(order->tests, (std::vector<double>{2, 2, 2, 2}));
    // The first is by far the likeliest: the test that singles it out comes first, (1 · 1 + 3 · (1 + 2 · 2/3
    // …)).
    const auto likely = best_order({97, 1, 1, 1}, halves, 1000);
    ASSERT_TRUE(likely.has_value());
    EXPECT_EQ(likely->first, std::optional<std::size_t>(2));
    EXPECT_DOUBLE_EQ(likely->tests[0], 1);
}

TEST(BestOrder, SaysWhenItIsTooMuch) {
    const std::vector<double> many(most_in_order + 1, 1.0);
    EXPECT_FALSE(best_order(many, {}, 1000).has_value());
    std::vector<OrderTest> singles;
    for (std::size_t t = 0; t < 20; ++t) {
        OrderTest test{1, std::vector<std::uint16_t>(20, 0)};
        test.shows[t] = 1;
        singles.push_back(test);
    }
    EXPECT_FALSE(best_order(std::vector<double>(20, 1.0), singles, 50).has_value());
    EXPECT_FALSE(best_order({1, 1}, {}, 10)->first.has_value()) << "nothing tells them apart";
}

}  // namespace
}  // namespace grayrelic
