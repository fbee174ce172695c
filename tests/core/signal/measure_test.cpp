// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/measure.hpp"

#include "core/base/random.hpp"
#include "core/capture/vcd_writer.hpp"
#include "core/signal/sampling.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::at_ns;
using test::waveform_ns;

constexpr Span all{Time::min(), Time::max()};

TEST(MeasurePulses, HighLowPeriodRateAndDuty) {
    // high 30, low 70, high 50, low 50, high 30: periods 100 and 100, high time 80 of 200
    const auto t = waveform_ns(false, {100, 130, 200, 250, 300, 330});
    const auto m = measure_pulses(*t, all);
    EXPECT_EQ(m.high.n, 3);
    EXPECT_DOUBLE_EQ(m.high.min, 30e-9);
    EXPECT_DOUBLE_EQ(m.high.max, 50e-9);
    EXPECT_EQ(m.low.n, 2);
    EXPECT_DOUBLE_EQ(m.low.median, 60e-9);
    EXPECT_EQ(m.period.n, 2);
    EXPECT_NEAR(*m.frequency_hz, 1e7, 1e-3);
    EXPECT_NEAR(*m.duty, 0.4, 1e-12);
}

TEST(MeasurePulses, OnlyWholePulsesInTheWindowCount) {
    const auto t = waveform_ns(false, {100, 130, 200, 250, 300, 330});
    const auto m = measure_pulses(*t, {Time::ns(101), Time::ns(300)});
    EXPECT_EQ(m.high.n, 1);
    EXPECT_DOUBLE_EQ(m.high.min, 50e-9);
    EXPECT_EQ(m.low.n, 2);
    EXPECT_EQ(m.period.n, 1);
}

TEST(MeasurePulses, NothingIsMeasuredAcrossUnknownSpans) {
    const DigitalWaveform t(false, at_ns({100, 200, 300}), {{Time::ns(150), Time::ns(160)}});
    const auto m = measure_pulses(t, all);
    EXPECT_EQ(m.high.n, 0);
    EXPECT_EQ(m.low.n, 1);
    EXPECT_EQ(m.period.n, 0);
    EXPECT_FALSE(m.frequency_hz);
    EXPECT_FALSE(m.duty);
}

TEST(MeasureDelay, FirstAnswerBeforeTheNextQuestion) {
    const auto from = waveform_ns(false, {100, 150, 200, 250, 300, 350});  // rises 100, 200, 300
    const auto to = waveform_ns(false, {110, 120, 290, 900});  // rise 110, fall 120, rise 290, fall 900
    const auto m = measure_delay(*from, Direction::rise, *to, Direction::any);
    ASSERT_EQ(m.answered.size(), 3U);
    EXPECT_EQ(m.answered[0].length(), Time::ns(10));
    EXPECT_EQ(m.answered[1].length(), Time::ns(90));
    EXPECT_EQ(m.answered[2].length(), Time::ns(600));  // the last one is open to the end
    EXPECT_TRUE(m.unanswered.empty());
    const auto rises = measure_delay(*from, Direction::rise, *to, Direction::rise);
    EXPECT_EQ(rises.answered.size(), 2U);
    EXPECT_EQ(rises.unanswered, at_ns({300}));
}

TEST(MeasureDelay, WithinTurnsSlowAnswersIntoNone) {
    const auto from = waveform_ns(false, {100, 150, 200, 250});
    const auto to = waveform_ns(false, {110, 290});
    const auto m = measure_delay(*from, Direction::rise, *to, Direction::any, Time::ns(50));
    EXPECT_EQ(m.answered.size(), 1U);
    EXPECT_EQ(m.unanswered, at_ns({200}));
}

TEST(MeasureDelay, AnEdgeAtTheSameTimeAnswersNothing) {
    const auto from = waveform_ns(false, {100, 150, 200});
    const auto to = waveform_ns(false, {100, 200});
    const auto m = measure_delay(*from, Direction::rise, *to, Direction::any);
    EXPECT_TRUE(m.answered.empty());
    EXPECT_EQ(m.unanswered, at_ns({100, 200}));
}

TEST(MeasureDelay, AgreesWithACountByHandOnRandomWaveforms) {
    Random random(11);
    for (int round = 0; round < 50; ++round) {
        std::vector<Time> a;
        std::vector<Time> b;
        a.reserve(60);
        b.reserve(60);
        Time t;
        for (int i = 0; i < 60; ++i) a.push_back(t += Time::ns(1 + static_cast<long>(random.below(20))));
        t = Time{};
        for (int i = 0; i < 60; ++i) b.push_back(t += Time::ns(1 + static_cast<long>(random.below(20))));
        const DigitalWaveform from(false, a);
        const DigitalWaveform to(true, b);
        const auto m = measure_delay(from, Direction::rise, to, Direction::fall);
        // the definition, said the slow way
        std::size_t answered = 0;
        for (std::size_t i = 0; i < a.size(); i += 2) {
            const Time next = i + 2 < a.size() ? a[i + 2] : Time::max();
            for (std::size_t k = 0; k < b.size(); k += 2)
                if (b[k] > a[i] && b[k] < next) {
                    ASSERT_EQ(m.answered[answered].from, a[i]);
                    ASSERT_EQ(m.answered[answered].to, b[k]);
                    ++answered;
                    break;
                }
        }
        EXPECT_EQ(m.answered.size(), answered);
        EXPECT_EQ(m.answered.size() + m.unanswered.size(), 30U);
    }
}

TEST(NearestEdge, LooksBothWays) {
    const auto t = waveform_ns(false, {100, 200});
    EXPECT_EQ(nearest_edge(*t, Time::ns(140)), Time::ns(100));
    EXPECT_EQ(nearest_edge(*t, Time::ns(160)), Time::ns(200));
    EXPECT_EQ(nearest_edge(*t, Time::ns(0)), Time::ns(100));
    EXPECT_EQ(nearest_edge(*t, Time::s(1)), Time::ns(200));
    EXPECT_FALSE(nearest_edge(DigitalWaveform(false, {}), Time::ns(1)));
}

TEST(Histogram, CountsEveryValueOnceInBarsOfRoundWidth) {
    std::vector<double> values;
    for (int i = 0; i <= 100; ++i) values.push_back(i * 1e-9);
    const auto h = make_histogram(values, 20);
    EXPECT_DOUBLE_EQ(h.width, 5e-9);
    EXPECT_DOUBLE_EQ(h.low, 0.0);
    long sum = 0;
    for (const long n : h.bars) sum += n;
    EXPECT_EQ(sum, 101);
    EXPECT_EQ(h.bars[0], 5);
    EXPECT_EQ(h.bar_of(5e-9), 1U);
    EXPECT_EQ(h.tallest(), 5);
}

TEST(Histogram, NeverFinerThanTheSampling) {
    // Three sample values 40 ns apart: one bar each, centred on it.
    const auto h = make_histogram({80e-9, 80e-9, 120e-9, 160e-9}, 50, 40e-9);
    EXPECT_EQ(h.bars, (std::vector<long>{2, 1, 1}));
    EXPECT_DOUBLE_EQ(h.width, 40e-9);
    EXPECT_DOUBLE_EQ(h.low, 60e-9);
}

TEST(Histogram, OneValueAndNone) {
    EXPECT_EQ(make_histogram(std::vector<double>{3e-6}, 10).bars, std::vector<long>{1});
    EXPECT_TRUE(make_histogram(std::vector<double>{}, 10).bars.empty());
    EXPECT_EQ(make_histogram(std::vector<double>{}, 10).bar_of(1.0), 0U);
}

Capture sampled(double period_ns, int edges, std::uint64_t seed) {
    Random random(seed);
    std::vector<Time> times;
    long long n = 0;
    for (int i = 0; i < edges; ++i) {
        n += 3 + static_cast<long long>(random.below(40));
        times.push_back(Time::ns(std::llround(static_cast<double>(n) * period_ns)));
    }
    return test::capture_of({{"a", std::make_shared<const DigitalWaveform>(false, times)}});
}

class FindsTheSamplePeriod : public testing::TestWithParam<double> {};
TEST_P(FindsTheSamplePeriod, ThroughTheFilesRounding) {
    const auto found = find_sample_period(sampled(GetParam(), 3000, 5));
    ASSERT_TRUE(found);
    EXPECT_NEAR(static_cast<double>(found->count()), GetParam() * 1000.0, GetParam() * 1000.0 * 1e-4);
}
INSTANTIATE_TEST_SUITE_P(Rates, FindsTheSamplePeriod,
                         testing::Values(41.0 + 2.0 / 3.0, 10.0, 62.5, 2000.0, 1000.0 / 12.0, 500.0));

TEST(SamplePeriod, IsNotInventedForTimesOnNoGrid) {
    Random random(9);
    std::vector<Time> times;
    times.reserve(3000);
    Time t;
    for (int i = 0; i < 3000; ++i)
        times.push_back(t += Time::ns(20 + static_cast<long>(random.below(100'000))));
    EXPECT_FALSE(
        find_sample_period(test::capture_of({{"a", std::make_shared<const DigitalWaveform>(false, times)}})));
    EXPECT_FALSE(find_sample_period(test::capture_of({{"a", waveform_ns(false, {10, 20})}})));
}

TEST(Sampling, CountsPulsesUnderThreeSamples) {
    // pulses of 2, 4 and 3 samples of 10 ns
    const auto c = test::capture_of(
        {{"a", waveform_ns(false, {100, 120, 160, 190})}, {"quiet", waveform_ns(false, {})}});
    const auto report = judge_sampling(c, Time::ns(10));
    ASSERT_EQ(report.lines.size(), 1U);
    EXPECT_EQ(report.lines[0].too_short, 1);
    EXPECT_EQ(report.lines[0].pulses, 3);
    EXPECT_EQ(report.lines[0].shortest, Time::ns(20));
    EXPECT_EQ(report.lines[0].at, Time::ns(100));
}

TEST(Capture, NamesEdgesAndShortNames) {
    EXPECT_EQ(parse_edge("top.a:rise")->signal, "top.a");
    EXPECT_EQ(parse_edge("q:2:fall")->signal, "q:2");
    EXPECT_EQ(parse_edge("a:any")->direction, Direction::any);
    for (const char* bad : {"a", ":rise", "a:", "a:up", "", " :rise"}) EXPECT_FALSE(parse_edge(bad)) << bad;
    EXPECT_EQ(print_edge({"a", Direction::fall}), "a:fall");
    EXPECT_EQ(show_edge({"a", Direction::rise}), "a ↑");
    EXPECT_EQ(show_edge({"a", Direction::any}), "a");
    EXPECT_EQ(opposite(Direction::rise), Direction::fall);
    EXPECT_EQ(opposite(Direction::any), Direction::any);
    EXPECT_EQ(short_name("top.b.a"), "a");
    EXPECT_EQ(short_name("a"), "a");
}

TEST(Capture, AnUnknownNameListsWhatThereIs) {
    const auto c =
        test::capture_of({{"top.clk", waveform_ns(false, {})}, {"top.data", waveform_ns(false, {})}});
    EXPECT_EQ(test::message(c.find("clock")), "found signal \"clock\", expected one of: top.clk, top.data");
    EXPECT_TRUE(c.find("clk"));
    EXPECT_FALSE(c.find("lk"));
}

TEST(Measure, TheUsualLimitOfAnAnswerIsOneAndAHalfPulses) {
    // High for 10, 20 and 40 ns: the median is 20, the limit 30. Low for 90 and 80: the median is 85, the
    // limit 127.5.
    const auto t = waveform_ns(false, {100, 110, 200, 220, 300, 340});
    EXPECT_EQ(usual_answer_limit(*t, Direction::rise), Time::ns(30));
    EXPECT_EQ(usual_answer_limit(*t, Direction::fall), Time::ps(127'500));
    EXPECT_FALSE(usual_answer_limit(*waveform_ns(false, {}), Direction::rise));
}

TEST(VcdWriter, WhatIsWrittenReadsBackTheSame) {
    VcdOutput out;
    out.wires.push_back({"a", waveform_ns(false, {10, 20, 35})});
    out.wires.push_back({"b", waveform_ns(true, {20})});
    out.wires.push_back({"c", std::make_shared<const DigitalWaveform>(
                                  true, at_ns({50}),
                                  std::vector<Span>{{Time{}, Time::ns(5)}, {Time::ns(30), Time::ns(40)}})});
    out.end = Time::ns(100);
    const auto text = write_vcd(out);
    const auto back = test::vcd(text);
    ASSERT_TRUE(back) << test::message(back);
    EXPECT_EQ(back->extent, (Span{Time{}, Time::ns(100)}));
    for (std::size_t i = 0; i < 3; ++i) {
        const auto& want = *out.wires[i].waveform;
        const auto& got = *back->signals[i].digital;
        EXPECT_EQ(back->signals[i].name, "capture." + out.wires[i].name);
        EXPECT_TRUE(
            std::equal(want.edges().begin(), want.edges().end(), got.edges().begin(), got.edges().end()))
            << out.wires[i].name;
        EXPECT_TRUE(std::equal(want.unknown().begin(), want.unknown().end(), got.unknown().begin(),
                               got.unknown().end()))
            << out.wires[i].name;
        EXPECT_EQ(want.first_level(), got.first_level());
    }
    EXPECT_EQ(text, write_vcd(out));
}

TEST(VcdWriter, ManyWiresHaveDifferentIdentifiers) {
    VcdOutput out;
    for (int i = 0; i < 9'000; ++i)
        out.wires.push_back({"w" + std::to_string(i), waveform_ns(i % 2 == 1, {i + 1})});
    out.end = Time::us(10);
    const auto back = test::vcd(write_vcd(out));
    ASSERT_TRUE(back) << test::message(back);
    for (const int i : {0, 93, 94, 95, 8'929, 8'930, 8'931, 8'999}) {
        const auto t = back->find_digital("w" + std::to_string(i));
        ASSERT_TRUE(t);
        ASSERT_EQ((*t)->edges().size(), 1U) << i;
        EXPECT_EQ((*t)->edges()[0], Time::ns(i + 1)) << i;
        EXPECT_EQ((*t)->first_level(), i % 2 == 1) << i;
    }
}

}  // namespace
}  // namespace grayrelic
