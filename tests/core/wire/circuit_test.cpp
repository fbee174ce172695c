// SPDX-License-Identifier: GPL-3.0-or-later
// What a text, ports, cables and parts' data make of a circuit; and edits of the text.
#include <gmock/gmock.h>

#include "core/dossier/edits.hpp"
#include "core/wire/begin.hpp"
#include "core/wire/fixes.hpp"
#include "tests/core/wire/wire_helpers.hpp"

namespace grayrelic {
namespace {

using test::judged;
using test::relic_port;
using test::with_text;
using testing::HasSubstr;

const NetSupply* supply(const Circuit& c, const std::string& net) {
    const auto at = c.network.find_net(net);
    if (!at) return nullptr;
    const auto& s = c.nets[static_cast<std::size_t>(*at)].supply;
    return s ? &*s : nullptr;
}

TEST(Circuit, SuppliesFollowTheirWayThroughFuseAndDiode) {
    const auto j = judged(
        with_text(relic_port(),
                  "port J1: 1=V5 2=GND\nF1 fuse-resettable 0.2A: 1=V5 2=A\nD1 diode-schottky: A=A K=B\n"
                  "U1 regulator-low-drop 3V3: IN=B OUT=C GND=GND\nrail X 12V ±10%\n"));
    EXPECT_DOUBLE_EQ(supply(j.circuit, "V5")->least, 4.75);
    EXPECT_DOUBLE_EQ(supply(j.circuit, "A")->most, 5.25);  // a fuse drops nothing at rest
    EXPECT_DOUBLE_EQ(supply(j.circuit, "B")->least, 4.75 - 0.45);
    EXPECT_DOUBLE_EQ(supply(j.circuit, "B")->most, 5.25 - 0.2);
    EXPECT_NEAR(supply(j.circuit, "C")->typical, 3.3, 1e-12);
    // All of one origin: they come and go with the relic.
    for (const char* n : {"A", "B", "C"}) EXPECT_EQ(supply(j.circuit, n)->origin, "port J1") << n;
    EXPECT_DOUBLE_EQ(supply(j.circuit, "X")->least, 10.8);
    EXPECT_TRUE(supply(j.circuit, "GND")->ground);
    // A rail of which only the most is known is taken 10 % lower, and said to be assumed.
    auto d = relic_port();
    d = edit<Port>(d, "J1", [](Port& p) { p.pins[0].volts_min.value.reset(); });
    const auto k = judged(with_text(d, "port J1: 1=V5 2=GND\n"));
    EXPECT_TRUE(supply(k.circuit, "V5")->assumed);
    EXPECT_NEAR(supply(k.circuit, "V5")->least, 0.9 * 5.25, 1e-12);
}

TEST(Circuit, ACableBringsTheFarPortsFacts) {
    auto d = relic_port("ls");
    Port j2;
    j2.id = "J2";
    j2.side = Side::modern;
    j2.pins = {test::pin("7", "OUT", Driver::relic)};
    d = put(d, std::move(j2));
    Cable lead;
    lead.id = "lead";
    lead.a.port = "J1";
    lead.b.port = "J2";
    lead.wires = {{"3", "7", "", ""}};
    d = put(d, std::move(lead));
    const auto j = judged(with_text(d, "port J2: 7=OUT\nport J1: 2=GND\nM1 module-33: GND=GND P0=OUT\n"));
    ASSERT_EQ(j.circuit.contacts.size(), 2U);
    EXPECT_EQ(j.circuit.contacts[0].place(), "J1/3");
    EXPECT_EQ(j.circuit.contacts[0].side, Side::relic);
    const auto* l = j.link_to("M1.P0");
    ASSERT_NE(l, nullptr);
    EXPECT_NEAR(*l->levels.arriving.high_least_v, 2.7, 1e-6);  // LS at the far end
}

TEST(Circuit, WhatIsWrongIsSaidAtItsPlace) {
    const auto fault = [](const std::string& text, const std::string& says) {
        const auto j = judged(with_text(relic_port(), text));
        for (const auto& f : j.circuit.faults)
            if (f.says.find(says) != std::string::npos || f.todo.find(says) != std::string::npos) return f;
        ADD_FAILURE() << text << ": nothing says " << says;
        return CircuitFault{};
    };
    EXPECT_EQ(fault("port J1: 3=OUT\nU1 74x999 hc: 1A=OUT\n", "74x999").line, 2);
    EXPECT_EQ(fault("port J1: 3=OUT\nU1 74x04 ecl: 1A=OUT\n", "ecl").line, 2);
    EXPECT_EQ(fault("port J9: 3=OUT\n", "no port J9").verdict, Verdict::stop);
    EXPECT_EQ(fault("port J1: 77=OUT\n", "no contact").verdict, Verdict::doubt);
    EXPECT_EQ(fault("R1 resistor 4k7: 1=A 2=B\nR1 resistor 4k7: 1=A 2=B\n", "each part's name once").line, 2);
    EXPECT_EQ(fault("R1 resistor -5: 1=A 2=B\n", "from 1 mΩ to 1 GΩ").verdict, Verdict::stop);
    EXPECT_EQ(fault("R1 resistor 10n: 1=A 2=B\n", "from 1 mΩ to 1 GΩ").line, 1);
    EXPECT_EQ(fault("C1 capacitor 5F: 1=A 2=B\n", "0.1 pF to 1 F").line, 1);
    EXPECT_EQ(fault("R1 resistor: 1=A 2=B\n", "has no value").verdict, Verdict::doubt);
    EXPECT_EQ(fault("port J1: 3=OUT\n", "No net of the circuit is a ground").id, "no-ground");
    EXPECT_EQ(fault("port J1: 2=GND 3=OUT\nU1 74x04 hct: 1A=OUT\n", "power SUPPLY GND: U1").id, "supply");
    EXPECT_EQ(fault("rail V5 lots\n", "such as rail V5 5V").line, 1);
    EXPECT_EQ(fault("rail V5 5V ±200%\n", "such as rail V5 5V").line, 1);
    EXPECT_EQ(fault("rail V5 5V\nrail V5 3V\n", "each rail once").line, 2);
    EXPECT_EQ(fault("power V5 GND: U7\n", "U7").line, 1);
    EXPECT_EQ(fault("power V5: U7\n", "power SUPPLY GROUND").line, 1);
    EXPECT_EQ(fault("port J1: 3=OUT 3=X\n", "each contact once").line, 1);
    EXPECT_EQ(fault("port: 3=OUT\n", "port and its id").line, 1);
    EXPECT_TRUE(judged(Dossier{}).circuit.empty());
}

TEST(Circuit, HugeAndHostileTextsEnd) {
    std::string many = "port J1: 2=GND\n";
    for (int i = 0; i < 1500; ++i)
        many += "R" + std::to_string(i) + " resistor 1k: 1=a" + std::to_string(i) + " 2=a" +
                std::to_string(i + 1) + "\n";
    const auto j = judged(with_text(relic_port(), many));
    EXPECT_LE(j.circuit.network.all.size(), 1000U);
    std::string noise;
    for (int i = 0; i < 5000; ++i) noise += static_cast<char>((i * 7919) % 251 + 1);
    (void)judged(with_text(relic_port(), noise));
    // A ring of zero ohms, and all on one net.
    (void)judged(with_text(relic_port(),
                           "port J1: 2=GND 3=A\nW1 jumper: 1=A 2=B\nW2 jumper: 1=B 2=A\nW3 jumper: 1=A "
                           "2=A\nU1 74x04 hct: 1A=A 1Y=A\n"));
}

TEST(NetworkEdit, KeepsEverythingElse) {
    const std::string text =
        "# head\nU1 74x04 hct:  1A=X, 1Y=Y  # a gate\n\n   2A=X\n# between\nport J1: 3=OUT 4=IN\nR1 "
        "resistor: 1=X 2=Y\n";
    auto t = text;
    EXPECT_TRUE(move_pin(t, {"U1", "1A"}, "Z"));
    EXPECT_EQ(t,
              "# head\nU1 74x04 hct:  1A=Z, 1Y=Y  # a gate\n\n   2A=X\n# between\nport J1: 3=OUT 4=IN\nR1 "
              "resistor: 1=X 2=Y\n");
    t = text;
    EXPECT_TRUE(move_pin(t, {"U1", "2A"}, "LONG.2"));
    EXPECT_THAT(t, HasSubstr("   2A=LONG.2\n"));
    EXPECT_TRUE(move_pin(t, {"port J1", "3"}, "O2"));
    EXPECT_THAT(t, HasSubstr("port J1: 3=O2 4=IN"));
    EXPECT_FALSE(move_pin(t, {"U1", "9A"}, "Z"));
    EXPECT_FALSE(move_pin(t, {"U9", "1A"}, "Z"));
    EXPECT_TRUE(join_pin(t, {"U1", "3A"}, "Q"));
    EXPECT_THAT(t, HasSubstr("2A=LONG.2 3A=Q\n"));
    EXPECT_TRUE(change_word(t, "R1", "4k7"));
    EXPECT_THAT(t, HasSubstr("R1 resistor 4k7: 1=X 2=Y"));
    EXPECT_TRUE(change_word(t, "U1", "hc"));
    EXPECT_THAT(t, HasSubstr("U1 74x04 hc:"));
    EXPECT_TRUE(set_package(t, "U1", "soic-14"));
    EXPECT_THAT(t, HasSubstr("U1 74x04 hc package=soic-14:"));
    EXPECT_TRUE(set_package(t, "U1", ""));
    EXPECT_THAT(t, HasSubstr("U1 74x04 hc:"));
    EXPECT_TRUE(swap_pins(t, {"U1", "1A"}, {"U1", "1Y"}));
    EXPECT_THAT(t, HasSubstr("1A=Y, 1Y=X"));
    EXPECT_TRUE(remove_part(t, "U1"));
    EXPECT_EQ(t, "# head\n# between\nport J1: 3=O2 4=IN\nR1 resistor 4k7: 1=X 2=Y\n");
}

TEST(Fixes, EachOneOfferedMendsTheLine) {
    Drawer drawer;
    drawer.parts = {{"resistor 4k7", PartKind::passive, 12, "", ""},
                    {"74x125 hct", PartKind::logic, 1, "", ""}};
    const struct {
        const char* text;
        const char* line;
        const char* fix;
    } cases[] = {
        {"U1 74x05 hct: 1A=0 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n", "IN",
         "Pull IN up to V5 with 4.7 kΩ (R1, 12 in the drawer)"},
        {"M1 module-33: VIN=V5 GND=GND P0=OUT\n", "OUT", "before M1.P0"},
        {"U1 74x04 hc: 1A=OUT 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n", "OUT", "Fit U1 as 74x04 hct"},
        {"U1 74x04 hct: 1A=X 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n", "X", "Pull X"},
    };
    for (const auto& c : cases) {
        const auto j =
            judged(with_text(relic_port("hct"), std::string("port J1: 1=V5 2=GND 3=OUT 4=IN\n") + c.text));
        SCOPED_TRACE(c.text);
        const auto d = c.line == std::string("OUT") && std::string(c.text).find(" hc:") != std::string::npos
                           ? judged(with_text(relic_port("ttl"),
                                              std::string("port J1: 1=V5 2=GND 3=OUT 4=IN\n") + c.text))
                           : j;
        ASSERT_NE(d.line(c.line), nullptr);
        const auto before = d.line(c.line)->verdict;
        EXPECT_TRUE(before == Verdict::stop || before == Verdict::doubt) << word(before);
        const auto fixes =
            fixes_for(d.dossier, d.circuit, d.study, d.index(c.line), test::circuit_data(), drawer);
        ASSERT_FALSE(fixes.empty());
        bool found = false;
        for (const auto& f : fixes) {
            found = found || f.says.find(c.fix) != std::string::npos;
            // What is promised is what comes: judged anew from the changed text.
            const auto after = judged(apply_fix(d.dossier, f));
            EXPECT_TRUE(after.circuit.network.problems.empty())
                << f.says << ": " << after.circuit.network.problems.front().says;
            EXPECT_NE(after.line(c.line)->verdict, before) << f.says;
        }
        EXPECT_TRUE(found) << fixes.front().says;
    }
}

TEST(Begin, PortsBecomeNetsAndTypedLinesParts) {
    auto d = relic_port();
    LogicNetwork own;
    own.id = "gate";
    own.text = "input OUT\noutput IN\nU1 74x04 hct: 1A=OUT 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0\n";
    d = put(d, own);
    BuildOption option;
    option.id = "logic";
    option.kind = OptionKind::network;
    option.network = "gate";
    d = choose_option(put(d, option), "logic");
    const auto& logic = test::wire_data().logic;
    const auto text = begin_circuit(d, logic);
    EXPECT_THAT(text, HasSubstr("port J1: 1=V5 2=GND 3=OUT 4=IN 5=BUS\n"));
    EXPECT_THAT(text, HasSubstr("power V5 GND: U1\n"));
    d = with_circuit_begun(d, logic);
    EXPECT_EQ(d.wire->network, "bridge");
    EXPECT_EQ(with_circuit_begun(d, logic), d);
    auto j = judged(d);
    EXPECT_TRUE(j.circuit.faults.empty()) << j.circuit.faults.front().says;
    EXPECT_EQ(j.link_to("U1.1A")->levels.verdict, Verdict::holds);
    const auto typed = [&](const char* line) { return with_typed_part(j.dossier, j.circuit, logic, line); };
    const auto with = typed("resistor 4k7 BUS V5");
    ASSERT_TRUE(with) << with.error().message();
    EXPECT_THAT(with->timing->find_network("bridge")->text, HasSubstr("R1 resistor 4k7: 1=BUS 2=V5\n"));
    EXPECT_THAT(typed("diode-schottky V5 VX")->timing->find_network("bridge")->text,
                HasSubstr("D1 diode-schottky: A=V5 K=VX\n"));
    EXPECT_THAT(typed("74x125 hct 1A=BUS 1Y=Z")->timing->find_network("bridge")->text,
                HasSubstr("U2 74x125 hct: 1A=BUS 1Y=Z\n"));
    // Exchanged in the option's own text.
    EXPECT_THAT(typed("swap U1.1A U1.1Y")->timing->find_network("gate")->text, HasSubstr("1A=IN 1Y=OUT"));
    for (const char* bad : {"", "resistor", "resistor much BUS V5", "flux-capacitor 1 A B", "swap U1.1A",
                            "swap U1.9 U1.1A", "remove R99", "74x125 hct 9A=X", "resistor 4k7 A@ B"}) {
        const auto no = typed(bad);
        if (std::string(bad) == "resistor") continue;  // a part whose ends are open is one
        EXPECT_FALSE(no) << bad;
    }
    // The netlist names points by the pins' numbers.
    const auto nets = netlist_of(j.circuit);
    const auto in = std::find_if(nets.begin(), nets.end(), [](const Net& n) { return n.name == "IN"; });
    ASSERT_NE(in, nets.end());
    EXPECT_THAT(in->points, testing::UnorderedElementsAre("U1.2", "J1.4"));
}

TEST(Ribbons, LeadFromThePinThroughPartsToTheModule) {
    const auto j = judged(with_text(relic_port(),
                                    "port J1: 1=V5 2=GND 3=OUT 4=IN\nD1 diode-schottky: A=V5 K=VRAW\n"
                                    "M1 module-33: VIN=VRAW GND=GND P0=X P1=Y\nR1 resistor 10k: 1=OUT 2=X\n"
                                    "U1 74x04 hct: 1A=Y 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n"));
    const auto rows = ribbons_of(j.circuit, j.study);
    ASSERT_EQ(rows.size(), 4U);
    using Flow = RibbonRow::Flow;
    EXPECT_EQ(rows[0].flow, Flow::supply);
    EXPECT_THAT(rows[0].hops, testing::ElementsAre(testing::ElementsAre("D1")));
    EXPECT_THAT(rows[0].ends, testing::ElementsAre("M1.VIN"));
    EXPECT_EQ(rows[1].flow, Flow::ground);
    EXPECT_EQ(rows[2].flow, Flow::to_modern);
    EXPECT_THAT(rows[2].hops, testing::ElementsAre(testing::ElementsAre("R1")));
    EXPECT_THAT(rows[2].ends, testing::ElementsAre("M1.P0"));
    EXPECT_EQ(rows[2].inverted, false);
    EXPECT_EQ(rows[3].flow, Flow::to_relic);
    EXPECT_THAT(rows[3].hops, testing::ElementsAre(testing::ElementsAre("U1")));
    EXPECT_THAT(rows[3].ends, testing::ElementsAre("M1.P1"));
    EXPECT_EQ(rows[3].inverted, true);
}

TEST(Bill, IsCountedFromTheCircuit) {
    const auto j =
        judged(with_text(relic_port(),
                         "port J1: 1=V5 2=GND 3=OUT 4=IN\nU1 74x04 hct: 1A=OUT 1Y=IN\nU2 74x165 hct "
                         "package=soic-16: CLK=OUT\nU3 74x165 hct: CLK=OUT\nR1 resistor 4k7: 1=OUT 2=V5\n"));
    Supply s;
    s.boards = 2;
    PartLine line;
    line.id = line.part = "74x165 hct";
    line.prices = {{1, 0.62}, {4, 0.50}};
    s.parts = {line};
    const auto b = bill_of(j.circuit.network, s, test::wire_data().families, test::wire_data().packages);
    EXPECT_EQ(b.parts, "74x04 hct, 2 × 74x165 hct, resistor 4k7");
    EXPECT_EQ(b.count, 4);
    EXPECT_NEAR(*b.cost, 4 * 0.50 / 2, 1e-12);  // four of them for two boards
    EXPECT_EQ(b.without_price, 2);
    EXPECT_NEAR(*b.current_a, 3 * 80e-6, 1e-12);
    EXPECT_EQ(b.soldering, "surface, 1.27 mm");
    EXPECT_EQ(b.hardest, SolderClass::fair);
}

TEST(ValueStudies, AreTiedToPartsAndFoundInTheCircuit) {
    auto d = with_text(relic_port("oc", "ttl"),
                       "port J1: 1=V5 2=GND 3=OUT 4=IN\nrail V3 3.3V ±5%\nM1 module-33: VIN=V5 3V3=V3 "
                       "GND=GND P0=OUT P1=LAMP\n"
                       "R1 resistor 4k7 1%: 1=OUT 2=V3\nR2 resistor 33: 1=LAMP 2=LED\nD1 led: A=LED K=GND\n");
    WireValue v;
    v.id = "own";
    v.name = "Own";
    v.kind = "rc-delay";
    v.parts = {{"r", "R1"}};
    NumberFact n;
    for (const auto& [key, value] : {std::pair("c", 1e-9), {"from", 0.0}, {"to", 3.3}, {"at", 1.65}}) {
        n.key = key;
        n.value.value = value;
        v.numbers.push_back(n);
    }
    v.most = 3e-6;
    d = put(d, v);
    const auto a =
        analyse_wire(d,
                     {std::shared_ptr<const LogicLibrary>(&test::wire_data().logic, [](const auto*) {}),
                      &test::wire_data().families, &test::wire_data().packages, &test::wire_data().parts},
                     Person{});
    const auto* own = a.find_value("own");
    ASSERT_NE(own, nullptr);
    EXPECT_NEAR(*own->result->main_value(), 4.7e3 * 1e-9 * std::log(2.0), 1e-15);  // 3.258 µs
    EXPECT_EQ(own->verdict, Verdict::stop);
    EXPECT_NEAR(own->spread->most, 1.01 * 4.7e-6 * std::log(2.0), 1e-12);
    ASSERT_EQ(own->fits.size(), 2U);
    const auto* pull = a.find_value("found pull-up R1");
    ASSERT_NE(pull, nullptr);
    EXPECT_TRUE(pull->found);
    EXPECT_NEAR(pull->inputs.at("r"), 4700, 1e-9);
    const auto* lamp = a.find_value("found led R2");
    ASSERT_NE(lamp, nullptr);
    EXPECT_NEAR(*lamp->result->main_value(), (3.465 - 2.0) / 33, 1e-9);
    EXPECT_EQ(lamp->verdict, Verdict::stop);
    // A tie to nothing is said.
    v.parts = {{"r", "R99"}};
    EXPECT_THAT(study_value(v, a.circuit).problem, HasSubstr("no part R99"));
    v.parts.clear();
    EXPECT_THAT(study_value(v, a.circuit).problem, HasSubstr("no --r"));
    v.kind = "magic";
    EXPECT_THAT(study_value(v, a.circuit).problem, HasSubstr("expected rc-delay"));
}

TEST(ValueStudies, LookIntoTheDrawer) {
    WireValue v;
    v.id = v.name = "lamp";
    v.kind = "led";
    for (const auto& [key, value] : {std::pair("supply", 5.0), {"vf", 2.0}, {"current", 5e-3}}) {
        NumberFact n;
        n.key = key;
        n.value.value = value;
        v.numbers.push_back(n);
    }
    auto s = study_value(v, Circuit{});  // 600 Ω; 620 Ω are the nearest of E24
    Drawer drawer;
    drawer.parts = {{"resistor 560", PartKind::passive, 7, "", ""},
                    {"resistor 1k", PartKind::passive, 9, "", ""},
                    {"capacitor 560p", PartKind::passive, 3, "", ""}};
    look_into_drawer(s, drawer);
    ASSERT_TRUE(s.at_hand);
    EXPECT_NEAR(s.at_hand->ohm, 560, 1e-9);
    EXPECT_EQ(s.at_hand->count, 7);
    EXPECT_NEAR(*s.at_hand->main, 3.0 / 560, 1e-12);
    EXPECT_EQ(s.at_hand->verdict, Verdict::holds);
    drawer.parts.erase(drawer.parts.begin());
    s.at_hand.reset();
    look_into_drawer(s, drawer);
    EXPECT_FALSE(s.at_hand) << "1 kΩ is too far";
}

TEST(Solder, AsksWhatThePersonHasDone) {
    Bench bench;
    bench.solder = {{"dip", 140, 1}, {"soic", 22, 2}, {"qfn", 1, 1}};
    const auto& data = test::wire_data();
    const auto& type = *data.parts.find("74x165");
    const auto dip = advice_for(type, "dip-16", data.packages, bench);
    EXPECT_EQ(dip.verdict, Verdict::holds);
    EXPECT_NEAR(dip.chance, 140.0 / 142, 1e-12);  // (139 good + 1) ÷ (140 + 2)
    const auto soic = advice_for(type, "soic-16", data.packages, bench);
    EXPECT_EQ(soic.verdict, Verdict::doubt);
    EXPECT_NEAR(soic.chance, 21.0 / 24, 1e-12);
    EXPECT_THAT(soic.easier, testing::ElementsAre("dip-16"));
    // Fine legs never soldered: by their class, a doubt; a belly pad without hot air: no.
    EXPECT_EQ(advice_for(type, "tssop-16", data.packages, bench).verdict, Verdict::doubt);
    EXPECT_EQ(advice_for(type, "qfn-16", data.packages, bench).verdict, Verdict::stop);
    bench.processes = {Process::assembly_service};
    EXPECT_TRUE(advice_for(type, "qfn-16", data.packages, bench).service);
    EXPECT_FALSE(advice_for(type, "nobody-knows", data.packages, bench).known);
}

}  // namespace
}  // namespace grayrelic
