// SPDX-License-Identifier: GPL-3.0-or-later
// Second core, programmable I/O, mixed options and queues; what follows beyond one simulation; networks as
// options; replicas against the original. Laws: more latency never helps, a wider window never hurts.
#include <gmock/gmock.h>

#include <cmath>

#include "core/base/random.hpp"
#include "core/timing/golden.hpp"
#include "core/timing/network_reply.hpp"
#include "core/timing/reply_study.hpp"
#include "tests/core/logic/logic_helpers.hpp"
#include "tests/core/timing/replies.hpp"

namespace grayrelic {
namespace {

using test::message;
using test::run;
using test::waveform_ns;
using testing::HasSubstr;

std::vector<ReplyTask> every(Time spacing, Time deadline, int n) {
    std::vector<ReplyTask> out;
    out.reserve(static_cast<std::size_t>(n));
    for (int i = 0; i < n; ++i) out.push_back({spacing * i, spacing * i + deadline});
    return out;
}

ReplyModel model(const char* text) {
    const auto o = parse_option(text);
    EXPECT_TRUE(o) << message(o);
    return *model_of(*o);
}

TEST(Options, ProgrammableIoTakesSynchroniserAndProgram) {
    // 125 MHz: 8 ns a cycle; 2…3 + 4 cycles are 48 … 56 ns, and 10 ns to the pin.
    const auto m = model("pio:clock=125MHz,sync=2..3,cycles=4,write=10ns");
    EXPECT_EQ(m.latency_min, Time::ns(48));
    EXPECT_EQ(m.latency_max, Time::ns(56));
    const auto s = run(every(Time::us(1), Time::ns(70), 2000), m);
    EXPECT_EQ(s.missed, 0);
    EXPECT_GE(s.latency.min, 57.9e-9);
    EXPECT_LE(s.latency.max, 66.1e-9);
    // The clock's phase is uniform: the mean lies in the middle, within 4 standard errors of 8 ns/√12/√2000.
    EXPECT_NEAR(s.latency.mean, 62e-9, 4 * 8e-9 / std::sqrt(12.0 * 2000));
    // The verdict rests on the slowest phase: 70 − 66.
    EXPECT_EQ(*s.worst_margin, Time::ns(4));
}

TEST(Options, ASecondCoreIsAnInterruptThatNobodyHoldsOff) {
    const auto s =
        run(every(Time::us(10), Time::us(2), 3000), model("core:latency=100ns..300ns,work=500ns,write=50ns"));
    EXPECT_EQ(s.missed, 0);
    EXPECT_LE(s.latency.max, 850.1e-9);
    EXPECT_GE(s.latency.min, 649.9e-9);
}

TEST(Options, StallsWithoutMemoryHitTheirShareOfTriggers) {
    // Starts of stalls 100 µs apart on average, 5 µs long: a trigger falls into one with 1 − e^(−0.05)
    // = 4.877 %.
    const auto tasks = every(Time::us(37), Time::ns(1'500), 40'000);
    const auto s = run(tasks, model("core:latency=1us..1us,work=0s,stall=5us/100us"));
    const double p = 1 - std::exp(-0.05);
    // A stall that is nearly over costs less than the 0.5 µs there is: that tenth of its length does no harm.
    const double missed = 1 - std::exp(-0.045);
    EXPECT_NEAR(static_cast<double>(s.missed) / 40'000, missed, 5 * std::sqrt(p / 40'000));
}

TEST(Options, AQueueServesEachTriggerInOrderAndLosesWhatFindsItFull) {
    // Three triggers 1 µs apart, 5 µs of work each: done at 5, 10, 15; a queue of one place keeps one
    // waiting.
    const std::vector<ReplyTask> tasks{{Time{}, Time::us(100)},
                                       {Time::us(1), Time::us(100)},
                                       {Time::us(2), Time::us(100)},
                                       {Time::us(3), Time::us(100)}};
    const auto deep = run(tasks, model("irq:latency=0s,work=5us,busy=queue,depth=8"));
    for (std::size_t i = 0; i < 4; ++i)
        EXPECT_EQ(*deep.outcomes[i].reply, Time::us(5) * static_cast<std::int64_t>(i + 1));
    const auto shallow = run(tasks, model("irq:latency=0s,work=5us,busy=queue,depth=1"));
    EXPECT_TRUE(shallow.outcomes[0].reply);
    EXPECT_TRUE(shallow.outcomes[1].reply);
    EXPECT_FALSE(shallow.outcomes[2].reply);
    EXPECT_EQ(shallow.lost, 2);
}

TEST(Options, MixedMissesTheWholeBurstWhenFirmwareIsNotReady) {
    // Bursts of four, 1 µs apart, every 100 µs: 97 µs of pause.
    std::vector<ReplyTask> tasks;
    for (int b = 0; b < 50; ++b)
        for (int i = 0; i < 4; ++i)
            tasks.push_back({Time::us(100 * b + i), Time::us(100 * b + i) + Time::ns(500)});
    const auto ready = run(tasks, model("mixed:latency=1us..2us,work=90us,path=5ns/20ns/60ns"));
    EXPECT_EQ(ready.missed, 0);
    EXPECT_EQ(*ready.worst_margin, Time::ns(440));
    const auto late = run(tasks, model("mixed:latency=1us..2us,work=97us,path=5ns/20ns/60ns"));
    EXPECT_EQ(late.lost, 49 * 4);  // all but the first, which nobody had to be ready for
    const auto s =
        sensitivities(model("mixed:latency=1us..2us,work=90us,path=5ns/20ns/60ns"), Time::ns(500), tasks);
    const auto work = std::find_if(s.begin(), s.end(), [](const Sensitivity& x) { return x.key == "work"; });
    ASSERT_NE(work, s.end());
    EXPECT_EQ(*work->at_most, Time::us(95));  // 97 less the slowest entry of 2
}

TEST(Options, MeasuredLatenciesAreDrawnFrom) {
    auto o = *parse_option("irq:latency=1us..2us,work=0s");
    const auto m = model_of(o, {Time::us(3), Time::us(1), Time::us(2)});
    ASSERT_TRUE(m);
    EXPECT_EQ(m->latency_min, Time::us(1));
    EXPECT_EQ(m->latency_max, Time::us(3));
    const auto s = run(every(Time::us(20), Time::us(2), 9000), *m);
    // A third each; those of 3 µs are late: 1/3 within 5 standard errors.
    EXPECT_NEAR(static_cast<double>(s.missed) / 9000, 1.0 / 3, 5 * std::sqrt(2.0 / 9 / 9000));
}

TEST(Options, WorkInCyclesNeedsAClock) {
    EXPECT_EQ(model("irq:latency=0s,cycles=240,clock=120MHz").work, Time::us(2));
    EXPECT_THAT(message(parse_option("irq:latency=0s,cycles=240")), HasSubstr("cycles and a clock"));
    EXPECT_THAT(message(parse_option("pio:clock=0,sync=2..3,cycles=4")), HasSubstr("clock"));
    EXPECT_THAT(message(parse_option("pio:clock=1MHz,sync=3..2,cycles=4")), HasSubstr("sync-min above"));
    EXPECT_THAT(message(parse_option("mixed:latency=1us,work=1us,path=60ns/20ns/5ns")),
                HasSubstr("out of order"));
    EXPECT_THAT(message(parse_option("core:latency=1us,work=1us,busy=queue,depth=0")),
                HasSubstr("queue of 1"));
    EXPECT_THAT(message(parse_option("core:held=1us/2us,latency=1us,work=1us")), HasSubstr("core:latency"));
}

TEST(Laws, MoreLatencyNeverHelpsAndAWiderWindowNeverHurts) {
    Random random(5);
    for (int i = 0; i < 60; ++i) {
        std::vector<ReplyTask> tasks;
        Time at;
        for (int k = 0; k < 400; ++k) {
            at += Time::ns(3'000 + static_cast<std::int64_t>(random.below(60'000)));
            tasks.push_back({at, at + Time::ns(2'500)});
        }
        ReplyModel m;
        m.kind = std::array{OptionKind::poll, OptionKind::irq, OptionKind::core}[random.below(3)];
        m.period = Time::ns(500 + static_cast<std::int64_t>(random.below(3'000)));
        m.latency_min = Time::ns(static_cast<std::int64_t>(random.below(800)));
        m.latency_max = m.latency_min + Time::ns(static_cast<std::int64_t>(random.below(800)));
        if (m.kind == OptionKind::irq) m.held = Time::us(2), m.held_every = Time::us(50);
        m.work = Time::ns(static_cast<std::int64_t>(random.below(1'500)));
        const auto seed = random.next();
        const auto base = run(tasks, m, seed);
        // The same draws, later written or more work: nothing that was late comes in time.
        auto slower = m;
        slower.write += Time::ns(static_cast<std::int64_t>(random.below(900)));
        EXPECT_GE(run(tasks, slower, seed).missed, base.missed);
        auto wider = tasks;
        for (auto& t : wider) t.deadline += Time::ns(300);
        EXPECT_LE(run(wider, m, seed).missed, base.missed);
        // The slowest case is a bound while triggers are too far apart to meet.
        const auto far = every(Time::us(500), Time::us(100), 300);
        EXPECT_LE(run(far, m, seed).latency.max, slowest_reply(m).seconds() + 1e-12);
        EXPECT_GE(run(far, m, seed).latency.min, fastest_reply(m).seconds() - 1e-12);
    }
}

TEST(Study, AtTheLimitNothingIsMissedAndBeyondItSomethingIs) {
    const auto tasks = every(Time::us(200), Time::us(10), 20'000);
    auto m = model("irq:latency=0.5us..1us,held=3us/50us,work=2us");
    // 1 + 3 + 2 = 6 of 10 µs: 4 to spare for any of them.
    EXPECT_EQ(slowest_reply(m), Time::us(6));
    for (const auto& s : sensitivities(m, Time::us(10), tasks)) {
        EXPECT_TRUE(s.holds) << s.key;
        EXPECT_EQ(*s.at_most, s.now + Time::us(4)) << s.key;
    }
    m.held = Time::us(7);
    EXPECT_EQ(run(tasks, m).missed, 0);
    m.held = Time::ns(8'500);
    EXPECT_GT(run(tasks, m).missed, 0);
    m.work = Time::us(20);
    for (const auto& s : sensitivities(m, Time::us(10), tasks)) EXPECT_FALSE(s.holds);
    EXPECT_FALSE(sensitivities(m, Time::us(10), tasks)[1].at_most);  // no hold at all would do
}

TEST(Study, ConfidenceIsThatOfClopperAndPearson) {
    const auto share = [](long n, long missed) {
        ReplySummary s;
        s.replies = n;
        s.missed = missed;
        return confidence_of(s, *parse_option("logic:1ns,2ns,3ns")).at_most_share;
    };
    // None in n: 1 − 0.05^(1/n). 0 of 59: 4.95 %; one of 10 upper one-sided 95 %: 39.416 % (tables of the
    // method).
    EXPECT_NEAR(share(59, 0), 1 - std::pow(0.05, 1.0 / 59), 1e-12);
    EXPECT_NEAR(share(10, 1), 0.39416, 1e-4);
    EXPECT_NEAR(share(100, 5), 0.10225, 1e-4);
    EXPECT_DOUBLE_EQ(share(0, 0), 1.0);
    EXPECT_DOUBLE_EQ(share(5, 5), 1.0);
    ReplySummary s;
    s.replies = 3;
    EXPECT_THAT(confidence_of(s, *parse_option("pio:clock=1MHz,sync=2..3,cycles=4")).assumed,
                testing::ElementsAre("Clock", "Synchroniser, least", "Synchroniser, most", "Program"));
}

/// A host that loads with a low pulse and clocks three times, twice; the original answers 200 ns after a
/// rise.
Capture conversation() {
    return test::capture_of({{"LD", waveform_ns(true, {1000, 1500, 21000, 21500})},
                             {"CK", waveform_ns(false, {3000, 4000, 6000, 7000, 9000, 10000, 23000, 24000,
                                                        26000, 27000, 29000, 30000})},
                             {"Q", waveform_ns(false, {1200, 3200, 6200, 26200})}},
                            Time::us(60));
}
const char* const register_text =
    "input LD CK\noutput Q\nU1 74x165 hct: /LD=LD CLK=CK INH=0 SER=1 QH=Q\n   P7=1 P6=0 P5=1 P4=1 P3=1 P2=1 "
    "P1=1 P0=1\n";

std::vector<ReplyTask> looks(const Capture& c) {
    return *find_tasks(c, *parse_edge("CK:rise"), *parse_look("next:CK:fall"));
}

TEST(NetworkReply, TheReplayAnswersAndIsHeldAgainstTheOriginal) {
    const auto c = conversation();
    const auto tasks = looks(c);
    ASSERT_EQ(tasks.size(), 6U);
    const auto n = test::network(register_text);
    Progress progress;
    const auto r = reply_of_network(n, c, nullptr, tasks, "Q", progress);
    ASSERT_TRUE(r) << message(r);
    EXPECT_EQ(r->answer, "Q");
    // First word 1 0 1 1 as recorded: after the three clocks 0, 1, 1. The second was recorded as 1 1 0 0:
    // after its clocks the original stays 1, then 0, then 0, and the register again gives 0, 1, 1: three of
    // six looks differ.
    EXPECT_EQ(r->compared, 6);
    EXPECT_EQ(r->differ, 3);
    EXPECT_EQ(*r->first_difference, Time::us(24));
    ASSERT_EQ(r->corners.size(), 3U);
    EXPECT_EQ(r->corners[2].name, "slow");
    // hct 74x165, slow: 57 ns from the clock; looks are 1 µs after it.
    const auto good = reply_of_network(n, c, nullptr, {tasks.begin(), tasks.begin() + 3}, "Q", progress);
    EXPECT_EQ(good->differ, 0);
    EXPECT_EQ(good->summary.missed, 0);
    EXPECT_EQ(*good->summary.worst_margin, Time::ns(1000 - 57));
    EXPECT_NEAR(good->summary.latency.max, 57e-9, 1e-12);
}

TEST(NetworkReply, TooSlowAPathIsMissedAndSaysSo) {
    // Twenty 4000B inverters of 160 ns behind the register: 3.2 µs, looks 1 µs after the edge.
    std::string text =
        "input LD CK\noutput Q\nU1 74x165 hct: /LD=LD CLK=CK INH=0 SER=1 QH=n0 P7=1 P6=0 P5=1 P4=1 P3=1 P2=1 "
        "P1=1 P0=1\n";
    for (int i = 0; i < 20; ++i)
        text += "V" + std::to_string(i) + " 4069 4000b: 1A=n" + std::to_string(i) +
                " 1Y=" + (i == 19 ? "Q" : "n" + std::to_string(i + 1)) + " 2A=0 3A=0 4A=0 5A=0 6A=0\n";
    const auto c = conversation();
    Progress progress;
    const auto r = reply_of_network(test::network(text), c, nullptr, looks(c), "Q", progress);
    ASSERT_TRUE(r) << message(r);
    EXPECT_GT(r->summary.missed, 0);
    EXPECT_GE(r->corners[2].missed, r->corners[0].missed);
}

TEST(NetworkReply, BitsOfFramesDriveInputsAndWhatIsMissingIsSaid) {
    const auto c = conversation();
    Decoding d;
    for (const auto& [start, end, levels] : {std::tuple{1000L, 10000L, "1011"}, {21000L, 30000L, "1100"}}) {
        Frame f;
        f.start = Time::ns(start);
        f.end = Time::ns(end);
        f.levels = levels;
        d.frames.push_back(f);
    }
    std::string text = register_text;
    text.replace(text.find("P7=1 P6=0 P5=1 P4=1"), 19, "P7=b1 P6=b2 P5=b3 P4=b4");
    text = "input b1 = bit1\ninput b2 = bit2\ninput b3 = bit3\ninput b4 = bit4\n" + text;
    const auto n = test::network(text);
    const auto stimuli = stimuli_from(n, c, &d);
    ASSERT_TRUE(stimuli);
    // b2 goes from 0 to 1 halfway between 10 and 21 µs.
    for (const auto& s : *stimuli)
        if (n.net_name(s.net) == "b2") {
            EXPECT_EQ(s.first, Level::zero);
            ASSERT_EQ(s.changes.size(), 1U);
            EXPECT_EQ(s.changes[0].at, Time::ns(15500));
        }
    Progress progress;
    const auto r = reply_of_network(n, c, &d, looks(c), "Q", progress);
    ASSERT_TRUE(r) << message(r);
    EXPECT_EQ(r->differ, 0);
    EXPECT_THAT(message(stimuli_from(n, c, nullptr)), HasSubstr("a capture that is decoded"));
    EXPECT_THAT(
        message(stimuli_from(test::network("input X\noutput Y\nU1 74x04 hc: 1A=X 1Y=Y\n"), c, nullptr)),
        HasSubstr("which the capture has not"));
}

TEST(NetworkReply, MixturesOfFastAndSlowPartsAreTried) {
    const auto c = conversation();
    const auto n = test::network(
        "input LD CK\noutput Q\nU2 74x04 hct: 1A=CK 1Y=k 2A=k 2Y=kk 3A=0 4A=0 5A=0 6A=0\nU1 74x165 hct: "
        "/LD=LD CLK=kk INH=0 SER=1 QH=Q\n   P7=1 P6=0 P5=1 P4=1 P3=1 P2=1 P1=1 P0=1\n");
    Progress progress;
    const auto r = reply_of_network(n, c, nullptr, looks(c), "Q", progress);
    ASSERT_TRUE(r) << message(r);
    ASSERT_EQ(r->corners.size(), 5U);
    EXPECT_EQ(r->corners[3].name, "U2 fast, U1 slow");
    // fast inverters twice 3.7 ns, slow register 57: 64.4; the other way 60 + 7 = 67.
    EXPECT_EQ(r->corners[3].slowest, Time::ps(64'400));
    EXPECT_EQ(r->corners[4].slowest, Time::ps(67'000));
    EXPECT_EQ(r->corners[2].slowest, Time::ns(117));
}

TEST(Golden, AReplicaThatBreaksTheContractOrOnlyDiffers) {
    const auto original = conversation();
    auto figure = [](const char* from, const char* to, IntervalKind kind, std::optional<Time> min,
                     std::optional<Time> max) {
        ContractInterval i;
        i.id = i.name = word(kind);
        i.from = from;
        i.to = to;
        i.kind = kind;
        i.min = min;
        i.max = max;
        i.within = Time::us(2);
        return std::make_shared<const ContractFigure>(figure_of(i, {}));
    };
    const auto contract =
        std::vector{figure("CK:rise", "Q:any", IntervalKind::response, {}, Time::ns(250)),
                    figure("CK:rise", "CK:fall", IntervalKind::width, Time::ns(900), Time::ns(1100))};
    const auto judge = [&](const Capture& replica) {
        Progress progress;
        GoldenPair pair;
        pair.tolerance = Time::ns(100);
        auto r = compare_golden(pair, {"o", "o", &original, nullptr, Time::ns(1)},
                                {"r", "r", &replica, nullptr, Time::ns(1)}, contract, progress);
        EXPECT_TRUE(r) << message(r);
        return r ? std::move(*r) : GoldenResult{};
    };
    EXPECT_EQ(judge(original).verdict, Verdict::holds);
    auto quick = original;
    quick.signals[2].digital = waveform_ns(false, {1150, 3150, 6150, 26150});
    EXPECT_EQ(judge(quick).verdict, Verdict::holds);
    auto extra = original;
    extra.signals[2].digital = waveform_ns(false, {1200, 3200, 6200, 26200, 40000});
    EXPECT_EQ(judge(extra).verdict, Verdict::doubt);
    auto late = original;
    late.signals[2].digital = waveform_ns(false, {1200, 3200, 6280, 26200});
    const auto r = judge(late);
    EXPECT_EQ(r.verdict, Verdict::stop);
    ASSERT_EQ(r.intervals.size(), 2U);
    EXPECT_EQ(r.intervals[0].broken, 1);
    EXPECT_EQ(*r.intervals[0].first, Time::us(6));
    EXPECT_THAT(r.says, HasSubstr("1 of 9 intervals break the contract"));
    const auto other = test::capture_of({{"X", waveform_ns(false, {1})}});
    Progress progress;
    EXPECT_THAT(message(compare_golden({}, {"o", "o", &original, nullptr, {}},
                                       {"r", "r", &other, nullptr, {}}, contract, progress)),
                HasSubstr("no signal of the same name"));
    EXPECT_FALSE(compare_golden({}, {"o", "o", nullptr, nullptr, {}}, {"r", "r", &other, nullptr, {}},
                                contract, progress));
}

}  // namespace
}  // namespace grayrelic
