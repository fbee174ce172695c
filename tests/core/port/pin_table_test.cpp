// SPDX-License-Identifier: GPL-3.0-or-later
// Pin tables in and out, pins typed in one line, and the list of a pin's facts.
#include "core/port/pin_table.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/port/connector_library.hpp"
#include "core/port/pin_entry.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::message;
using testing::HasSubstr;

Pin entered(const std::string& line, const Pin& before = {}) {
    const auto p = pin_with_entry(before, line, {EvidenceKind::measured, "me", "2026-11-23", ""});
    EXPECT_TRUE(p) << line << ": " << message(p);
    return p ? *p : Pin{};
}

std::string text_of(const Pin& p, const char* key) {
    return field_text(p, *find_pin_field(key));
}

TEST(PinTable, ReadsTheContractsColumns) {
    const auto t = read_pin_table(
        "pin,name,driver,family,volts_max,idle,note\n1,+5 V,supply,,5.25,,\n3,HOLD,relic,ttl,3.7 V,high,\"a, "
        "b\"\n",
        "p.csv");
    ASSERT_TRUE(t) << message(t);
    ASSERT_EQ(t->pins.size(), 2U);
    EXPECT_EQ(t->pins[0].volts_max.value, Volts(5.25));
    EXPECT_EQ(t->pins[1].driver.value, Driver::relic);
    EXPECT_EQ(t->pins[1].idle.value, "high");
    EXPECT_EQ(t->pins[1].note, "a, b");
}

TEST(PinTable, ReadsWhatSpreadsheetsPaste) {
    const auto t = read_pin_table(
        "Pin\tSignal\tDriven by\tFarbe\r\n1\tHOLD\trelic\tred\r\n2\tGND\tsupply\t\r\n", "paste");
    ASSERT_TRUE(t) << message(t);
    EXPECT_EQ(t->pins[0].name.value, "HOLD");
    EXPECT_EQ(t->pins[1].driver.value, Driver::supply);
    EXPECT_THAT(t->left_out, testing::ElementsAre("Farbe"));
    const auto bare = read_pin_table("1;HOLD;relic\n2;STEP;relic\n", "paste");
    ASSERT_TRUE(bare) << message(bare);
    EXPECT_EQ(bare->pins[1].name.value, "STEP");
}

TEST(PinTable, TakesMarksCommentsAndEmptyRows) {
    const auto t =
        read_pin_table("\xEF\xBB\xBF# seen from behind\npin,name\n\n1,A\n,\n2,\"B \"\"b\"\"\"\n", "p.csv");
    ASSERT_TRUE(t) << message(t);
    EXPECT_EQ(t->pins.size(), 2U);
    EXPECT_EQ(t->pins[1].name.value, "B \"b\"");
}

TEST(PinTable, CarriesEvidenceOfTheRowOrOfTheFile) {
    PinTableOptions o;
    o.evidence = {EvidenceKind::documented, "p.csv", "", ""};
    const auto t = read_pin_table(
        "pin,name,evidence,source,tool,date\n1,A,measured,me,meter,2026-11-01\n2,B,,,,\n", "p.csv", o);
    ASSERT_TRUE(t) << message(t);
    EXPECT_EQ(t->pins[0].name.evidence.kind, EvidenceKind::measured);
    EXPECT_EQ(t->pins[0].name.evidence.tool, "meter");
    EXPECT_EQ(t->pins[1].name.evidence.kind, EvidenceKind::documented);
    EXPECT_EQ(t->pins[1].name.evidence.source, "p.csv");
}

struct Refused {
    const char* text;
    const char* says;
};
class BadTable : public testing::TestWithParam<Refused> {};
TEST_P(BadTable, IsRefusedAsAWholeWithRowAndColumn) {
    const auto nine = ConnectorLibrary::load(disk(), {test::source_folder() / "data"}).find("dsub-9");
    PinTableOptions o;
    o.connector = &*nine;
    EXPECT_EQ(message(read_pin_table(GetParam().text, "p.csv", o)), GetParam().says);
}
INSTANTIATE_TEST_SUITE_P(
    Files, BadTable,
    testing::Values(
        Refused{"", "p.csv:1: found an empty file, expected a table of pins"},
        Refused{"# only this\n", "p.csv:1: found nothing but comments, expected a table of pins"},
        Refused{
            "pin,name\n1,A\n1,B\n",
            "p.csv:3: found pin \"1\" a second time in column 1 (pin), expected each pin once; it stands in "
            "row 2 too"},
        Refused{"pin,name\n1,A\n10,B\n",
                "p.csv:3: found pin \"10\" in column 1 (pin), expected one of the 9 contacts of dsub-9"},
        Refused{"pin,driver\n1,relic\n",
                "p.csv:1: found no column \"name\", expected the columns pin and name at least"},
        Refused{"name,driver\nA,relic\n",
                "p.csv:1: found no column \"pin\", expected the columns pin and name at least"},
        Refused{"voltage,colour\n1,relic\n",
                "p.csv:1: found a heading without the column \"pin\", expected columns such as "
                "pin,name,driver,family,volts_max,idle,note"},
        Refused{"pin,name,driver\n1,A,computer\n",
                "p.csv:2: found \"computer\" in column 3 (driver), expected relic, bridge, both, supply or "
                "nobody"},
        Refused{"pin,name,volts_max\n1,A,lots\n",
                "p.csv:2: found \"lots\" in column 3 (volts_max), expected a voltage like 3V3"},
        Refused{"pin,name\n1,=SUM(A1:A9)\n",
                "p.csv:2: found the formula \"=SUM(A1:A9)\" in column 2 (name), expected a value; copy the "
                "values, "
                "not formulas"},
        Refused{
            "pin,name\n1,@A1\n",
            "p.csv:2: found the formula \"@A1\" in column 2 (name), expected a value; copy the values, not "
            "formulas"},
        Refused{"pin,name\n1,+SUM(A1)\n",
                "p.csv:2: found the formula \"+SUM(A1)\" in column 2 (name), expected a value; copy the "
                "values, not "
                "formulas"},
        Refused{"pin,name\n1,A,B\n", "p.csv:2: found 3 columns, expected 2, as in the heading"},
        Refused{"pin,name,pin\n1,A,2\n",
                "p.csv:1: found a second column \"pin\" (column 3), expected each column once"},
        Refused{"pin,name\n,A\n",
                "p.csv:2: found no pin number in column 1 (pin), expected the contact's number"},
        Refused{"pin,name\n1,\"A\n", "p.csv:2: found a quote that never ends, expected a closing quote"},
        Refused{"pin,name\n1,A\n2,\xE9t\xE9\n",
                "p.csv:3: found bytes that are no UTF-8 text, expected a table saved as UTF-8"},
        Refused{"pin,name,evidence\n1,A,heard\n",
                "p.csv:2: found \"heard\" in column 3 (evidence), expected measured, documented, deduced or "
                "assumed"},
        Refused{"pin,name\n1,A\x01\n",
                "p.csv:2: found a control character in \"A\\x01\" in column 2 (name), expected text"}));

TEST(PinTable, BoundsHold) {
    std::string many = "pin,name\n";
    for (int i = 0; i < 6000; ++i) many += std::to_string(i) + ",A\n";
    EXPECT_THAT(message(read_pin_table(many, "p.csv")), HasSubstr("more than 5000 rows"));
    EXPECT_THAT(message(read_pin_table("pin,name\n1," + std::string(2000, 'x') + "\n", "p.csv")),
                HasSubstr("at most 1000"));
    EXPECT_THAT(message(read_pin_table(std::string(5U << 20U, 'x'), "p.csv")), HasSubstr("at most"));
}

TEST(PinTable, WritesWhatItReads) {
    std::vector<Pin> pins;
    pins.push_back(entered("+5 V supply 5.25V 120mA wire red"));
    pins.push_back(entered("REPLY bridge hct oc idle high 5.1V pull up 4k7"));
    pins.push_back(entered("odd \"name\"; with marks, relic"));
    for (std::size_t i = 0; i < pins.size(); ++i) pins[i].number = std::to_string(i + 1);
    pins[1].volts_max.uncertainty = 0.05;
    pins[2].note = "two\nlines";
    for (const char delimiter : {',', ';', '\t'}) {
        const auto text = write_pin_table(pins, delimiter);
        const auto back = read_pin_table(text, "t");
        ASSERT_TRUE(back) << message(back) << text;
        ASSERT_EQ(back->pins.size(), pins.size());
        for (std::size_t i = 0; i < pins.size(); ++i) {
            EXPECT_EQ(back->pins[i].note, pins[i].note);
            for (const auto& f : pin_fields())
                EXPECT_EQ(field_text(back->pins[i], f), field_text(pins[i], f)) << f.key;
        }
    }
    EXPECT_THAT(write_pin_table(pins), testing::StartsWith("pin,name,driver,family,volts_max,idle,note"));
}

TEST(PinTable, CellsThatWouldBeComputedAreDisarmed) {
    Pin p;
    p.number = "1";
    p.name.value = "=1+1";
    const auto text = write_pin_table({p});
    EXPECT_THAT(text, HasSubstr("'=1+1"));
    EXPECT_EQ(read_pin_table(text, "t")->pins[0].name.value, "=1+1");
}

TEST(PinEntry, OneLineFillsManyFacts) {
    const auto p = entered("REPLY bridge hct open-collector idle high 5.1V pull up 4k7");
    EXPECT_EQ(p.name.value, "REPLY");
    EXPECT_EQ(p.driver.value, Driver::bridge);
    EXPECT_EQ(p.family.value, "hct");
    EXPECT_EQ(p.output.value, "open-collector");
    EXPECT_EQ(p.idle.value, "high");
    EXPECT_EQ(p.volts_max.value, Volts(5.1));
    EXPECT_EQ(p.pull.value, "up");
    EXPECT_EQ(p.pull_ohm.value, Ohms(4700));
    EXPECT_EQ(p.pull_ohm.evidence.source, "me");
}

TEST(PinEntry, NamesMayHaveSpacesSignsAndCommas) {
    EXPECT_EQ(entered("+5 V supply 5.25V 120mA").name.value, "+5 V");
    EXPECT_EQ(entered("+5 V supply 5.25V 120mA").current_max.value, Amperes(0.12));
    EXPECT_EQ(entered("relic").name.value, "relic") << "the first word is always the name's";
    EXPECT_EQ(entered("data high, both").name.value, "data high");
    EXPECT_EQ(entered("-12 V supply -12V").volts_min.value, Volts(-12));
    EXPECT_EQ(entered("ground").function.value, "ground");
    EXPECT_EQ(entered("supply rail 2, supply").function.value, "supply");
}

TEST(PinEntry, WhatIsNotNamedStaysAndNonsenseChangesNothing) {
    const auto first = entered("HOLD relic ttl");
    const auto second = entered("HOLD idle low", first);
    EXPECT_EQ(second.family.value, "ttl");
    EXPECT_EQ(second.idle.value, "low");
    EXPECT_EQ(entered("   ", first), first);
    EXPECT_THAT(message(pin_with_entry(first, "HOLD, relic purple", {})), HasSubstr("found \"purple\""));
}

TEST(PinFields, TextAndBack) {
    Pin p;
    const auto& volts = *find_pin_field("volts_max");
    ASSERT_TRUE(set_field(p, volts, "5.1V ± 50mV", {}));
    EXPECT_EQ(p.volts_max.uncertainty, 0.05);
    EXPECT_EQ(text_of(p, "volts_max"), "5.1 V ± 50 mV");
    ASSERT_TRUE(set_field(p, volts, "3V3 +/- 0.1", {}));
    EXPECT_EQ(p.volts_max.value, Volts(3.3));
    EXPECT_FALSE(set_field(p, volts, "5V ± -1", {}));
    EXPECT_FALSE(set_field(p, volts, "5 ohm", {}));
    EXPECT_EQ(p.volts_max.value, Volts(3.3)) << "a failure changes nothing";
    ASSERT_TRUE(set_field(p, volts, "", {}));
    EXPECT_FALSE(field_known(p, volts));
    EXPECT_FALSE(set_field(p, *find_pin_field("idle"), "sideways", {}));
    EXPECT_TRUE(set_field(p, *find_pin_field("family"), "my-own-family", {})) << "families can be added";
    EXPECT_EQ(find_pin_field("nonsense"), nullptr);
}

TEST(PinFields, RolesFollowFromWhatIsKnown) {
    const auto role = [](const std::string& line) { return role_of(entered(line)); };
    EXPECT_EQ(role("+5 V supply 5.25V"), PinRole::rail);
    EXPECT_EQ(role("GND"), PinRole::ground);
    EXPECT_EQ(role("0 V, supply"), PinRole::ground);
    EXPECT_EQ(role("VCC"), PinRole::rail);
    EXPECT_EQ(role("HOLD relic"), PinRole::signal);
    EXPECT_EQ(role("n.c."), PinRole::unused);
    EXPECT_EQ(role("thing nobody"), PinRole::unused);
    EXPECT_EQ(role("HOLD"), PinRole::unknown);
    EXPECT_EQ(role_of(Pin{}), PinRole::unknown);
    EXPECT_EQ(rail_volts(entered("+12V, supply")), 12.0);
    EXPECT_EQ(rail_volts(entered("minus, supply -12V")), -12.0);
    EXPECT_EQ(rail_volts(entered("VCC, supply")), std::nullopt);
    EXPECT_TRUE(is_ground_name("GND2"));
    EXPECT_FALSE(is_ground_name("GNDX"));
}

}  // namespace
}  // namespace grayrelic
