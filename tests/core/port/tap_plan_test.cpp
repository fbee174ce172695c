// SPDX-License-Identifier: GPL-3.0-or-later
// How a port is recorded: figures by arithmetic beside each.
#include <fmt/format.h>

#include "core/port/tap_plan.hpp"

#include <cmath>

#include "core/analysis/analysis.hpp"
#include "core/checks/analyse.hpp"
#include "core/dossier/edits.hpp"
#include "core/port/bricks.hpp"
#include "core/port/pin_entry.hpp"
#include "core/report/tap_figure.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

std::shared_ptr<const DataLibrary> shipped() {
    static const auto d = DataLibrary::load(disk(), {test::source_folder() / "data"});
    return d;
}

Port tapped(const std::vector<std::string>& lines, const char* connector = "dsub-9") {
    Port p;
    p.id = "J1";
    p.name = "Control port";
    p.connector = connector;
    for (const auto& line : lines) {
        Pin pin;
        pin.number = std::to_string(p.pins.size() + 1);
        const auto entered = pin_with_entry(pin, line, {EvidenceKind::measured, "me", "", ""});
        EXPECT_TRUE(entered) << line;
        p.pins.push_back(*entered);
    }
    return p;
}

TapStudy plan(const Port& p) {
    const auto c = shipped()->connectors.find(p.connector);
    return plan_taps(p, c ? &*c : nullptr, shipped()->families, shipped()->analysers);
}

const TapLine& line(const TapStudy& s, const std::string& pin) {
    return *std::find_if(s.lines.begin(), s.lines.end(), [&](const TapLine& l) { return l.pin == pin; });
}

TEST(TapPlan, LinesWithinTheInputGoStraight) {
    // The general analyser endures −0.5 V to 5.25 V, reads 0.8 V and 2.0 V; LS gives 2.7 V at least.
    const auto s = plan(tapped({"GND", "A relic ls", "B relic ttl", "+5 V supply 5V", "C bridge lvc"}));
    EXPECT_EQ(line(s, "2").way, TapWay::direct);
    EXPECT_EQ(line(s, "3").way, TapWay::direct);
    EXPECT_EQ(line(s, "5").way, TapWay::direct);
    EXPECT_EQ(line(s, "4").way, TapWay::meter) << "a supply is never tapped";
    EXPECT_EQ(line(s, "1").way, TapWay::ground);
    EXPECT_EQ(s.ground_pin, "1");
    EXPECT_EQ(line(s, "2").channel, 1);
    EXPECT_EQ(line(s, "5").channel, 3);
}

TEST(TapPlan, AboveTheInputADividerIsComputed) {
    // 12 V into an input that endures 5.25 V: at most 0.95 · 5.25 / 12 = 0.4156 of it. The lower resistor 10
    // kΩ beside the input's 100 kΩ is 9.09 kΩ: the upper at least 9.09 · (1/0.4156 − 1) = 12.8 kΩ, of E12: 15
    // kΩ.
    const auto s = plan(tapped({"GND", "A relic 12V push-pull"}));
    const auto& l = line(s, "2");
    ASSERT_EQ(l.way, TapWay::divider) << l.says;
    EXPECT_EQ(l.verdict, Verdict::stop) << "straight it would be destroyed";
    EXPECT_NEAR(l.top_ohm, 15e3, 1);
    EXPECT_NEAR(l.bottom_ohm, 10e3, 1);
    EXPECT_LT(12 * 9.0909 / (9.0909 + 15), 5.25);
    EXPECT_GE(l.high_at_input_v, 2.0);
}

TEST(TapPlan, AFastLineOfUnknownStrengthNeedsABuffer) {
    auto p = tapped({"GND", "A relic 12V push-pull"});
    // 100 ns, 15 pF: the lower resistor at most 10 ns / 15 pF = 667 Ω, of E12 560 Ω; the upper at least 783
    // Ω, 820 Ω. An output of unknown strength, 1 kΩ, is no small part of 1.38 kΩ.
    p.taps.shortest.value = *parse_time("100ns");
    EXPECT_EQ(line(plan(p), "2").way, TapWay::buffer);
}

TEST(TapPlan, LineLevelsNeedAReceiverUnlessTheAnalyserEnduresThem) {
    auto p = tapped({"GND", "TXD relic rs232"});
    EXPECT_EQ(line(plan(p), "2").way, TapWay::buffer);
    p.taps.analyser = "store-16";  // −10 V to 10 V
    const auto s = plan(p);
    const auto& l = line(s, "2");
    ASSERT_EQ(l.way, TapWay::divider) << l.says;
    EXPECT_LE(15 * (l.bottom_ohm / (l.bottom_ohm + l.top_ohm)), 10.0);
}

TEST(TapPlan, WhatNobodyKnowsIsMeasuredFirst) {
    const auto s = plan(tapped({"GND", "A relic", "odd"}));
    EXPECT_EQ(line(s, "2").way, TapWay::measure_first);
    EXPECT_EQ(line(s, "3").way, TapWay::measure_first);
    EXPECT_EQ(s.verdict, Verdict::stop);
    EXPECT_EQ(line(s, "2").channel, 0);
}

TEST(TapPlan, WithoutAGroundNothingIsConnected) {
    const auto s = plan(tapped({"A relic ttl", "B relic ttl"}));
    EXPECT_EQ(s.verdict, Verdict::stop);
    EXPECT_THAT(s.ground_says, testing::HasSubstr("find it first"));
}

TEST(TapPlan, AWeakLineIsNotLoaded) {
    // 100 kΩ of pull against 100 kΩ of input: half of 4.5 V stays above 2.0 V, but 1 MΩ leaves 0.41 V.
    EXPECT_EQ(line(plan(tapped({"GND", "A relic oc pull-up 1M", "+5 V supply 5V"})), "2").way,
              TapWay::buffer);
    EXPECT_EQ(line(plan(tapped({"GND", "A relic oc pull-up 10k", "+5 V supply 5V"})), "2").way,
              TapWay::direct);
    // 10 kΩ · 15 pF · 2.2 = 330 ns is more than a quarter of 1 µs.
    auto p = tapped({"GND", "A relic oc pull-up 10k", "+5 V supply 5V"});
    p.taps.shortest.value = *parse_time("1us");
    EXPECT_EQ(line(plan(p), "2").way, TapWay::buffer);
    p.taps.shortest.value = *parse_time("2us");
    EXPECT_EQ(line(plan(p), "2").way, TapWay::direct);
}

TEST(TapPlan, TheRateFollowsFromTheShortestPulse) {
    auto p = tapped({"GND", "A relic ttl"});
    EXPECT_EQ(plan(p).least_rate_hz, 0);
    EXPECT_FALSE(plan(p).doubts.empty());
    // Five samples of 3 µs: 1.67 MHz; the next that it has is 2 MHz.
    p.taps.shortest.value = *parse_time("3us");
    EXPECT_NEAR(plan(p).least_rate_hz, 5 / 3e-6, 1);
    EXPECT_EQ(plan(p).rate_hz, 2e6);
    p.taps.shortest.value = *parse_time("100ns");
    EXPECT_EQ(plan(p).rate_hz, 24e6);
    EXPECT_THAT(plan(p).doubts, testing::Contains(testing::HasSubstr("not to be trusted")));
}

TEST(TapPlan, TheTimeFollowsFromTheRarestThingWanted) {
    // Once with 95 %: e^(−t/T) = 0.05 at t = 3.00 T. Twenty times: half the 95 % point of χ² with 40 degrees
    // of freedom, 55.758 / 2 = 27.88 (tables).
    EXPECT_NEAR(seconds_for(10, 1), 29.96, 0.01);
    EXPECT_NEAR(seconds_for(10, 20), 278.8, 2.8);
    EXPECT_NEAR(seconds_for(1, 5), 18.307 / 2, 0.1);
    auto p = tapped({"GND", "A relic ttl"});
    p.taps.wishes = {{"w1", "an error", "", 60.0, 5}, {"w2", "a press", "press it", std::nullopt, 20}};
    const auto s = plan(p);
    EXPECT_NEAR(s.seconds, 60 * 18.307 / 2, 6) << "the presses, 20 · 5 s, fit into that";
    EXPECT_EQ(s.steps.size(), 2U);
    EXPECT_EQ(s.steps[1].how, "press it");
}

TEST(TapPlan, MoreLinesThanChannelsAreSeveralRecordings) {
    std::vector<std::string> lines{"GND"};
    for (int i = 0; i < 12; ++i) lines.push_back(fmt::format("S{} relic ttl", i));
    const auto s = plan(tapped(lines, "dsub-25"));
    EXPECT_EQ(s.runs, 2);
    EXPECT_EQ(line(s, "13").run, 2);
    EXPECT_EQ(line(s, "13").channel, 4);
}

TEST(TapPlan, TheCardHasTheCableTheListAndTheCautions) {
    Dossier d;
    auto p = tapped({"GND", "A relic ttl", "B relic 12V push-pull", "+5 V supply 5V"});
    p.taps.wishes = {{"w1", "a press of <FIRE>", "press it", std::nullopt, 20}};
    d = put(d, p);
    CaptureStore store;
    Progress progress;
    const auto a = analyse(d, {}, store, progress, nullptr, shipped());
    const auto card = tap_card(**a, "J1");
    ASSERT_TRUE(card) << test::message(card);
    const auto all = card->pages[0] + (card->pages.size() > 1 ? card->pages[1] : "");
    for (const char* part :
         {"into the machine", "15 kΩ", "A probe that slips", "The clip of a scope is earth",
          "Plug and unplug with the power off", "&lt;FIRE&gt;", "channel 1"})
        EXPECT_THAT(all, testing::HasSubstr(part));
    EXPECT_FALSE(tap_card(**a, "J9"));
}

Port jack(const std::string& middle, const std::string& sleeve, const std::string& protection = {}) {
    auto p = tapped({middle, sleeve}, "barrel-55-21");
    for (auto& pin : p.pins)
        if (role_of(pin) == PinRole::rail) {
            pin.function.value = "supply-in";
            pin.protection.value = protection;
        }
    return p;
}

std::map<std::string, BrickCase> bricks(const Port& p) {
    std::map<std::string, BrickCase> out;
    const auto c = *shipped()->connectors.find(p.connector);
    for (auto& b : try_bricks(p, c, shipped()->supplies, shipped()->families)) out.emplace(b.brick.id, b);
    return out;
}

TEST(Bricks, EachUsualSupplyAgainstAJack) {
    const auto bare = bricks(jack("+9V supply 9V 500mA", "GND"));
    ASSERT_GE(bare.size(), 8U);
    EXPECT_TRUE(bare.at("dc-9-positive").meant);
    EXPECT_EQ(bare.at("dc-9-positive").verdict, Verdict::holds);
    EXPECT_EQ(bare.at("dc-9-negative").verdict, Verdict::stop) << "reversed, nothing in between";
    EXPECT_EQ(bare.at("dc-12-positive").verdict, Verdict::stop) << "12 V where 9 V are wanted";
    EXPECT_EQ(bare.at("dc-19-positive").verdict, Verdict::stop);
    EXPECT_EQ(bare.at("dc-5-positive").verdict, Verdict::doubt) << "too little harms nothing";
    EXPECT_EQ(bare.at("ac-9").verdict, Verdict::stop) << "reversed every half wave";
    EXPECT_EQ(bare.at("dc-9-positive-plain").verdict, Verdict::doubt) << "14 V with nothing drawn";
}

TEST(Bricks, ADiodeKeepsTheReversedOnesOut) {
    const auto safe = bricks(jack("+9V supply 9V 500mA", "GND", "diode"));
    EXPECT_EQ(safe.at("dc-9-negative").verdict, Verdict::holds);
    EXPECT_EQ(safe.at("dc-9-negative").unprotected, Verdict::stop);
    EXPECT_EQ(safe.at("dc-19-positive").verdict, Verdict::stop) << "a diode does not lower 19 V";
    EXPECT_EQ(safe.at("ac-9").verdict, Verdict::stop) << "its peaks of 16 V come through";
}

TEST(Bricks, PolarityIsWhereTheRailStands) {
    // Sleeve positive: the middle is at −9 V against it.
    const auto b = bricks(jack("GND", "+9V supply 9V 500mA"));
    EXPECT_EQ(b.at("dc-9-negative").verdict, Verdict::holds);
    EXPECT_TRUE(b.at("dc-9-negative").meant);
    EXPECT_EQ(b.at("dc-9-positive").verdict, Verdict::stop);
    EXPECT_TRUE(bricks(tapped({"A relic ttl", "GND"}, "barrel-55-21")).empty()) << "no supply is recorded";
}

TEST(ShippedData, SuppliesAndAnalysersAreRefusedWhereTheyAreWrong) {
    EXPECT_TRUE(shipped()->problems().empty());
    for (const char* bad :
         {R"({"id":"x","name":"x","source":"s","connectors":[],"volts":5,"amperes":1})",
          R"({"id":"x","name":"x","source":"s","connectors":["a"],"volts":0,"amperes":1})",
          R"({"id":"x","name":"x","source":"s","connectors":["a"],"volts":9,"amperes":-1})", "{", ""})
        EXPECT_FALSE(supply_from_json(bad, "x.json")) << bad;
    for (
        const char* bad :
        {R"({"id":"x","name":"x","source":"s","channels":8,"rates_hz":[2,1],"limit_low_v":0,"limit_high_v":5,"low_max_v":1,"high_min_v":2,"input_ohm":1e5,"input_farad":0})",
         R"({"id":"x","name":"x","source":"s","channels":0,"rates_hz":[1],"limit_low_v":0,"limit_high_v":5,"low_max_v":1,"high_min_v":2,"input_ohm":1e5,"input_farad":0})"})
        EXPECT_FALSE(analyser_from_json(bad, "x.json")) << bad;
}

}  // namespace
}  // namespace grayrelic
