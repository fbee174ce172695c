// SPDX-License-Identifier: GPL-3.0-or-later
// Steady states of small boards, by arithmetic shown beside them.
#include "core/diagnose/bench_state.hpp"

#include <algorithm>

#include "core/diagnose/bench_reading.hpp"
#include "tests/core/diagnose/bench_helpers.hpp"

namespace grayrelic {
namespace {

const std::string inverters = R"(port J1: 1=V5 2=GND 3=IN 4=OUT
rail V5 5V
U1 74x04 hct: 1A=IN 1Y=mid 2A=mid 2Y=OUT 3A=GND 4A=GND 5A=GND 6A=GND
power V5 GND: U1
R1 resistor 10k: 1=IN 2=V5
)";

std::optional<double> volts_at(const BenchState& s, const BenchCircuit& c, const std::string& lead) {
    return s.volts(c.node_of(lead));
}
std::size_t line(const BenchBoard& b, const std::string& name) {
    for (std::size_t i = 0; i < b.driven.size(); ++i)
        if (b.driven[i].name == name) return i;
    ADD_FAILURE() << "no line " << name;
    return 0;
}
BenchFault fault_of(const BenchBoard& b, const std::string& key) {
    for (const auto& f : single_faults(b))
        if (f.key() == key) return f;
    ADD_FAILURE() << "no fault " << key;
    return {};
}

TEST(BenchStates, FollowFromTheLinesThatAreDriven) {
    const auto b = test::board_of(inverters);
    ASSERT_NE(b, nullptr);
    EXPECT_TRUE(b->problem.empty()) << b->problem;
    ASSERT_EQ(b->driven.size(), 1U) << "IN, which the chip reads";
    ASSERT_EQ(b->watched.size(), 1U) << "OUT, which it drives";
    const auto c = circuit_with(*b, {});
    BenchState s(c);
    s.drive(line(*b, "IN"), true);
    EXPECT_EQ(s.seen(0), '1');
    s.drive(line(*b, "IN"), false);
    EXPECT_EQ(s.seen(0), '0');
    // The first inverter's output stands at its supply, U1 pin 2.
    EXPECT_NEAR(*volts_at(s, c, "U1.2"), 5.0, 0.1);
}

TEST(BenchStates, AnOpenJointLeavesAnInputUnknown) {
    const auto b = test::board_of(inverters);
    const auto c = circuit_with(*b, {fault_of(*b, "open: U1.1")});
    BenchState s(c);
    s.drive(0, true);
    EXPECT_EQ(s.seen(0), 'x');
    EXPECT_TRUE(s.unknown(c.node_of("U1.2")));
    // Without its supply the chip does nothing at all.
    const auto dead = circuit_with(*b, {fault_of(*b, "open: U1.14")});
    const BenchState off(dead);
    EXPECT_FALSE(volts_at(off, dead, "U1.2").has_value()) << "nothing holds it";
}

TEST(BenchStates, AShortedRailComesDownToTheSuppliesLimit) {
    const auto b = test::board_of(R"(port J1: 1=V5 2=GND 3=IN
rail V5 5V
R1 resistor 1k: 1=V5 2=IN
R2 resistor 3k: 1=IN 2=GND
U1 74x04 hct: 1A=IN 2A=GND 3A=GND 4A=GND 5A=GND 6A=GND
power V5 GND: U1
)");
    ASSERT_NE(b, nullptr);
    // 3 of 4 kΩ: 3.75 V, when nobody drives the line, as with the wire of J1.3 off.
    const auto open = circuit_with(*b, {fault_of(*b, "open: J1.3")});
    const BenchState s(open);
    EXPECT_NEAR(*s.volts(open.node_of("R2.1")), 3.75, 0.06);
    const auto none = circuit_with(*b, {fault_of(*b, "supply: V5")});
    const BenchState off(none);
    EXPECT_LT(off.volts(none.node_of("R1.1")).value_or(0), 0.5);
}

/// A lamp put in the wrong way round stays dark, and the line behind its resistor stands at the driver's
/// level: its pin at ground makes no supply of that line.
TEST(BenchStates, ATurnedLampStaysDarkAndHoldsNothing) {
    const auto b = test::board_of(R"(port J1: 1=V5 2=GND 3=IN 4=OUT
rail V5 5V
U1 74x04 hct: 1A=IN 1Y=OUT 2A=GND 3A=GND 4A=GND 5A=GND 6A=GND
power V5 GND: U1
R1 resistor 330: 1=OUT 2=lit
D1 led: A=lit K=GND
)");
    ASSERT_NE(b, nullptr);
    const auto lamp =
        std::find_if(b->watched.begin(), b->watched.end(), [](const auto& w) { return w.lamp; });
    ASSERT_NE(lamp, b->watched.end());
    const auto at = static_cast<std::size_t>(lamp - b->watched.begin());
    const auto sound = circuit_with(*b, {});
    BenchState s(sound);
    s.drive(line(*b, "IN"), false);
    EXPECT_EQ(s.seen(at), '1');
    // 2.0 V over the lamp, 3 V over 330 + 40 + 10 Ω: 7.9 mA, 0.08 V more in the lamp.
    EXPECT_NEAR(*s.volts(sound.node_of("R1.2")), 2.08, 0.05);
    const auto turned = circuit_with(*b, {fault_of(*b, "reversed: D1")});
    BenchState dark(turned);
    dark.drive(line(*b, "IN"), false);
    EXPECT_EQ(dark.seen(at), '0');
    EXPECT_NEAR(*dark.volts(turned.node_of("R1.2")), 5.0, 0.1);
}

TEST(BenchStates, AShiftRegisterGivesWhatWasLoaded) {
    const auto b = test::board_of(R"(port J1: 1=V5 2=GND 3=/LOAD 4=CLOCK 5=OUT 6=a 7=b
rail V5 5V
U1 74x165 hct: /LD=/LOAD CLK=CLOCK INH=GND SER=GND QH=OUT P7=a P6=b P5=GND P4=GND P3=GND P2=GND P1=GND P0=GND
power V5 GND: U1
)");
    ASSERT_NE(b, nullptr);
    EXPECT_EQ(b->storage_bits, 8);
    const auto load = line(*b, "/LOAD"), clock = line(*b, "CLOCK");
    EXPECT_TRUE(b->driven[load].loads);
    EXPECT_TRUE(b->driven[clock].control);
    EXPECT_FALSE(b->driven[clock].loads);
    const auto c = circuit_with(*b, {});
    BenchState s(c);
    s.drive(line(*b, "a"), true);
    s.drive(line(*b, "b"), false);
    s.drive(clock, false);
    s.drive(load, false);
    s.drive(load, true);
    std::string out(1, s.seen(0));
    for (int i = 0; i < 2; ++i) {
        s.drive(clock, true);
        s.drive(clock, false);
        out += s.seen(0);
    }
    EXPECT_EQ(out, "100") << "P7 stands first, then P6, then P5";
    // With a and b bridged both stand between the levels.
    const auto shorted = circuit_with(*b, {{FaultKind::shorted, "a+b", {"U1.6", "U1.5"}}});
    BenchState both(shorted);
    both.drive(line(*b, "a"), true);
    both.drive(line(*b, "b"), false);
    EXPECT_NEAR(*both.volts(shorted.node_of("U1.6")), 2.5, 0.1);
}

TEST(BenchStates, ALadderAddsItsBits) {
    const auto b = test::board_of(R"(port J1: 1=V5 2=GND 3=x 4=y 5=LEVEL
rail V5 5V
U1 74x04 hct: 1A=x 1Y=p 2A=y 2Y=q 3A=GND 4A=GND 5A=GND 6A=GND
power V5 GND: U1
N1 ladder-8: B0=GND B1=GND B2=GND B3=GND B4=GND B5=GND B6=p B7=q OUT=LEVEL GND=GND
)");
    ASSERT_NE(b, nullptr);
    const auto c = circuit_with(*b, {});
    BenchState s(c);
    // Bit 7 gives half of its level, bit 6 a quarter: with both inverters high (x and y low) 3/4 of 5 V.
    s.drive(line(*b, "x"), false);
    s.drive(line(*b, "y"), false);
    EXPECT_NEAR(*s.volts(c.node_of("N1.9")), 3.75, 0.05);
    s.drive(line(*b, "y"), true);
    EXPECT_NEAR(*s.volts(c.node_of("N1.9")), 1.25, 0.05);
    // The exercise holds each line against its own share, inverted as it is: −1.25 V and −2.5 V.
    const Exercise e(*b);
    ASSERT_EQ(e.sights().size(), 2U);
    EXPECT_NEAR(std::min(e.sights()[0].share_v, e.sights()[1].share_v), -2.5, 0.05);
    // Without the leg of bit 7 nothing halves bit 6 any more: −2.5 V, as bit 7 should give.
    const std::vector<BenchFault> loose{fault_of(*b, "open: N1.8")};
    const auto p = predict(*b, e, {}, loose);
    ASSERT_EQ(p.symptoms.size(), 2U);
    EXPECT_EQ(p.symptoms[0], (Symptom{"x>LEVEL", "as y"}));
    EXPECT_EQ(p.symptoms[1], (Symptom{"y>LEVEL", "low"}));
}

TEST(BenchReadings, WithoutPowerAreOhmsLaw) {
    const auto b = test::board_of(R"(port J1: 1=V5 2=GND 3=A
rail V5 5V
R1 resistor 1k: 1=V5 2=A
R2 resistor 1k: 1=V5 2=A
R3 resistor 2k: 1=A 2=GND
D1 diode: A=A K=GND
C1 capacitor 100n: 1=V5 2=GND
C2 capacitor 220n: 1=V5 2=GND
U1 74x04 hct: 1A=A 2A=GND 3A=GND 4A=GND 5A=GND 6A=GND
power V5 GND: U1
)");
    ASSERT_NE(b, nullptr);
    const Exercise e(*b);
    const std::vector<BenchReading> readings{
        {ReadingKind::ohms, "R1.1", "R1.2"},          {ReadingKind::ohms, "R1.1", "R3.2"},
        {ReadingKind::farads, "C1.1", "C1.2"},        {ReadingKind::beep, "R1.2", "R3.1"},
        {ReadingKind::diode, "D1.2 pad", "D1.1 pad"}, {ReadingKind::look, "R1", ""}};
    auto v = predict(*b, e, readings, {}).values;
    EXPECT_NEAR(v[0], 500, 1) << "two of 1 kΩ beside each other";
    EXPECT_NEAR(v[1], 2500, 1) << "500 Ω and 2 kΩ";
    EXPECT_NEAR(v[2], 320e-9, 1e-12) << "both beside each other";
    EXPECT_LT(v[3], 1);
    EXPECT_NEAR(v[4], 0.7, 0.25);
    EXPECT_EQ(v[5], static_cast<double>(Looks::as_drawn));
    v = predict(*b, e, readings, {fault_of(*b, "missing: R2")}).values;
    EXPECT_NEAR(v[0], 1000, 1);
    v = predict(*b, e, readings, {fault_of(*b, "value: R1 x10")}).values;
    EXPECT_NEAR(v[0], 10'000.0 * 1000 / 11'000, 1);
    EXPECT_EQ(v[5], static_cast<double>(Looks::other_marking));
    v = predict(*b, e, readings, {fault_of(*b, "reversed: D1")}).values;
    EXPECT_GT(v[4], 2.5) << "it blocks: its leads turned, its pads did not";
}

TEST(BenchReadings, AreReadAsTheyAreWritten) {
    const auto beep = read_said("beep:U1.3+J2.4=open");
    ASSERT_TRUE(beep);
    EXPECT_EQ(beep->reading->key(), "beep:U1.3+J2.4");
    EXPECT_EQ(beep->value, reads_open);
    EXPECT_NEAR(read_said("volts:U2.16=0.1 V")->value, 0.1, 1e-12);
    EXPECT_NEAR(read_said("ohms:R1.1+R1.2=4k7")->value, 4700, 1e-9);
    EXPECT_EQ(read_said("look:D1=turned")->value, static_cast<double>(Looks::turned));
    EXPECT_EQ(read_said("a>REPLY=as b")->symptom.value, "as b");
    for (const auto* bad : {"", "=", "volts:U1", "beep:U1.3=open", "volts:U1.3+U1.4=1", "look:D1=sideways",
                            "HOLD=low", "volts:U2.16=much", "a>b=", "a>b=banana", "a>b=as "})
        EXPECT_FALSE(read_said(bad)) << bad;
    EXPECT_FALSE(read_said(std::string(5000, 'x') + ">y=low"));
    EXPECT_EQ(print_reading(ReadingKind::beep, 0.3), "beep");
    EXPECT_EQ(print_reading(ReadingKind::volts, reads_floating), "floating");
}

}  // namespace
}  // namespace grayrelic
