// SPDX-License-Identifier: GPL-3.0-or-later
// Stacks, buttons, tiers: by hand, with the arithmetic beside the figures, and by drawing lots.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/fit/fit_analysis.hpp"
#include "core/fit/fit_text.hpp"
#include "core/fit/stack.hpp"
#include "core/plan/board_order.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

TEST(Stacks, AddUpByHand) {
    // 12.4 −1.6 −8.5 −0.2 = 2.1; least 12.3 −1.7 −9.0 −0.2 = 1.4; most 12.6 −1.5 −8.3 −0.2 = 2.6
    const std::vector<StackItem> items{
        {"lid", 12.4, 0.2, 0.1, true}, {"board", 1.6, 0.1, 0.1}, {"module", 8.5, 0.5, 0.2}, {"joint", 0.2}};
    const auto r = room_of(items);
    EXPECT_DOUBLE_EQ(r.nominal_mm, 2.1);
    EXPECT_DOUBLE_EQ(r.worst_min_mm, 1.4);
    EXPECT_DOUBLE_EQ(r.worst_max_mm, 2.6);
    // Middles: 12.45 −1.6 −8.65 −0.2 = 2.0; halves 0.15, 0.1, 0.35: root of 0.0225 + 0.01 + 0.1225 = 0.155
    EXPECT_NEAR(r.rss_min_mm, 2.0 - std::sqrt(0.155), 1e-9);
    EXPECT_NEAR(r.rss_max_mm, 2.0 + std::sqrt(0.155), 1e-9);
    EXPECT_EQ(r.verdict, Verdict::holds);
}

TEST(Stacks, NothingLeftIsAStopAndNothingAtTheLeastADoubt) {
    EXPECT_EQ(room_of({{"lid", 10, 0, 0, true}, {"module", 10}}).verdict, Verdict::stop);
    EXPECT_EQ(room_of({{"lid", 10, 0, 0.1, true}, {"module", 9.9}}).verdict,
              Verdict::doubt);  // 0.0 at the least
    EXPECT_EQ(room_of({{"lid", 10, 0, 0.1, true}, {"module", 9.89}}).verdict, Verdict::holds);
    EXPECT_EQ(room_of({{"lid", 10, 0, 0, true}, {"module", 10.3}}).verdict, Verdict::stop);
    // Sums of decimals: 0.3 − 0.1 − 0.2 is nothing.
    EXPECT_EQ(room_of({{"a", 0.3, 0, 0, true}, {"b", 0.1}, {"c", 0.2}}).verdict, Verdict::stop);
}

TEST(Stacks, DrawnLotsStayWithinTheWorstCaseAndMostlyWithinTheRoot) {
    int inside = 0, all = 0;
    for (unsigned seed = 1; seed <= 100; ++seed) {
        std::mt19937 chance(seed);
        std::uniform_real_distribution<double> height(0.5, 20), tolerance(0, 0.6), where(0, 1);
        std::vector<StackItem> items;
        const int n = 2 + static_cast<int>(chance() % 9);
        for (int i = 0; i < n; ++i)
            items.push_back(
                {"x", height(chance), tolerance(chance), tolerance(chance), i == 0 || chance() % 3 == 0});
        const auto r = room_of(items);
        for (int k = 0; k < 200; ++k) {
            double sum = 0;
            for (const auto& i : items)
                sum += (i.gives ? 1 : -1) * (i.mm - i.minus + where(chance) * (i.plus + i.minus));
            EXPECT_GE(sum, r.worst_min_mm - 1e-6);
            EXPECT_LE(sum, r.worst_max_mm + 1e-6);
            inside += sum >= r.rss_min_mm && sum <= r.rss_max_mm ? 1 : 0;
            ++all;
        }
        // The root's band never leaves the worst case.
        EXPECT_GE(r.rss_min_mm, r.worst_min_mm - 1e-6);
        EXPECT_LE(r.rss_max_mm, r.worst_max_mm + 1e-6);
    }
    EXPECT_GT(inside, all * 9 / 10);  // of even spreads √3 standard deviations: more than nine in ten
}

TEST(Stacks, TablesAreReadAndBadOnesSayWhere) {
    const auto t = read_stack("what;mm;plus;minus;sign\nlid;12,4;0,2;0,1;+\nmodule;8.5;;;-\n", "s.csv");
    ASSERT_TRUE(t) << t.error().message();
    ASSERT_EQ(t->size(), 2U);
    EXPECT_DOUBLE_EQ((*t)[0].mm, 12.4);
    EXPECT_TRUE((*t)[0].gives);
    EXPECT_FALSE((*t)[1].gives);
    for (const auto& [text, want] : std::vector<std::pair<std::string, std::string>>{
             {"what,mm,plus,minus\nlid,1,0,0\n", "s.csv:1: found a heading without sign"},
             {"what,mm,plus,minus,sign\nlid,12,0.1,-0.1,+\n", "s.csv:2: found \"-0.1\" for minus"},
             {"what,mm,plus,minus,sign\nlid,-12,0,0,+\n", "s.csv:2: found \"-12\" for mm"},
             {"what,mm,plus,minus,sign\nlid,twelve,0,0,+\n", "s.csv:2: found \"twelve\" for mm"},
             {"what,mm,plus,minus,sign\nlid,nan,0,0,+\n", "s.csv:2: found \"nan\" for mm"},
             {"what,mm,plus,minus,sign\nlid,12,0,0,gives\n", "s.csv:2: found \"gives\" for sign"},
             {"what,mm,plus,minus,sign\nboard,1.6,0,0,-\nmodule,9,0,0,-\n",
              "s.csv:3: found no line that gives room"},
             {"", "s.csv"}}) {
        const auto bad = read_stack(text, "s.csv");
        ASSERT_FALSE(bad) << text;
        EXPECT_THAT(bad.error().message(), HasSubstr(want));
    }
}

TEST(Buttons, AreNeverPressedAtRestAndAlwaysClosedAtTheStop) {
    ButtonTravel b;
    // A gap of 10.0 − 9.7 = 0.3, at the least 0.1, at the most 0.5.
    b.gap = room_of({{"cap", 10.0, 0.1, 0.1, true}, {"switch", 9.7, 0.1, 0.1}});
    b.travel_mm = 1.2;
    b.travel_plus = b.travel_minus = 0.1;
    b.actuates_mm = 0.25;
    b.actuates_plus = 0.05;
    b.endures_mm = 1.5;
    b.endures_minus = 0.1;
    const auto r = room_of(b);
    EXPECT_DOUBLE_EQ(r.preload_mm, 0.1);
    EXPECT_DOUBLE_EQ(r.spare_mm, 0.3);  // 1.1 − 0.5 − 0.25 − 0.05
    EXPECT_DOUBLE_EQ(r.crush_mm, 0.2);  // 1.4 − (1.3 − 0.1)
    EXPECT_EQ(r.verdict, Verdict::holds);
    b.endures_mm = 1.2;  // 1.1 − 1.2 = −0.1 at the least, 0.3 at nominal
    EXPECT_EQ(room_of(b).verdict, Verdict::doubt);
    b.travel_mm = 0.5;  // 0.5 − 0.3 − 0.25 < 0 at nominal
    EXPECT_EQ(room_of(b).verdict, Verdict::stop);
}

TEST(FitCases, TakeTheirFiguresFromPlanAndSayWhatIsMissing) {
    Dimension lid, module;
    lid.id = "lid";
    lid.name = "lid to board";
    lid.mm.value = 12;
    lid.mm.uncertainty = 0.3;
    lid.mm.evidence.kind = EvidenceKind::measured;
    module.id = "module";
    FitCase c;
    c.id = "below";
    FitItem gives, takes;
    gives.role = FitRole::gives;
    gives.dimension = "lid";
    takes.dimension = "module";
    c.items = {gives, takes};
    auto r = fit_of(c, {lid, module});
    EXPECT_EQ(r.verdict, Verdict::unknown);
    EXPECT_THAT(r.says, HasSubstr("module is missing"));
    module.mm.value = 9;
    module.mm.uncertainty = 0.5;
    r = fit_of(c, {lid, module});
    EXPECT_EQ(r.verdict, Verdict::holds);
    EXPECT_DOUBLE_EQ(r.room.nominal_mm, 3);
    EXPECT_DOUBLE_EQ(r.room.worst_min_mm, 2.2);  // 11.7 − 9.5
    EXPECT_EQ(r.assumed, std::vector<std::string>{"module"});
    EXPECT_DOUBLE_EQ(*r.lines[1].turns_at, 12);  // then nothing is left
    EXPECT_DOUBLE_EQ(*r.lines[0].turns_at, 9);
    c.items.pop_back();
    EXPECT_EQ(fit_of(c, {lid}).verdict, Verdict::unknown) << "nothing takes room";
    c.items = {takes};
    EXPECT_THAT(fit_of(c, {lid, module}).says, HasSubstr("such as the lid"));
    c.items = {gives};
    c.items[0].dimension = "gone";
    EXPECT_THAT(fit_of(c, {lid}).lines[0].problem, HasSubstr("not in Plan"));
}

TEST(FitCases, ACableIsLongEnoughAndNotBentTooTightly) {
    const auto item = [](const char* what, FitRole role, double mm, double tolerance = 0) {
        FitItem i;
        i.what = what;
        i.role = role;
        i.mm.value = mm;
        i.mm.uncertainty = tolerance;
        i.mm.evidence.kind = EvidenceKind::measured;
        return i;
    };
    FitCase c;
    c.kind = FitKind::cable;
    c.items = {item("cable", FitRole::gives, 150), item("way", FitRole::takes, 120, 5),
               item("there", FitRole::bend, 8, 1), item("needs", FitRole::endures, 6)};
    auto r = fit_of(c, {});
    EXPECT_EQ(r.verdict, Verdict::holds);
    EXPECT_DOUBLE_EQ(r.tightest_mm, 1);  // 7 − 6
    c.items[3].mm.value = 7.5;
    EXPECT_EQ(fit_of(c, {}).verdict, Verdict::doubt);
    c.items[3].mm.value = 8.5;
    EXPECT_EQ(fit_of(c, {}).verdict, Verdict::stop);
    c.items.pop_back();
    EXPECT_EQ(fit_of(c, {}).verdict, Verdict::unknown);
}

TEST(FitLines, AreTypedInOneLine) {
    const auto e = parse_fit_line("+ lid to board 12.4 ± 0.1 measured caliper, unit 2");
    ASSERT_TRUE(e) << e.error().message();
    EXPECT_EQ(e->role, FitRole::gives);
    EXPECT_EQ(e->dimension.name, "lid to board");
    EXPECT_EQ(e->dimension.mm.value, 12.4);
    EXPECT_EQ(e->dimension.mm.uncertainty, 0.1);
    EXPECT_EQ(e->dimension.mm.evidence.kind, EvidenceKind::measured);
    EXPECT_EQ(e->dimension.mm.evidence.source, "caliper, unit 2");
    const auto m = parse_fit_line("- module 9");
    ASSERT_TRUE(m);
    EXPECT_EQ(m->role, FitRole::takes);
    EXPECT_EQ(m->dimension.mm.evidence.kind, EvidenceKind::assumed);
    const auto t = parse_fit_line("travel of the button 1.2 +- 0.1");
    ASSERT_TRUE(t);
    EXPECT_EQ(t->role, FitRole::travel);
    EXPECT_EQ(t->dimension.name, "travel of the button");
    for (const char* bad : {"", "lid 12", "+ 12.4", "+ lid", "+ lid 12 ± x", "- lid -4"})
        EXPECT_FALSE(parse_fit_line(bad)) << bad;
}

TEST(FitLines, ZonesToo) {
    const auto z = parse_zone("zone back slider's rail 10 -2,5 30 15 5.5");
    ASSERT_TRUE(z) << z.error().message();
    EXPECT_EQ(*z, (FitZone{"slider's rail", 10, -2.5, 30, 15, true, {}, 5.5, {}}));
    for (const char* bad :
         {"zone", "zone a 1 2 3 4", "zone 1 2 3 4 5", "zone a 1 2 -3 4 5", "zone a 1 2 3 4 x", "a 1 2 3 4 5"})
        EXPECT_FALSE(parse_zone(bad)) << bad;
}

/// All outcomes of n boards, one by one.
double chance_by_counting(int n, int want, double yield) {
    double sum = 0;
    for (int k = want; k <= n; ++k) {
        double ways = 1;
        for (int i = 0; i < k; ++i) ways = ways * (n - i) / (i + 1);
        sum += ways * std::pow(yield, k) * std::pow(1 - yield, n - k);
    }
    return sum;
}

TEST(BoardOrders, ByHand) {
    // 3 wanted at 0.8: of 3 boards 0.512, of 4 0.8192, of 5 0.94208
    const auto r = order_boards({{3, 6, 4}, {4, 8, 4}, {5, 9, 4}, {10, 14, 4}}, 3, 0.8, 0.25);
    ASSERT_EQ(r.rows.size(), 4U);
    EXPECT_NEAR(r.rows[0].chance_of_want, 0.512, 1e-12);
    EXPECT_NEAR(r.rows[1].chance_of_want, 0.8192, 1e-12);
    EXPECT_NEAR(r.rows[2].chance_of_want, 0.94208, 1e-12);
    EXPECT_NEAR(r.rows[2].cost, 16.25, 1e-12);          // 13 × 1.25
    EXPECT_NEAR(r.rows[2].expected_working, 4, 1e-12);  // 5 × 0.8
    EXPECT_NEAR(r.rows[2].per_working, 4.0625, 1e-12);  // 16.25 ÷ 4
    EXPECT_EQ(r.best, 2U);
    EXPECT_FALSE(order_boards({{3, 6, 4}}, 3, 0.8, 0).best);
    EXPECT_EQ(order_boards({{1, 5, 0}}, 1, 0.9, 0).best, 0U);  // 0.9 is enough
    EXPECT_EQ(order_boards({{5, 10, 0}, {10, 10, 0}}, 1, 0.99, 0).best, 1U) << "more for the same";
}

TEST(BoardOrders, ChancesAreThoseOfCounting) {
    for (unsigned seed = 1; seed <= 200; ++seed) {
        std::mt19937 chance(seed);
        std::uniform_real_distribution<double> share(0.05, 1), money(1, 90);
        std::vector<BoardTier> tiers;
        int quantity = 0;
        for (int i = 0; i < 5; ++i)
            tiers.push_back({quantity += 1 + static_cast<int>(chance() % 6), money(chance), money(chance)});
        const int want = 1 + static_cast<int>(chance() % 8);
        const double yield = share(chance), respin = share(chance);
        const auto r = order_boards(tiers, want, yield, respin);
        std::optional<double> least;
        for (std::size_t i = 0; i < tiers.size(); ++i) {
            const double p = chance_by_counting(tiers[i].quantity, want, yield);
            EXPECT_NEAR(r.rows[i].chance_of_want, p, 1e-9) << seed;
            const double cost = (tiers[i].price + tiers[i].shipping) * (1 + respin);
            if (p >= 0.9 && (!least || cost < *least)) least = cost;
        }
        ASSERT_EQ(r.best.has_value(), least.has_value()) << seed;
        if (least) {
            EXPECT_NEAR(r.rows[*r.best].cost, *least, 1e-9);
        }
    }
}

TEST(BoardOrders, BadTiersSayWhere) {
    for (const auto& [text, want] : std::vector<std::pair<std::string, std::string>>{
             {"quantity,price,shipping\n10,5,1\n5,4,1\n", "t.csv:3: found 5 boards after 10 in line 2"},
             {"quantity,price,shipping\n5,5,1\n5,4,1\n", "t.csv:3: found 5 boards after 5"},
             {"quantity,price\n0,5\n", "t.csv:2: found \"0\" for quantity"},
             {"quantity,price\n2.5,5\n", "t.csv:2: found \"2.5\" for quantity"},
             {"quantity,price\n5,-5\n", "t.csv:2: found \"-5\" for price"},
             {"quantity,price,shipping\n5,5,x\n", "t.csv:2: found \"x\" for shipping"},
             {"quantity\n5\n", "t.csv:1: found a heading without price"},
             {"quantity,price\n", "t.csv:1: found no tier"}}) {
        const auto t = read_tiers(text, "t.csv");
        ASSERT_FALSE(t) << text;
        EXPECT_THAT(t.error().message(), HasSubstr(want));
    }
}

}  // namespace
}  // namespace grayrelic
