// SPDX-License-Identifier: GPL-3.0-or-later
// Probing on boards whose nets only the stand-in knows. The shares over 100 boards are measured in bench/;
// here a few boards must stay within them.
#include <gmock/gmock.h>

#include <set>

#include "core/trace/next_probe.hpp"
#include "core/trace/suspects.hpp"
#include "standin/probe_run.hpp"
#include "tests/core/trace/shipped_parts.hpp"

namespace grayrelic {
namespace {

using test::shipped_parts;

TEST(Probing, HiddenBoardsAreWhatTheyClaim) {
    for (std::uint64_t seed = 1; seed <= 20; ++seed) {
        const auto board = standin::random_board(seed, shipped_parts());
        const auto model = BoardModel::build(board.known(), shipped_parts());
        EXPECT_TRUE(model.problems.empty()) << model.problems.front();
        std::set<std::string> seen;
        for (const auto& net : board.nets)
            for (const auto& p : net.points) {
                EXPECT_TRUE(seen.insert(p).second) << p << " in two nets";
                EXPECT_GE(model.table.find(p), 0) << p;
            }
        EXPECT_EQ(seen.size(), model.points.size()) << "every point is in one net";
        EXPECT_TRUE(standin::random_board(seed, shipped_parts()).nets == board.nets)
            << "same seed, same board";
        // No two pins in one place.
        for (std::size_t i = 0; i < model.points.size(); ++i)
            for (std::size_t j = i + 1; j < model.points.size(); ++j) {
                const auto &x = *model.points[i].place, &y = *model.points[j].place;
                if (x.side && y.side && *x.side != *y.side) continue;
                EXPECT_GT(std::hypot(x.x_mm - y.x_mm, x.y_mm - y.y_mm), 1.2)
                    << model.table.name(static_cast<int>(i)) << " " << model.table.name(static_cast<int>(j));
            }
    }
}

TEST(Probing, SuggestionsProveAllNetsWithFewerProbes) {
    for (const std::uint64_t seed : {3U, 6U}) {
        const auto board = standin::random_board(seed, shipped_parts());
        const auto model = BoardModel::build(board.known(), shipped_parts());
        const auto truth = standin::truth_of(board, model);
        const auto habit = standin::probe_by_habit(model, truth),
                   suggested = standin::probe_by_suggestion(model, truth);
        const int n = static_cast<int>(model.points.size());
        for (const auto* run : {&habit, &suggested}) {
            const auto s = derive_nets(n, run->links);
            EXPECT_DOUBLE_EQ(s.proven(), 1.0);
            EXPECT_EQ(s.net_count(), static_cast<int>(board.nets.size()));
            EXPECT_TRUE(s.contradictions.empty());
        }
        EXPECT_LE(static_cast<double>(suggested.to_all), 0.6 * static_cast<double>(habit.to_all)) << seed;
        EXPECT_LE(static_cast<double>(suggested.to_most), 0.4 * static_cast<double>(habit.to_all)) << seed;
    }
}

TEST(Probing, RailsComeFirstAndStrategiesHold) {
    const auto board = standin::random_board(4, shipped_parts());
    const auto model = BoardModel::build(board.known(), shipped_parts());
    const Likelihood prior(model);
    const auto state = derive_nets(static_cast<int>(model.points.size()), {});
    const auto plan = plan_probes(prior, state, {});
    ASSERT_FALSE(plan.next.empty());
    const auto kind = [&](int p) { return model.points[static_cast<std::size_t>(p)].kind; };
    EXPECT_EQ(kind(plan.next[0].a), kind(plan.next[0].b));
    EXPECT_TRUE(kind(plan.next[0].a) == PinKind::ground || kind(plan.next[0].a) == PinKind::supply);
    EXPECT_EQ(plan.next[0].why,
              kind(plan.next[0].a) == PinKind::ground ? "both are ground" : "both are supply");
    const auto n = static_cast<std::uint64_t>(model.points.size());
    EXPECT_EQ(plan.every_pair, n * (n - 1) / 2);
    EXPECT_LT(plan.remaining, plan.every_pair / 2);
    for (const auto strategy : {ProbeStrategy::buses, ProbeStrategy::connectors, ProbeStrategy::rails}) {
        PlanOptions options;
        options.strategy = strategy;
        options.how_many = 30;
        const auto some = plan_probes(prior, state, options);
        ASSERT_FALSE(some.next.empty()) << word(strategy);
        for (const auto& p : some.next) {
            const auto &x = model.points[static_cast<std::size_t>(p.a)],
                       &y = model.points[static_cast<std::size_t>(p.b)];
            if (strategy == ProbeStrategy::connectors) {
                EXPECT_TRUE(x.ref == "J1" || y.ref == "J1");
            }
            if (strategy == ProbeStrategy::buses) {
                EXPECT_TRUE(bus_bit(x.function) && bus_bit(y.function));
            }
        }
    }
    PlanOptions unreachable;
    unreachable.skip = {plan.next[0].a};
    unreachable.how_many = 50;
    for (const auto& p : plan_probes(prior, state, unreachable).next) {
        EXPECT_NE(p.a, plan.next[0].a);
        EXPECT_NE(p.b, plan.next[0].a);
    }
}

TEST(Probing, NothingIsSuggestedTwiceOrWhenAllIsSettled) {
    const auto state = derive_nets(3, {{0, 1, Says::joined, 0}, {1, 2, Says::apart, 1}});
    BoardModel model;
    for (const char* name : {"A", "B", "C"}) (void)model.add(name);
    EXPECT_TRUE(plan_probes(Likelihood(model), state).next.empty());
    EXPECT_EQ(plan_probes(Likelihood(model), state).remaining, 0U);
    const auto open = derive_nets(3, {{0, 1, Says::joined, 0}});
    const auto plan = plan_probes(Likelihood(model), open);
    ASSERT_EQ(plan.next.size(), 1U) << "one probe separates or joins the last";
    EXPECT_EQ(plan.remaining, 1U);
}

TEST(Probing, TheSlipIsAmongTheFirstSuspected) {
    long all = 0, first = 0, three = 0;
    const auto board = standin::random_board(3, shipped_parts());
    const auto model = BoardModel::build(board.known(), shipped_parts());
    const auto truth = standin::truth_of(board, model);
    const Likelihood prior(model);
    auto run = standin::probe_by_suggestion(model, truth);
    Random random(5);
    const auto n = static_cast<std::uint64_t>(model.points.size());
    for (int i = 0; i < 1500; ++i) {  // pairs probed again, as people do
        const int a = static_cast<int>(random.below(n)), b = static_cast<int>(random.below(n));
        if (a == b) continue;
        run.links.push_back({a, b,
                             truth[static_cast<std::size_t>(a)] == truth[static_cast<std::size_t>(b)]
                                 ? Says::joined
                                 : Says::apart,
                             static_cast<int>(run.links.size())});
    }
    for (int i = 0; i < 60; ++i) {
        auto links = run.links;
        const auto row = random.below(links.size());
        links[row].says = links[row].says == Says::joined ? Says::apart : Says::joined;
        const auto state = derive_nets(static_cast<int>(n), links);
        if (state.contradictions.empty()) {
            const auto lonely = resting_on_one(state);
            EXPECT_TRUE(std::any_of(lonely.begin(), lonely.end(),
                                    [&](const Lonely& l) { return l.row == static_cast<int>(row); }));
            continue;
        }
        ++all;
        const auto list = suspects(state, prior);
        for (std::size_t k = 0; k < list.size(); ++k)
            if (list[k].row == static_cast<int>(row)) {
                first += k == 0 ? 1 : 0;
                three += k < 3 ? 1 : 0;
            }
    }
    ASSERT_GT(all, 15);
    EXPECT_GE(static_cast<double>(first), 0.7 * static_cast<double>(all))
        << "of a small sample; bench/ measures the share over 100 boards";
    EXPECT_GE(static_cast<double>(three), 0.9 * static_cast<double>(all));
    EXPECT_TRUE(suspects(derive_nets(2, {}), prior).empty());
}

}  // namespace
}  // namespace grayrelic
