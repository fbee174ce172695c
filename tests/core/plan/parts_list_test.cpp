// SPDX-License-Identifier: GPL-3.0-or-later
// Parts arithmetic, each figure worked out beside it.
#include "core/plan/parts_list.hpp"

#include <gmock/gmock.h>

#include "core/dossier/edits.hpp"
#include "core/library/data_library.hpp"
#include "core/plan/spares.hpp"

namespace grayrelic {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

PartLine line(const std::string& part, int per_board) {
    PartLine l;
    l.id = part;
    l.part = part;
    l.per_board = per_board;
    return l;
}

Drawer drawer(std::initializer_list<std::pair<const char*, int>> parts) {
    Drawer d;
    for (const auto& [part, count] : parts) d.entry(part, PartKind::other).count = count;
    return d;
}

Dossier with(Supply s) {
    return put(Dossier{}, std::move(s));
}

PartsRow only(Supply s, const Drawer& d = {}) {
    const auto list = parts_list(with(std::move(s)), nullptr, d);
    EXPECT_EQ(list.rows.size(), 1U);
    return list.rows.at(0);
}

TEST(Spares, AreTheFewestThatMakeEnoughLikely) {
    EXPECT_EQ(spares(5, 1), 0);
    EXPECT_EQ(spares(0, 0.5), 0);
    // One wanted, half are bad: of n, all bad with the chance 0.5^n; 0.5^3 = 0.125, 0.5^4 = 0.0625 → four.
    EXPECT_EQ(spares(1, 0.5), 3);
    // Two wanted at 0.8: of 3, 0.8³ + 3·0.8²·0.2 = 0.896; of 4, 1 − 0.2⁴ − 4·0.8·0.2³ = 0.9728.
    EXPECT_NEAR(chance_of_enough(2, 3, 0.8), 0.896, 1e-12);
    EXPECT_NEAR(chance_of_enough(2, 4, 0.8), 0.9728, 1e-12);
    EXPECT_EQ(spares(2, 0.8), 2);
    // Ten wanted at 0.99: 0.99^10 = 0.9044.
    EXPECT_EQ(spares(10, 0.99), 0);
    // Eleven: 0.99^11 = 0.8953, so one more.
    EXPECT_EQ(spares(11, 0.99), 1);
    EXPECT_EQ(chance_of_enough(3, 2, 0.9), 0);
}

/// Against the sum of the distribution's terms, term by term, for what the program does not sum itself.
TEST(Spares, HoldAgainstTheSumOfAllOutcomes) {
    for (const int need : {1, 3, 7, 20})
        for (const double yield : {0.3, 0.6, 0.85, 0.97}) {
            const auto chance = [&](int bought) {
                double term = 1,
                       sum = 0;  // choose(bought, k) · yield^k · (1 − yield)^(bought − k), from k = 0
                for (int i = 0; i < bought; ++i) term *= 1 - yield;
                for (int k = 0; k <= bought; ++k) {
                    if (k >= need) sum += term;
                    term *= (bought - k) / (k + 1.0) * yield / (1 - yield);
                }
                return sum;
            };
            const int s = spares(need, yield);
            EXPECT_GE(chance(need + s), 0.9) << need << " at " << yield;
            if (s > 0) {
                EXPECT_LT(chance(need + s - 1), 0.9) << need << " at " << yield;
            }
        }
}

TEST(PartsList, NeedSpareDrawerOrder) {
    Supply s;
    s.boards = 3;
    s.parts = {line("plug", 2)};
    s.parts[0].yield.value = 0.8;
    // need 2 × 3 = 6; of 8 at 0.8: 1 − P(at most 5) = 0.7969; of 9: 0.9144 → 3 spare; 6 + 3 − 4 = 5.
    const auto row = only(s, drawer({{"PLUG", 4}}));
    EXPECT_EQ(row.need, 6);
    EXPECT_EQ(row.spare, 3);
    EXPECT_EQ(row.drawer, 4);
    EXPECT_EQ(row.order, 5);
    EXPECT_EQ(row.state, PartState::order);
    EXPECT_EQ(only(s, drawer({{"plug", 9}})).state, PartState::drawer);
    EXPECT_EQ(only(s, drawer({{"plug", 90}})).order, 0) << "never less than nothing";
}

TEST(PartsList, NamesCountWhereNoNumberIsSaid) {
    Supply s;
    s.boards = 2;
    PartLine l;
    l.id = l.part = "capacitor 100 nF";
    l.refs = {"C1", "C2", "C3"};
    s.parts = {l};
    EXPECT_EQ(only(s).need, 6);
    s.parts[0].per_board = 1;
    EXPECT_EQ(only(s).need, 2);
    s.boards = 0;
    EXPECT_EQ(only(s).need, 0);
    EXPECT_EQ(only(s).state, PartState::drawer);
}

TEST(PartsList, LinesOfOnePartAreOneRow) {
    Supply s;
    s.parts = {line("header 2x5", 1), line("Header  2x5", 2)};
    s.parts[1].id = "second";
    s.parts[1].yield.value = 0.5;
    const auto row = only(s);
    EXPECT_EQ(row.need, 3);
    EXPECT_EQ(row.line, "header 2x5");
    EXPECT_GT(row.spare, 0) << "the worst yield counts";
}

TEST(PartsList, OrdersAndQuestionsMakeTheState) {
    Supply s;
    s.boards = 4;
    s.parts = {line("module", 1)};
    EXPECT_EQ(only(s).state, PartState::order);
    s.parts[0].question = "3.3 V or 5 V?";
    EXPECT_EQ(only(s).state, PartState::undecided);
    EXPECT_EQ(only(s).question, "3.3 V or 5 V?");
    EXPECT_EQ(only(s, drawer({{"module", 9}})).state, PartState::undecided)
        << "also where it lies in the drawer";
    s.parts[0].question.clear();
    Order o;
    o.id = "o";
    o.lines = {{"module", 3}};
    s.orders = {o};
    EXPECT_EQ(only(s).state, PartState::order) << "not ordered yet";
    s.orders[0].ordered = "2026-11-01";
    EXPECT_EQ(only(s).state, PartState::order) << "three of four";
    EXPECT_EQ(only(s).on_order, 3);
    EXPECT_EQ(only(s, drawer({{"module", 1}})).state, PartState::ordered);
    s.orders[0].arrived = "2026-11-09";
    EXPECT_EQ(only(s, drawer({{"module", 1}})).state, PartState::arrived);
    EXPECT_EQ(only(s).arrived, 3);
}

TEST(PartsList, TheChosenNetworkBringsItsParts) {
    const auto data = DataLibrary::load_installed();
    auto timing = Timing{};
    LogicNetwork n;
    n.id = n.name = "net";
    n.text =
        "input A B\noutput Y\nU1 74x00 hct: 1A=A 1B=B 1Y=x\nU2 74x04 hct: 1A=x 1Y=Y\nU3 74x00 hct: 1A=x "
        "1B=B\n";
    timing.networks = {n};
    BuildOption gates, module;
    gates.id = "gates";
    gates.network = "net";
    module.id = "module";
    timing.options = {gates, module};
    Supply s;
    s.boards = 2;
    s.parts = {line("74x00 hct", 1), line("socket", 3)};
    auto d = put(put(Dossier{}, timing), s);
    EXPECT_THAT(parts_list(d, &data->logic, {}).gaps, ElementsAre(HasSubstr("No way to build")));
    d = choose_option(d, "gates");
    const auto list = parts_list(d, &data->logic, {});
    ASSERT_EQ(list.rows.size(), 3U);
    EXPECT_EQ(list.rows[0].part, "74x00 hct");
    EXPECT_THAT(list.rows[0].refs, ElementsAre("U1", "U3"));
    EXPECT_EQ(list.rows[0].need, 6) << "two of the network and one beside it, on two boards";
    EXPECT_EQ(list.rows[0].kind, PartKind::logic);
    EXPECT_EQ(list.rows[1].part, "74x04 hct");
    EXPECT_EQ(list.rows[1].line, "");
    EXPECT_EQ(list.rows[2].need, 6);
    EXPECT_TRUE(list.gaps.empty());
    d = choose_option(d, "module");
    EXPECT_EQ(parts_list(d, &data->logic, {}).rows.size(), 2U);
}

TEST(PartsList, AlternatesAreLookedForInTheDrawer) {
    Supply s;
    s.parts = {line("74x165 hct", 3)};
    s.parts[0].alternates = {"74x165 hc", "74x165 ls"};
    const auto row = only(s, drawer({{"74x165 hc", 5}}));
    EXPECT_THAT(row.alternates, ElementsAre(testing::Pair("74x165 hc", 5), testing::Pair("74x165 ls", 0)));
    EXPECT_EQ(row.order, 3) << "an alternate is for the person to choose";
}

TEST(PartsList, BuysTheCheapestWay) {
    // 8 at 0.62 are 4.96; ten at 0.48 are 4.80: ten.
    const auto steps = *parse_prices("1:0.62 10:0.48");
    EXPECT_EQ(cheapest(steps, 8)->first, 10);
    EXPECT_NEAR(cheapest(steps, 8)->second, 4.80, 1e-9);
    EXPECT_EQ(cheapest(steps, 7)->first, 7);  // 4.34
    EXPECT_EQ(cheapest(steps, 12)->first, 12);
    EXPECT_EQ(cheapest(*parse_prices("25:0.03"), 4)->first, 25) << "none are sold singly";
    EXPECT_FALSE(cheapest({}, 3));
    EXPECT_FALSE(cheapest(steps, 0));
    Supply s;
    s.boards = 4;
    s.parts = {line("a", 2), line("b", 1)};
    s.parts[0].prices = steps;
    const auto list = parts_list(with(s), nullptr, {});
    EXPECT_NEAR(*list.cost, 4.80, 1e-9);
    EXPECT_EQ(list.without_price, 1);
}

TEST(PartsList, OneOrderASupplier) {
    Supply s;
    s.parts = {line("a", 2), line("b", 1), line("c", 1), line("d", 1)};
    for (auto& p : s.parts) p.supplier = "shop";
    s.parts[2].supplier = "other";
    s.parts[3].question = "which?";
    s.parts[0].lead_days_from = 2, s.parts[0].lead_days_to = 4;
    s.parts[1].lead_days_from = 3, s.parts[1].lead_days_to = 3;
    const auto made = orders_for(parts_list(with(s), nullptr, {}), s, *parse_day("2026-11-29"));
    ASSERT_EQ(made.size(), 2U);
    EXPECT_EQ(made[1].from, "shop");
    EXPECT_EQ(made[1].lines, (std::vector<OrderLine>{{"a", 2}, {"b", 1}})) << "the undecided one is left out";
    EXPECT_EQ(made[1].ordered, "2026-11-29");
    EXPECT_EQ(made[1].expected_from, "2026-12-02");
    EXPECT_EQ(made[1].expected_to, "2026-12-03");
    s.orders = made;
    EXPECT_TRUE(orders_for(parts_list(with(s), nullptr, {}), s, *parse_day("2026-11-30")).empty());
}

TEST(PartsWords, AreReadAsPeopleListThem) {
    const auto said = [](const char* text) {
        std::vector<std::pair<std::string, int>> out;
        for (const auto& p : parts_in_words(text)) out.emplace_back(p.part, *p.per_board);
        return out;
    };
    using P = std::pair<std::string, int>;
    EXPECT_THAT(said("3 × 74HCT165, 74HCT04"), ElementsAre(P("74HCT165", 3), P("74HCT04", 1)));
    EXPECT_THAT(said("2 x resistor 4k7,socket, "), ElementsAre(P("resistor 4k7", 2), P("socket", 1)));
    EXPECT_THAT(said("2 sockets"), ElementsAre(P("sockets", 2)));
    EXPECT_THAT(said("74x165"), ElementsAre(P("74x165", 1)));
    EXPECT_THAT(said("0 sockets"), ElementsAre(P("0 sockets", 1)));
    EXPECT_TRUE(said(" , ").empty());
}

TEST(PartsWords, PricesAndDays) {
    EXPECT_EQ(print_prices(*parse_prices(" 1:0.62  10:0.48")), "1:0.62 10:0.48");
    EXPECT_EQ(parse_prices("0.5")->front().from, 1);
    for (const auto* text : {"x", "0:1", "1:", "1:-2", "1:nan", ":3"})
        EXPECT_FALSE(parse_prices(text)) << text;
    EXPECT_EQ(*parse_lead_days("9-14"), (LeadDays{9, 14}));
    EXPECT_EQ(*parse_lead_days("9"), (LeadDays{9, 9}));
    EXPECT_EQ(*parse_lead_days(""), LeadDays{});
    EXPECT_EQ(print_lead_days(9, 14), "9-14");
    EXPECT_EQ(print_lead_days(9, {}), "9");
    for (const auto* text : {"-3", "9-", "14-9", "x"}) EXPECT_FALSE(parse_lead_days(text)) << text;
}

TEST(PartsTable, GoesThereAndBack) {
    const auto read = parts_from_csv(
        "part,kind,refs,per_board,yield,question,alternates,supplier,prices,lead_days,seen,not_to_be_had,"
        "note,need\n"
        "plug,connector,P1 P2,3,0.8,\"which, then?\",plug b|plug c,shop,1:1.9 "
        "5:1.55,9-14,2026-11-20,,fine,99\n"
        "header,,,,,,,,,,,,,\n",
        "p.csv");
    ASSERT_TRUE(read) << read.error().message();
    ASSERT_EQ(read->size(), 2U);
    EXPECT_THAT((*read)[0].refs, ElementsAre("P1", "P2"));
    EXPECT_EQ((*read)[0].yield.value, 0.8);
    EXPECT_THAT((*read)[0].alternates, ElementsAre("plug b", "plug c"));
    EXPECT_EQ((*read)[0].lead_days_to, 14);
    EXPECT_EQ((*read)[1].per_board, std::nullopt);
    auto s = with_parts({}, *read, false);
    EXPECT_EQ(s.parts[0].id, "plug");
    const auto text = parts_to_csv(parts_list(with(s), nullptr, {}), s.parts);
    const auto again = parts_from_csv(text, "again.csv");
    ASSERT_TRUE(again) << again.error().message();
    EXPECT_EQ(with_parts({}, *again, false), s);
    EXPECT_EQ(with_parts(s, *again, true), s) << "read again, it replaces itself";
    EXPECT_EQ(with_parts(s, *again, false).parts.size(), 4U);
    EXPECT_EQ(with_parts(s, *again, false).parts[2].id, "plug-2");
}

TEST(PartsTable, NamesTheRowThatIsWrong) {
    const auto fault = [](const std::string& row) {
        const auto r =
            parts_from_csv("part,kind,per_board,yield,prices,lead_days,seen\n" + row + "\n", "p.csv");
        return r ? std::string("read") : r.error().message();
    };
    EXPECT_THAT(fault("a,elf"), testing::AllOf(HasSubstr("p.csv:2"), HasSubstr("elf")));
    EXPECT_THAT(fault("a,,-1"), HasSubstr("per_board"));
    EXPECT_THAT(fault("a,,,0"), HasSubstr("yield"));
    EXPECT_THAT(fault("a,,,,cheap"), HasSubstr("prices"));
    EXPECT_THAT(fault("a,,,,,soon"), HasSubstr("lead_days"));
    EXPECT_THAT(fault("a,,,,,,yesterday"), HasSubstr("seen"));
    EXPECT_THAT(fault(" ,passive"), HasSubstr("part"));
    EXPECT_FALSE(parts_from_csv("name\na\n", "p.csv"));
}

}  // namespace
}  // namespace grayrelic
