// SPDX-License-Identifier: GPL-3.0-or-later
// Lengths over time, extremes, and table columns that keep their waveform.
#include "core/signal/trend.hpp"

#include <gmock/gmock.h>

#include <cmath>

#include "core/base/random.hpp"
#include "core/capture/csv_reader.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

TEST(Trend, OfALineIsThatLine) {
    // 1 µs at the beginning, 1 ns longer each millisecond: a drift of 10⁻⁶ seconds a second, without scatter.
    std::vector<Interval> list;
    for (int i = 0; i < 100; ++i) {
        const Time from = Time::ms(i);
        list.push_back({from, from + Time::us(1) + Time::ns(i)});
    }
    const auto t = trend_of(list);
    EXPECT_EQ(t.n, 100U);
    EXPECT_NEAR(t.drift, 1e-6, 1e-15);
    EXPECT_NEAR(t.mean_s, 1e-6 + 49.5e-9, 1e-15);
    EXPECT_NEAR(t.scatter_s, 0, 1e-13);
    EXPECT_NEAR(t.neighbour_s, 1e-9, 1e-15);
}

TEST(Trend, OfAlternatingLengthsIsTheirScatter) {
    // 1 µs ± 5 ns in turn: no drift, 5 ns about the mean (n / (n − 2) more, squared), 10 ns between
    // neighbours.
    std::vector<Interval> list;
    for (int i = 0; i < 1000; ++i)
        list.push_back({Time::us(10 * i), Time::us(10 * i) + Time::us(1) + Time::ns(i % 2 == 0 ? 5 : -5)});
    const auto t = trend_of(list);
    EXPECT_NEAR(t.scatter_s, 5e-9 * std::sqrt(1000.0 / 998.0), 1e-13);
    EXPECT_NEAR(t.neighbour_s, 10e-9, 1e-15);
    EXPECT_LT(std::abs(t.drift), 3 * t.drift_error);
}

TEST(Trend, FarFromZeroKeepsItsDigits) {
    // Ten hours into a recording, lengths of a second that differ by nanoseconds.
    std::vector<Interval> list;
    for (int i = 0; i < 50; ++i) list.push_back({Time::s(36'000 + i), Time::s(36'001 + i) + Time::ns(2 * i)});
    const auto t = trend_of(list);
    EXPECT_NEAR(t.drift, 2e-9, 1e-14);
    EXPECT_NEAR(t.scatter_s, 0, 1e-13);
}

TEST(Trend, OfFewIsNone) {
    EXPECT_EQ(trend_of({}).drift, 0);
    const std::vector<Interval> two{{Time{}, Time::us(1)}, {Time::us(2), Time::us(5)}};
    EXPECT_EQ(trend_of(two).n, 2U);
    EXPECT_EQ(trend_of(two).scatter_s, 0);
}

TEST(Extremes, AreTheFirstShortestAndLongest) {
    // High 10-30, 50-60, 70-80, 100-140; low 30-50, 60-70, 80-100; periods 40, 20, 30.
    const DigitalWaveform t(false, test::at_ns({10, 30, 50, 60, 70, 80, 100, 140}));
    const Span all{Time{}, Time::ns(200)};
    EXPECT_EQ(extreme_pulse(t, PulsePart::high, true, all)->from, Time::ns(100));
    EXPECT_EQ(extreme_pulse(t, PulsePart::high, false, all)->from, Time::ns(50)) << "of equals the first";
    EXPECT_EQ(extreme_pulse(t, PulsePart::low, true, all)->from, Time::ns(30));
    EXPECT_EQ(extreme_pulse(t, PulsePart::low, false, all)->from, Time::ns(60));
    EXPECT_EQ(extreme_pulse(t, PulsePart::period, true, all)->length(), Time::ns(40));
    EXPECT_EQ(extreme_pulse(t, PulsePart::period, false, all)->length(), Time::ns(20));
    EXPECT_EQ(extreme_pulse(t, PulsePart::high, true, {Time::ns(40), Time::ns(90)})->from, Time::ns(50))
        << "only what lies wholly inside";
    EXPECT_FALSE(extreme_pulse(t, PulsePart::period, true, {Time::ns(40), Time::ns(65)}));
    EXPECT_FALSE(extreme_pulse({}, PulsePart::high, true, all));
    const DigitalWaveform gap(false, test::at_ns({10, 30, 50, 60}), {{Time::ns(15), Time::ns(20)}});
    EXPECT_EQ(extreme_pulse(gap, PulsePart::high, true, all)->from, Time::ns(50))
        << "not through an unknown stretch";
}

TEST(TableWaveform, EvenRowsKeepTheirSamples) {
    std::string text = "time_us,volts,level\n";
    for (int i = 0; i < 50; ++i)
        text += std::to_string(i) + ".0," + (i / 10 % 2 == 0 ? "0.2" : "4.8") + "," +
                (i % 2 == 0 ? "0" : "1") + "\n";
    Progress progress;
    const auto c = read_csv(text, "t.csv", progress);
    ASSERT_TRUE(c) << test::message(c);
    const auto& volts = *c->find("volts").value();
    ASSERT_TRUE(volts.analogue);
    EXPECT_EQ(volts.kind, SignalKind::analogue);
    EXPECT_EQ(volts.analogue->size(), 50U);
    EXPECT_DOUBLE_EQ(volts.analogue->period_ps(), 1e6);
    EXPECT_FLOAT_EQ(volts.analogue->samples()[10], 4.8F);
    EXPECT_EQ(volts.digital->edges().size(), 4U);
    EXPECT_FALSE(c->find("level").value()->analogue);
}

TEST(TableWaveform, UnevenRowsKeepTheirLevelsOnly) {
    Progress progress;
    const auto c =
        read_csv("time_us,volts\n0,0.2\n1,4.8\n2,0.2\n10,4.9\n11,0.1\n12,0.3\n", "t.csv", progress);
    ASSERT_TRUE(c) << test::message(c);
    EXPECT_FALSE(c->signals[0].analogue);
    EXPECT_EQ(c->signals[0].digital->edges().size(), 4U);
    // A field that is no number is a hole in the waveform and an unknown level.
    const auto hole = read_csv("time_us,volts\n0,0.2\n1,4.8\n2,x\n3,4.9\n4,0.1\n", "t.csv", progress);
    ASSERT_TRUE(hole) << test::message(hole);
    ASSERT_TRUE(hole->signals[0].analogue);
    EXPECT_TRUE(std::isnan(hole->signals[0].analogue->samples()[2]));
    EXPECT_FALSE(hole->signals[0].digital->unknown().empty());
}

}  // namespace
}  // namespace grayrelic
