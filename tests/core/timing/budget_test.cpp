// SPDX-License-Identifier: GPL-3.0-or-later
// Each budget on numbers that can be worked out beside it.
#include "core/timing/budget.hpp"

#include <gmock/gmock.h>

#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::message;
using testing::HasSubstr;

BudgetResult judge(const std::string& text, const std::vector<Time>& events = {}) {
    Progress progress;
    const auto b = parse_budget(text);
    EXPECT_TRUE(b) << message(b);
    if (!b) return {};
    auto r = evaluate_budget(*b, events, progress);
    EXPECT_TRUE(r) << text << ": " << message(r);
    return r ? std::move(*r) : BudgetResult{};
}

double figure(const BudgetResult& r, const std::string& label) {
    for (const auto& f : r.figures)
        if (f.label == label) return f.value;
    ADD_FAILURE() << "no figure " << label;
    return 0;
}

TEST(Budget, QueueDepthOfABurst) {
    // 10 events 2 ms apart, 5 ms each. At the arrival of the k-th (k = 0 …) 2k ms have gone and ⌊2k/5⌋ are
    // done: the tenth finds k + 1 − ⌊18/5⌋ = 10 − 3 = 7, itself included.
    const auto r = judge("queue:burst=10,gap=2ms,every=100ms,drain=5ms,depth=8");
    EXPECT_EQ(r.used, 7);
    EXPECT_EQ(r.available, 8);
    // The last is taken away at 50 ms and came at 18.
    EXPECT_NEAR(figure(r, "Longest wait"), 0.032, 1e-9);
    EXPECT_EQ(judge("queue:burst=10,gap=2ms,every=100ms,drain=5ms,depth=6").verdict, Verdict::stop);
    EXPECT_EQ(judge("queue:burst=10,gap=2ms,every=100ms,drain=5ms,depth=20").verdict, Verdict::holds);
    const auto grows = judge("queue:burst=10,gap=2ms,every=40ms,drain=5ms,depth=1000");
    EXPECT_EQ(grows.verdict, Verdict::stop);
    EXPECT_THAT(grows.says, HasSubstr("no queue is deep enough"));
    // Recorded arrivals: three at once, then quiet.
    EXPECT_EQ(
        judge("queue:burst=1,gap=0,every=1s,drain=5ms,depth=4", test::at_ns({0, 1000, 2000, 900'000'000}))
            .used,
        3);
}

TEST(Budget, WatchdogSlack) {
    // 500 ms less a tenth: 450; a round of 10 + 50: 60.
    const auto r = judge("watchdog:timeout=500ms,tolerance=0.1,loop=10ms,blocking=50ms");
    EXPECT_NEAR(r.available, 0.45, 1e-12);
    EXPECT_NEAR(r.used, 0.06, 1e-12);
    EXPECT_EQ(r.verdict, Verdict::holds);
    EXPECT_NEAR(figure(r, "Blocking may be at most"), 0.44, 1e-12);
    EXPECT_EQ(judge("watchdog:timeout=60ms,tolerance=0.1,loop=10ms,blocking=50ms").verdict, Verdict::stop);
    EXPECT_EQ(judge("watchdog:timeout=500ms,tolerance=0,loop=460ms").verdict, Verdict::doubt);
}

TEST(Budget, KeyToHost) {
    // Scan period × debounce count + report interval (+ work): 1 · 5 + 8 + 0.1 = 13.1 ms.
    const auto r = judge("latency:scan=1ms,debounce=5,report=8ms,work=0.1ms,limit=20ms");
    EXPECT_NEAR(r.used, 0.0131, 1e-12);
    EXPECT_NEAR(figure(r, "Shortest"), 0.0041, 1e-12);
    EXPECT_NEAR(figure(r, "On average"), 0.0045 + 0.0001 + 0.004, 1e-12);
    EXPECT_NEAR(figure(r, "Scan period at most"), (0.020 - 0.0081) / 5, 1e-12);
    EXPECT_EQ(judge("latency:scan=3ms,debounce=5,report=8ms,limit=20ms").verdict, Verdict::stop);
}

TEST(Budget, StartUpRace) {
    EXPECT_EQ(judge("startup:power=10ms,boot=50ms,ready=40ms,first=300ms").verdict, Verdict::holds);
    const auto retry = judge("startup:power=10ms,boot=50ms,ready=240ms,first=200ms,last=2s");
    EXPECT_EQ(retry.verdict, Verdict::doubt);
    EXPECT_THAT(retry.says, HasSubstr("misses the first look"));
    EXPECT_EQ(judge("startup:power=10ms,boot=2.5s,ready=240ms,first=200ms,last=2s").verdict, Verdict::stop);
}

TEST(Budget, LeastPress) {
    // Two scans of 20 ms must agree: 40 ms, and 1 ms of own jitter.
    const auto r = judge("press:scan=20ms,samples=2,jitter=1ms,held=50ms,pause=60ms");
    EXPECT_NEAR(r.used, 0.041, 1e-12);
    EXPECT_NEAR(r.available, 0.05, 1e-12);
    EXPECT_EQ(judge("press:scan=20ms,samples=2,held=30ms,pause=60ms").verdict, Verdict::stop);
    // Recorded scans are irregular: the longest two in a row count, 10 + 30 ms.
    EXPECT_NEAR(judge("press:scan=1ms,samples=2,held=50ms,pause=60ms",
                      test::at_ns({0, 10'000'000, 20'000'000, 50'000'000, 55'000'000}))
                    .used,
                0.04, 1e-12);
}

TEST(Budget, TextIsLosslessWhenStopComesEarlyEnough) {
    const std::string text =
        "text:text=2000,line=60,char-rate=120,char-time=0.1s,return-time=0.2s,column-time=10ms,buffer=256,";
    const auto held = judge(text + "stop-at=200,go-at=64,overrun=16");
    EXPECT_EQ(held.verdict, Verdict::holds);
    EXPECT_EQ(figure(held, "Lost"), 0);
    EXPECT_LE(figure(held, "Buffer, most used"), 216);
    // 33 lines of 61 characters with their ends (2013 ≥ 2000): 60 · 0.1 + 0.2 + 60 · 0.01 = 6.8 s a line.
    // 2000 characters are 32 whole lines (1952) and 48 more: 32 · 6.8 + 48 · 0.1 = 222.4 s at the least.
    EXPECT_NEAR(figure(held, "Whole text"), 222.4, 1.0);
    EXPECT_EQ(judge(text + "stop-at=250,go-at=64,overrun=16").verdict, Verdict::stop);
    const auto none = judge(text + "stop-at=0");
    EXPECT_EQ(none.verdict, Verdict::stop);
    EXPECT_GT(figure(none, "Lost"), 1000);
    EXPECT_THAT(none.todo, HasSubstr("flow control"));
    EXPECT_EQ(judge("text:text=100,line=60,char-rate=5,char-time=0.1s,return-time=0.1s,buffer=256").verdict,
              Verdict::holds);
}

TEST(Budget, AutofireFollowsTheHost) {
    // Every 20 ms: pressed for one poll, released for one: 25 a second at most; 10 is nearest to every 4 or 6
    // polls: 12.5 and 8.33, and 12.5 is nearer by ratio (1.25 against 1.2): 8.33.
    const auto r = judge("autofire:poll=20ms,wanted=10,spread=0.25");
    EXPECT_NEAR(r.available, 25, 1e-9);
    EXPECT_NEAR(figure(r, "Nearest rate"), 25.0 / 3, 1e-9);
    EXPECT_EQ(r.verdict, Verdict::holds);
    EXPECT_EQ(judge("autofire:poll=20ms,wanted=30,spread=0.1").verdict, Verdict::stop);
    // Uneven polls: 10 and 30 ms in turns; a press and release of one poll each always take 40 ms.
    std::vector<Time> polls;
    Time at;
    for (int i = 0; i < 200; ++i) {
        polls.push_back(at);
        at += i % 2 == 0 ? Time::ms(10) : Time::ms(30);
    }
    const auto uneven = judge("autofire:wanted=25,spread=0.1", polls);
    EXPECT_NEAR(figure(uneven, "… at its slowest"), 25, 0.2);
    EXPECT_EQ(uneven.verdict, Verdict::holds);
}

TEST(Budget, MemoryFrameAndLoop) {
    // One cycle of 1 MHz less 100 + 30 + 10 + 50 ns leaves 810 ns.
    const auto m =
        judge("memory:clock=1MHz,cycles=1,address=100ns,decode=30ns,buffer=10ns,setup=50ns,access=150ns");
    EXPECT_NEAR(m.available, 810e-9, 1e-15);
    EXPECT_EQ(m.verdict, Verdict::holds);
    EXPECT_NEAR(figure(m, "Clock at most"), 1 / 340e-9, 1);
    EXPECT_EQ(judge("memory:clock=8MHz,cycles=1,address=40ns,decode=30ns,setup=20ns,access=150ns").verdict,
              Verdict::stop);
    const auto f = judge("frame:rate=50,share=1,work=12ms,jitter=0.5ms");
    EXPECT_NEAR(f.available, 0.02, 1e-12);
    EXPECT_NEAR(f.used, 0.0125, 1e-12);
    EXPECT_EQ(judge("frame:rate=50,share=0.08,work=2ms").verdict, Verdict::stop);
    // 16 MHz, 80 cycles, one toggle: 100 kHz.
    EXPECT_EQ(judge("loop:clock=16MHz,cycles=80,toggles=1,wanted=100kHz,tolerance=0.02").verdict,
              Verdict::holds);
    const auto l = judge("loop:clock=16MHz,cycles=64,toggles=1,wanted=100kHz,tolerance=0.02");
    EXPECT_EQ(l.verdict, Verdict::stop);
    EXPECT_THAT(l.todo, HasSubstr("80 cycles"));
}

TEST(Budget, MoreTimeThereNeverHurts) {
    for (const auto& [kind, key, values] :
         {std::tuple{"latency:scan=1ms,debounce=5,report=8ms,limit=", "",
                     std::vector<const char*>{"5ms", "14ms", "15ms", "40ms"}},
          {"watchdog:tolerance=0.1,loop=10ms,blocking=50ms,timeout=", "", {"20ms", "66ms", "70ms", "1s"}},
          {"queue:burst=10,gap=2ms,every=100ms,drain=5ms,depth=", "", {"3", "7", "8", "30"}}}) {
        int best = 0;  // stop 0, doubt 1, holds 2
        for (const char* v : values) {
            const auto verdict = judge(std::string(kind) + v + key).verdict;
            const int rank = verdict == Verdict::stop ? 0 : verdict == Verdict::doubt ? 1 : 2;
            EXPECT_GE(rank, best) << kind << v;
            best = rank;
        }
        EXPECT_EQ(best, 2);
    }
}

TEST(Budget, EachKindHasUsualNumbersThatCanBeJudged) {
    for (const auto kind : all_of<BudgetKind>()) {
        const auto& k = description_of(kind);
        ASSERT_EQ(k.kind, kind) << "the table is in the order of the enum";
        Progress progress;
        const auto b = usual_budget(kind, "b");
        const auto r = evaluate_budget(b, {}, progress);
        ASSERT_TRUE(r) << k.label << message(r);
        EXPECT_FALSE(r->says.empty()) << k.label;
        EXPECT_EQ(r->assumed.size(), k.fields.size()) << k.label;
        EXPECT_TRUE(r->verdict != Verdict::stop || !r->todo.empty()) << k.label;
    }
}

TEST(Budget, WrongOnesAreSaid) {
    EXPECT_THAT(message(parse_budget("cow:a=1")), HasSubstr("KIND:key=value"));
    EXPECT_THAT(message(parse_budget("queue:cow=1")), HasSubstr("burst"));
    EXPECT_THAT(message(parse_budget("queue:burst=x")), HasSubstr("x"));
    Progress progress;
    const auto missing = evaluate_budget(*parse_budget("queue:burst=3"), {}, progress);
    EXPECT_THAT(message(missing), HasSubstr("no gap"));
    for (const char* bad :
         {"queue:burst=0,gap=1ms,every=1s,drain=1ms,depth=3",
          "queue:burst=100,gap=1s,every=1s,drain=1ms,depth=3",
          "memory:clock=0,cycles=1,address=0,decode=0,setup=0,access=0", "frame:rate=50,share=2,work=1ms",
          "text:text=10,line=0,char-rate=1,char-time=1s,return-time=1s,buffer=3",
          "text:text=10,line=5,char-rate=1,char-time=1s,return-time=1s,buffer=30,stop-at=10,go-at=10",
          "autofire:wanted=10", "watchdog:timeout=1s,tolerance=1,loop=1ms"})
        EXPECT_FALSE(evaluate_budget(*parse_budget(bad), {}, progress)) << bad;
}

}  // namespace
}  // namespace grayrelic
