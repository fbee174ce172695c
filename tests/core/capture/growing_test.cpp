// SPDX-License-Identifier: GPL-3.0-or-later
// A dump that is still being written: whatever the pieces, the whole is what the reader makes of the finished
// file.
#include <gmock/gmock.h>

#include "core/base/random.hpp"
#include "core/capture/growing_capture.hpp"
#include "standin/logic_stream.hpp"
#include "standin/spoken.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

const std::string header =
    "$timescale 1 ns $end\n$scope module t $end\n$var wire 1 ! a $end\n$var wire 1 \" b $end\n$upscope "
    "$end\n$enddefinitions $end\n";

std::string dump(std::uint64_t seed, int changes) {
    Random random(seed);
    std::string out = header;
    long t = 0;
    for (int i = 0; i < changes; ++i) {
        t += static_cast<long>(random.next() % 500);
        out += "#" + std::to_string(t) + "\n";
        const char value = "01xz01010101"[random.next() % 12];
        out += std::string(1, value) + (random.next() % 2 == 0 ? "!" : "\"") + "\n";
        if (random.next() % 17 == 0)
            out += "$comment at\n#" + std::to_string(random.next() % 1000) + "\nsomething $end\n";
    }
    return out + "#" + std::to_string(t + 100) + "\n";
}

void expect_same(const Capture& a, const Capture& b) {
    EXPECT_EQ(a.extent, b.extent);
    EXPECT_EQ(a.resolution, b.resolution);
    ASSERT_EQ(a.signals.size(), b.signals.size());
    for (std::size_t i = 0; i < a.signals.size(); ++i) {
        const auto &x = *a.signals[i].digital, &y = *b.signals[i].digital;
        EXPECT_EQ(a.signals[i].name, b.signals[i].name);
        EXPECT_EQ(x.first_level(), y.first_level());
        EXPECT_TRUE(std::ranges::equal(x.edges(), y.edges()));
        EXPECT_TRUE(std::ranges::equal(x.unknown(), y.unknown()));
        EXPECT_TRUE(std::ranges::equal(x.floating(), y.floating()));
    }
}

TEST(Growing, CutAnywhereIsTheFinishedFile) {
    for (std::uint64_t seed = 1; seed <= 30; ++seed) {
        const auto text = dump(seed, 300);
        Progress progress;
        const auto whole = read_vcd(text, "whole", progress);
        ASSERT_TRUE(whole) << test::message(whole);
        GrowingCapture growing("live");
        Random random(seed * 7);
        for (std::size_t at = 0; at < text.size();) {
            const auto n =
                std::min<std::size_t>(text.size() - at, 1 + random.next() % (seed % 3 == 0 ? 5 : 400));
            const auto fed = growing.feed(std::string_view(text).substr(at, n));
            ASSERT_TRUE(fed) << test::message(fed);
            at += n;
        }
        ASSERT_TRUE(growing.finish());
        EXPECT_EQ(growing.bytes(), text.size());
        expect_same(growing.take(), *whole);
        EXPECT_FALSE(growing.feed("#999999\n")) << "nothing more after it was taken";
    }
}

TEST(Growing, WhatStandsBehindTheLastTimeStampWaits) {
    GrowingCapture g("live");
    ASSERT_TRUE(g.feed(header.substr(0, 40)));
    EXPECT_FALSE(g.has_signals());
    ASSERT_TRUE(g.feed(header.substr(40) + "#0\n0!\n1\"\n#100\n1!\n#2"));
    EXPECT_TRUE(g.has_signals());
    EXPECT_EQ(g.edge_count(), 1U);
    EXPECT_EQ(g.extent().to, Time::ns(100));  // "#2" may become "#200"
    ASSERT_TRUE(g.feed("00\n0!\n"));
    EXPECT_EQ(g.edge_count(), 1U);
    ASSERT_TRUE(g.feed("#300\n"));
    EXPECT_EQ(g.edge_count(), 2U);
    EXPECT_EQ(g.extent().to, Time::ns(200));
    ASSERT_TRUE(g.finish());
    EXPECT_EQ(g.extent().to, Time::ns(300));
}

TEST(Growing, TheLastStretchHasItsLevelsAndGaps) {
    GrowingCapture g("live");
    ASSERT_TRUE(g.feed(header + "#0\n0!\n1\"\n#100\n1!\n#200\nx\"\n#300\n0!\n#400\n0\"\n#500\n1!\n#600\n"));
    ASSERT_TRUE(g.finish());
    const auto last = g.last(Time::ns(350));
    EXPECT_EQ(last.extent, (Span{Time::ns(250), Time::ns(600)}));
    const auto& a = **last.find_digital("a");
    EXPECT_TRUE(a.first_level());  // high since 100 ns
    EXPECT_THAT(a.edges(), testing::ElementsAre(Time::ns(300), Time::ns(500)));
    const auto& b = **last.find_digital("b");
    EXPECT_THAT(b.unknown(), testing::ElementsAre(Span{Time::ns(250), Time::ns(400)}));
    // At most one edge of each: the stretch begins where that holds.
    const auto one = g.last(Time::us(10), 1);
    EXPECT_THAT((**one.find_digital("a")).edges(), testing::SizeIs(testing::Le(1)));
}

TEST(Growing, VectorsRealsAndEventsToo) {
    const std::string text =
        "$timescale 10 us $end\n$var reg 3 v q [2:0] $end\n$var real 64 r volts $end\n$var event 1 e tick "
        "$end\n$enddefinitions $end\n"
        "#0\nb101 v\nr1.5 r\n#3\nb1 v\n1e\n#5\nr-2e-3 r\n#9\nbx1z v\n#12\n";
    GrowingCapture g("live");
    for (const char c : text) ASSERT_TRUE(g.feed(std::string_view(&c, 1)));
    ASSERT_TRUE(g.finish());
    Progress progress;
    const auto whole = read_vcd(text, "whole", progress);
    ASSERT_TRUE(whole);
    const auto last = g.last(Time::us(70));  // from #5 on
    ASSERT_EQ(last.signals.size(), whole->signals.size());
    EXPECT_EQ(last.extent.from, Time::us(50));
    const auto& volts = *last.find("volts").value()->real;
    EXPECT_THAT(volts.times, testing::ElementsAre(Time::us(50)))
        << "the change at its very beginning is its value there";
    EXPECT_THAT(volts.values, testing::ElementsAre(-2e-3));
    // q[2] fell at #3, is unknown from #9; q[1] is 0 and then unknown; q[0] stays 1 until z at #9.
    EXPECT_TRUE((**last.find_digital("q[0]")).first_level());
    EXPECT_THAT((**last.find_digital("q[0]")).floating(),
                testing::ElementsAre(Span{Time::us(90), Time::us(120)}));
    EXPECT_THAT((**last.find_digital("q[2]")).unknown(),
                testing::ElementsAre(Span{Time::us(90), Time::us(120)}));
    EXPECT_EQ(g.take().edge_count(), whole->edge_count());
}

TEST(Growing, FaultsHaveTheLineInTheWhole) {
    GrowingCapture g("live.vcd");
    ASSERT_TRUE(g.feed(header + "#0\n0!\n#10\n1!\n"));  // lines 7 to 10
    const auto bad = g.feed("#20\n7!\n#30\n");
    ASSERT_FALSE(bad);
    EXPECT_EQ(bad.error().file, "live.vcd");
    EXPECT_EQ(bad.error().line, 12);
    EXPECT_FALSE(g.feed("#40\n1!\n")) << "after an error nothing is taken";
    GrowingCapture back("live.vcd");
    ASSERT_TRUE(back.feed(header + "#100\n0!\n#200\n1!\n#300\n"));
    const auto earlier = back.feed("#50\n0!\n#400\n");
    ASSERT_FALSE(earlier);
    EXPECT_THAT(earlier.error().message(), testing::HasSubstr("time goes back"));
}

TEST(Growing, BrokenDefinitionsAndNone) {
    GrowingCapture g("live");
    EXPECT_FALSE(g.feed("$var wire banana ! a $end\n$enddefinitions $end\n#0\n"));
    GrowingCapture none("live");
    ASSERT_TRUE(none.feed("$timescale 1 ns $end\n"));
    const auto end = none.finish();
    ASSERT_FALSE(end);
    EXPECT_THAT(end.error().message(), testing::HasSubstr("$enddefinitions"));
    GrowingCapture full("live", 10);
    std::string many = header + "#0\n0!\n";
    for (int i = 1; i < 40; ++i) many += "#" + std::to_string(i) + "\n" + (i % 2 == 0 ? "0!\n" : "1!\n");
    const auto too_many = full.feed(many);
    ASSERT_FALSE(too_many);
    EXPECT_THAT(too_many.error().message(), testing::HasSubstr("more than 10 edges"));
    EXPECT_GT(full.edge_count(), 10U) << "what came is kept";
}

// --- the stop condition
// ---------------------------------------------------------------------------------------

/// Feeds pulses of `a`, 1 µs each 10 µs, the `odd`th 3 µs long, and asks the watch after each 5 pulses.
std::optional<Span> watch_pulses(StopWhen when, int odd, int* asked) {
    GrowingCapture g("live");
    StopWatch watch(std::move(when));
    std::string text = header + "#0\n0!\n0\"\n";
    for (int i = 0; i < 200; ++i) {
        const long t = 1000 + 10'000L * i;
        text += "#" + std::to_string(t) + "\n1!\n#" + std::to_string(t + (i == odd ? 3000 : 1000)) + "\n0!\n";
        if (i % 5 != 4) continue;
        EXPECT_TRUE(g.feed(text));
        text.clear();
        ++*asked;
        const auto reached = watch.reached(g);
        EXPECT_TRUE(reached);
        if (reached && *reached) return watch.hit().value_or(Span{});
    }
    return std::nullopt;
}

TEST(StopCondition, APulseTooLongStopsOnceItIsThere) {
    StopWhen when;
    when.found = FindQuery{};
    when.found->pulse = "a";
    when.found->pulse_level = true;
    when.found->longer = Time::us(2);
    int asked = 0;
    const auto hit = watch_pulses(when, 73, &asked);
    ASSERT_TRUE(hit);
    EXPECT_EQ(hit->from, Time::us(1 + 730));
    EXPECT_EQ(hit->length(), Time::us(3));
    EXPECT_EQ(asked, 15);  // the 73rd lies among pulses 70 to 74
    int never = 0;
    EXPECT_FALSE(watch_pulses(when, -1, &never));
    EXPECT_EQ(never, 40);
}

TEST(StopCondition, ShortPulsesCutOffByTheEndsAreNone) {
    StopWhen when;
    when.found = FindQuery{};
    when.found->pulse = "a";
    when.found->shorter = Time::ns(900);
    int asked = 0;
    EXPECT_FALSE(watch_pulses(when, 50, &asked)) << "all pulses last 1 µs or more";
}

TEST(StopCondition, LengthEdgesAndSomeTimeBehind) {
    int asked = 0;
    StopWhen length;
    length.length = Time::us(500);
    EXPECT_TRUE(watch_pulses(length, -1, &asked));
    EXPECT_EQ(asked, 11);  // each 5 pulses are 50 µs, and the last stamp is not read yet
    asked = 0;
    StopWhen edges;
    edges.edges = 100;
    EXPECT_TRUE(watch_pulses(edges, -1, &asked));
    EXPECT_EQ(asked, 11);
    asked = 0;
    StopWhen behind;
    behind.found = FindQuery{};
    behind.found->pulse = "a";
    behind.found->longer = Time::us(2);
    behind.found->pulse_level = true;
    behind.after = Time::us(400);
    EXPECT_TRUE(watch_pulses(behind, 10, &asked));
    EXPECT_GE(asked, 10 / 5 + 8);
    StopWhen wrong;
    wrong.found = FindQuery{};
    wrong.found->pulse = "nobody";
    wrong.found->longer = Time::us(1);
    GrowingCapture g("live");
    ASSERT_TRUE(g.feed(header + "#0\n0!\n#10\n1!\n#20\n"));
    EXPECT_FALSE(StopWatch(wrong).reached(g));
}

// --- the stand-in's endless device
// ------------------------------------------------------------------------------

TEST(LogicStream, RepeatsTheConversationEndToEnd) {
    const auto spoken = standin::speak("latch-shift", {.seed = 4, .words = 12});
    standin::LogicStream stream(spoken.capture);
    std::string text = stream.definitions();
    const Time round = spoken.capture.extent.length();
    for (int i = 1; i <= 60; ++i) stream.changes(round * i / 20, text);  // three rounds in sixty slices
    Progress progress;
    const auto c =
        read_vcd(text + "#" + std::to_string((round * 3).count() / 1000) + "\n", "stream", progress);
    ASSERT_TRUE(c) << test::message(c);
    EXPECT_EQ(c->signals.size(), spoken.capture.signals.size());
    const auto words = [&](const Capture& from) {
        RoleMap roles;
        for (const auto& [role, names] : spoken.roles)
            for (const auto& n : names) roles[role].push_back(short_name(n));
        const auto d = find_decoder("latch-shift").value()->decode(from, roles, spoken.settings, progress);
        std::vector<std::uint64_t> out;
        for (const auto& f : d.value().frames) out.push_back(f.value.value_or(0));
        return out;
    };
    auto thrice = spoken.values;
    for (int i = 0; i < 2; ++i) thrice.insert(thrice.end(), spoken.values.begin(), spoken.values.end());
    EXPECT_EQ(words(*c), thrice);
}

// A dump whose last word has nothing behind it, not even a line end.
TEST(Growing, ItMayEndWithItsDefinitions) {
    for (const std::string text : {"$var wire 1 ! a $end $enddefinitions $end", "\n$enddefinitions$end",
                                   "$enddefinitions $end", "$var wire 1 ! a $end $enddefinitions"}) {
        Progress progress;
        const auto whole = read_vcd(text, "whole", progress);
        GrowingCapture growing("pieces", 1000);
        Status fed;
        for (const char c : text)
            if (fed) fed = growing.feed(std::string_view(&c, 1));
        if (fed) fed = growing.finish();
        EXPECT_EQ(fed.has_value(), whole.has_value()) << text;
        if (!fed || !whole) continue;
        EXPECT_EQ(growing.take().signals.size(), whole->signals.size()) << text;
    }
}

}  // namespace
}  // namespace grayrelic
