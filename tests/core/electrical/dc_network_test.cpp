// SPDX-License-Identifier: GPL-3.0-or-later
// The solver of networks that are linear in pieces: closed forms by hand, laws that every network keeps, and
// that it always ends.
#include "core/electrical/dc_network.hpp"

#include <gtest/gtest.h>

#include <Eigen/Dense>

#include "core/base/random.hpp"

namespace grayrelic {
namespace {

TEST(DcNetwork, DividerAndDiodeByHand) {
    DcNetwork n;
    const int a = n.add_node(), b = n.add_node(), c = n.add_node();
    n.feeds.push_back({a, 10});
    n.resistances = {{a, b, 1000}, {b, 0, 1000}};
    n.drops.push_back({b, c, 0.7, 0});
    n.resistances.push_back({c, 0, 1000});
    // (10 − v)/1k = v/1k + (v − 0.7)/1k: v = 10.7/3
    const auto s = solve(n);
    ASSERT_TRUE(s.settled);
    EXPECT_NEAR(s.volts[static_cast<std::size_t>(b)], 10.7 / 3, 1e-6);
    EXPECT_NEAR(s.volts[static_cast<std::size_t>(c)], 10.7 / 3 - 0.7, 1e-6);
    EXPECT_NEAR(s.drop_a[0], (10.7 / 3 - 0.7) / 1000, 1e-9);
}

TEST(DcNetwork, ADiodeTheOtherWayBlocks) {
    DcNetwork n;
    const int a = n.add_node(), b = n.add_node();
    n.feeds.push_back({a, 10});
    n.drops.push_back({b, a, 0.7, 0});
    n.resistances.push_back({b, 0, 1000});
    const auto s = solve(n);
    EXPECT_EQ(s.drop_a[0], 0);
    EXPECT_NEAR(s.volts[static_cast<std::size_t>(b)], 0, 1e-6);
}

/// Four diodes: the load sees the same polarity both ways round.
TEST(DcNetwork, ABridgeOfDiodes) {
    for (const double volts : {12.0, -12.0}) {
        DcNetwork n;
        const int in = n.add_node(), plus = n.add_node(), minus = n.add_node();
        n.feeds.push_back({in, volts});
        n.drops = {{in, plus, 0.7, 0}, {0, plus, 0.7, 0}, {minus, in, 0.7, 0}, {minus, 0, 0.7, 0}};
        n.resistances.push_back({plus, minus, 100});
        const auto s = solve(n);
        ASSERT_TRUE(s.settled);
        EXPECT_NEAR(s.volts[static_cast<std::size_t>(plus)] - s.volts[static_cast<std::size_t>(minus)],
                    12 - 1.4, 1e-6);
    }
}

TEST(DcNetwork, LimitsDropoutsAndReturns) {
    DcNetwork n;
    const int a = n.add_node(), b = n.add_node();
    n.feeds.push_back({a, 9, 0.5, 1.0});
    n.regulators.push_back({a, b, 5, 1.5, 0.005, 0.4});
    n.resistances.push_back({b, 0, 25});  // 0.2 A
    auto s = solve(n);
    ASSERT_TRUE(s.settled);
    EXPECT_NEAR(s.volts[2], 5, 1e-6);
    EXPECT_NEAR(s.feed_a[0], 0.205, 1e-6);
    EXPECT_NEAR(s.volts[1], 9 - 0.5 * 0.205, 1e-6);
    // At its limit of 0.4 A into 5 Ω: 2 V.
    n.resistances[0].ohm = 5;
    s = solve(n);
    ASSERT_TRUE(s.settled);
    EXPECT_NEAR(s.volts[2], 2, 1e-6);
    // Below its dropout it follows: (6 − 0.5 i) − 1.5 = 25 (i − 0.005)
    n.resistances[0].ohm = 25;
    n.feeds[0].volts = 6;
    s = solve(n);
    ASSERT_TRUE(s.settled);
    const double out_a = (6 - 1.5 - 0.5 * 0.005) / 25.5;
    EXPECT_NEAR(s.regulator_a[0], out_a, 1e-6);
    // A source at its limit of 1 A into 2 Ω.
    DcNetwork m;
    const int c = m.add_node();
    m.feeds.push_back({c, 9, 0, 1.0});
    m.resistances.push_back({c, 0, 2});
    EXPECT_NEAR(solve(m).volts[1], 2, 1e-6);
    // One that takes nothing back leaves a higher node alone.
    m.feeds[0].takes_back = false;
    m.feeds.push_back({c, 15, 1});
    const auto higher = solve(m);
    EXPECT_NEAR(higher.feed_a[0], 0, 1e-9);
    EXPECT_NEAR(higher.volts[1], 10, 1e-6);  // 15 · 2/3
    // Of 12 V only 8 V would come: it gives its 1 A, and (12 − v) + 1 = v/2.
    m.feeds[1].volts = 12;
    const auto lower = solve(m);
    EXPECT_NEAR(lower.feed_a[0], 1, 1e-9);
    EXPECT_NEAR(lower.volts[1], 13 / 1.5, 1e-6);
}

/// Linear networks against conductances solved by another library.
TEST(DcNetwork, LinearNetworksAgreeWithConductances) {
    Random random(9);
    for (int k = 0; k < 200; ++k) {
        DcNetwork n;
        const int nodes = 2 + static_cast<int>(random.below(10));
        for (int i = 0; i < nodes; ++i) n.add_node();
        Eigen::MatrixXd g = Eigen::MatrixXd::Zero(nodes, nodes);
        Eigen::VectorXd i = Eigen::VectorXd::Zero(nodes);
        const auto join = [&](int a, int b, double ohm) {
            n.resistances.push_back({a, b, ohm});
            for (const auto& [x, y] : {std::pair(a, b), std::pair(b, a)}) {
                if (x == 0) continue;
                g(x - 1, x - 1) += 1 / ohm;
                if (y != 0) g(x - 1, y - 1) -= 1 / ohm;
            }
        };
        for (int a = 1; a <= nodes; ++a) {
            join(a, static_cast<int>(random.below(static_cast<std::size_t>(a))),
                 std::pow(10.0, random.uniform() * 6 - 2));
            if (random.below(2) == 0) join(a, 0, 1000 * (random.uniform() + 0.1));
            if (random.below(2) == 0) {
                const double volts = 20 * random.uniform() - 10, ohm = 1 + 100 * random.uniform();
                n.feeds.push_back({a, volts, ohm});
                g(a - 1, a - 1) += 1 / ohm;
                i(a - 1) += volts / ohm;
            }
        }
        const auto s = solve(n);
        ASSERT_TRUE(s.settled);
        const Eigen::VectorXd want = g.ldlt().solve(i);
        for (int a = 1; a <= nodes; ++a) EXPECT_NEAR(s.volts[static_cast<std::size_t>(a)], want(a - 1), 1e-5);
    }
}

/// Many unknowns go another way through the solver: a chain by its closed form.
TEST(DcNetwork, ALongChainByHand) {
    constexpr int links = 150;
    DcNetwork n;
    int last = n.add_node();
    n.feeds.push_back({last, 15});
    for (int i = 1; i < links; ++i) {
        const int next = n.add_node();
        n.resistances.push_back({last, next, 10});
        last = next;
    }
    n.resistances.push_back({last, 0, 10});
    const auto s = solve(n);
    ASSERT_TRUE(s.settled);
    for (int k = 1; k <= links; ++k)
        EXPECT_NEAR(s.volts[static_cast<std::size_t>(k)], 15.0 * (links - k + 1) / links, 1e-6);
    // 60 diodes of 0.2 V in a row before 3 V and 10 Ω.
    DcNetwork d;
    last = d.add_node();
    d.feeds.push_back({last, 15});
    for (int i = 0; i < 60; ++i) {
        const int next = d.add_node();
        d.drops.push_back({last, next, 0.2, 0});
        last = next;
    }
    d.resistances.push_back({last, 0, 10});
    const auto t = solve(d);
    ASSERT_TRUE(t.settled);
    EXPECT_NEAR(t.volts[static_cast<std::size_t>(last)], 3, 1e-6);
    EXPECT_NEAR(t.feed_a[0], 0.3, 1e-6);
}

/// Whatever is put together: it ends, says whether it settled, and Kirchhoff's current law holds where it
/// did.
TEST(DcNetwork, AlwaysEndsAndKeepsTheCurrentLaw) {
    Random random(31);
    int settled = 0;
    for (int k = 0; k < 1500; ++k) {
        DcNetwork n;
        const int nodes = 1 + static_cast<int>(random.below(8));
        for (int i = 0; i < nodes; ++i) n.add_node();
        const auto any = [&] { return static_cast<int>(random.below(static_cast<std::size_t>(nodes) + 1)); };
        for (std::size_t i = random.below(4) + 1; i-- > 0;)
            n.feeds.push_back(
                {1 + any() % nodes, 20 * random.uniform() - 4, random.below(3) == 0 ? 0 : random.uniform(),
                 random.below(2) == 0 ? DcNetwork::no_limit : random.uniform(), random.below(3) != 0});
        for (std::size_t i = random.below(8); i-- > 0;)
            n.resistances.push_back({any(), any(), random.below(4) == 0 ? 0 : 100 * random.uniform()});
        for (std::size_t i = random.below(5); i-- > 0;)
            n.drops.push_back({any(), any(), random.uniform(), 0});
        for (std::size_t i = random.below(4); i-- > 0;)
            n.draws.push_back({1 + any() % nodes, 0, random.uniform(), 0.1});
        for (std::size_t i = random.below(3); i-- > 0;)
            n.regulators.push_back({any(), any(), 1 + 8 * random.uniform(), random.uniform(),
                                    0.01 * random.uniform(),
                                    random.below(2) == 0 ? DcNetwork::no_limit : random.uniform(),
                                    random.below(2) == 0 ? 0 : 0.8});
        const auto s = solve(n);
        EXPECT_LE(s.rounds, 1000);
        if (!s.settled) continue;
        ++settled;
        std::vector<double> into(static_cast<std::size_t>(n.nodes), 0.0);
        double largest = 1;
        const auto flow = [&](int from, int to, double a) {
            into[static_cast<std::size_t>(from)] -= a;
            into[static_cast<std::size_t>(to)] += a;
            largest = std::max(largest, std::abs(a));
        };
        for (std::size_t i = 0; i < n.feeds.size(); ++i) flow(0, n.feeds[i].node, s.feed_a[i]);
        for (std::size_t i = 0; i < n.resistances.size(); ++i)
            flow(n.resistances[i].a, n.resistances[i].b, s.resistance_a[i]);
        for (std::size_t i = 0; i < n.drops.size(); ++i) flow(n.drops[i].from, n.drops[i].to, s.drop_a[i]);
        for (std::size_t i = 0; i < n.draws.size(); ++i) flow(n.draws[i].from, n.draws[i].to, s.draw_a[i]);
        for (std::size_t i = 0; i < n.regulators.size(); ++i) {
            flow(0, n.regulators[i].out, s.regulator_a[i]);
            flow(n.regulators[i].in, 0, s.regulator_in_a[i]);
        }
        for (std::size_t i = 1; i < into.size(); ++i) EXPECT_NEAR(into[i], 0, 1e-6 * largest);
    }
    EXPECT_GT(settled, 1200);  // of 1,500; the others have gain or fight without a limit, and say so
}

}  // namespace
}  // namespace grayrelic
