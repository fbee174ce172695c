// SPDX-License-Identifier: GPL-3.0-or-later
// Expressions, net lists and what is said about wrong ones.
#include <gmock/gmock.h>

#include "tests/core/logic/logic_helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

TEST(Expression, BindsNotThenAndThenXorThenOrThenChoice) {
    // For each setting of a, b, c (bit 0 = a …): the value by the language's own operators.
    struct Row {
        const char* text;
        bool (*value)(bool a, bool b, bool c);
    };
    const Row rows[] = {{"a | b & c", [](bool a, bool b, bool c) { return a || (b && c); }},
                        {"a ^ b | c", [](bool a, bool b, bool c) { return (a != b) || c; }},
                        {"!a & b ^ c", [](bool a, bool b, bool c) { return (!a && b) != c; }},
                        {"a ? b : c", [](bool a, bool b, bool c) { return a ? b : c; }},
                        {"a ? b : c ? a : !b", [](bool a, bool b, bool c) { return a ? b : (c ? a : !b); }},
                        {"!(a | b) & (c | 1)", [](bool a, bool b, bool) { return !(a || b); }},
                        {"0 | a", [](bool a, bool, bool) { return a; }}};
    for (const auto& row : rows) {
        const auto e = Expression::parse(row.text);
        ASSERT_TRUE(e) << row.text << e.error().message();
        for (unsigned i = 0; i < 8; ++i) {
            std::vector<Levels> in;
            for (const auto& name : e->names())
                in.push_back(known(((i >> (name[0] - 'a')) & 1U) != 0 ? ~0ULL : 0));
            const auto v = e->evaluate(in);
            EXPECT_EQ(v, known(row.value((i & 1U) != 0, (i & 2U) != 0, (i & 4U) != 0) ? ~0ULL : 0))
                << row.text << " at " << i;
        }
    }
}

TEST(Expression, UnknownFollowsKleene) {
    const auto eval = [](const char* text, Levels a, Levels b) {
        const auto e = Expression::parse(text);
        std::vector<Levels> in;
        for (const auto& n : e->names()) in.push_back(n == "a" ? a : b);
        return e->evaluate(in);
    };
    const Levels one = known(~0ULL), zero = known(0), x{};
    EXPECT_EQ(eval("a & b", x, zero), zero);
    EXPECT_EQ(eval("a & b", x, one), x);
    EXPECT_EQ(eval("a | b", x, one), one);
    EXPECT_EQ(eval("a ^ b", x, one), x);
    EXPECT_EQ(eval("a ? b : b", x, one), one);
    EXPECT_EQ(eval("a ? b : !b", x, one), x);
}

TEST(Expression, SaysWhatIsWrong) {
    for (const auto& [text, expected] : {std::pair{"a &", "a pin's name"},
                                         {"(a", "\")\""},
                                         {"a ? b", "\":\""},
                                         {"a b", "an operator"},
                                         {"", "a pin's name"},
                                         {"a @ b", "an operator"}}) {
        const auto e = Expression::parse(text);
        ASSERT_FALSE(e) << text;
        EXPECT_THAT(e.error().expected, HasSubstr(expected)) << text;
    }
    EXPECT_FALSE(Expression::parse(std::string(200, '(') + "a" + std::string(200, ')')));
    EXPECT_FALSE(Expression::parse(std::string(5000, 'a')));
}

TEST(PartLogic, EveryShippedPartIsReadAndHasDelaysInOrder) {
    EXPECT_TRUE(test::shipped_logic().problems.empty()) << test::shipped_logic().problems.front().message();
    // Gates, selectors, decoders, latches, registers, counters, buffers and switches, in the six families.
    std::set<std::string> families;
    for (const auto& [id, p] : test::shipped_logic().parts)
        for (const auto& d : p.delays) {
            families.insert(d.family);
            for (const auto* list : {&d.gates, &d.storage})
                for (const auto& [fast, slow] : {std::pair{0, 1}, {1, 2}}) {
                    EXPECT_LE((*list)[static_cast<std::size_t>(fast)].rise,
                              (*list)[static_cast<std::size_t>(slow)].rise)
                        << id;
                    EXPECT_GT((*list)[static_cast<std::size_t>(fast)].fall, Time{}) << id;
                }
        }
    EXPECT_THAT(families, testing::ElementsAre("4000b", "ahct", "hc", "hct", "ls", "lvc"));
    for (const char* id :
         {"74x00", "74x157", "74x138", "74x373", "74x165", "74x161", "74x244", "74x4066", "4021"})
        EXPECT_NE(test::shipped_logic().find(id), nullptr) << id;
}

TEST(PartLogic, RefusesWhatCannotBe) {
    const auto broken = [](const std::string& logic) {
        const auto part = part_from_json(
            R"({"id":"p","name":"p","function":"logic","source":"s","pins":[["1","A","in"],["2","Y","out"]],"logic":)" +
                logic + "}",
            "p.json");
        const auto l = part_logic(*part);
        return l ? std::string("(no error)") : l.error().message();
    };
    EXPECT_THAT(broken(R"({"outputs":[["Y","!B"]]})"), HasSubstr("name of a pin"));
    EXPECT_THAT(broken(R"({"outputs":[["Y","!A"]],"delays":{"hc":{"supply_v":5,"gates":[0,1,2]}}})"),
                HasSubstr("above 0"));
    EXPECT_THAT(broken(R"({"outputs":[["Y","!A"]],"delays":{"hc":{"supply_v":5,"gates":[-3,1,2]}}})"),
                HasSubstr("above 0"));
    EXPECT_THAT(broken(R"({"outputs":[["Y","!A"]],"delays":{"hc":{"supply_v":5,"gates":[3,1,2]}}})"),
                HasSubstr("not above"));
    EXPECT_THAT(broken(R"({"bits":["q"],"outputs":[["Y","q"]]})"), HasSubstr("a rule for each"));
    EXPECT_THAT(broken(R"({"bits":["q"],"outputs":[["Y","q"]],"rules":[{"rise":"C","set":{"q":"A"}}]})"),
                HasSubstr("name of a pin"));
    EXPECT_THAT(broken(R"({"outputs":[]})"), HasSubstr("at least one output"));
}

TEST(Network, ReadsPartsNetsAndInputs) {
    const auto n = test::network(
        "# a selector made of gates\n"
        "input A B\ninput S = 1\ninput C = bit3\n"
        "output Y\npull W 1\n"
        "U1 74x00 hct: 1A=A 1B=S 1Y=n1,\n"
        "   2A=n1 2B=B 2Y=Y 3A=C 3B=W 3Y=n3 4A=0 4B=0\n");
    EXPECT_TRUE(n.computable()) << n.problems.front().says;
    EXPECT_TRUE(n.problems.empty());
    ASSERT_EQ(n.parts.size(), 1U);
    EXPECT_EQ(n.parts[0].family, "hct");
    ASSERT_EQ(n.inputs.size(), 4U);
    EXPECT_EQ(n.inputs[2].from, NetworkInput::From::level);
    EXPECT_TRUE(n.inputs[2].level);
    EXPECT_EQ(n.inputs[3].bit, 3);
    EXPECT_EQ(n.nets[static_cast<std::size_t>(*n.find_net("W"))].pull, true);
    const auto spare = spare_gates(n);
    ASSERT_EQ(spare.size(), 1U);
    EXPECT_THAT(spare[0].unused, testing::ElementsAre("4Y"));
}

TEST(Network, StagesCountGatesFromTheInputs) {
    const auto n = test::network(
        "input A\noutput Y\nU3 74x04 hc: 1A=m 1Y=Y\nU1 74x04 hc: 1A=A 1Y=k\nU2 74x04 hc: 1A=k 1Y=m\n");
    EXPECT_THAT(stages_of(n), testing::ElementsAre(2, 0, 1));
}

struct Wrong {
    const char* text;
    long line;
    bool fatal;
    const char* says;
    const char* expected;
};

TEST(Network, EachFaultIsSaidAtItsLine) {
    const std::vector<Wrong> cases = {
        {"input A\noutput Y\nU1 74x999 hc: 1A=A 1Y=Y\n", 3, true, "74x999", "data/parts"},
        {"input A\noutput Y\nU1 74x04 ecl: 1A=A 1Y=Y\n", 3, true, "ecl", "one of ahct, hc"},
        {"input A\noutput Y\nU1 74x04 hc: 9A=A 1Y=Y\n", 3, true, "9A", "one of 1A"},
        {"input A\noutput Y\nU1 74x04 hc: 1A=A 1A=A 1Y=Y\n", 3, true, "a second time", "each pin once"},
        {"input A\noutput Y\nU1 74x04 hc: 1A=A 1Y=Y\nU1 74x04 hc: 1A=A\n", 4, true, "a second time",
         "each part's name once"},
        {"input A\noutput Y\nU1 74x04 hc: 1A=A 1Y=Y 2A=A 2Y=Y\n", 2, true, "two drivers: U1.1Y and U1.2Y",
         "one driver"},
        {"input A\noutput A\nU1 74x04 hc: 1A=A 1Y=A\n", 1, true, "driven from outside and by U1.1Y",
         "one driver"},
        {"input A\noutput Y\nU1 74x00 hc: 1A=A 1B=lost 1Y=Y\n", 3, true, "nobody drives net lost",
         "an output, an input line or a pull"},
        {"input A\noutput Y\nU1 74x00 hc: 1A=A 1Y=Y\n", 3, false, "input 1B of U1 is left open",
         "an open input floats"},
        {"input A\noutput Y\nU1 74x00 hc: 1A=A 1B=Y 1Y=Y\n", 2, false, "a loop of gates through net Y",
         "storage"},
        {"input A = 2\noutput Y\nU1 74x04 hc: 1A=A 1Y=Y\n", 1, true, "\"2\"", "0, 1 or bitN"},
        {"input A = bit0\noutput Y\nU1 74x04 hc: 1A=A 1Y=Y\n", 1, true, "bit0", "bit1 to bit4096"},
        {"input A\nU1 74x04 hc: 1A=A 1Y=Y\n", 1, true, "no output", "output NET"},
        {"input A\noutput Y\nnonsense\nU1 74x04 hc: 1A=A 1Y=Y\n", 3, true, "nonsense", "REF PART FAMILY"},
        {"   1A=A\n", 1, true, "1A=A", "a part's line above"},
        {"input A\noutput Y\nU1 74x04 hc: 1A=A 1Y=Y@\n", 3, true, "Y@", "a name of letters"},
        {",,\n", 1, true, ",,", "REF PART FAMILY"},
        {"pull Y 3\n", 1, true, "pull Y 3", "pull NET 0"},
        {"input 1\noutput Y\nU1 74x04 hc: 1A=1 1Y=Y\n", 1, true, "the level 1 as an input", "a net's name"},
    };
    for (const auto& c : cases) {
        const auto n = test::network(c.text);
        const auto it = std::find_if(n.problems.begin(), n.problems.end(), [&](const NetworkProblem& p) {
            return p.says.find(c.says) != std::string::npos;
        });
        ASSERT_NE(it, n.problems.end())
            << c.text << " said: " << (n.problems.empty() ? "nothing" : n.problems.front().says);
        EXPECT_EQ(it->line, c.line) << c.text;
        EXPECT_EQ(it->fatal, c.fatal) << c.text;
        EXPECT_THAT(it->expected, HasSubstr(c.expected)) << c.text;
    }
    EXPECT_FALSE(test::network("").computable());
}

TEST(Network, HugeAndHostileTextEnds) {
    std::string many = "output n0\n";
    for (int i = 0; i < 3000; ++i)
        many += "U" + std::to_string(i) + " 74x04 hc: 1A=n" + std::to_string(i) + " 1Y=n" +
                std::to_string(i + 1) + "\n";
    EXPECT_FALSE(test::network(many).computable());
    EXPECT_FALSE(test::network(std::string(300'000, '\n')).computable());
    std::string noise;
    for (int i = 0; i < 20'000; ++i) noise += static_cast<char>((i * 7919) % 251 + 1);
    (void)test::network(noise);
}

}  // namespace
}  // namespace grayrelic
