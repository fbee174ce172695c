// SPDX-License-Identifier: GPL-3.0-or-later
// The bit time from edges, settings of decoders, and the walks that families share.
#include "core/decode/bit_time.hpp"

#include <gmock/gmock.h>

#include <cmath>

#include "core/base/random.hpp"
#include "core/decode/settings.hpp"
#include "core/signal/merged_edges.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::waveform_ns;

TEST(BitTime, TheShortestIntervalThatOccursOften) {
    // Intervals of 1, 2, 1, 3, 1, 1, 2 and 5 bits of 100 ns.
    std::vector<Time> edges{Time::us(1)};
    for (const int k : {1, 2, 1, 3, 1, 1, 2, 5}) edges.push_back(edges.back() + Time::ns(100 * k));
    const auto list = bit_time_candidates(DigitalWaveform(true, edges));
    ASSERT_EQ(list.size(), 3U);
    EXPECT_NEAR(list[0], 100e3, 1);
    EXPECT_NEAR(list[1], 50e3, 1) << "a line that never shows a single bit alone";
    EXPECT_NEAR(list[2], 100e3 / 3, 1);
}

TEST(BitTime, GlitchesDoNotCountAndJitterAveragesOut) {
    Random random(4);
    std::vector<Time> edges{Time::us(1)};
    double exact = 1e6;
    for (int i = 0; i < 4000; ++i) {
        exact += 74'667.0 * static_cast<double>(1 + random.below(4));
        edges.push_back(Time::ps(static_cast<std::int64_t>(exact + 2000 * random.normal())));
    }
    for (const std::size_t at : {900U, 2100U}) {  // two glitches of 3 ns
        edges.insert(edges.begin() + at + 1, edges[at] + Time::ns(3));
        edges.insert(edges.begin() + at + 2, edges[at] + Time::ns(6));
    }
    const auto list = bit_time_candidates(DigitalWaveform(true, edges));
    ASSERT_FALSE(list.empty());
    EXPECT_NEAR(list[0] / 74'667.0, 1.0, 1e-3);
}

TEST(BitTime, TooFewEdgesGiveNothing) {
    EXPECT_TRUE(bit_time_candidates(*waveform_ns(true, {})).empty());
    EXPECT_TRUE(bit_time_candidates(*waveform_ns(true, {1, 2, 3, 4})).empty());
    EXPECT_FALSE(bit_time_candidates(*waveform_ns(true, {100, 200, 300, 400, 500})).empty());
}

TEST(BitTime, TheFitSeparatesLateEdgesFromTheRate) {
    // Offsets k · 1000 ps, edges of the other direction 70 ps late: both are recovered.
    std::vector<double> offsets;
    std::vector<int> multiples;
    std::vector<char> turned;
    for (int k = 1; k <= 9; ++k)
        for (const char t : {char{0}, char{1}}) {
            offsets.push_back(1000.0 * k + (t != 0 ? 70.0 : 0.0));
            multiples.push_back(k);
            turned.push_back(t);
        }
    const auto fit = fit_bit_time(offsets, multiples, turned);
    EXPECT_NEAR(fit.ps, 1000, 1e-9);
    EXPECT_NEAR(fit.turned_late_ps, 70, 1e-7);
    EXPECT_NEAR(fit.standard_error_ps, 0, 1e-6);
    EXPECT_EQ(fit.edges, 18);
    // All of one direction: only the rate can be told. Σ k·y / Σ k² = (1·1010 + 2·1990) / 5 = 998.
    const auto one = fit_bit_time({1010, 1990}, {1, 2}, {0, 0});
    EXPECT_NEAR(one.ps, 998, 1e-9);
    EXPECT_EQ(fit_bit_time({}, {}, {}).edges, 0);
    // The standard error of a mean of n equal errors falls with the root of n.
    Random random(8);
    std::vector<double> y;
    std::vector<int> k;
    std::vector<char> t;
    for (int i = 0; i < 10'000; ++i) {
        k.push_back(1 + static_cast<int>(random.below(9)));
        y.push_back(1000.0 * k.back() + 20 * random.normal());
        t.push_back(0);
    }
    double squares = 0;
    for (const int m : k) squares += static_cast<double>(m) * m;
    EXPECT_NEAR(fit_bit_time(y, k, t).standard_error_ps, 20 / std::sqrt(squares), 2 / std::sqrt(squares));
}

TEST(Settings, WholeNumbersAndTimes) {
    EXPECT_FALSE(whole_setting(std::nullopt, "bits", 5, 9)->has_value());
    EXPECT_EQ(**whole_setting("8", "bits", 5, 9), 8);
    for (const char* bad : {"", "4", "10", "8x", "x", "-8", "8.0", "99999999999999999999"}) {
        const auto r = whole_setting(bad, "bits", 5, 9);
        ASSERT_FALSE(r) << bad;
        EXPECT_THAT(r.error().message(), testing::HasSubstr("from 5 to 9"));
    }
    EXPECT_EQ(**time_setting("12us", "gap"), Time::us(12));
    for (const char* bad : {"", "0", "-1us", "soon", "3V"}) EXPECT_FALSE(time_setting(bad, "gap")) << bad;
}

TEST(LevelWalk, AgreesWithTheWaveformAtEveryTime) {
    Random random(6);
    std::vector<Time> edges;
    Time t;
    for (int i = 0; i < 300; ++i)
        edges.push_back(t += Time::ns(1 + static_cast<std::int64_t>(random.below(9))));
    const DigitalWaveform waveform(true, edges);
    LevelWalk at(waveform), before(waveform);
    for (Time now; now < t + Time::ns(20); now += Time::ps(500)) {
        EXPECT_EQ(at.at(now), waveform.level_at(now)) << now.count();
        EXPECT_EQ(before.before(now), waveform.level_before(now)) << now.count();
    }
}

TEST(RestingLevel, IsWhereMostOfTheTimeGoes) {
    EXPECT_TRUE(resting_level(*waveform_ns(true, {100, 110, 200, 210})));
    EXPECT_FALSE(resting_level(*waveform_ns(false, {100, 110, 200, 210})));
    EXPECT_TRUE(resting_level(*waveform_ns(true, {}))) << "a still line rests where it is";
    EXPECT_FALSE(resting_level(*waveform_ns(false, {50}))) << "one edge tells nothing of rest";
}

TEST(Bursts, ArePartedByLongerGaps) {
    const auto times = test::at_ns({0, 10, 20, 100, 110, 300});
    const auto b = bursts_of(times, Time::ns(50));
    ASSERT_EQ(b.size(), 3U);
    EXPECT_EQ(b[0], (std::pair<std::size_t, std::size_t>{0, 3}));
    EXPECT_EQ(b[2], (std::pair<std::size_t, std::size_t>{5, 6}));
    EXPECT_EQ(bursts_of(times, Time::ns(80)).size(), 2U) << "a gap of just that length parts nothing";
    EXPECT_TRUE(bursts_of({}, Time::ns(1)).empty());
    EXPECT_EQ(*median_distance(times), Time::ns(10));
    EXPECT_FALSE(median_distance(test::at_ns({5})));
}

TEST(QuietEdge, IsTheOneThatDataDoesNotFollow) {
    // The clock rises at 0, 100, 200 … and falls 50 later; data moves 10 after each fall.
    std::vector<long> clock, data;
    std::vector<Time> c, d;
    for (int i = 1; i < 50; ++i) {
        c.push_back(Time::ns(100 * i));
        c.push_back(Time::ns(100 * i + 50));
        if (i % 2 == 0) d.push_back(Time::ns(100 * i + 60));
    }
    const DigitalWaveform clk(false, c), dat(false, d), still(false, std::vector<Time>{});
    EXPECT_EQ(quiet_edge(clk, {&dat}, Direction::fall), Direction::rise);
    EXPECT_EQ(quiet_edge(clk, {&still}, Direction::fall), Direction::fall)
        << "what never moves tells nothing";
    EXPECT_EQ(quiet_edge(still, {&dat}, Direction::any), Direction::any);
}

TEST(MergedEdges, OneOrderOfTimeOverAllLines) {
    Random random(12);
    std::vector<DigitalWaveform> waveforms;
    std::vector<std::pair<Time, std::size_t>> all;
    for (std::size_t l = 0; l < 5; ++l) {
        std::vector<Time> edges;
        Time t;
        for (int i = 0; i < 200; ++i) {
            edges.push_back(t += Time::ns(1 + static_cast<std::int64_t>(random.below(6))));
            all.emplace_back(t, l);
        }
        waveforms.emplace_back(l % 2 == 0, edges);
    }
    std::sort(all.begin(), all.end());
    std::vector<const DigitalWaveform*> lines;
    for (const auto& t : waveforms) lines.push_back(&t);
    MergedEdges merged(lines);
    MergedEdges::Step s;
    for (const auto& [time, line] : all) {
        ASSERT_TRUE(merged.next(s));
        EXPECT_EQ(s.time, time);
        EXPECT_EQ(s.line, line) << "of edges at one time the earlier line comes first";
        EXPECT_EQ(s.rises, waveforms[line].level_at(time));
    }
    EXPECT_FALSE(merged.next(s));
    merged.jump(Time::ns(300));
    ASSERT_TRUE(merged.next(s));
    EXPECT_EQ(s.time,
              std::lower_bound(all.begin(), all.end(), std::pair(Time::ns(300), std::size_t{0}))->first);
}

}  // namespace
}  // namespace grayrelic
