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

std::vector<std::string> ids_of(const std::string& connector) {
    const auto c = *connectors().find(connector);
    std::vector<Pin> table;
    for (const auto& n : c.numberings.front().numbers)
        table.push_back(pin(n, table.empty() ? "+5 V supply 5V" : table.size() == 1 ? "GND" : "S relic ttl"));
    const Face face{&c, {}, &table, Side::relic};
    std::vector<std::string> out;
    for (const auto& x : wrong_cases(face, face, families()))
        if (x.possible != Possible::by_hand) out.push_back(x.id);
    return out;
}

TEST(Misinsert, ACardHasNoRowsToSlipBy) {
    for (const char* edge : {"edge-2x4", "edge-2x15", "edge-1x10"})
        for (const auto& id : ids_of(edge))
            EXPECT_THAT(id, testing::AllOf(testing::Ne("shifted-up"), testing::Ne("shifted-down"))) << edge;
    EXPECT_THAT(ids_of("edge-2x4"), testing::IsSupersetOf({"reversed", "shifted-left", "shifted-right"}));
    EXPECT_THAT(ids_of("header-2x4"), testing::IsSupersetOf({"shifted-up", "shifted-down"}));
}

TEST(Misinsert, AShaftCanOnlyBePartOfTheWayIn) {
    for (const char* barrel : {"barrel-55-21", "barrel-55-25", "barrel-35-13", "phono"})
        EXPECT_THAT(ids_of(barrel), testing::IsEmpty()) << barrel;
    EXPECT_THAT(ids_of("jack-35-3"), testing::ElementsAre("shifted-up"));
}

TEST(Misinsert, EveryShippedKindSaysWhyForTurningAndShifting) {
    for (const auto& file : connectors().files()) {
        ConnectorSize size;
        size.rows = file.rows > 0 ? file.rows : 2;
        size.columns = 4;
        const auto c = connectors().find(ConnectorLibrary::id_of(file, size));
        ASSERT_TRUE(c) << file.id;
        for (const auto way : {WrongWay::reversed, WrongWay::shifted}) {
            const auto said =
                std::find_if(c->ways.begin(), c->ways.end(), [&](const auto& w) { return w.way == way; });
            if (said == c->ways.end()) {
                ADD_FAILURE() << file.id << " does not say whether it can be " << word(way);
                continue;
            }
            EXPECT_FALSE(said->why.empty()) << file.id;
        }
    }
}

TEST(Misinsert, NearlyMatingPlugsGoIn) {
    const auto goes = [](const char* plug, const char* socket) {
        return goes_into(*connectors().find(plug), *connectors().find(socket));
    };
    EXPECT_TRUE(goes("modular-6p4c", "modular-8p8c"));
    EXPECT_FALSE(goes("modular-8p8c", "modular-6p4c"));
    EXPECT_TRUE(goes("header-1x4", "header-2x10"));
    EXPECT_FALSE(goes("header-2x10", "header-1x4"));
    EXPECT_TRUE(goes("barrel-55-25", "barrel-55-21"));
    EXPECT_FALSE(goes("usb-a", "usb-b"));
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
    EXPECT_EQ(wrong->verdict, Verdict::stop) << "12 V on an HCT input without supply, the grounds joined";
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
    const Rig r("header-1x5", {"+5 V supply 5V", "GND", "HOLD relic ttl", "n.c.", "GND"});
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

// ±15 V from a driver with 15 V / 0.1 A = 150 Ω into the ground diode of a TTL input: 1 kΩ would leave
// (15 − 0.7) V / (150 + 1000 + 5) Ω = 12.4 mA, more than a diode bears; 2.2 kΩ leave 6.1 mA.
TEST(Remedy, AResistorIsTriedInBothSigns) {
    const auto nine = *connectors().find("dsub-9");
    std::vector<std::string> line(9, "TXD relic rs232"), input(9, "IN relic ttl");
    line[4] = input[4] = "GND";
    const auto socket = pins(line), plug = pins(input);
    const Face s{&nine, {}, &socket, Side::relic}, p{&nine, {}, &plug, Side::relic};
    const auto cases = wrong_cases(s, p, families());
    const auto help = remedies(s, p, families(), cases);
    for (const auto& r : help)
        if (r.kind == Remedy::Kind::protection && r.shield.signals.series_ohm &&
            !r.shield.signals.clamp_to_supply) {
            EXPECT_GE(*r.shield.signals.series_ohm, 2200.0) << r.says;
        }
    const WrongCase* into = nullptr;
    for (const auto& c : cases)
        if (c.id == "wrong-port") into = &c;
    ASSERT_NE(into, nullptr);
    EXPECT_EQ(into->verdict, Verdict::stop);
    Shield thin, thick;
    thin.signals.series_ohm = 1000;
    thick.signals.clamp_to_supply = true;
    thick.signals.series_ohm = 10e3;
    // +15 V stands above what TTL endures (5.5 V): only with the clamp behind the resistor it does not.
    EXPECT_EQ(study_case(*into, s, p, families(), thin).verdict, Verdict::stop);
    EXPECT_NE(study_case(*into, s, p, families(), thick).verdict, Verdict::stop);
}

// A P-channel transistor keeps a turned supply out, and costs next to nothing.
TEST(Remedy, AReversedSupplyIsKeptOut) {
    const Rig r("header-1x2", {"+5 V supply 5V 2A", "GND"});
    const auto help = remedies(r.face, r.face, families(), r.cases);
    ASSERT_FALSE(help.empty());
    EXPECT_TRUE(help.front().shield.rails.p_channel) << help.front().says;
    EXPECT_EQ(help.front().stops_after, 0);
    EXPECT_THAT(help.front().costs, testing::HasSubstr("120 mV")) << "0.02 V + 2 A · 0.05 Ω";
    EXPECT_THAT(help.front().says, testing::Not(testing::HasSubstr("fuse"))) << "nothing is shorted";
}

TEST(Remedy, NothingIsSaidWhereNothingIsWrong) {
    const Rig calm("header-1x2", {"GND", "GND"});
    EXPECT_TRUE(remedies(calm.face, calm.face, families(), calm.cases).empty());
}

}  // namespace
}  // namespace grayrelic
