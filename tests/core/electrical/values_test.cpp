// SPDX-License-Identifier: GPL-3.0-or-later
// Values against closed forms, worked beside them; standard series against the published lists.
#include "core/electrical/values.hpp"

#include <gmock/gmock.h>

#include <cmath>
#include <numbers>

#include "core/base/random.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

double figure(const ValueResult& r, const char* key) {
    const auto* f = r.find(key);
    return f == nullptr || !f->value ? std::nan("") : *f->value;
}

ValueResult value(ValueKind kind, const ValueInputs& in, Series s = Series::e24) {
    auto r = compute_value(kind, in, s);
    EXPECT_TRUE(r) << (r ? "" : r.error().message());
    return r ? *r : ValueResult{};
}

TEST(Values, DelayOfAResistorAndACapacitor) {
    // Half way from 0: R·C·ln 2. From −5 to 5 V through 0 V is half way too.
    EXPECT_NEAR(
        figure(value(ValueKind::rc_delay, {{"r", 10e3}, {"c", 1e-7}, {"from", 0}, {"to", 5}, {"at", 2.5}}),
               "t_s"),
        1e-3 * std::log(2.0), 1e-15);
    EXPECT_NEAR(
        figure(value(ValueKind::rc_delay, {{"r", 10e3}, {"c", 1e-7}, {"from", -5}, {"to", 5}, {"at", 0}}),
               "t_s"),
        1e-3 * std::log(2.0), 1e-15);
    // Falling from 5 V to 1.5 V towards 0: ln(5/1.5).
    EXPECT_NEAR(
        figure(value(ValueKind::rc_delay, {{"r", 47e3}, {"c", 1e-6}, {"from", 5}, {"to", 0}, {"at", 1.5}}),
               "t_s"),
        47e-3 * std::log(5 / 1.5), 1e-12);
    const auto never =
        compute_value(ValueKind::rc_delay, {{"r", 1e3}, {"c", 1e-6}, {"from", 0}, {"to", 5}, {"at", 6}});
    ASSERT_FALSE(never);
    EXPECT_THAT(never.error().found, HasSubstr("does not pass"));
}

TEST(Values, DividerWithAndWithoutLoad) {
    const auto r = value(ValueKind::divider, {{"vin", 5}, {"r1", 4.7e3}, {"r2", 10e3}});
    EXPECT_NEAR(figure(r, "vout_v"), 5.0 * 10 / 14.7, 1e-12);
    EXPECT_NEAR(figure(r, "loss_w"), 25.0 / 14.7e3, 1e-12);
    // 10 kΩ ∥ 10 kΩ = 5 kΩ below 5 kΩ: half; the two lose 2.5²/5k + 2.5²/10k.
    const auto loaded = value(ValueKind::divider, {{"vin", 5}, {"r1", 5e3}, {"r2", 10e3}, {"load", 10e3}});
    EXPECT_NEAR(figure(loaded, "vout_v"), 2.5, 1e-12);
    EXPECT_NEAR(figure(loaded, "loss_w"), 6.25 / 5e3 + 6.25 / 10e3, 1e-12);
}

TEST(Values, PullUpBetweenRiseAndSink) {
    // 1 µs on 50 pF to 3.5 of 5 V: R = 1e-6/(50e-12·ln(5/1.5)) = 16.61 kΩ; 4 mA sink 5/0.004 = 1.25 kΩ.
    const auto r = value(ValueKind::pull_up,
                         {{"vcc", 5}, {"vth", 3.5}, {"c", 50e-12}, {"within", 1e-6}, {"sink", 4e-3}});
    EXPECT_NEAR(figure(r, "max_ohm"), 1e-6 / (50e-12 * std::log(5 / 1.5)), 1e-6);
    EXPECT_NEAR(figure(r, "min_ohm"), 1250, 1e-9);
    EXPECT_NEAR(figure(r, "nearest_ohm"), 16e3, 1e-6);
    EXPECT_EQ(r.verdict, Verdict::holds);
    // No value does both when the rise wants less than the sink allows.
    const auto no =
        value(ValueKind::pull_up, {{"vcc", 5}, {"vth", 3.5}, {"c", 1e-9}, {"within", 1e-6}, {"sink", 1e-3}});
    EXPECT_FALSE(no.find("nearest_ohm")->value);
    EXPECT_EQ(no.verdict, Verdict::stop);
    EXPECT_THAT(no.why, HasSubstr("no value does both"));
    EXPECT_FALSE(
        compute_value(ValueKind::pull_up, {{"vcc", 3}, {"vth", 3.5}, {"c", 1e-9}, {"within", 1e-6}}));
    // A decade too much is too slow; a decade too little can't be sunk.
    const ValueInputs fitted{{"vcc", 5},       {"vth", 3.5},   {"c", 50e-12},
                             {"within", 1e-6}, {"sink", 4e-3}, {"r", 10e3}};
    EXPECT_EQ(value(ValueKind::pull_up, fitted).verdict, Verdict::holds);
    const auto wrong = wrong_fits(ValueKind::pull_up, fitted, "r", {});
    ASSERT_EQ(wrong.size(), 6U);
    EXPECT_EQ(wrong[0].what, "a decade up");
    EXPECT_NEAR(wrong[0].fitted, 100e3, 1e-6);
    EXPECT_EQ(wrong[0].verdict, Verdict::stop);
    EXPECT_THAT(wrong[0].why, HasSubstr("rises in 6.02 µs"));  // 100k·50p·1.204
    EXPECT_EQ(wrong[1].verdict, Verdict::stop);
    EXPECT_THAT(wrong[1].why, HasSubstr("5.00 mA must be sunk"));  // 5 V over 1 kΩ
    EXPECT_NEAR(wrong[2].fitted, 11e3, 1e-6);
    EXPECT_NEAR(wrong[3].fitted, 9.1e3, 1e-6);
    EXPECT_EQ(wrong[3].verdict, Verdict::holds);
}

TEST(Values, LampRegulatorBatteryCrystalFilter) {
    const auto led = value(ValueKind::led, {{"supply", 5}, {"vf", 2}, {"current", 8e-3}});
    EXPECT_NEAR(figure(led, "ohm"), 375, 1e-9);
    EXPECT_NEAR(figure(led, "nearest_ohm"), 390, 1e-9);  // 390/375 = 1.04, 375/360 = 1.042
    EXPECT_NEAR(figure(led, "current_a"), 3.0 / 390, 1e-12);
    EXPECT_NEAR(figure(led, "power_w"), 9.0 / 390, 1e-12);
    // A decade slip: 39 Ω for 390 gives ten times the current.
    const auto slip = value(ValueKind::led, {{"supply", 5}, {"vf", 2}, {"current", 8e-3}, {"r", 39}});
    EXPECT_NEAR(figure(slip, "current_a"), 3.0 / 39, 1e-12);
    EXPECT_EQ(slip.verdict, Verdict::stop);
    const auto reg =
        value(ValueKind::regulator,
              {{"vin", 9}, {"vout", 5}, {"load", 0.1}, {"theta", 65}, {"ambient", 25}, {"iq", 5e-3}});
    EXPECT_NEAR(figure(reg, "loss_w"), 4 * 0.1 + 9 * 5e-3, 1e-12);
    EXPECT_NEAR(figure(reg, "junction_c"), 25 + 0.445 * 65, 1e-9);
    EXPECT_EQ(value(ValueKind::regulator,
                    {{"vin", 12}, {"vout", 5}, {"load", 0.25}, {"theta", 65}, {"ambient", 25}})
                  .verdict,
              Verdict::stop);  // 138.75 °C
    EXPECT_EQ(value(ValueKind::regulator,
                    {{"vin", 12}, {"vout", 5}, {"load", 0.18}, {"theta", 65}, {"ambient", 25}})
                  .verdict,
              Verdict::doubt);  // 106.9 °C
    EXPECT_NEAR(figure(value(ValueKind::battery, {{"capacity", 0.9}, {"load", 0.03}}), "hours"), 30, 1e-9);
    const auto x = value(ValueKind::crystal, {{"cl", 18e-12}, {"stray", 5e-12}});
    EXPECT_NEAR(figure(x, "c_f"), 26e-12, 1e-20);
    EXPECT_NEAR(figure(x, "nearest_f"), 27e-12, 1e-20);
    EXPECT_EQ(value(ValueKind::crystal, {{"cl", 18e-12}, {"stray", 5e-12}, {"c", 270e-12}}).verdict,
              Verdict::stop);
    EXPECT_NEAR(figure(value(ValueKind::filter, {{"r", 1e3}, {"c", 1e-7}}), "corner_hz"),
                1 / (2 * std::numbers::pi * 1e-4), 1e-9);
    const auto path =
        value(ValueKind::switch_path, {{"ron", 70}, {"source", 75}, {"load", 75}, {"c", 50e-12}});
    EXPECT_NEAR(figure(path, "loss_db"), 20 * std::log10(220.0 / 150), 1e-12);
    EXPECT_NEAR(figure(path, "bandwidth_hz"), 1 / (2 * std::numbers::pi * (145.0 * 75 / 220) * 50e-12), 1e-3);
}

/// Each level by summing the conductances of one code, apart from the program's loop over bits.
TEST(Values, LadderLevelsAndWhenTheyFall) {
    const auto r = value(ValueKind::ladder, {{"vdd", 3.3}, {"vfull", 0.7}, {"load", 75}, {"bits", 3}});
    // Σ G = 0.7/(75·2.6) = 3.5897 mS; the most significant 4/7 of it: 487.5 Ω, then double each.
    const auto& ohm = r.find("ohm")->list;
    ASSERT_EQ(ohm.size(), 3U);
    EXPECT_NEAR(ohm[0], 7.0 / 4 * 75 * 2.6 / 0.7, 1e-9);
    EXPECT_NEAR(ohm[1], 2 * ohm[0], 1e-9);
    EXPECT_NEAR(ohm[2], 4 * ohm[0], 1e-9);
    EXPECT_THAT(r.find("nearest_ohm")->list,
                testing::ElementsAre(testing::DoubleNear(470, 1e-9), testing::DoubleNear(1000, 1e-9),
                                     testing::DoubleNear(2000, 1e-9)));
    const double sum = 1 / 470.0 + 1 / 1000.0 + 1 / 2000.0 + 1 / 75.0;
    const auto& levels = r.find("levels_v")->list;
    ASSERT_EQ(levels.size(), 8U);
    EXPECT_NEAR(levels[5], 3.3 * (1 / 470.0 + 1 / 2000.0) / sum, 1e-12);  // code 101
    EXPECT_NEAR(levels[7], 3.3 * (1 / 470.0 + 1 / 1000.0 + 1 / 2000.0) / sum, 1e-12);
    EXPECT_EQ(r.monotone, true);
    // A decade slip of the least bit makes it weigh more than the others.
    const auto slip =
        value(ValueKind::ladder, {{"vdd", 3.3}, {"vfull", 0.7}, {"load", 75}, {"bits", 3}, {"r3", 200}});
    EXPECT_EQ(slip.monotone, false);
    EXPECT_EQ(slip.verdict, Verdict::stop);
    // Without rounding to a series a ladder is even: all steps alike.
    ValueInputs even{{"vdd", 5}, {"vfull", 1}, {"load", 75}, {"bits", 8}};
    const auto made = value(ValueKind::ladder, even);
    for (std::size_t i = 0; i < 8; ++i) even["r" + std::to_string(i + 1)] = made.find("ohm")->list[i];
    const auto exact = value(ValueKind::ladder, even);
    EXPECT_NEAR(figure(exact, "full_v"), 1.0, 1e-12);
    EXPECT_NEAR(figure(exact, "least_step_v"), 1.0 / 255, 1e-12);
}

/// The ripple by charging and discharging through many periods, in small steps.
TEST(Values, PulseWidthRippleIsWhatASteppedSimulationShows) {
    for (const auto& [clock, bits, r, c] :
         {std::tuple(1e6, 8, 10e3, 100e-9), {16e6, 10, 4.7e3, 10e-9}, {125e6, 12, 1e3, 100e-9}}) {
        const auto v = value(ValueKind::pulse_width,
                             {{"vdd", 3.3}, {"clock", clock}, {"bits", bits}, {"r", r}, {"c", c}});
        const double period = std::exp2(bits) / clock;
        EXPECT_NEAR(figure(v, "carrier_hz"), 1 / period, 1e-6);
        EXPECT_NEAR(figure(v, "resolution_v"), 3.3 / std::exp2(bits), 1e-12);
        const int steps = 2000;
        double now = 1.65, least = 9, most = -9;
        const int periods = static_cast<int>(20 * r * c / period) + 20;
        for (int p = 0; p < periods; ++p)
            for (int i = 0; i < steps; ++i) {
                now += ((i < steps / 2 ? 3.3 : 0.0) - now) * (1 - std::exp(-period / steps / (r * c)));
                if (p + 1 == periods) least = std::min(least, now), most = std::max(most, now);
            }
        EXPECT_NEAR(figure(v, "ripple_v"), most - least, 2e-3 * (most - least) + 1e-9);
    }
}

TEST(Values, SeriesAreThePublishedOnes) {
    // IEC 60063.
    EXPECT_THAT(decade_of(Series::e6), testing::ElementsAre(1.0, 1.5, 2.2, 3.3, 4.7, 6.8));
    EXPECT_THAT(decade_of(Series::e12),
                testing::ElementsAre(1.0, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2));
    EXPECT_EQ(decade_of(Series::e24).size(), 24U);
    const std::vector<double> e48{1.00, 1.05, 1.10, 1.15, 1.21, 1.27, 1.33, 1.40, 1.47, 1.54, 1.62, 1.69,
                                  1.78, 1.87, 1.96, 2.05, 2.15, 2.26, 2.37, 2.49, 2.61, 2.74, 2.87, 3.01,
                                  3.16, 3.32, 3.48, 3.65, 3.83, 4.02, 4.22, 4.42, 4.64, 4.87, 5.11, 5.36,
                                  5.62, 5.90, 6.19, 6.49, 6.81, 7.15, 7.50, 7.87, 8.25, 8.66, 9.09, 9.53};
    EXPECT_EQ(decade_of(Series::e48), e48);
    EXPECT_EQ(decade_of(Series::e96).size(), 96U);
    EXPECT_DOUBLE_EQ(decade_of(Series::e96)[1], 1.02);
    EXPECT_DOUBLE_EQ(decade_of(Series::e96)[95], 9.76);
    EXPECT_NEAR(nearest(4900, Series::e12), 4700, 1e-6);
    EXPECT_NEAR(nearest(9.6e3, Series::e24), 10e3, 1e-6);
    EXPECT_NEAR(at_most(999, Series::e12), 820, 1e-6);
    EXPECT_NEAR(at_least(8.3e-12, Series::e12), 10e-12, 1e-20);
    // Laws: a standard value is its own neighbour; the next ones lie on either side.
    Random random(7);
    for (int i = 0; i < 500; ++i)
        for (const auto s : all_of<Series>()) {
            const double v = std::pow(10.0, -11 + 0.04 * static_cast<double>(random.below(500)));
            const double n = nearest(v, s);
            EXPECT_NEAR(nearest(n, s) / n, 1, 1e-12);
            EXPECT_LE(at_most(v, s), v * (1 + 1e-8));
            EXPECT_GE(at_least(v, s), v * (1 - 1e-8));
            EXPECT_LT(next_below(n, s), n);
            EXPECT_GT(next_above(n, s), n);
        }
}

TEST(Values, SpreadTakesEveryCornerOfTheParts) {
    const ValueInputs in{{"vin", 5}, {"r1", 10e3}, {"r2", 10e3}};
    const auto s = spread_of(ValueKind::divider, in, {{"r1", 0.05}, {"r2", 0.05}});
    ASSERT_TRUE(s);
    EXPECT_NEAR(s->least, 5.0 * 9.5 / (9.5 + 10.5), 1e-12);
    EXPECT_NEAR(s->most, 5.0 * 10.5 / (9.5 + 10.5), 1e-12);
    const auto r = value(ValueKind::divider, in);
    EXPECT_EQ(judge_wanted(r, {2.4, 2.6}), Verdict::holds);
    EXPECT_EQ(judge_wanted(r, {2.6, {}}), Verdict::stop);
    for (const auto& w : wrong_fits(ValueKind::divider, in, "r1", {2.4, 2.6}))
        EXPECT_EQ(w.verdict, w.what.find("next") == 0
                                 ? (std::abs(*w.main - 2.5) <= 0.1 ? Verdict::holds : Verdict::stop)
                                 : Verdict::stop)
            << w.what;
    // Without a wish a divider's wrong part is told, not judged.
    for (const auto& w : wrong_fits(ValueKind::divider, in, "r1", {})) EXPECT_EQ(w.verdict, Verdict::unknown);
}

TEST(Values, WhatCannotBeIsRefusedByName) {
    const auto refused = [](ValueKind kind, const ValueInputs& in) {
        const auto r = compute_value(kind, in);
        return r ? std::string("(taken)") : r.error().found + " / " + r.error().expected;
    };
    EXPECT_THAT(refused(ValueKind::filter, {{"r", 1e3}}), HasSubstr("no --c"));
    EXPECT_THAT(refused(ValueKind::filter, {{"r", 0}, {"c", 1e-9}}), HasSubstr("--r 0 Ω"));
    EXPECT_THAT(refused(ValueKind::filter, {{"r", -1}, {"c", 1e-9}}), HasSubstr("a value above 0 Ω"));
    EXPECT_THAT(refused(ValueKind::filter, {{"r", std::nan("")}, {"c", 1e-9}}), HasSubstr("--r"));
    EXPECT_THAT(refused(ValueKind::ladder, {{"vdd", 3}, {"vfull", 4}, {"load", 75}, {"bits", 3}}),
                HasSubstr("below the supply"));
    EXPECT_THAT(refused(ValueKind::ladder, {{"vdd", 3}, {"vfull", 1}, {"load", 75}, {"bits", 2.5}}),
                HasSubstr("whole number"));
    EXPECT_THAT(refused(ValueKind::ladder, {{"vdd", 3}, {"vfull", 1}, {"load", 75}, {"bits", 60}}),
                HasSubstr("up to 12"));
    EXPECT_THAT(refused(ValueKind::regulator, {{"vin", 3}, {"vout", 5}, {"load", 0}, {"theta", 1}}),
                HasSubstr("can't raise"));
    EXPECT_THAT(refused(ValueKind::led, {{"supply", 2}, {"vf", 3}, {"current", 0.01}}),
                HasSubstr("below the supply"));
    EXPECT_THAT(refused(ValueKind::crystal, {{"cl", 5e-12}, {"stray", 5e-12}}), HasSubstr("stray"));
    // Every kind says what it wants, and takes nothing it was not given.
    for (const auto kind : all_of<ValueKind>()) {
        EXPECT_FALSE(compute_value(kind, {})) << word(kind);
        EXPECT_FALSE(label(kind).empty());
    }
}

TEST(Values, MeasuresAreReadAsPeopleWriteThem) {
    using M = ValueMeasure;
    for (const auto& [text, measure, expected] : {std::tuple("900mAh", M::ampere_hours, 0.9),
                                                  {"2Ah", M::ampere_hours, 2.0},
                                                  {"4k7", M::ohms, 4700.0},
                                                  {"25 °C", M::celsius, 25.0},
                                                  {"-10C", M::celsius, -10.0},
                                                  {"60 K/W", M::kelvin_per_watt, 60.0},
                                                  {"100n", M::farads, 1e-7},
                                                  {"3V3", M::volts, 3.3},
                                                  {"8", M::count, 8.0}})
        EXPECT_NEAR(parse_measure(text, measure, "x").value_or(-1), expected, 1e-12) << text;
    EXPECT_THAT(parse_measure("warm", M::celsius, "--ambient").error().message(),
                HasSubstr("a temperature like"));
    EXPECT_THAT(parse_measure("10 A", M::volts, "--vin").error().found, HasSubstr("--vin"));
}

}  // namespace
}  // namespace grayrelic
