// SPDX-License-Identifier: GPL-3.0-or-later
// Lines of whole circuits: expected voltages by Ohm's and Kirchhoff's laws, worked beside them.
#include <gmock/gmock.h>

#include "core/dossier/edits.hpp"
#include "tests/core/wire/wire_helpers.hpp"

namespace grayrelic {
namespace {

using test::judged;
using test::relic_port;
using test::with_text;
using testing::HasSubstr;

const char* const port = "port J1: 1=V5 2=GND 3=OUT 4=IN 5=BUS\n";

TEST(Lines, AStraightLinkHasTheFamiliesMargins) {
    const auto j = judged(with_text(
        relic_port(),
        std::string(port) + "U1 74x04 hct: 1A=OUT 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n"));
    const auto* in = j.link_to("U1.1A");
    ASSERT_NE(in, nullptr);
    EXPECT_NEAR(*in->levels.high_margin_v, 2.4 - 2.0, 1e-9);
    EXPECT_NEAR(*in->levels.low_margin_v, 0.8 - 0.4, 1e-9);
    EXPECT_EQ(in->levels.verdict, Verdict::holds);
    // Both on the relic's supply: HCT at 4.75 V into a TTL input: 40 µA and 1.6 mA, so 4 mA figures.
    const auto* out = j.link_to("J1/4 IN");
    ASSERT_NE(out, nullptr);
    EXPECT_NEAR(*out->levels.high_margin_v, 4.75 - 0.66 - 2.0, 1e-9);
    EXPECT_NEAR(*out->levels.low_margin_v, 0.8 - 0.33, 1e-9);
    EXPECT_TRUE(j.circuit.faults.empty()) << j.circuit.faults.front().says;
}

TEST(Lines, TtlNeverReadsHighAtHc) {
    const auto j = judged(
        with_text(relic_port(),
                  std::string(port) + "U1 74x04 hc: 1A=OUT 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n"));
    const auto* in = j.link_to("U1.1A");
    ASSERT_NE(in, nullptr);
    // Worst together at 5.25 V: 2.4 − 0.7·5.25.
    EXPECT_NEAR(*in->levels.high_margin_v, 2.4 - 3.675, 1e-9);
    EXPECT_EQ(in->levels.verdict, Verdict::stop);
}

TEST(Lines, ADividerIsSolvedWithItsLoad) {
    // HCT at its 4 mA figure? The divider takes 5/14.7k = 0.3 mA: above 20 µA, so 4.75 − 0.66 = 4.09 V.
    const auto j = judged(with_text(
        relic_port("hct"), std::string(port) + "M1 module-33: VIN=V5 GND=GND P0=X\n"
                                               "R1 resistor 4k7: 1=OUT 2=X\nR2 resistor 10k: 1=X 2=GND\n"));
    const auto* in = j.link_to("M1.P0");
    ASSERT_NE(in, nullptr);
    // Node: (4.09 − v)/4.7k = v/10k + 1 µA.
    const double v = (4.09 / 4.7e3 - 1e-6) / (1 / 4.7e3 + 1 / 10e3);
    EXPECT_NEAR(*in->levels.arriving.high_least_v, v, 1e-6);
    EXPECT_NEAR(*in->levels.high_margin_v, v - 2.0, 1e-6);
    // The most: 5.25·10/14.7 = 3.571 against 3.3·1.05 + 0.3 = 3.765.
    EXPECT_NEAR(in->levels.arriving.highest_v, 5.25 * 10 / 14.7, 1e-6);
    EXPECT_FALSE(in->levels.over_limit);
    EXPECT_EQ(in->levels.verdict, Verdict::holds);
}

TEST(Lines, FiveVoltsKillAnIntolerantPinUnlessAResistorStandsBefore) {
    const auto bare = judged(with_text(
        relic_port("hct"), std::string(port) + "rail USB 5V ±5%\nM1 module-33: USB5V=USB GND=GND P0=OUT\n"));
    EXPECT_TRUE(bare.link_to("M1.P0")->levels.over_limit);
    EXPECT_EQ(bare.link_to("M1.P0")->levels.verdict, Verdict::stop);
    EXPECT_THAT(bare.link_to("M1.P0")->levels.why, HasSubstr("while its part is off"));
    // 10 kΩ: (5.25 − 0.3)/10k = 0.495 mA through the diode of the part that is off.
    const auto series = judged(
        with_text(relic_port("hct"),
                  std::string(port) +
                      "rail USB 5V ±5%\nM1 module-33: USB5V=USB GND=GND P0=X\nR1 resistor 10k: 1=OUT 2=X\n"));
    const auto* in = series.link_to("M1.P0");
    ASSERT_TRUE(in->clamp_a);
    EXPECT_NEAR(*in->clamp_a, (5.25 - 0.3) / 10e3, 1e-7);
    EXPECT_EQ(in->levels.verdict, Verdict::holds) << in->levels.why;
    // 1 kΩ lets 4.95 mA through: too much.
    const auto little = judged(
        with_text(relic_port("hct"),
                  std::string(port) +
                      "rail USB 5V ±5%\nM1 module-33: USB5V=USB GND=GND P0=X\nR1 resistor 1k: 1=OUT 2=X\n"));
    EXPECT_EQ(little.link_to("M1.P0")->levels.verdict, Verdict::stop);
}

TEST(Lines, OpenCollectorsNeedAPullAndTime) {
    const std::string gate = "U1 74x05 hct: 1A=0 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n";
    const auto bare = judged(with_text(relic_port(), port + gate));
    EXPECT_TRUE(bare.has("IN", LineFault::no_pull));
    EXPECT_EQ(bare.line("IN")->verdict, Verdict::stop);
    const auto pulled = judged(with_text(relic_port(), port + gate + "R1 resistor 4k7: 1=IN 2=V5\n"));
    EXPECT_FALSE(pulled.has("IN", LineFault::no_pull));
    const auto* link = pulled.link_to("J1/4 IN");
    // The TTL input draws 40 µA through 4.7 kΩ at 4.75 V.
    EXPECT_NEAR(*link->levels.arriving.high_least_v, 4.75 - 40e-6 * 4.7e3, 1e-6);
    EXPECT_NEAR(*link->pull_ohm, 4700, 1e-6);
    // Low: 1.6 mA of the input and 5/4.7k of the pull are within 4 mA: 0.33 V.
    EXPECT_NEAR(*link->levels.arriving.low_most_v, 0.33, 1e-9);
    // Rise to 2.0 V through 4.7 kΩ: 5 pF of the input, 10 of the driver, 150 of the lead.
    const double end = 4.75 - 40e-6 * 4.7e3, c = 165e-12;
    EXPECT_NEAR(*link->rise_s, 4.7e3 * c * std::log((end - 0.33) / (end - 2.0)), 2e-9);
}

TEST(Lines, TwoDriversFightAndAResistorKeepsThemApart) {
    const std::string two =
        "U1 74x04 hct: 1A=0 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\nU2 74x04 hct: 1A=OUT 1Y=Z 2A=0 "
        "3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n";
    EXPECT_TRUE(judged(with_text(relic_port(), port + two + "R1 resistor 10: 1=Z 2=IN\n"))
                    .has("IN", LineFault::contention));
    EXPECT_EQ(judged(with_text(relic_port(), port + two + "R1 resistor 10: 1=Z 2=IN\n")).line("IN")->verdict,
              Verdict::stop);
    EXPECT_FALSE(judged(with_text(relic_port(), port + two + "R1 resistor 47k: 1=Z 2=IN\n"))
                     .has("IN", LineFault::contention));
    // The relic drives OUT, and so does a gate.
    EXPECT_TRUE(judged(with_text(relic_port(),
                                 std::string(port) +
                                     "U1 74x04 hct: 1A=0 1Y=OUT 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n"))
                    .has("OUT", LineFault::contention));
    // A three-state output beside it, its enable tied off, is none; not tied, it may.
    const std::string tri = "U1 74x125 hct: 1A=0 1Y=OUT 2A=0 /2OE=1 3A=0 /3OE=1 4A=0 /4OE=1 VCC=V5 GND=GND ";
    EXPECT_FALSE(judged(with_text(relic_port(), port + tri + "/1OE=1\n")).has("OUT", LineFault::may_contend));
    EXPECT_TRUE(judged(with_text(relic_port(), port + tri + "/1OE=IN\n")).has("OUT", LineFault::may_contend));
    EXPECT_TRUE(judged(with_text(relic_port(), port + tri + "/1OE=0\n")).has("OUT", LineFault::contention));
}

TEST(Lines, WhatNobodyDrivesFloats) {
    const std::string gate = "U1 74x04 hct: 1A=X 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n";
    EXPECT_TRUE(judged(with_text(relic_port(), port + gate)).has("X", LineFault::floats));
    EXPECT_FALSE(judged(with_text(relic_port(), port + gate + "R1 resistor 10k: 1=X 2=GND\n"))
                     .has("X", LineFault::floats));
    // A module's pin floats until its firmware runs; where the relic hears it, that is a doubt.
    const auto boot =
        judged(with_text(relic_port(), std::string(port) + "M1 module-33: VIN=V5 GND=GND P0=IN\n"));
    EXPECT_TRUE(boot.has("IN", LineFault::floats_at_boot));
    EXPECT_EQ(boot.line("IN")->verdict, Verdict::doubt);
    const auto pulled = judged(with_text(
        relic_port(),
        std::string(port) + "M1 module-33: VIN=V5 GND=GND P0=IN 3V3=V3\nR1 resistor 10k: 1=IN 2=V3\n"));
    EXPECT_FALSE(pulled.has("IN", LineFault::floats_at_boot));
}

TEST(Lines, FanOutAddsUp) {
    // Ten TTL inputs give 16 mA at a low: more than HCT takes at its specified 4 mA.
    std::string text =
        std::string(port) + "U1 74x04 hct: 1A=OUT 1Y=N 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n";
    for (int i = 2; i < 5; ++i)
        text += "U" + std::to_string(i) + " 74x04 ls: 1A=N 2A=N 3A=N 4A=N 5A=N 6A=N VCC=V5 GND=GND\n";
    const auto j = judged(with_text(relic_port(), text));
    const auto* l = j.link_to("U2.1A");
    ASSERT_NE(l, nullptr);
    EXPECT_EQ(l->levels.verdict, Verdict::stop);
    EXPECT_THAT(l->levels.why, HasSubstr("must take 7.20 mA"));  // 18 × 0.4 mA
    EXPECT_THAT(l->levels.why, HasSubstr("at most 4.00 mA"));
}

TEST(Lines, ALevelShifterPassesLowsAndPullsMakeTheHighs) {
    // The classic transistor between two pulled-up sides.
    const auto j = judged(with_text(
        relic_port("oc", "ttl"),
        std::string(port) +
            "rail V3 3.3V ±5%\nM1 module-33: VIN=V5 3V3=V3 GND=GND P0=L\n"
            "Q1 mosfet-n: G=V3 S=L D=OUT\nR1 resistor 10k: 1=L 2=V3\nR2 resistor 10k: 1=OUT 2=V5\n"));
    const auto* l = j.link_to("M1.P0");
    ASSERT_NE(l, nullptr);
    // High by its own pull: 3.135 V less 1 µA in 10 kΩ; never above 3.465 V.
    EXPECT_NEAR(*l->levels.arriving.high_least_v, 3.135 - 0.01, 1e-3);
    EXPECT_LE(l->levels.arriving.highest_v, 3.465 + 1e-9);
    EXPECT_EQ(l->levels.verdict, Verdict::holds) << l->levels.why;
}

TEST(Lines, SignalsBelowGroundAndUnknownFamilies) {
    const auto line = judged(with_text(
        relic_port("rs232"),
        std::string(port) + "U1 74x04 hct: 1A=OUT 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n"));
    EXPECT_EQ(line.link_to("U1.1A")->levels.verdict, Verdict::stop);
    EXPECT_THAT(line.link_to("U1.1A")->levels.why, HasSubstr("Down to −15.0 V"));
    const auto transceiver =
        judged(with_text(relic_port("rs232", "rs232"),
                         std::string(port) + "U1 rs232-transceiver: 1R=OUT 1Y=R 1A=T 1T=IN VCC=V5 "
                                             "GND=GND\nM1 module-33: VIN=V5 GND=GND P0=T\n"));
    EXPECT_EQ(transceiver.link_to("U1.1R")->levels.verdict, Verdict::holds);
    EXPECT_EQ(transceiver.link_to("J1/4 IN")->levels.verdict, Verdict::holds);
    // Nobody knows what drives: the weakest plausible is taken, 2.4 V and 100 µA.
    const auto unknown = judged(
        with_text(relic_port(""),
                  std::string(port) + "U1 74x04 hc: 1A=OUT 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n"));
    const auto* l = unknown.link_to("U1.1A");
    EXPECT_TRUE(l->family_unknown);
    EXPECT_EQ(l->levels.verdict, Verdict::stop);
    EXPECT_THAT(l->levels.why, HasSubstr("2.40 V given"));
}

TEST(Lines, SwitchesPassBothWays) {
    // Z of a selector driven by the relic reaches the module behind Y3.
    const std::string text = std::string(port) +
                             "U1 74x4051 hct: Z=OUT Y3=X S0=1 S1=1 S2=0 /E=0 VEE=GND VCC=V5 GND=GND\n"
                             "U2 74x04 hct: 1A=X 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n";
    const auto j = judged(with_text(relic_port(), text));
    const auto* l = j.link_to("U2.1A");
    ASSERT_NE(l, nullptr);
    EXPECT_TRUE(l->through_parts);
    EXPECT_EQ(l->levels.verdict, Verdict::holds) << l->levels.why;
    const auto* x = j.line("OUT");
    ASSERT_NE(x, nullptr);
    EXPECT_EQ(x->nets.size(), 2U);
}

TEST(Lines, WhatIsTooLargeIsSaidAndNotJudged) {
    std::string text =
        std::string(port) +
        "U1 74x04 hct: 1A=n300 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\nR0 resistor 1k: 1=OUT 2=n0\n";
    for (int i = 0; i < 300; ++i)
        text += "R" + std::to_string(i + 1) + " resistor 1k: 1=n" + std::to_string(i) + " 2=n" +
                std::to_string(i + 1) + "\n";
    const auto j = judged(with_text(relic_port(), text));
    EXPECT_TRUE(j.has("OUT", LineFault::too_large));
    EXPECT_EQ(j.line("OUT")->verdict, Verdict::unknown);
    EXPECT_EQ(j.link_to("U1.1A"), nullptr);
}

TEST(Lines, WhatAnInputGivesLiftsALineToItsSupplyAtMost) {
    // An unknown input of the relic gives 1.6 mA at a low: through 10 kΩ 16 V, were it not for its 5.25 V.
    const auto j = judged(with_text(relic_port("ttl", ""),
                                    std::string(port) + "U1 74x04 hct: 1A=OUT 1Y=X 2A=0 3A=0 4A=0 5A=0 6A=0 "
                                                        "VCC=V5 GND=GND\nR1 resistor 10k: 1=X 2=IN\n"));
    const auto* l = j.link_to("J1/4 IN");
    ASSERT_NE(l, nullptr);
    EXPECT_LE(*l->levels.arriving.low_most_v, 5.25 + 1e-9);
    EXPECT_EQ(l->levels.verdict, Verdict::stop);
}

/// Law: over random drivers, a higher VOH at the relic never lowers a high margin anywhere in the circuit.
TEST(Lines, ABetterDriverNeverMakesALineWorse) {
    const auto text =
        std::string(port) +
        "M1 module-33: VIN=V5 GND=GND P0=X\nR1 resistor 4k7: 1=OUT 2=X\nR2 resistor 22k: 1=X 2=GND\n"
        "U1 74x04 hct: 1A=OUT 1Y=IN 2A=0 3A=0 4A=0 5A=0 6A=0 VCC=V5 GND=GND\n";
    double before = -9;
    for (const char* family : {"ttl", "ls", "hct"}) {  // 2.4, 2.7, 4.09 V
        const auto j = judged(with_text(relic_port(family), text));
        const double now = *j.link_to("M1.P0")->levels.high_margin_v;
        EXPECT_GE(now, before) << family;
        before = now;
    }
}

}  // namespace
}  // namespace grayrelic
