// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/nets.hpp"

#include <gmock/gmock.h>

#include <boost/graph/adjacency_list.hpp>
#include <boost/graph/connected_components.hpp>
#include <set>

#include "core/base/random.hpp"

namespace grayrelic {
namespace {

Link join(int a, int b, int row) {
    return {a, b, Says::joined, row};
}
Link part(int a, int b, int row) {
    return {a, b, Says::apart, row};
}

TEST(Nets, JoinedSeparatedAndProven) {
    // 0-1-2 joined, 3 apart from 1, 4 alone: of 10 pairs 3 are joined; 3 × 1 are separated by one reading.
    const auto s = derive_nets(5, {join(0, 1, 0), join(1, 2, 1), part(3, 1, 2)});
    EXPECT_EQ(s.net_count(), 3);
    EXPECT_EQ(s.nets[0], (std::vector<int>{0, 1, 2}));
    EXPECT_TRUE(s.separated(0, 1));
    EXPECT_FALSE(s.separated(0, 2));
    EXPECT_DOUBLE_EQ(s.proven(), (3.0 + 3.0) / 10.0);
    EXPECT_EQ(s.pairs_open(), 2U) << "net 2 against the two others";
    EXPECT_TRUE(s.contradictions.empty());
    EXPECT_DOUBLE_EQ(derive_nets(1, {}).proven(), 1.0);
    EXPECT_DOUBLE_EQ(derive_nets(0, {}).proven(), 1.0);
}

TEST(Nets, AContradictionNamesAShortestChain) {
    // 0-1-2-3 and the short way 0-4-3; 0 and 3 said apart.
    const auto s = derive_nets(
        5, {join(0, 1, 0), join(1, 2, 1), join(2, 3, 2), join(0, 4, 3), join(4, 3, 4), part(0, 3, 5)});
    ASSERT_EQ(s.contradictions.size(), 1U);
    EXPECT_EQ(s.contradictions[0].apart, 5);
    EXPECT_THAT(s.contradictions[0].chain, testing::ElementsAre(3, 4));
    EXPECT_EQ(s.separated_pairs, 0U) << "a contradicted reading separates nothing";
}

TEST(Nets, WhatRestsOnOneReading) {
    // 0-1 twice, 1-2 once; nets {0,1,2} and {3} said apart twice, {3} and {4} once.
    const auto s = derive_nets(
        5, {join(0, 1, 0), join(1, 0, 1), join(1, 2, 2), part(0, 3, 3), part(2, 3, 4), part(3, 4, 5)});
    std::set<int> rows;
    for (const auto& l : resting_on_one(s)) rows.insert(l.row);
    EXPECT_THAT(rows, testing::ElementsAre(2, 5));
}

TEST(Nets, FlippingAReadingWithoutContradictionLeavesItNamed) {
    // A tree of joins: any of them read the other way splits quietly, and is named as resting on itself.
    for (int wrong = 0; wrong < 3; ++wrong) {
        std::vector<Link> links = {join(0, 1, 0), join(1, 2, 1), join(2, 3, 2)};
        links[static_cast<std::size_t>(wrong)].says = Says::apart;
        const auto s = derive_nets(4, links);
        EXPECT_TRUE(s.contradictions.empty());
        const auto lonely = resting_on_one(s);
        EXPECT_TRUE(
            std::any_of(lonely.begin(), lonely.end(), [&](const Lonely& l) { return l.row == wrong; }));
    }
}

/// Against a general graph library: components and bridges.
TEST(Nets, AgreeWithAnIndependentGraphLibrary) {
    using Graph = boost::adjacency_list<boost::vecS, boost::vecS, boost::undirectedS>;
    Random random(42);
    for (int round = 0; round < 60; ++round) {
        const int n = 2 + static_cast<int>(random.below(60));
        std::vector<Link> links;
        Graph g(static_cast<std::size_t>(n));
        for (auto m = random.below(static_cast<std::uint64_t>(2 * n)); m > 0; --m) {
            const int a = static_cast<int>(random.below(static_cast<std::uint64_t>(n))),
                      b = static_cast<int>(random.below(static_cast<std::uint64_t>(n)));
            if (a == b) continue;
            const auto row = static_cast<int>(links.size());
            links.push_back(random.uniform() < 0.6 ? join(a, b, row) : part(a, b, row));
            if (links.back().says == Says::joined)
                boost::add_edge(static_cast<std::size_t>(a), static_cast<std::size_t>(b), g);
        }
        const auto s = derive_nets(n, links);
        std::vector<int> component(static_cast<std::size_t>(n));
        EXPECT_EQ(boost::connected_components(g, component.data()), s.net_count());
        for (int i = 0; i < n; ++i)
            for (int j = 0; j < n; ++j)
                EXPECT_EQ(component[static_cast<std::size_t>(i)] == component[static_cast<std::size_t>(j)],
                          s.net_of[static_cast<std::size_t>(i)] == s.net_of[static_cast<std::size_t>(j)]);
        // A bridge is an edge without which there is one component more.
        std::set<int> bridges, named;
        for (const auto& without : links) {
            if (without.says != Says::joined) continue;
            Graph h(static_cast<std::size_t>(n));
            for (const auto& l : links)
                if (l.says == Says::joined && l.row != without.row)
                    boost::add_edge(static_cast<std::size_t>(l.a), static_cast<std::size_t>(l.b), h);
            if (boost::connected_components(h, component.data()) > s.net_count()) bridges.insert(without.row);
        }
        for (const auto& l : resting_on_one(s))
            if (l.says == Says::joined) named.insert(l.row);
        EXPECT_EQ(named, bridges) << "round " << round;
        // Counted pair by pair.
        std::uint64_t settled = 0;
        for (int i = 0; i < n; ++i)
            for (int j = i + 1; j < n; ++j) {
                const int x = s.net_of[static_cast<std::size_t>(i)],
                          y = s.net_of[static_cast<std::size_t>(j)];
                settled += x == y || s.separated(x, y) ? 1U : 0U;
            }
        EXPECT_EQ(settled, s.joined_pairs + s.separated_pairs);
    }
}

TEST(Nets, ReadingsThatAreSetAsideDoNotCount) {
    std::vector<MeterReading> readings(2);
    readings[0].a = "A";
    readings[0].b = "B";
    readings[1].a = "B";
    readings[1].b = "C";
    readings[1].set_aside = "a slip";
    PointTable points;
    const auto links = links_of(readings, points, 2.0);
    ASSERT_EQ(links.size(), 1U);
    EXPECT_EQ(points.size(), 3) << "its points are known all the same";
}

}  // namespace
}  // namespace grayrelic
