// SPDX-License-Identifier: GPL-3.0-or-later
// Switched loads, inrush, the order of coming up, batteries and harvested power: closed forms, the arithmetic
// beside.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <cmath>

#include "core/electrical/rails_study.hpp"

namespace grayrelic {
namespace {

using testing::ElementsAre;
using testing::HasSubstr;

RailStudy study(const std::string& text) {
    auto tree = rails_from_text(text, "t.rails");
    EXPECT_TRUE(tree) << (tree ? "" : tree.error().message());
    return tree ? study_rails(std::move(*tree)) : RailStudy{};
}

const SwitchedLoad& first_switched(const RailStudy& s) {
    static const SwitchedLoad none;
    return s.switched.empty() ? none : s.switched.front();
}

struct Gate {
    const char* line;
    Verdict conducts, opens;
    double on_v, off_v;
};

TEST(SwitchedLoad, GatesAtTheVoltsThereAre) {
    // 12 V ± 5 %: 11.4 V to 12.6 V.
    const Gate cases[] = {
        // P-channel straight on a 3.3 V pin: 12.6 − 3.3 = 9.3 V stay.
        {"gate 0V off 3.3V at 4.5V vth 1V 2.5V", Verdict::holds, Verdict::stop, 11.4, 9.3},
        // Pulled up to its own rail.
        {"gate 0V at 4.5V vth 1V 2.5V", Verdict::holds, Verdict::holds, 11.4, 0},
        // Nothing said of the transistor.
        {"gate 0V", Verdict::doubt, Verdict::holds, 11.4, 0},
        {"gate 0V off 11.5V", Verdict::doubt, Verdict::stop, 11.4, 1.1},
        // Rated at 10 V, driven with 11.4 − 5 = 6.4 V: conducts, by how much is not said.
        {"gate 5V at 10V vth 2V 4V", Verdict::doubt, Verdict::holds, 6.4, 0},
        // 11.4 − 9 = 2.4 V, and it may begin at 4 V only.
        {"gate 9V at 10V vth 2V 4V", Verdict::stop, Verdict::holds, 2.4, 0},
        // N-channel between the load and ground, at 3.3 V.
        {"gate 3.3V low at 2.5V vth 0.5V 1.2V", Verdict::holds, Verdict::holds, 3.3, 0},
        {"gate 3.3V low at 10V vth 2V 4V", Verdict::stop, Verdict::holds, 3.3, 0},
        {"gate 3.3V off 0.4V low at 2.5V vth 0.5V 1.2V", Verdict::holds, Verdict::doubt, 3.3, 0.4},
        {"gate 3.3V off 0.6V low at 2.5V vth 0.5V 1.2V", Verdict::holds, Verdict::stop, 3.3, 0.6},
        // N-channel in the supply's side: its gate must be raised above the rail.
        {"gate 18V off 0V at 4.5V vth 1V 2.5V", Verdict::holds, Verdict::holds, 18 - 12.6, 0},
        {"gate 36V off 0V at 4.5V vth 1V 2.5V", Verdict::stop, Verdict::holds, 36 - 12.6, 0},
    };
    for (const auto& c : cases) {
        SCOPED_TRACE(c.line);
        const auto s =
            study(std::string("source A 12V ±5%\nswitch Q A -> B ron 0Ω ") + c.line + "\nload L B 100mA\n");
        const auto& w = first_switched(s);
        EXPECT_EQ(w.conducts, c.conducts) << w.conducts_why;
        EXPECT_EQ(w.opens, c.opens) << w.opens_why;
        EXPECT_NEAR(*w.gate_on_v, c.on_v, 1e-6);
        EXPECT_NEAR(*w.gate_off_v, c.off_v, 1e-6);
    }
}

/// Below every threshold there is it does not conduct, also where nothing is said of the transistor.
TEST(SwitchedLoad, AGateAtItsSourceNeverConducts) {
    const auto s = study("source A 3.3V\nswitch Q A -> B ron 0Ω gate 3.3V off 0V\nload L B 1mA\n");
    EXPECT_EQ(first_switched(s).conducts, Verdict::stop) << first_switched(s).conducts_why;
}

TEST(SwitchedLoad, TheGroundIsLifted) {
    const std::string base =
        "source A 5V\nsource V3 3.3V\nswitch Q A -> B ron 0.5Ω gate 5V low at 4.5V vth 1V 2V\nload L B ";
    // 0.5 Ω · 0.6 A = 0.3 V; 0.4 V low + 0.3 V lift against 0.8 V: 0.1 V left.
    const auto holds = study(base + "600mA\nline X V3 -> B 1kΩ low 0.4V needs 0.8V\n");
    EXPECT_NEAR(*first_switched(holds).lift_v, 0.3, 1e-6);
    EXPECT_EQ(first_switched(holds).lift, Verdict::holds);
    // 0.5 V of lift: 0.1 V too high.
    const auto fails = study(base + "1A\nline X V3 -> B 1kΩ low 0.4V needs 0.8V\n");
    EXPECT_EQ(first_switched(fails).lift, Verdict::stop);
    EXPECT_THAT(first_switched(fails).lift_why, HasSubstr("100 mV too high"));
    const auto unsaid = study(base + "1A\n");
    EXPECT_EQ(first_switched(unsaid).lift, Verdict::doubt);
    EXPECT_EQ(first_switched(study(base + "100mA\n")).lift, Verdict::holds);
}

TEST(SwitchedLoad, ItsLinesKeepItAlive) {
    const std::string base =
        "source A 5V\nsource V3 3.3V\nswitch Q A -> B ron 0.1Ω gate 0V at 4.5V vth 1V 2V\nline X V3 -> B "
        "1kΩ\n";
    // Nothing but a chip there: it stays a diode below the line, 3.3 − 0.6 = 2.7 V.
    const auto kept = study(base + "load L B 20mA reset 1V\n");
    EXPECT_NEAR(first_switched(kept).off_v, 2.7, 1e-6);
    EXPECT_THAT(first_switched(kept).fed_by, ElementsAre("X"));
    EXPECT_EQ(first_switched(kept).resets, Verdict::stop);
    // With 470 Ω across it: 2.7 · 470/1470 = 0.8633 V, and 2.7/1470 = 1.837 mA.
    const auto bled = study(base + "load L B 20mA reset 1V\nload R B 470Ω\ncapacitor C B 100µF\n");
    const auto& w = first_switched(bled);
    EXPECT_NEAR(w.off_v, 2.7 * 470 / 1470, 1e-6);
    EXPECT_NEAR(w.fed_a, 2.7 / 1470, 1e-8);
    EXPECT_EQ(w.resets, Verdict::holds);
    // On: B at 5 V less what flows through 0.1 Ω; R = V/I of both loads; t = R·C·ln((5 − v)/(1 − v)).
    const double volts = bled.find_mode("")->find_rail("B")->volts,
                 amps = bled.find_mode("")->find_rail("B")->load_a;
    EXPECT_NEAR(*w.reset_s, volts / amps * 100e-6 * std::log((volts - w.off_v) / (1 - w.off_v)), 1e-6);
    // What it needs is not said: a doubt that names what to write.
    const auto unsaid = study(base + "load L B 20mA\n");
    EXPECT_EQ(first_switched(unsaid).resets, Verdict::doubt);
    EXPECT_THAT(first_switched(unsaid).resets_why, HasSubstr("Write reset"));
    // Without a line nothing feeds it.
    const auto quiet =
        study("source A 5V\nswitch Q A -> B ron 0.1Ω gate 0V at 4.5V vth 1V 2V\nload L B 20mA\n");
    EXPECT_NEAR(first_switched(quiet).off_v, 0, 1e-6);
    EXPECT_EQ(first_switched(quiet).resets, Verdict::holds);
}

TEST(SwitchedLoad, ASourceThatIsOutIsFedThroughLines) {
    const auto s = study("source HOST 5V\nsource V3 3.3V\nline TX V3 -> HOST 330Ω\nload H HOST 10mA\n");
    ASSERT_EQ(s.switched.size(), 1U);
    EXPECT_EQ(s.switched[0].ref, "HOST");
    EXPECT_NEAR(s.switched[0].off_v, 2.7, 1e-6);
    EXPECT_EQ(s.switched[0].resets, Verdict::doubt);
}

TEST(Inrush, PeakTimeAndCharge) {
    // 5.25 V/0.25 Ω = 21 A; more than 0.5 A for 0.25 · 220 µ · ln 42; 0.9 · 220 µ · 5.25/(0.5 − 0.1).
    const auto s =
        study("source A 5V ±5% limit 500mA ri 0.2Ω\ncapacitor C A 220µF esr 0.05Ω\nload L A 100mA\n");
    ASSERT_EQ(s.inrush.size(), 1U);
    const auto& i = s.inrush[0];
    EXPECT_NEAR(*i.peak_a, 21, 1e-6);
    EXPECT_NEAR(i.over_s, 0.25 * 220e-6 * std::log(42.0), 1e-9);
    EXPECT_NEAR(*i.charge_s, 0.9 * 220e-6 * 5.25 / 0.4, 1e-9);
    EXPECT_EQ(i.verdict, Verdict::doubt);
    // A published standard lets a device put 10 µF on a port at the moment of plugging in.
    EXPECT_EQ(study("source A 5V limit 500mA ri 0.2Ω\ncapacitor C A 10µF\n").inrush[0].verdict,
              Verdict::holds);
    // A supply that rises in 20 ms charges 220 µF with 220 µ · 5/20 m = 55 mA.
    const auto slow = study("source A 5V limit 500mA ri 0.2Ω rise 20ms\ncapacitor C A 220µF\n");
    EXPECT_NEAR(*slow.inrush[0].peak_a, 0.055, 1e-9);
    EXPECT_EQ(slow.inrush[0].verdict, Verdict::holds);
    // No resistance on the way is said.
    EXPECT_EQ(study("source A 5V limit 1A\ncapacitor C A 220µF\n").inrush[0].verdict, Verdict::doubt);
    // Behind a regulator the regulator charges it.
    EXPECT_TRUE(
        study("source A 9V ri 1Ω\nlinear U A -> B 5V dropout 1V max 1A\ncapacitor C B 220µF\nload L B 1mA\n")
            .inrush.empty());
}

TEST(Inrush, ASwitchThatClosesPullsItsRail) {
    // 100 µF and 300 µF share their charge: 12 · 100/400 = 3 V.
    const auto s = study(
        "source A 12V ri 0.1Ω rise 50ms\nswitch Q A -> B ron 0.1Ω gate 0V at 4.5V vth 1V 2V\n"
        "capacitor C1 A 300µF\ncapacitor C2 B 100µF\nload L B 1mA\n");
    ASSERT_EQ(s.inrush.size(), 2U);
    EXPECT_EQ(s.inrush[1].source, "Q");
    EXPECT_NEAR(*s.inrush[1].dip_v, 3, 1e-3);
    EXPECT_EQ(s.inrush[1].verdict, Verdict::doubt);
}

TEST(ComingUpOrder, FromTheSourcesOn) {
    const auto s = study(
        "source A 9V rise 10ms\nlinear U A -> V5 5V dropout 1V max 1A start 1ms\n"
        "linear W V5 -> V3 3.3V dropout 0.5V max 500mA start 2ms\ncapacitor C V3 100µF\nload L V3 100mA\n"
        "before V5 V3\nbefore V3 V5\n");
    ASSERT_EQ(s.coming_up.size(), 3U);
    EXPECT_EQ(s.coming_up[0].rail, "A");
    EXPECT_NEAR(s.coming_up[0].seconds, 0.010, 1e-12);
    EXPECT_NEAR(s.coming_up[1].seconds, 0.011, 1e-12);
    // + 2 ms + 0.9 · 100 µ · 3.3/(0.5 − 0.1)
    EXPECT_NEAR(s.coming_up[2].seconds, 0.013 + 0.9 * 100e-6 * 3.3 / 0.4, 1e-9);
    EXPECT_EQ(s.orders[0].verdict, Verdict::holds);
    EXPECT_EQ(s.orders[1].verdict, Verdict::stop);
    const auto guessed =
        study("source A 9V\nlinear U A -> B 5V dropout 1V max 1A\nload L B 1mA\nbefore A B\n");
    EXPECT_EQ(guessed.orders[0].verdict, Verdict::doubt);
}

TEST(BatteryRun, HoursChargeAndThreshold) {
    const auto s = study(
        "battery B 3.7V capacity 900mAh empty 3V full 4.2V charge 300mA shutdown 100mA 36s\n"
        "linear U B -> V3 3V dropout 0.2V iq 1mA max 500mA start 1ms\nload L V3 89mA in idle 8mA\n");
    ASSERT_EQ(s.batteries.size(), 1U);
    const auto& b = s.batteries[0];
    // It works down to 3.2 V only: (4.2 − 3.2)/(4.2 − 3.0) of the capacity, at 90 mA and at 9 mA.
    EXPECT_NEAR(*b.lowest_v, 3.2, 1e-6);
    EXPECT_THAT(b.lowest_because, HasSubstr("U no longer holds V3"));
    EXPECT_NEAR(*b.modes[0].hours, 0.9 / 0.090 * 1.0 / 1.2, 1e-5);
    EXPECT_NEAR(*b.modes[1].hours, 0.9 / 0.009 * 1.0 / 1.2, 1e-4);
    EXPECT_NEAR(*b.charge_least_h, 3 * 1.2, 1e-9);
    EXPECT_NEAR(*b.charge_most_h, 3 * 1.4, 1e-9);
    // 0.1 A · 36 s = 3.6 C of 3240 C over 1.2 V: 1.333 mV above 3.2 V.
    EXPECT_NEAR(*b.threshold_v, 3.2 + 3.6 / 3240 * 1.2, 1e-6);
    EXPECT_EQ(b.verdict, Verdict::holds);
}

TEST(BatteryRun, WhatIsNotSaidIsADoubt) {
    const auto no_volts = study("battery B 3.7V capacity 1Ah\nload L B 100mA works 3V\n");
    EXPECT_NEAR(*no_volts.batteries[0].modes[0].hours, 10, 1e-9);
    EXPECT_EQ(no_volts.batteries[0].verdict, Verdict::doubt);
    EXPECT_FALSE(no_volts.batteries[0].threshold_v);
    const auto no_shutdown =
        study("battery B 3.7V capacity 1Ah empty 3V full 4.2V\nload L B 100mA works 3V\n");
    EXPECT_THAT(no_shutdown.batteries[0].why, HasSubstr("shutdown"));
    // 4.2 V never gives 5 V through a linear regulator.
    const auto never = study(
        "battery B 3.7V capacity 1Ah empty 3V full 4.2V\nlinear U B -> V5 5V dropout 0.2V max 1A\nload L V5 "
        "1mA\n");
    EXPECT_EQ(never.batteries[0].verdict, Verdict::stop);
}

TEST(BatteryRun, ItsWattsAreThoseAtItsOwnVolts) {
    // 1 W at 4 V are 250 mA: 4 h of 1 Ah, however high the other plug is.
    const auto s = study(
        "source USB 10V\nbattery B 4V capacity 1Ah\ndrop D USB -> V 0V\ndrop E B -> V 0V\nload L V 1W\n");
    EXPECT_NEAR(s.batteries[0].modes[0].amps, 0.25, 1e-6);
    EXPECT_NEAR(*s.batteries[0].modes[0].hours, 4, 1e-4);
    // Nothing says down to which volts it works: the threshold is a doubt.
    const auto t = study("battery B 3.7V capacity 1Ah empty 3V full 4.2V shutdown 1A 1s\nload L B 100mA\n");
    EXPECT_EQ(t.batteries[0].verdict, Verdict::doubt);
    EXPECT_THAT(t.batteries[0].why, HasSubstr("not known"));
}

TEST(Harvested, TheSumOfWhatEachLineGives) {
    // Two lines of 9 V behind 500 Ω through 0.4 V into 5 mA: each 2.5 mA, 9 − 1.25 − 0.4 = 7.35 V.
    const std::string two =
        "harvest RTS 9V ri 500Ω\nharvest DTR 9V ri 500Ω\ndrop D1 RTS -> V 0.4V\ndrop D2 DTR -> V 0.4V\n";
    const auto s = study(two + "load L V 5mA works 5V\n");
    ASSERT_EQ(s.harvests.size(), 1U);
    EXPECT_NEAR(s.harvests[0].volts, 7.35, 1e-6);
    EXPECT_NEAR(s.harvests[0].amps, 0.005, 1e-9);
    EXPECT_EQ(s.harvests[0].verdict, Verdict::holds);
    // 16 mA: 9 − 4 − 0.4 = 4.6 V: not enough.
    EXPECT_EQ(study(two + "load L V 16mA works 5V\n").harvests[0].verdict, Verdict::stop);
    // A line that gives 2 mA at most gives no more: the other carries 3 mA, 9 − 1.5 − 0.4 = 7.1 V.
    const auto limited = study(
        "harvest RTS 9V ri 500Ω limit 2mA\nharvest DTR 9V ri 500Ω\ndrop D1 RTS -> V 0.4V\ndrop D2 DTR -> V "
        "0.4V\nload L V 5mA works 5V\n");
    EXPECT_NEAR(limited.harvests[0].volts, 7.1, 1e-6);
    EXPECT_EQ(study(two + "load L V 5mA\n").harvests[0].verdict, Verdict::doubt);
}

TEST(RailAlone, WhatTwoPlugsShareMayBeTooMuchForOne) {
    const auto s = study(
        "source USB 5V limit 100mA\nsource BRICK 5V limit 1A\ndrop D USB -> V 0.4V\ndrop E BRICK -> V "
        "0.3V\nload L V 150mA\n");
    EXPECT_EQ(s.modes[0].verdict(), Verdict::holds);
    ASSERT_EQ(s.alone.size(), 2U);
    EXPECT_EQ(s.alone[0].mode, "USB alone");
    EXPECT_EQ(s.alone[0].verdict(), Verdict::stop);
    EXPECT_EQ(s.alone[1].verdict(), Verdict::holds);
}

}  // namespace
}  // namespace grayrelic
