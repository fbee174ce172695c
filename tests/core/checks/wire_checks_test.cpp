// SPDX-License-Identifier: GPL-3.0-or-later
// Wire's findings: each fires on its ground and rests without it.
#include <gmock/gmock.h>

#include <set>

#include "core/checks/analyse.hpp"
#include "core/dossier/edits.hpp"
#include "tests/core/wire/wire_helpers.hpp"

namespace grayrelic {
namespace {

using test::relic_port;
using test::with_text;
using testing::HasSubstr;

Findings wire_found(const Dossier& d,
                    const std::shared_ptr<const Person>& person = std::make_shared<const Person>()) {
    static const auto shipped = DataLibrary::load(disk(), {test::source_folder() / "data"});
    CaptureStore store;
    Progress progress;
    const auto a = *analyse(d, {}, store, progress, nullptr, shipped, {}, person);
    Findings out;
    for (const auto& f : a->findings)
        if (f.stage == Stage::wire) out.push_back(f);
    return out;
}

const Finding* finding_of(const Findings& list, const std::string& id) {
    for (const auto& f : list)
        if (f.id == id) return &f;
    return nullptr;
}

const std::string port_text = "port J1: 1=V5 2=GND 3=OUT 4=IN\n";
std::string inverter_text(const char* family, const char* in = "OUT", const char* out = "IN") {
    return std::string("U1 74x04 ") + family + ": 1A=" + in + " 1Y=" + out +
           " 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n";
}

TEST(WireChecks, AGoodCircuitIsQuiet) {
    EXPECT_TRUE(wire_found(with_text(relic_port(), port_text + inverter_text("hct"))).empty());
    EXPECT_TRUE(wire_found(Dossier{}).empty());
}

TEST(WireChecks, LevelsUnknownFamiliesDriversAndFloats) {
    const auto levels = wire_found(with_text(relic_port(), port_text + inverter_text("hc")));
    ASSERT_NE(finding_of(levels, "link-fails"), nullptr);
    EXPECT_EQ(finding_of(levels, "link-fails")->severity, Severity::stop);
    EXPECT_THAT(finding_of(levels, "link-fails")->why, HasSubstr("2.40 V given"));
    EXPECT_EQ(finding_of(levels, "link-fails")->place.id, "OUT");
    const auto unknown = wire_found(with_text(relic_port(""), port_text + inverter_text("hc")));
    ASSERT_NE(finding_of(unknown, "link-unknown"), nullptr);
    EXPECT_THAT(finding_of(unknown, "link-unknown")->todo, HasSubstr("Find out the family"));
    EXPECT_NE(finding_of(wire_found(with_text(relic_port(), port_text + inverter_text("hct", "0", "OUT"))),
                         "two-drivers"),
              nullptr);
    const auto floats = wire_found(with_text(relic_port(), port_text + inverter_text("hct", "X")));
    ASSERT_NE(finding_of(floats, "floats"), nullptr);
    EXPECT_THAT(finding_of(floats, "floats")->says, HasSubstr("Nobody drives X"));
}

TEST(WireChecks, WhatFloatsAtBootWeighsWhereTheRelicHearsIt) {
    const std::string module = "M1 module-33: VIN=V5 GND=GND P0=";
    const auto heard = wire_found(with_text(relic_port(), port_text + module + "IN\n"));
    ASSERT_NE(finding_of(heard, "floats-at-boot"), nullptr);
    EXPECT_EQ(finding_of(heard, "floats-at-boot")->severity, Severity::doubt);
    const auto inside =
        wire_found(with_text(relic_port(), port_text + module + "X\n" + inverter_text("hct", "X")));
    ASSERT_NE(finding_of(inside, "floats-at-boot"), nullptr);
    EXPECT_EQ(finding_of(inside, "floats-at-boot")->severity, Severity::note);
}

TEST(WireChecks, ASlowRiseIsHeldAgainstTheContract) {
    auto d = with_text(relic_port(), port_text +
                                         "U1 74x05 hct: 1A=OUT 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 "
                                         "GND=GND\nR1 resistor 22k: 1=IN 2=V5\n");
    EXPECT_EQ(finding_of(wire_found(d), "rise-slow"), nullptr) << "no time is known";
    ContractInterval i;
    i.id = i.name = "high";
    i.from = "IN:rise";
    i.to = "IN:fall";
    i.kind = IntervalKind::width;
    // 22 kΩ and 165 pF: some 3.6 µs · ln(4.42/…): more than 1 µs.
    i.min = i.typ = i.max = Time::us(1);
    d = put(d, i);
    const auto f = wire_found(d);
    ASSERT_NE(finding_of(f, "rise-slow"), nullptr);
    EXPECT_EQ(finding_of(f, "rise-slow")->severity, Severity::stop);
    // 40 µA in 22 kΩ leave 3.87 V; 22 kΩ · 165 pF · ln((3.87 − 0.33) ÷ (3.87 − 2)) = 2.3 µs; 0.3 µs want 2.8
    // kΩ.
    EXPECT_THAT(finding_of(f, "rise-slow")->todo, HasSubstr("at most 2.7 kΩ"));
    i.min = i.typ = i.max = Time::ms(1);
    EXPECT_EQ(finding_of(wire_found(put(d, i)), "rise-slow"), nullptr);
}

TEST(WireChecks, TextValuesAndPackages) {
    const auto text =
        wire_found(with_text(relic_port(), port_text + inverter_text("hct") + "nonsense here\n"));
    ASSERT_NE(finding_of(text, "circuit-broken"), nullptr);
    EXPECT_THAT(finding_of(text, "circuit-broken")->why, HasSubstr("Line 3 of bridge"));
    const auto ground = wire_found(with_text(relic_port(), "port J1: 3=OUT\nR1 resistor 1k: 1=OUT 2=X\n"));
    EXPECT_NE(finding_of(ground, "circuit-no-ground"), nullptr);
    const auto lamp = wire_found(with_text(
        relic_port(), port_text + inverter_text("hct") + "R1 resistor 33: 1=IN 2=L\nD1 led: A=L K=GND\n"));
    ASSERT_NE(finding_of(lamp, "value-wrong"), nullptr);
    EXPECT_EQ(finding_of(lamp, "value-wrong")->severity, Severity::doubt) << "what is meant is assumed";
    EXPECT_THAT(finding_of(lamp, "value-wrong")->todo, HasSubstr("Fit "));
    auto d = with_text(relic_port(), port_text + inverter_text("hct"));
    WireValue v;
    v.id = "d";
    v.name = "Delay";
    v.kind = "filter";
    for (const auto& [key, value] : {std::pair("r", 1e3), {"c", 1e-7}}) {
        NumberFact n;
        n.key = key;
        n.value.value = value;
        n.value.evidence.kind = EvidenceKind::measured;
        v.numbers.push_back(n);
    }
    v.least = 2000;  // it is 1,592 Hz
    const auto own = wire_found(put(d, v));
    ASSERT_NE(finding_of(own, "value-wrong"), nullptr);
    EXPECT_EQ(finding_of(own, "value-wrong")->severity, Severity::stop);
    v.least = 1000;
    EXPECT_EQ(finding_of(wire_found(put(d, v)), "value-wrong"), nullptr);
    Person person;
    person.bench.solder = {{"ssop", 4, 3}};
    const auto hard = wire_found(
        with_text(
            relic_port(),
            port_text +
                "U1 74x04 hct package=tssop-14: 1A=OUT 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n"),
        std::make_shared<const Person>(person));
    ASSERT_NE(finding_of(hard, "hard-to-solder"), nullptr);
    EXPECT_THAT(finding_of(hard, "hard-to-solder")->todo, HasSubstr("dip-14"));
}

}  // namespace
}  // namespace grayrelic
