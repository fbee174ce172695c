// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/order_advice.hpp"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/fit/order_text.hpp"

namespace grayrelic {
namespace {

using ::testing::HasSubstr;

OrderQuestion question(OrderAsk ask, int boards = 2) {
    OrderQuestion q;
    q.ask = std::move(ask);
    q.boards = boards;
    return q;
}

SolderStudy study(int parts, double chance, int without_record, std::vector<std::string> unknown = {}) {
    SolderStudy s;
    s.parts.resize(static_cast<std::size_t>(parts));
    s.chance = chance;
    s.without_record = without_record;
    s.unknown = std::move(unknown);
    return s;
}

TEST(OrderAdvices, SayWhereTheirFiguresComeFrom) {
    OrderAsk ask;
    ask.tiers = {{5, 10, 4, {}}};
    auto q = question(ask);
    q.solder = study(3, 0.9, 0);
    q.again = again_of({0.5});
    auto a = order_advice(q);
    EXPECT_EQ(a.want, 2);
    EXPECT_DOUBLE_EQ(a.yield, 0.9);
    EXPECT_EQ(a.yield_from, "from your record");
    EXPECT_DOUBLE_EQ(a.order.rows[0].cost, 21);  // 14 × 1.5
    q.solder = study(3, 0.9, 3);
    EXPECT_EQ(order_advice(q).yield_from, "as beginners manage");
    q.solder = study(3, 0.9, 2, {"L1"});
    a = order_advice(q);
    EXPECT_TRUE(a.yield_known);
    EXPECT_THAT(a.yield_from, HasSubstr("1 part whose package nobody described counts as certain"));
    q.solder = study(3, 1, 0, {"L1", "L2", "L3"});
    a = order_advice(q);
    EXPECT_FALSE(a.yield_known);
    EXPECT_THAT(a.says, HasSubstr("if every board works, order 5"));
    q.ask.want = 4;
    q.ask.yield = 0.5;
    q.ask.respin = 0.0;
    a = order_advice(q);
    EXPECT_EQ(a.want, 4);
    EXPECT_EQ(a.respin, 0);
    EXPECT_THAT(a.says, HasSubstr("the best gives 19 %"));  // 4 or 5 of 5: 6 ÷ 32
    EXPECT_THAT(order_advice(question({}, 1)).says, HasSubstr("no tier"));
}

TEST(OrderAdvices, QuestionsThatMayHangTogetherGiveARange) {
    // alone 0.5 and 0.4: neither is wrong with 0.5 × 0.6
    const auto a = again_of({0.5, 0.4});
    EXPECT_EQ(a.questions, 2);
    EXPECT_DOUBLE_EQ(a.chance, 0.7);
    EXPECT_DOUBLE_EQ(a.least, 0.5);
    EXPECT_DOUBLE_EQ(a.most, 0.9);
    EXPECT_DOUBLE_EQ(again_of({0.9, 0.9}).most, 1);
    EXPECT_EQ(again_of({}).chance, 0);
    OrderAsk ask;
    ask.tiers = {{5, 10, 0, {}}};
    auto q = question(ask);
    q.again = a;
    EXPECT_THAT(order_advice(q).respin_from, HasSubstr("50 to 90 % if they do"));
    // No joint distribution of two events leaves the range: all corners of their overlap.
    for (double both = 0; both <= 0.4001; both += 0.1) {
        const double either = 0.5 + 0.4 - both;
        EXPECT_GE(either, a.least - 1e-9);
        EXPECT_LE(either, a.most + 1e-9);
    }
}

TEST(OrderAdvices, CountWhatIsChargedBeside) {
    OrderAsk ask;
    ask.tiers = {{5, 10, 4, {}}, {10, 12, 4, {}}};
    ask.yield = 1;
    OrderExtra gold, slots;
    gold.what = "gold";
    gold.each = 0.5;
    slots.what = "slots";
    slots.price = 6;
    ask.extras = {gold, slots};
    ask.obsolete = {{"boards of revision 1", 3, 2.5, {}}};
    auto a = order_advice(question(ask));
    EXPECT_DOUBLE_EQ(a.order.rows[0].cost, 22.5);  // 10 + 4 + 6 + 5 × 0.5
    EXPECT_DOUBLE_EQ(a.order.rows[1].cost, 27);    // 12 + 4 + 6 + 10 × 0.5
    EXPECT_DOUBLE_EQ(a.obsolete, 7.5);
    EXPECT_THAT(a.says, HasSubstr("stock worth 7.50 becomes useless"));
    // Charged only for small holes: the board's files decide, and without them it counts and is said.
    ask.extras = {slots};
    ask.extras[0].rule = "hole";
    ask.extras[0].below_mm = 0.3;
    a = order_advice(question(ask));
    EXPECT_FALSE(a.extras[0].due.has_value());
    EXPECT_DOUBLE_EQ(a.order.rows[0].cost, 20);
    EXPECT_THAT(a.says, HasSubstr("may not be due"));
    FabricationAnalysis board;
    auto asked = std::make_shared<RuleReport>();
    RuleViolation small;
    small.rule = BoardRule::hole;
    small.mm = 0.25;
    asked->violations = {small};
    board.charged = asked;
    auto q = question(ask);
    q.board = &board;
    EXPECT_EQ(order_advice(q).extras[0].due, true);
    small.mm = 0.3;
    asked->violations = {small};
    EXPECT_EQ(order_advice(q).extras[0].due, false) << "at the limit nothing is charged";
    EXPECT_DOUBLE_EQ(order_advice(q).order.rows[0].cost, 14);
}

TEST(OrderAdvices, TakeOnlyTiersOfTheBoardsSize) {
    OrderAsk ask;
    ask.tiers = {{5, 5, 0, {}, 50, 50}, {5, 9, 0, {}, 100, 100}, {5, 30, 0, {}}};
    ask.yield = 1;
    auto read = std::make_shared<ReadBoard>();
    FabricationAnalysis board;
    board.read = read;
    auto q = question(ask);
    q.board = &board;
    const auto of_size = [&](double w, double h) {
        read->outline.outer = {{0, 0}, {from_mm(w), 0}, {from_mm(w), from_mm(h)}, {0, from_mm(h)}};
        read->size = {w, h, true};
        return order_advice(q);
    };
    EXPECT_EQ(of_size(40, 50).order.best, 0U);
    EXPECT_EQ(of_size(40, 60).order.best, 1U);
    EXPECT_EQ(of_size(120, 60).order.best, 2U);
    EXPECT_EQ(of_size(120, 60).applies, (std::vector<bool>{false, false, true}));
    q.ask.tiers.pop_back();
    EXPECT_THAT(of_size(120, 60).says, HasSubstr("no tier takes a board of this size"));
    // 100 × 50 lies either way round.
    q.ask.tiers = {{5, 5, 0, {}, 50, 100}};
    EXPECT_EQ(of_size(100, 50).order.best, 0U);
    q.board = nullptr;
    const auto a = order_advice(q);
    EXPECT_FALSE(a.size_known);
    EXPECT_THAT(a.says, HasSubstr("nobody knows the board's size"));
}

TEST(OrderLines, AreTypedInOneLine) {
    const auto tier = parse_tier("5: 10,80 + 4.20");
    ASSERT_TRUE(tier);
    EXPECT_EQ(*tier, (OrderTier{5, 10.8, 4.2}));
    const auto sized = parse_tier("10 12 4 100x80.5");
    ASSERT_TRUE(sized) << sized.error().message();
    EXPECT_EQ(*sized, (OrderTier{10, 12, 4, {}, 100, 80.5}));
    EXPECT_EQ(parse_tier("10 12 100×80")->height_mm, 80);
    for (const char* bad :
         {"", "5", "0 1 1", "2.5 1", "5 -1", "5 1 1 1", "five 1", "5 1 1 100x", "5 1 0x3", "x 1"})
        EXPECT_FALSE(parse_tier(bad)) << bad;
    for (const auto& [text, what, price, each, rule, below] :
         std::vector<std::tuple<const char*, const char*, double, double, const char*, double>>{
             {"extra slots 12", "slots", 12, 0, "", 0},
             {"extra gold on fingers 8 + 0.50 each", "gold on fingers", 8, 0.5, "", 0},
             {"extra sorting 0,2 each", "sorting", 0, 0.2, "", 0},
             {"extra small holes 15 hole below 0.3", "small holes", 15, 0, "hole", 0.3},
             {"extra fine 4 + 1 each track below 0.15", "fine", 4, 1, "track", 0.15}}) {
        const auto x = parse_extra(text);
        ASSERT_TRUE(x) << text << ": " << x.error().message();
        EXPECT_EQ(x->what, what);
        EXPECT_EQ(x->price, price) << text;
        EXPECT_EQ(x->each, each) << text;
        EXPECT_EQ(x->rule, rule);
        EXPECT_DOUBLE_EQ(x->below_mm, below);
        EXPECT_EQ(parse_extra(extra_text(*x)).value(), *x) << extra_text(*x);
    }
    for (const char* bad : {"extra", "extra slots", "extra 12", "slots 12", "extra x 1 size below 3",
                            "extra x 1 hole below x", "extra x y each"})
        EXPECT_FALSE(parse_extra(bad)) << bad;
    const auto stock = parse_obsolete("useless 5 boards revision 1 3.20");
    ASSERT_TRUE(stock);
    EXPECT_EQ(*stock, (ObsoleteStock{"boards revision 1", 5, 3.2, {}}));
    for (const char* bad :
         {"useless", "useless 5 3.20", "useless x boards 1", "useless 0 boards 1", "useless 5 boards x"})
        EXPECT_FALSE(parse_obsolete(bad)) << bad;
}

}  // namespace
}  // namespace grayrelic
