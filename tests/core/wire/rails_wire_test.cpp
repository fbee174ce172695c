// SPDX-License-Identifier: GPL-3.0-or-later
// The rails that a circuit has, settings, and pins of a module.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <functional>
#include <map>

#include "core/base/random.hpp"
#include "core/wire/circuit_rails.hpp"
#include "tests/core/wire/wire_helpers.hpp"

namespace grayrelic {
namespace {

using test::relic_port;
using test::with_text;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::UnorderedElementsAre;

constexpr auto bridge = R"(port J1: 1=V5 2=GND 3=OUT 4=IN
F1 fuse-resettable 0.2A: 1=V5 2=V5F
D1 diode-schottky: A=V5F K=VRAW
M1 module-33: VIN=VRAW GND=GND P4=OUT P5=IN
U1 74x04 hct: 1A=OUT 1Y=N1
power V5F GND: U1
R1 resistor 330: 1=V5F 2=LED
D2 led: A=LED K=GND
C1 capacitor 100n: 1=V5F 2=GND
)";

Circuit circuit_of(const Dossier& d) {
    return build_circuit(d, bridge_text(*d.wire, *d.timing), test::circuit_data());
}

TEST(CircuitRails, ComeFromTheCircuit) {
    const auto tree = rails_of(circuit_of(with_text(relic_port(), bridge)));
    std::vector<std::string> sources, parts, loads;
    for (const auto& s : tree.sources) sources.push_back(s.name);
    for (const auto& p : tree.parts)
        parts.push_back(fmt::format("{} {} {} {}", word(p.kind), p.ref, p.from, p.to));
    for (const auto& l : tree.loads) loads.push_back(l.name + " " + l.rail);
    EXPECT_THAT(sources, ElementsAre("V5", "M1.USB5V"));
    EXPECT_THAT(parts, UnorderedElementsAre("switch M1.jack M1.USB5V VRAW", "switcher M1 VRAW M1.3V3",
                                            "switch F1 V5 V5F", "drop D1 V5F VRAW"));
    EXPECT_THAT(loads, UnorderedElementsAre("M1 M1.3V3", "U1 V5F", "D2 V5F"));
    // 4.75 V to 5.25 V: 5 V ± 5 %.
    EXPECT_NEAR(tree.sources[0].volts, 5, 1e-9);
    EXPECT_NEAR(tree.sources[0].tolerance, 0.05, 1e-9);
    EXPECT_TRUE(tree.sources[0].relic);
    EXPECT_EQ(tree.find_part("F1")->most_a, 0.2);
    EXPECT_EQ(tree.capacitors.size(), 1U);
    EXPECT_TRUE(faults_of(tree).empty());
    for (const auto& p : tree.parts) EXPECT_EQ(p.place.line, 0);
}

TEST(CircuitRails, ALineOfTheSameNameTakesItsPlace) {
    auto d = with_text(relic_port(), bridge);
    d = edit(d, &Dossier::wire, [](Wire& w) {
        w.rails = "source V5 5V ±2% limit 120mA\ndrop M1.jack M1.USB5V -> VRAW 0.3V\nload KEYS V5F 30mA\n";
    });
    const auto s = study_rails_of(*d.wire, circuit_of(d));
    ASSERT_TRUE(s.faults.empty());
    EXPECT_EQ(s.tree.sources.size(), 2U);
    EXPECT_EQ(s.tree.find_source("V5")->limit_a, 0.12);
    EXPECT_EQ(s.tree.find_part("M1.jack")->kind, RailPartKind::drop);
    // Kept apart by a diode, nothing flows back any more.
    EXPECT_TRUE(s.back_feed.empty());
    d = edit(d, &Dossier::wire, [](Wire& w) { w.rails = "source V5 5V\nnonsense\n"; });
    const auto broken = study_rails_of(*d.wire, circuit_of(d));
    ASSERT_EQ(broken.faults.size(), 1U);
    EXPECT_EQ(broken.faults[0].line, 2);
}

TEST(CircuitRails, AModulesJackIsADoubtUntilItIsLookedUp) {
    const auto s = study_rails(rails_of(circuit_of(with_text(relic_port(), bridge))));
    ASSERT_FALSE(s.back_feed.empty());
    for (const auto& b : s.back_feed) {
        EXPECT_EQ(b.verdict, Verdict::doubt);
        EXPECT_EQ(b.through, "M1.jack");
        EXPECT_THAT(b.todo, HasSubstr("measure M1.USB5V"));
    }
}

TEST(CircuitRails, ATextToBeginWith) {
    auto d = relic_port();
    const auto text = begin_rails(d);
    const auto tree = rails_from_text(text, "begun");
    ASSERT_TRUE(tree) << tree.error().message();
    ASSERT_EQ(tree->sources.size(), 1U);
    EXPECT_EQ(tree->sources[0].name, "+5_V");
    EXPECT_NEAR(tree->sources[0].tolerance, 0.05, 1e-6);
    EXPECT_TRUE(tree->sources[0].relic);
}

RailTree slate_tree() {
    return *rails_from_text("source BRICK 12V ±5% limit 1A\nload PAD BRICK 250mA works 11V dies 14V\n", "t");
}

WireSetting slider() {
    WireSetting s;
    s.id = s.name = "slider";
    s.source = "BRICK";
    s.positions = {{"9", 9}, {"12", 12}, {"15", 15}};
    return s;
}

TEST(Settings, EachPositionIsTried) {
    const auto s = study_setting(slider(), slate_tree());
    ASSERT_EQ(s.tries.size(), 3U);
    EXPECT_EQ(s.tries[0].verdict, Verdict::doubt);
    EXPECT_EQ(s.tries[1].verdict, Verdict::holds);
    EXPECT_EQ(s.tries[2].verdict, Verdict::stop);
    // 15 V + 5 %
    EXPECT_THAT(s.tries[2].dies, ElementsAre(testing::MatchesRegex("PAD gets 15.[78] V and endures 14.0 V")));
    EXPECT_EQ(s.verdict, Verdict::doubt);  // nobody has looked where it is
    EXPECT_THAT(s.todo, HasSubstr("socket empty"));
}

TEST(Settings, AStopStandsWhileItWouldKill) {
    auto s = slider();
    s.want = 12;
    s.now.value = 15;
    s.now.evidence.kind = EvidenceKind::measured;
    auto study = study_setting(s, slate_tree());
    EXPECT_EQ(study.verdict, Verdict::stop);
    EXPECT_THAT(study.says, HasSubstr("kills: PAD"));
    EXPECT_THAT(study.todo, HasSubstr("Set it to 12.0 V"));
    s.now.value = 9;
    EXPECT_EQ(study_setting(s, slate_tree()).verdict, Verdict::stop);  // it starves
    s.now.value = 12;
    EXPECT_EQ(study_setting(s, slate_tree()).verdict, Verdict::holds);
    s.now.evidence.kind = EvidenceKind::assumed;
    EXPECT_EQ(study_setting(s, slate_tree()).verdict, Verdict::doubt);
    s.want = 15;
    EXPECT_THAT(study_setting(s, slate_tree()).says, HasSubstr("What is wanted"));
    // Its uncertainty counts: 13.2 V ± 0.2 V, and 5 % of the supply, are 14.07 V.
    s.want = 12;
    s.now.value = 13.2;
    s.now.uncertainty = 0.2;
    EXPECT_EQ(study_setting(s, slate_tree()).verdict, Verdict::stop);
}

TEST(Settings, HowFarATrimmerMayBeTurned) {
    auto s = slider();
    s.positions.clear();
    s.least = 9;
    s.most = 18;
    const auto study = study_setting(s, slate_tree());
    EXPECT_NEAR(*study.highest_v, 14 / 1.05, 1e-6);
    s.most = 12;
    EXPECT_NEAR(*study_setting(s, slate_tree()).highest_v, 12, 1e-9);
}

TEST(Settings, WhatCannotBeTriedIsSaid) {
    auto s = slider();
    s.source = "NOWHERE";
    EXPECT_THAT(study_setting(s, slate_tree()).problem, HasSubstr("There are BRICK"));
    const auto unlimited = *rails_from_text("source BRICK 12V\nload PAD BRICK 1mA\n", "t");
    s.source = "BRICK";
    s.now.value = 15;
    EXPECT_EQ(study_setting(s, unlimited).verdict, Verdict::doubt);
    EXPECT_FALSE(position_from_text("12V"));
    EXPECT_FALSE(position_from_text("left twelve"));
    EXPECT_FALSE(position_from_text("left -3V"));
    EXPECT_EQ(position_from_text(" far left 12V ")->name, "far left");
}

/// A regulator's input, too, has a limit that somebody must say.
TEST(Settings, ARegulatorsInputWithoutALimitIsADoubt) {
    auto s = slider();
    s.now.value = 12;
    s.now.evidence.kind = EvidenceKind::measured;
    const std::string base =
        "source BRICK 12V\nlinear U1 BRICK -> V5 5V dropout 1V max 1A\nload CHIP V5 10mA\n";
    const auto open = study_setting(s, *rails_from_text(base, "t"));
    EXPECT_EQ(open.verdict, Verdict::doubt);
    EXPECT_THAT(open.says, HasSubstr("the input of U1"));
    const auto said = study_setting(s, *rails_from_text(base + "load U1_IN BRICK 0A dies 14V\n", "t"));
    EXPECT_EQ(said.verdict, Verdict::holds);
    EXPECT_EQ(said.tries[2].verdict, Verdict::stop);
}

PartLibrary small_module() {
    PartLibrary out;
    out.parts.push_back(
        *part_from_json(R"({"id": "tiny", "name": "tiny", "function": "module", "source": "test",
        "uses": {"serial": ["P0", "P1"], "analogue": ["P3"], "interrupt": ["P0", "P1", "P2"]},
        "pins": [["1", "P0", "io"], ["2", "P1", "io"], ["3", "P2", "io"], ["4", "P3", "io"], ["5", "GND", "ground"]]})",
                        "tiny.json"));
    return out;
}

PinStudy pins_for(const std::vector<std::string>& needs) {
    PinPlan plan;
    plan.part = "tiny";
    for (const auto& text : needs) {
        plan.needs.push_back(*need_from_text(text));
        plan.needs.back().id = plan.needs.back().name;
    }
    return study_pins(plan, Circuit{}, LinkStudy{}, RailTree{}, small_module());
}

TEST(ModulePins, EverySignalThatCanHasAPin) {
    // Only one way to give out four pins: the greedy order would give P0 to A.
    const auto s = pins_for({"A", "B interrupt", "TX serial", "V analogue"});
    EXPECT_EQ(s.missing, 0);
    EXPECT_EQ(s.verdict, Verdict::holds);
    for (const auto& p : s.places) {
        if (p.name == "V") {
            EXPECT_EQ(p.pin, "P3");
        }
        if (p.name == "TX") {
            EXPECT_TRUE(p.pin == "P0" || p.pin == "P1");
        }
    }
    EXPECT_TRUE(s.free.empty());
}

/// As many as a plain search over all orders finds.
TEST(ModulePins, AgreesWithTryingAllOrders) {
    Random random(5);
    const std::vector<std::string> uses{"plain", "interrupt", "serial", "analogue"};
    const std::map<std::string, std::vector<int>> able{
        {"plain", {0, 1, 2, 3}}, {"interrupt", {0, 1, 2}}, {"serial", {0, 1}}, {"analogue", {3}}};
    for (int n = 0; n < 200; ++n) {
        std::vector<std::string> needs, kinds;
        for (std::size_t i = 0; i < 1 + random.below(6); ++i) {
            kinds.push_back(uses[random.below(uses.size())]);
            needs.push_back(fmt::format("S{} {}", i, kinds.back()));
        }
        std::function<int(std::size_t, unsigned)> best = [&](std::size_t i, unsigned taken) -> int {
            if (i == kinds.size()) return 0;
            int most = best(i + 1, taken);
            for (const int pin : able.at(kinds[i]))
                if (((taken >> pin) & 1U) == 0) most = std::max(most, 1 + best(i + 1, taken | (1U << pin)));
            return most;
        };
        EXPECT_EQ(static_cast<int>(needs.size()) - pins_for(needs).missing, best(0, 0));
    }
}

TEST(ModulePins, ShortagesAndRemedies) {
    std::vector<std::string> keys;
    for (int i = 0; i < 12; ++i) keys.push_back("K" + std::to_string(i));
    const auto s = pins_for(keys);
    EXPECT_EQ(s.missing, 8);
    EXPECT_EQ(s.verdict, Verdict::stop);
    // 12 signals on 3 pins free 9; an expander frees 10; a matrix of 4 × 3 takes 7 pins and frees 5: too few.
    const auto all = fmt::format("{}", fmt::join(s.remedies, "\n"));
    EXPECT_THAT(all, HasSubstr("12 plain signals on 3 pins"));
    EXPECT_THAT(all, HasSubstr("two-wire"));
    EXPECT_THAT(all, testing::Not(HasSubstr("matrix")));
    EXPECT_THAT(fmt::format("{}", fmt::join(pins_for({"A", "B", "C", "D", "E", "F"}).remedies, "\n")),
                HasSubstr("Shift registers"));
}

TEST(ModulePins, BoundPinsAndWhatTheyCannot) {
    const auto s = pins_for({"A plain P0", "B plain P0", "C plain P9", "D analogue P2"});
    EXPECT_THAT(s.places[1].why, HasSubstr("taken by A"));
    EXPECT_THAT(s.places[2].why, HasSubstr("no pin P9"));
    EXPECT_THAT(s.places[3].why, HasSubstr("can't do this"));
    // A use that the part's data does not have is a doubt.
    EXPECT_EQ(pins_for({"P programmable"}).places[0].verdict, Verdict::doubt);
}

TEST(ModulePins, AHeaderWithAChecksum) {
    const auto s = pins_for({"A plain P2", "b-c plain P0"});
    const auto text = *pin_header(s, {});
    EXPECT_THAT(text, HasSubstr("#define PIN_A 2\n"));
    EXPECT_THAT(text, HasSubstr("#define PIN_B_C 0\n"));
    EXPECT_THAT(text, HasSubstr("#define PINS_COUNT 2\n"));
    // CRC-32 of "A=P2\nb-c=P0\n", bit by bit as ISO 3309 has it.
    std::uint32_t crc = 0xFFFFFFFFU;
    for (const char c : std::string("A=P2\nb-c=P0\n")) {
        crc ^= static_cast<unsigned char>(c);
        for (int k = 0; k < 8; ++k) crc = (crc >> 1U) ^ ((crc & 1U) != 0 ? 0xEDB88320U : 0U);
    }
    EXPECT_EQ(pins_checksum(s), crc ^ 0xFFFFFFFFU);
    EXPECT_THAT(text, HasSubstr(fmt::format("0x{:08X}u", crc ^ 0xFFFFFFFFU)));
    EXPECT_NE(pins_checksum(s), pins_checksum(pins_for({"A plain P1", "b-c plain P0"})));
    EXPECT_EQ(*pin_header(s, "pins {count} of {module} {{\n{name}: {pin} ({use})\n}}"),
              "pins 2 of tiny {\nA: P2 (plain)\nB_C: P0 (plain)\n}\n");
    const auto wrong = pin_header(s, "ok\n{nmae}\n");
    ASSERT_FALSE(wrong);
    EXPECT_EQ(wrong.error().line, 2);
    EXPECT_THAT(wrong.error().found, HasSubstr("nmae"));
    EXPECT_FALSE(pin_header(s, "{name"));
}

TEST(ModulePins, WhatTheCircuitWiresIsTaken) {
    auto d = with_text(relic_port(), bridge);
    const auto c = circuit_of(d);
    const auto links = judge_links(c);
    PinPlan plan;
    plan.needs = {*need_from_text("OUT interrupt"), *need_from_text("LAMP")};
    plan.needs[0].id = "out";
    plan.needs[1].id = "lamp";
    const auto s = study_pins(plan, c, links, rails_of(c), test::wire_data().parts);
    EXPECT_EQ(s.module, "M1");
    ASSERT_EQ(s.places.size(), 3U);
    EXPECT_EQ(s.places[0].name, "OUT");
    EXPECT_EQ(s.places[0].pin, "P4");
    EXPECT_EQ(s.places[0].use, PinUse::interrupt);
    EXPECT_EQ(s.places[2].name, "LAMP");
    EXPECT_EQ(s.free.size(), 29U - 3);
    std::string what;
    for (const auto& p : s.proposals) what += p.what + " " + p.where + "\n";
    EXPECT_THAT(what, HasSubstr("Header, 3 pins"));
    EXPECT_THAT(what, HasSubstr("Test points"));
    EXPECT_THAT(what, HasSubstr("in series with OUT"));
}

TEST(ModulePins, NoModule) {
    EXPECT_FALSE(study_pins({}, Circuit{}, LinkStudy{}, RailTree{}, small_module()).problem.empty());
    PinPlan plan;
    plan.part = "absent";
    EXPECT_THAT(study_pins(plan, Circuit{}, LinkStudy{}, RailTree{}, small_module()).problem,
                HasSubstr("absent"));
    EXPECT_FALSE(need_from_text(""));
    EXPECT_FALSE(need_from_text("A loud P3"));
    EXPECT_FALSE(need_from_text("A serial P3 more"));
    EXPECT_EQ(need_from_text("A P3")->pin, "P3");
}

}  // namespace
}  // namespace grayrelic
