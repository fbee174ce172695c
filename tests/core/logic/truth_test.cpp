// SPDX-License-Identifier: GPL-3.0-or-later
// Truth tables, equality, hazards and the search for small networks.
#include <gmock/gmock.h>

#include "core/base/random.hpp"
#include "core/logic/equivalence.hpp"
#include "core/logic/minimise.hpp"
#include "core/logic/step_machine.hpp"
#include "core/logic/truth.hpp"
#include "core/logic/verilog.hpp"
#include "tests/core/helpers.hpp"
#include "tests/core/logic/logic_helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;
const char* const spare = " 2A=0 2B=0 3A=0 3B=0 4A=0 4B=0\n";

std::string column(const TruthTable& t, std::size_t output = 0) {
    std::string s;
    for (const auto& row : t.rows) s += letter(row[output]);
    return s;
}

TruthTable table(const std::string& text) {
    Progress progress;
    auto t = truth_table(test::network(text), progress);
    EXPECT_TRUE(t) << t.error().message();
    return t ? std::move(*t) : TruthTable{};
}

TEST(Truth, GatesSelectorsAndDecodersDoWhatTheirNamesSay) {
    // First input most significant; columns from the definition of each function.
    EXPECT_EQ(column(table(std::string("input A B\noutput Y\nU1 74x00 ls: 1A=A 1B=B 1Y=Y") + spare)), "1110");
    EXPECT_EQ(column(table(std::string("input A B\noutput Y\nU1 74x02 ls: 1A=A 1B=B 1Y=Y") + spare)), "1000");
    EXPECT_EQ(column(table(std::string("input A B\noutput Y\nU1 74x86 ls: 1A=A 1B=B 1Y=Y") + spare)), "0110");
    EXPECT_EQ(column(table("input S A B\noutput Y\nU1 74x157 ls: SEL=S 1A=A 1B=B /G=0 1Y=Y 2A=0 2B=0 3A=0 "
                           "3B=0 4A=0 4B=0\n")),
              "00110101");
    const auto decoder = table(
        "input C B A\noutput o0 o5 o7\nU1 74x138 ls: A=A B=B C=C G1=1 /G2A=0 /G2B=0 /Y0=o0 /Y5=o5 /Y7=o7\n");
    EXPECT_EQ(column(decoder, 0), "01111111");
    EXPECT_EQ(column(decoder, 1), "11111011");
    EXPECT_EQ(column(decoder, 2), "11111110");
    EXPECT_EQ(column(table("input E A\noutput Y\npull Y 1\nU1 74x125 hct: 1A=A /1OE=E 1Y=Y /2OE=1 2A=0 "
                           "/3OE=1 3A=0 /4OE=1 4A=0\n")),
              "0111");
    EXPECT_EQ(
        column(table(
            "input E A\noutput Y\nU1 74x125 hct: 1A=A /1OE=E 1Y=Y /2OE=1 2A=0 /3OE=1 3A=0 /4OE=1 4A=0\n")),
        "01xx");
    EXPECT_EQ(column(table("input A B\noutput W\npull W 1\nU1 74x03 ls: 1A=A 1B=1 1Y=W 2A=B 2B=1 2Y=W 3A=0 "
                           "3B=0 4A=0 4B=0\n")),
              "1000");
    EXPECT_THAT(truth_csv(table(std::string("input A B\noutput Y\nU1 74x00 ls: 1A=A 1B=B 1Y=Y") + spare)),
                "A,B,Y\n0,0,1\n0,1,1\n1,0,1\n1,1,0\n");
}

TEST(Truth, WhatHasNoTableIsRefused) {
    Progress progress;
    EXPECT_THAT(
        test::message(truth_table(
            test::network("input D C\noutput Q\nU1 74x74 hc: 1D=D 1CLK=C /1CLR=1 /1PRE=1 1Q=Q\n"), progress)),
        HasSubstr("storage"));
    EXPECT_THAT(test::message(
                    truth_table(test::network("input A\noutput Y\nU1 74x00 hc: 1A=A 1B=Y 1Y=Y\n"), progress)),
                HasSubstr("loop"));
    std::string wide = "input";
    for (int i = 0; i < 17; ++i) wide += " I" + std::to_string(i);
    EXPECT_THAT(
        test::message(truth_table(test::network(wide + "\noutput Y\nU1 74x04 hc: 1A=I0 1Y=Y\n"), progress)),
        HasSubstr("17 inputs"));
}

/// An n-input parity from selectors of two exclusive ORs, or from NAND gates.
std::string parity(int n, bool nand, bool wrong = false) {
    std::string text = "input", body;
    for (int i = 0; i < n; ++i) text += " I" + std::to_string(i);
    text += "\noutput Y\n";
    std::string last = "I0";
    for (int i = 1; i < n; ++i) {
        const std::string b = "I" + std::to_string(i), out = i + 1 == n ? "Y" : "x" + std::to_string(i),
                          k = std::to_string(i);
        if (nand)
            body += "U" + k + " 74x00 hc: 1A=" + last + " 1B=" + b + " 1Y=m" + k + " 2A=" + last + " 2B=m" +
                    k + " 2Y=p" + k + " 3A=" + b + " 3B=m" + k + " 3Y=q" + k + " 4A=p" + k + " 4B=q" + k +
                    " 4Y=" + out + "\n";
        else
            body += "U" + k + " 74x" + (wrong && i + 1 == n ? "32" : "86") + " hc: 1A=" + last + " 1B=" + b +
                    " 1Y=" + out + spare;
        last = out;
    }
    return text + body;
}

TEST(Equivalence, ExhaustiveUpToManyInputsWhateverTheThreads) {
    const auto a = test::network(parity(20, false)), b = test::network(parity(20, true)),
               wrong = test::network(parity(20, false, true));
    for (const unsigned threads : {1U, 2U, 3U}) {
        Progress progress;
        EquivalenceLimits limits;
        limits.threads = threads;
        const auto same = compare_networks(a, b, limits, progress);
        ASSERT_TRUE(same);
        EXPECT_EQ(same->answer, Equivalence::Answer::equal);
        EXPECT_EQ(same->looked_at, 1ULL << 20U);
        const auto differ = compare_networks(a, wrong, limits, progress);
        ASSERT_TRUE(differ);
        EXPECT_EQ(differ->answer, Equivalence::Answer::differ);
        // XOR and OR differ where both are 1: the last input, and an odd number of ones among the first 19,
        // whose lowest row has only the last but one.
        ASSERT_EQ(differ->steps.size(), 1U);
        for (const auto& [name, one] : differ->steps[0])
            EXPECT_EQ(one, name == "I18" || name == "I19") << name << " with " << threads;
        EXPECT_EQ(differ->first, Level::zero);
        EXPECT_EQ(differ->second, Level::one);
    }
}

TEST(Equivalence, TooManyInputsAreNotProven) {
    const auto a = test::network(parity(30, false)), b = test::network(parity(30, true));
    Progress progress;
    const auto e = compare_networks(a, b, {}, progress);
    ASSERT_TRUE(e);
    EXPECT_EQ(e->answer, Equivalence::Answer::not_proven);
    EXPECT_THAT(e->note, HasSubstr("30 inputs"));
    const auto differ = compare_networks(a, test::network(parity(30, false, true)), {}, progress);
    ASSERT_TRUE(differ);
    EXPECT_EQ(differ->answer, Equivalence::Answer::differ);
}

TEST(Equivalence, ItHoldsInputsByNameNotByPlace) {
    Progress progress;
    const auto a = test::network(std::string(
        "input A B C\noutput Y\nU1 74x10 hc: 1A=A 1B=B 1C=C 1Y=Y 2A=0 2B=0 2C=0 3A=0 3B=0 3C=0\n"));
    const auto b = test::network(
        "input C A B\noutput Y\nU1 74x08 hc: 1A=A 1B=B 1Y=m 2A=0 2B=0 3A=0 3B=0 4A=0 4B=0\nU2 74x00 hc: 1A=m "
        "1B=C 1Y=Y 2A=0 2B=0 3A=0 3B=0 4A=0 4B=0\n");
    EXPECT_EQ(compare_networks(a, b, {}, progress)->answer, Equivalence::Answer::equal);
    EXPECT_THAT(test::message(compare_networks(
                    a, test::network("input A\noutput Y\nU1 74x04 hc: 1A=A 1Y=Y\n"), {}, progress)),
                HasSubstr("in only one of the networks"));
}

const char* const toggle_74 = "input C /R\noutput Q\nU1 74x74 hc: 1D=n 1CLK=C /1CLR=/R /1PRE=1 1Q=Q /1Q=n\n";

TEST(Equivalence, PartsWithStorageAreWalkedStateByState) {
    Progress progress;
    // A divider by two from a counter's first stage: cleared low, toggles at each rise.
    const char* counter =
        "input C /R\noutput Q\nU1 74x161 hc: CLK=C /CLR=/R ENP=1 ENT=1 /LOAD=1 P0=0 P1=0 P2=0 P3=0 Q0=Q\n";
    const auto same = compare_networks(test::network(toggle_74), test::network(counter), {}, progress);
    ASSERT_TRUE(same) << same.error().message();
    EXPECT_EQ(same->answer, Equivalence::Answer::equal) << same->steps.size();
    // Its second stage divides by four.
    std::string slow = counter;
    slow.replace(slow.find("Q0=Q"), 4, "Q1=Q");
    const auto differ = compare_networks(test::network(toggle_74), test::network(slow), {}, progress);
    ASSERT_TRUE(differ);
    EXPECT_EQ(differ->answer, Equivalence::Answer::differ);
    // Everything at 0 (so cleared), then /R, then C: the first toggles, the second does not.
    EXPECT_EQ(differ->output, "Q");
    ASSERT_GE(differ->steps.size(), 3U);
    EXPECT_NE(differ->first, differ->second);
}

TEST(Equivalence, BeyondTheStatesItSaysHowDeepItSaw) {
    Progress progress;
    EquivalenceLimits limits;
    limits.states = 20;
    const char* counter =
        "input C /R\noutput Q\nU1 74x161 hc: CLK=C /CLR=/R ENP=1 ENT=1 /LOAD=1 P0=0 P1=0 P2=0 P3=0 Q3=Q\n";
    const auto e = compare_networks(test::network(counter), test::network(counter), limits, progress);
    ASSERT_TRUE(e);
    EXPECT_EQ(e->answer, Equivalence::Answer::not_proven);
    EXPECT_THAT(e->note, HasSubstr("more than 20 states"));
    EXPECT_GT(e->depth, 0U);
    EXPECT_EQ(compare_networks(test::network(counter), test::network(counter), {}, progress)->answer,
              Equivalence::Answer::equal);
}

TEST(StepMachine, ShowsWhatACounterHolds) {
    const auto n = test::network(
        "input C /R\noutput q0 q1\nU1 74x161 hc: CLK=C /CLR=/R ENP=1 ENT=1 /LOAD=1 P0=0 P1=0 P2=0 P3=0 Q0=q0 "
        "Q1=q1\n");
    StepMachine m(n);
    // Inputs begin at 0, so it is cleared.
    EXPECT_EQ(m.net(*n.find_net("q0")), Level::zero);
    ASSERT_TRUE(m.set(1, Level::one));
    for (int i = 1; i <= 5; ++i) {
        ASSERT_TRUE(m.set(0, Level::one));
        EXPECT_EQ(m.net(*n.find_net("q0")), (i & 1) != 0 ? Level::one : Level::zero) << i;
        EXPECT_EQ(m.net(*n.find_net("q1")), (i & 2) != 0 ? Level::one : Level::zero) << i;
        ASSERT_TRUE(m.set(0, Level::zero));
    }
}

TEST(Hazards, TheClassicSelectorTwitchesAndItsCoveredFormDoesNot) {
    // Y = A·B + B'·C has a static 1-hazard at A = C = 1 when B changes; with the term A·C added it has none.
    Progress progress;
    const std::string head = "input A B C\noutput Y\nU1 74x04 hc: 1A=B 1Y=nb 2A=0 3A=0 4A=0 5A=0 6A=0\n";
    const auto bare = find_hazards(
        test::network(head + "U2 74x00 hc: 1A=A 1B=B 1Y=p 2A=nb 2B=C 2Y=q 3A=p 3B=q 3Y=Y 4A=0 4B=0\n"),
        progress);
    ASSERT_TRUE(bare);
    EXPECT_EQ(bare->count, 1);
    ASSERT_EQ(bare->hazards.size(), 1U);
    EXPECT_EQ(bare->hazards[0].input, "B");
    EXPECT_TRUE(bare->hazards[0].level);
    EXPECT_THAT(bare->hazards[0].at, testing::ElementsAre(true, false, true));
    EXPECT_EQ(bare->transitions, 3 * 4);
    const auto covered = find_hazards(
        test::network(head + "U2 74x00 hc: 1A=A 1B=B 1Y=p 2A=nb 2B=C 2Y=q 3A=A 3B=C 3Y=r 4A=0 4B=0\nU3 74x10 "
                             "hc: 1A=p 1B=q 1C=r 1Y=Y 2A=0 2B=0 2C=0 3A=0 3B=0 3C=0\n"),
        progress);
    ASSERT_TRUE(covered);
    EXPECT_EQ(covered->count, 0);
}

MinimiseResult smallest(const std::string& rows, const std::vector<std::string>& drawer,
                        MinimiseLimits limits = {}) {
    Progress progress;
    const auto wanted = wanted_from_text(rows, "t");
    EXPECT_TRUE(wanted) << wanted.error().message();
    std::vector<DrawerItem> items;
    for (const auto& d : drawer) items.push_back(*parse_drawer_item(d));
    auto m = minimise(*wanted, items, test::shipped_logic(), limits, progress);
    EXPECT_TRUE(m) << m.error().message();
    return m ? std::move(*m) : MinimiseResult{};
}

TEST(Minimise, FindsTheKnownSmallestNandForms) {
    // Textbook: exclusive OR takes four NAND gates, OR three, AND two, inversion one.
    for (const auto& [rows, gates] : {std::pair{"a b | y\n0 0 | 0\n0 1 | 1\n1 0 | 1\n1 1 | 0\n", 4},
                                      {"a b | y\n0 0 | 0\n0 1 | 1\n1 - | 1\n", 3},
                                      {"a b | y\n1 1 | 1\n0 - | 0\n1 0 | 0\n", 2},
                                      {"a | y\n0 | 1\n1 | 0\n", 1}}) {
        const auto m = smallest(rows, {"1 × 74x00 hct"});
        ASSERT_FALSE(m.best.empty()) << rows;
        EXPECT_EQ(m.best[0].gates, gates) << rows;
        EXPECT_TRUE(m.complete);
        EXPECT_THAT(m.best[0].packages, testing::ElementsAre("74x00 hct"));
    }
}

TEST(Minimise, PrefersOnePackageAndListsSpareGates) {
    const char* half_adder = "a b | s c\n0 0 | 0 0\n0 1 | 1 0\n1 0 | 1 0\n1 1 | 0 1\n";
    const auto two = smallest(half_adder, {"1 × 74x86 hct", "1 × 74x08 hct"});
    ASSERT_FALSE(two.best.empty());
    EXPECT_EQ(two.best[0].gates, 2);
    EXPECT_EQ(two.best[0].packages.size(), 2U);
    EXPECT_THAT(two.best[0].spare, testing::Contains(HasSubstr("3 of 4 gates")));
    // A selector alone does what a gate and an inverter would.
    const auto one = smallest("s a b | y\n0 0 - | 0\n0 1 - | 1\n1 - 0 | 0\n1 - 1 | 1\n",
                              {"1 × 74x00 hct", "1 × 74x157 hct"});
    ASSERT_FALSE(one.best.empty());
    EXPECT_EQ(one.best[0].packages.size(), 1U);
}

TEST(Minimise, InnerNetsDoNotTakeTheTablesNames) {
    const auto m = smallest("n1 nn2 | n3\n0 0 | 0\n0 1 | 1\n1 0 | 1\n1 1 | 0\n", {"1 × 74x00 hct"});
    ASSERT_FALSE(m.best.empty()) << m.note;
    EXPECT_EQ(m.best[0].gates, 4);
}

TEST(Minimise, UsesDontCares) {
    // Only 1 1 and 0 0 matter: a wire would do, but the wanted output is inverted.
    const auto m = smallest("a b | y\n0 0 | 1\n1 1 | 0\n", {"1 × 74x04 hct"});
    ASSERT_FALSE(m.best.empty());
    EXPECT_EQ(m.best[0].gates, 1);
}

TEST(Minimise, EveryAnswerIsANetListThatDoesWhatWasAsked) {
    // Seeded functions of three inputs; each answer is read back and its table compared, and no smaller one
    // exists in gates than brute force over fewer gates found (the search itself goes through all smaller
    // counts first).
    Random random(7);
    for (int i = 0; i < 12; ++i) {
        WantedLogic w;
        w.inputs = {"a", "b", "c"};
        w.outputs = {{"y", random.next() & 0xFF, 0xFF}};
        Progress progress;
        MinimiseLimits limits;
        limits.packages = 2;
        limits.gates = 5;
        limits.steps = 3'000'000;
        const auto m = minimise(w, {{1, "74x00", "hct"}, {1, "74x86", "hct"}, {1, "74x04", "hct"}},
                                test::shipped_logic(), limits, progress);
        ASSERT_TRUE(m);
        for (const auto& r : m->best) {
            const auto back = wanted_from(test::network(r.net_list), progress);
            ASSERT_TRUE(back) << r.net_list;
            EXPECT_EQ(back->outputs[0].ones, w.outputs[0].ones) << r.net_list;
        }
    }
}

TEST(Minimise, SaysWhenThereIsNone) {
    const auto none = smallest("a b | y\n0 0 | 0\n0 1 | 1\n1 0 | 1\n1 1 | 0\n", {"1 × 74x08 hct"});
    EXPECT_TRUE(none.best.empty());
    EXPECT_TRUE(none.complete);
    EXPECT_THAT(none.note, HasSubstr("none with up to"));
    EXPECT_THAT(smallest("a b | y\n1 - | 1\n0 - | 0\n", {"1 × 74x08 hct"}).note,
                HasSubstr("no gate is needed"));
    MinimiseLimits few;
    few.steps = 50;
    const auto cut = smallest(
        "a b c | y\n0 0 0 | 1\n0 1 1 | 1\n1 0 1 | 1\n1 1 0 | 1\n0 0 1 | 0\n0 1 0 | 0\n1 0 0 | 0\n1 1 1 | 0\n",
        {"2 × 74x00 hct"}, few);
    EXPECT_FALSE(cut.complete);
}

TEST(Minimise, WrongTablesAndDrawersAreSaid) {
    for (const auto& [text, line, expected] : {std::tuple{"a b y\n", 1L, "inputs | outputs"},
                                               {"a | y\n2 | 1\n", 2L, "0, 1 or -"},
                                               {"a | y\n0 | 1\n0 | 0\n", 3L, "each setting"},
                                               {"a | y\n0 0 | 1\n", 2L, "1 inputs"},
                                               {"a a | y\n", 1L, "each name once"},
                                               {"", 1L, "a heading"}}) {
        const auto w = wanted_from_text(text, "t");
        ASSERT_FALSE(w) << text;
        EXPECT_EQ(w.error().line, line) << text;
        EXPECT_THAT(w.error().expected, HasSubstr(expected)) << text;
    }
    EXPECT_FALSE(parse_drawer_item("0 × 74x00 hct"));
    EXPECT_FALSE(parse_drawer_item("74x00"));
    EXPECT_EQ(print_drawer_item(*parse_drawer_item("3 x 74x00 hct")), "3 × 74x00 hct");
    EXPECT_EQ(*parse_drawer_item("74x00 hct"), (DrawerItem{1, "74x00", "hct"}));
}

TEST(Verilog, NamesThatTheLanguageCannotHoldAreEscaped) {
    EXPECT_EQ(verilog_name("A1"), "A1");
    EXPECT_EQ(verilog_name("/LD"), "\\/LD ");
    EXPECT_EQ(verilog_name("reg"), "\\reg ");
    EXPECT_EQ(verilog_name("1A"), "\\1A ");
    const auto text =
        to_verilog(test::network("input A\noutput Y\nU1 74x04 hct: 1A=A 1Y=Y\n"), "m", Corner::slow, "note");
    EXPECT_THAT(text, HasSubstr("assign #(30000,30000,30000) Y = ~A;"));
    EXPECT_THAT(text, HasSubstr("// note"));
}

}  // namespace
}  // namespace grayrelic
