// SPDX-License-Identifier: GPL-3.0-or-later
// What meets when a plug goes in wrong, and what it does. Limits and levels are those of data/families.
#include "core/port/misinsert.hpp"

#include "core/port/connector_library.hpp"
#include "core/port/pin_entry.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

const ConnectorLibrary& connectors() {
    static const auto l = ConnectorLibrary::load(disk(), {test::source_folder() / "data"});
    return l;
}
const FamilyLibrary& families() {
    static const auto l = FamilyLibrary::load(disk(), {test::source_folder() / "data"});
    return l;
}

Pin pin(const std::string& number, const std::string& line) {
    Pin p;
    p.number = number;
    const auto entered = pin_with_entry(p, line, {});
    EXPECT_TRUE(entered) << line;
    return *entered;
}

std::vector<Pin> pins(const std::vector<std::string>& lines) {
    std::vector<Pin> out;
    for (std::size_t i = 0; i < lines.size(); ++i)
        if (!lines[i].empty()) out.push_back(pin(std::to_string(i + 1), lines[i]));
    return out;
}

struct Pair {
    const char* socket;  ///< on the relic's port
    const char* plug;    ///< what the plug was made to meet
    Verdict verdict;
    const char* says;
};
class Meetings : public testing::TestWithParam<Pair> {};
TEST_P(Meetings, AreJudged) {
    const auto a = pin("1", GetParam().socket), b = pin("2", GetParam().plug);
    const auto m =
        meet(terminal(&a, Side::relic, true, families()), terminal(&b, Side::relic, false, families()));
    EXPECT_EQ(m.verdict, GetParam().verdict) << m.why;
    EXPECT_THAT(m.why, testing::HasSubstr(GetParam().says));
}
INSTANTIATE_TEST_SUITE_P(
    Pairs, Meetings,
    testing::Values(
        Pair{"+5 V supply 5V 120mA", "ground", Verdict::stop, "only its 120 mA limit"},
        Pair{"+5 V supply 5V", "ground", Verdict::stop, "nothing known limits the current"},
        // HCT endures 5.5 + 0.5 V, LS 7 V, LVC 6.5 V, TTL 5.5 V.
        Pair{"+12 V supply 12V", "HOLD relic hct", Verdict::stop, "endures −500 mV to 6.00 V"},
        Pair{"+12 V supply 12V", "HOLD relic lvc", Verdict::stop, "6.50 V"},
        Pair{"+5 V supply 5V", "HOLD relic ttl", Verdict::holds, "within its limits"},
        Pair{"+5 V supply 5V", "HOLD relic hct", Verdict::doubt, "feeds the part through its input"},
        Pair{"-12 V supply -12V", "HOLD relic rs232", Verdict::holds, "within its limits"},
        Pair{"-12 V supply -12V", "HOLD relic ls", Verdict::stop, "endures −500 mV"},
        Pair{"+5 V supply 5V", "HOLD relic", Verdict::doubt, "limits are not known"},
        Pair{"+5 V supply 5V", "REPLY bridge hct push-pull", Verdict::stop, "drives against a supply"},
        Pair{"+5 V supply 5V", "REPLY bridge oc", Verdict::stop, "whole current"},
        Pair{"+5 V supply 5V", "+5 V supply 5V", Verdict::holds, "which wants 5.00 V"},
        Pair{"+12 V supply 12V", "+5 V supply 5V", Verdict::stop, "which wants 5.00 V"},
        Pair{"+5 V supply 5V", "+12 V supply 12V", Verdict::doubt, "only 5.00 V"},
        Pair{"-12 V supply -12V", "+12 V supply 12V", Verdict::stop, "wrong way round"},
        Pair{"+5 V supply 5V", "odd", Verdict::doubt, "of which nothing is known"},
        // A relic-driven output of TTL gives up to 5.25 V; an LVC input endures 6.5 V.
        Pair{"STEP relic ttl", "HOLD relic lvc", Verdict::holds, "drives"},
        Pair{"TXD relic rs232", "HOLD relic hct", Verdict::stop, "up to 15.0 V"},
        Pair{"STEP relic ttl", "REPLY bridge hct", Verdict::stop, "both drive the line"},
        Pair{"STEP relic oc", "REPLY bridge oc", Verdict::holds, "share a line"},
        Pair{"STEP relic ttl", "REPLY bridge oc", Verdict::doubt, "one of them only pulls low"},
        Pair{"STEP relic ttl", "ground", Verdict::doubt, "shorted"},
        Pair{"STEP relic oc", "ground", Verdict::holds, "only pulls low"},
        Pair{"STEP relic ttl", "+5 V supply 5V", Verdict::doubt, "asked to feed"},
        Pair{"REPLY bridge hct", "STEP relic hct", Verdict::holds, "nobody drives"},
        Pair{"ground", "ground", Verdict::holds, "Ground on ground"},
        Pair{"ground", "+5 V supply 5V", Verdict::holds, "gets no supply"},
        Pair{"ground", "HOLD relic ttl", Verdict::holds, "held at ground"},
        Pair{"n.c.", "+5 V supply 5V", Verdict::holds, "not connected"},
        Pair{"odd", "HOLD relic ttl", Verdict::unknown, "too little is known"}));

struct Rig {
    Connector connector;
    std::vector<Pin> table;
    Face face;
    std::vector<WrongCase> cases;
    Rig(const std::string& id, const std::vector<std::string>& lines)
        : connector(*connectors().find(id)), table(pins(lines)) {
        face = {&connector, {}, &table, Side::relic};
        cases = wrong_cases(face, face, families());
    }
    const WrongCase* find(const std::string& id) const {
        for (const auto& c : cases)
            if (c.id == id) return &c;
        return nullptr;
    }
};

// 1 × 4: turned by half, 1 meets 4 and 2 meets 3.
TEST(Misinsert, AReversedRowMeetsFromTheOtherEnd) {
    const Rig r("header-1x4", {"+5 V supply 5V", "HOLD relic ttl", "REPLY bridge hct", "GND"});
    const auto* c = r.find("reversed");
    ASSERT_NE(c, nullptr);
    EXPECT_EQ(c->possible, Possible::easy);
    EXPECT_EQ(c->verdict, Verdict::stop);
    EXPECT_EQ(c->landed, 4U);
    ASSERT_EQ(c->collisions.size(), 4U);
    for (const auto& x : c->collisions) EXPECT_EQ(x.plug_contact + x.socket_contact, 3U);
    EXPECT_TRUE(c->ground_missing);
}

// Shifted by one, three of four meet; the first and last stay free.
TEST(Misinsert, AShiftLeavesOneContactFree) {
    const Rig r("header-1x4", {"+5 V supply 5V", "HOLD relic ttl", "REPLY bridge hct", "GND"});
    for (const char* id : {"shifted-left", "shifted-right"}) {
        const auto* c = r.find(id);
        ASSERT_NE(c, nullptr) << id;
        EXPECT_EQ(c->landed, 3U);
        for (const auto& x : c->collisions)
            EXPECT_EQ(std::max(x.plug_contact, x.socket_contact) - std::min(x.plug_contact, x.socket_contact),
                      1U);
    }
    EXPECT_EQ(r.find("shifted-up"), nullptr) << "one row has no row to be off by";
}

TEST(Misinsert, TwoRowsShiftByColumnsAndByRows) {
    const Rig r("header-2x4", {"+5 V supply 5V", "GND", "A relic ttl", "B relic ttl", "C bridge hct",
                               "D bridge hct", "E relic ttl", "GND"});
    EXPECT_EQ(r.find("shifted-left")->landed, 6U);
    EXPECT_EQ(r.find("shifted-up")->landed, 4U);
    EXPECT_EQ(r.find("rows-swapped")->landed, 8U);
    EXPECT_EQ(r.find("rows-swapped")->possible, Possible::by_hand);
    // Rows exchanged: +5 V of 1 meets the ground of 2.
    EXPECT_EQ(r.find("rows-swapped")->verdict, Verdict::stop);
}

TEST(Misinsert, AKeyIsSaidAndStillShown) {
    const Rig r("dsub-9", {"+5 V supply 5V", "GND", "HOLD relic ttl", "STEP relic ttl", "REPLY bridge hct"});
    EXPECT_EQ(r.find("reversed"), nullptr) << "turned, its rows do not meet";
    ASSERT_NE(r.find("mirrored"), nullptr);
    EXPECT_EQ(r.find("mirrored")->possible, Possible::by_hand);
    EXPECT_EQ(r.find("shifted-left")->possible, Possible::prevented);
    EXPECT_FALSE(r.find("mirrored")->ground_missing) << "the shells touch first";
}

// USB C is made to go in both ways: A1 and B1 are twins, so supplies and grounds meet their own.
TEST(Misinsert, AConnectorForBothWaysHolds) {
    Connector c = *connectors().find("usb-c");
    std::vector<Pin> table;
    for (const char side : {'A', 'B'})
        for (int i = 1; i <= 12; ++i)
            if (i == 1 || i == 12)
                table.push_back(pin(side + std::to_string(i), "GND"));
            else if (i == 4 || i == 9)
                table.push_back(pin(side + std::to_string(i), "VBUS supply 5V"));
    const Face face{&c, {}, &table, Side::relic};
    const auto cases = wrong_cases(face, face, families());
    const auto turned =
        std::find_if(cases.begin(), cases.end(), [](const auto& x) { return x.id == "reversed"; });
    ASSERT_NE(turned, cases.end());
    EXPECT_EQ(turned->verdict, Verdict::holds);
    EXPECT_EQ(turned->landed, 24U);
}

TEST(Misinsert, AnotherPortOfTheSameShape) {
    const auto c = *connectors().find("din-5-180");
    const auto small = *connectors().find("din-3");
    const auto socket = pins({"+12 V supply 12V", "GND", "HOLD relic ttl", "A relic ttl", "B bridge ttl"});
    const auto plug = pins({"SIGNAL relic hct", "GND", "+5 V supply 5V"});
    const Face s{&c, {}, &socket, Side::relic}, p{&small, {}, &plug, Side::relic};
    const auto cases = wrong_cases(s, p, families());
    const auto wrong =
        std::find_if(cases.begin(), cases.end(), [](const auto& x) { return x.id == "wrong-port"; });
    ASSERT_NE(wrong, cases.end());
    EXPECT_EQ(wrong->landed, 3U);
    EXPECT_EQ(wrong->possible, Possible::easy);
    EXPECT_EQ(wrong->verdict, Verdict::stop) << "12 V on an HCT input";
}

// A 20-contact supply plug in a 24-contact socket: in place, or off by one to four columns.
TEST(Misinsert, ASupplyPlugCanSitOffItsPlace) {
    const auto big = *connectors().find("board-power-24");
    const auto small = *connectors().find("board-power-20");
    const auto socket = pins({"+3.3 V supply 3.3V", "+3.3 V supply 3.3V", "GND", "+5 V supply 5V", "GND"});
    const auto plug = pins({"+3.3 V supply 3.3V", "+3.3 V supply 3.3V", "GND", "+5 V supply 5V", "GND"});
    const Face s{&big, {}, &socket, Side::relic}, p{&small, {}, &plug, Side::relic};
    std::vector<std::string> ids;
    for (const auto& c : wrong_cases(s, p, families())) ids.push_back(c.id);
    EXPECT_THAT(ids, testing::Contains("wrong-port"));
    EXPECT_THAT(ids, testing::Contains("shifted-right"));
    EXPECT_THAT(ids, testing::Contains("shifted-right-by-2"));
}

TEST(Misinsert, EveryCaseKeepsContactCounts) {
    for (const char* id :
         {"header-1x9", "header-2x10", "edge-2x15", "dsub-25", "din-7", "mini-din-9", "av-21"}) {
        const auto c = *connectors().find(id);
        std::vector<Pin> table;
        for (const auto& n : c.numberings.front().numbers)
            table.push_back(pin(n, table.size() % 3 == 0 ? "S relic ttl" : "GND"));
        const Face face{&c, {}, &table, Side::relic};
        for (const auto& x : wrong_cases(face, face, families())) {
            EXPECT_EQ(x.landing.size(), c.contacts.size());
            EXPECT_LE(x.collisions.size(), x.landed);
            EXPECT_EQ(x.landed, landed(x.landing));
        }
    }
}

// Contact 4 is free. Turned by half, 2 lands on 4: a blocked hole 4 holds that off.
TEST(Remedy, AKeyAtAFreeContactIsFound) {
    const Rig r("header-1x5", {"+5 V supply 5V", "GND", "HOLD relic ttl", "", "GND"});
    const auto help = remedies(r.face, r.face, families(), r.cases);
    const auto key =
        std::find_if(help.begin(), help.end(), [](const Remedy& x) { return x.kind == Remedy::Kind::key; });
    ASSERT_NE(key, help.end());
    EXPECT_THAT(key->says, testing::HasSubstr("Cut pin 4"));
    EXPECT_LT(key->stops_after, key->stops_before);
    EXPECT_THAT(key->prevented, testing::Contains("reversed"));
}

TEST(Remedy, AContactNobodyKnowsIsNoPlaceForAKey) {
    Rig r("header-1x4", {"+5 V supply 5V", "HOLD relic ttl", "", "GND"});
    Pin blank;
    blank.number = "3";
    r.table.push_back(blank);
    const auto cases = wrong_cases(r.face, r.face, families());
    for (const auto& x : remedies(r.face, r.face, families(), cases))
        EXPECT_NE(x.kind, Remedy::Kind::key) << x.says;
}

// 1 × 3 with the supply in the middle: turned by half it meets itself, and grounds outside meet grounds.
TEST(Remedy, AnotherOrderIsFound) {
    const Rig r("header-1x3", {"+5 V supply 5V", "GND", "GND"});
    EXPECT_EQ(r.find("reversed")->verdict, Verdict::stop);
    const auto help = remedies(r.face, r.face, families(), r.cases);
    const auto order =
        std::find_if(help.begin(), help.end(), [](const Remedy& x) { return x.kind == Remedy::Kind::order; });
    ASSERT_NE(order, help.end());
    EXPECT_THAT(order->says, testing::HasSubstr("exchange pins"));
    EXPECT_THAT(order->prevented, testing::Contains("reversed"));
}

// 12 V on an HCT input: 12 − 6.0 = 6 V across the resistor, 6 V / 10 mA = 600 Ω, the next of E12 is 680 Ω.
TEST(Remedy, AResistorIsComputed) {
    const Rig r("header-1x2", {"+12 V supply 12V", "HOLD relic hct"});
    const auto help = remedies(r.face, r.face, families(), r.cases);
    const auto protect = std::find_if(help.begin(), help.end(),
                                      [](const Remedy& x) { return x.kind == Remedy::Kind::protection; });
    ASSERT_NE(protect, help.end());
    EXPECT_THAT(protect->says, testing::HasSubstr("680 Ω"));
}

TEST(Remedy, NothingIsSaidWhereNothingIsWrong) {
    const Rig calm("header-1x2", {"GND", "GND"});
    EXPECT_TRUE(remedies(calm.face, calm.face, families(), calm.cases).empty());
}

}  // namespace
}  // namespace grayrelic
