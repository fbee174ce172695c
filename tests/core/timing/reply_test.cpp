// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/reply.hpp"

#include <cmath>

#include "core/timing/replay_line.hpp"
#include "tests/core/timing/replies.hpp"

namespace grayrelic {
namespace {

using test::message;
using test::run;
using test::waveform_ns;

std::vector<ReplyTask> tasks_every(Time spacing, Time deadline, int n) {
    std::vector<ReplyTask> out;
    out.reserve(static_cast<std::size_t>(n));
    for (int i = 0; i < n; ++i) out.push_back({spacing * i, spacing * i + deadline});
    return out;
}

ReplyModel poll(Time period, Time work) {
    ReplyModel m;
    m.kind = OptionKind::poll;
    m.period = period;
    m.work = work;
    return m;
}

ReplyModel irq(Time low, Time high, Time work) {
    ReplyModel m;
    m.kind = OptionKind::irq;
    m.latency_min = low;
    m.latency_max = high;
    m.work = work;
    return m;
}

// --- the polling law
// -----------------------------------------------------------------------------------------------

struct Law {
    long period_ns, work_ns, deadline_ns;
};
void PrintTo(const Law& l, std::ostream* out) {
    *out << "P=" << l.period_ns << " W=" << l.work_ns << " D=" << l.deadline_ns;
}
class PollingLaw : public testing::TestWithParam<Law> {};

TEST_P(PollingLaw, ShareMissedIsTheClampedOverlap) {
    const auto& law = GetParam();
    constexpr int n = 40'000;
    // Triggers far enough apart that the loop is never busy.
    const auto s = run(tasks_every(Time::ms(1), Time::ns(law.deadline_ns), n),
                       poll(Time::ns(law.period_ns), Time::ns(law.work_ns)), 77);
    const double p = std::clamp(static_cast<double>(law.period_ns + law.work_ns - law.deadline_ns) /
                                    static_cast<double>(law.period_ns),
                                0.0, 1.0);
    const double error = std::sqrt(p * (1.0 - p) / n);
    EXPECT_NEAR(static_cast<double>(s.missed) / n, p, 3.0 * error + 1e-12);
    EXPECT_EQ(s.replies, n);
    EXPECT_EQ(s.met + s.missed, n);
    EXPECT_EQ(s.lost, 0);
    EXPECT_GE(s.latency.min, static_cast<double>(law.work_ns) * 1e-9);
    EXPECT_LT(s.latency.max, static_cast<double>(law.period_ns + law.work_ns) * 1e-9 + 1e-15);
    // a uniform wait has its mean in the middle, with a deviation of period/√12
    const double mean = (static_cast<double>(law.period_ns) / 2.0 + static_cast<double>(law.work_ns)) * 1e-9;
    EXPECT_NEAR(s.latency.mean, mean, 4.0 * static_cast<double>(law.period_ns) * 1e-9 / std::sqrt(12.0 * n));
    EXPECT_EQ(*s.enough_latency, Time::ns(law.deadline_ns));
}

INSTANTIATE_TEST_SUITE_P(TenSettings, PollingLaw,
                         testing::Values(Law{2600, 1200, 3158}, Law{10'000, 1000, 3158}, Law{4000, 0, 2000},
                                         Law{1000, 500, 1500}, Law{1000, 500, 1501}, Law{5000, 4000, 3158},
                                         Law{100, 3000, 3158}, Law{50'000, 200, 3158}, Law{3200, 158, 3158},
                                         Law{7000, 2999, 3000}));

// --- firmware on interrupts
// ------------------------------------------------------------------------------------------

TEST(InterruptReply, LatencyIsUniformBetweenItsBounds) {
    const auto s = run(tasks_every(Time::ms(1), Time::us(3), 20'000),
                       irq(Time::ns(400), Time::ns(1000), Time::ns(1900)));
    EXPECT_GE(s.latency.min, 2300e-9);
    EXPECT_LE(s.latency.max, 2900e-9);
    EXPECT_NEAR(s.latency.mean, 2600e-9, 4.0 * 600e-9 / std::sqrt(12.0 * 20'000));
    EXPECT_EQ(s.missed, 0);
    EXPECT_GE(*s.worst_margin, Time::ns(100));
}

TEST(InterruptReply, HoldsDelayTheirShareOfTheTriggers) {
    // Entry and work take 1 µs exactly, the deadline is 2 µs, and holds of 10 µs come every 100 µs. Triggers
    // are 1 ms apart, so each draws its phase anew. A trigger is late when more than 1 µs of a hold is left:
    // 9 of 100.
    auto m = irq(Time{}, Time{}, Time::us(1));
    m.held = Time::us(10);
    m.held_every = Time::us(100);
    constexpr int n = 40'000;
    const auto s = run(tasks_every(Time::ms(1), Time::us(2), n), m, 5);
    EXPECT_NEAR(static_cast<double>(s.missed) / n, 0.09, 3.0 * std::sqrt(0.09 * 0.91 / n));
    EXPECT_LE(s.latency.max, 11e-6 + 1e-12);
    EXPECT_GT(s.latency.max, 10.9e-6);
}

TEST(InterruptReply, AHoldGoesOnWithinABurst) {
    // Two triggers 4 µs apart: with 5 µs holds, both share one hold, so the second waits 4 µs less than the
    // first.
    auto m = irq(Time{}, Time{}, Time::ns(1));
    m.held = Time::us(5);
    m.held_every = Time::us(1000);
    std::vector<ReplyTask> tasks;
    for (int i = 0; i < 20'000; ++i) {
        const Time t = Time::ms(10) * i;
        tasks.push_back({t, t + Time::us(3)});
        tasks.push_back({t + Time::us(4), t + Time::us(7)});
    }
    const auto s = run(tasks, m, 9);
    int both = 0, second_only = 0;
    for (std::size_t i = 0; i < tasks.size(); i += 2) {
        ASSERT_TRUE(s.outcomes[i + 1].reply);
        const Time second = *s.outcomes[i + 1].reply - tasks[i + 1].trigger;
        if (!s.outcomes[i].reply) {
            // The first still waited: the one service at the hold's end, 1 µs behind the second at most, is
            // the second's.
            ++both;
            EXPECT_LE(second, Time::us(1) + Time::ns(1));
        } else if (second > Time::us(1) + Time::ns(1)) {
            ++second_only;  // the hold began between the two
        }
    }
    // 1 of 1000 µs has at least 4 µs of the hold left at the first trigger; 4 of 1000 begin in between.
    EXPECT_NEAR(both, 10'000 * 0.001 * 2, 14);
    EXPECT_GT(second_only, 20);
    EXPECT_GT(both, 3);
}

// --- busy: a trace worked by hand
// -------------------------------------------------------------------------------------

/// Entry 1 µs exactly, work 4 µs. Triggers at 0, 3, 4, 12 µs; deadlines 6 µs after each.
///   0 µs: noticed at 1, replied at 5.
///   3 µs: the handler is busy until 5; waits.
///   4 µs: still busy; takes the waiting place of the one at 3, which is lost.
///         late: starts at 5 (its own entry would also end at 5), replied at 9. lost: never.
///  12 µs: idle again: noticed at 13, replied at 17.
std::vector<ReplyTask> hand_made() {
    std::vector<ReplyTask> out;
    for (const long us : {0, 3, 4, 12}) out.push_back({Time::us(us), Time::us(us + 6)});
    return out;
}

TEST(BusyFirmware, ServedLateKeepsOneWaitingTrigger) {
    const auto s = run(hand_made(), irq(Time::us(1), Time::us(1), Time::us(4)));
    EXPECT_EQ(s.outcomes[0].reply, Time::us(5));
    EXPECT_EQ(s.outcomes[1].reply, std::nullopt);
    EXPECT_EQ(s.outcomes[2].reply, Time::us(9));
    EXPECT_EQ(s.outcomes[3].reply, Time::us(17));
    EXPECT_EQ(s.lost, 1);
    EXPECT_EQ(s.missed, 1);  // the one at 4 µs is just in time: 5 of 6 µs
    EXPECT_EQ(s.met, 3);
    EXPECT_EQ(s.latency.n, 3);
    EXPECT_EQ(*s.worst_margin, Time::us(1));
}

TEST(BusyFirmware, LostTriggersAreNeverAnswered) {
    auto m = irq(Time::us(1), Time::us(1), Time::us(4));
    m.busy = WhenBusy::lost;
    const auto s = run(hand_made(), m);
    EXPECT_EQ(s.outcomes[0].reply, Time::us(5));
    EXPECT_EQ(s.outcomes[1].reply, std::nullopt);
    EXPECT_EQ(s.outcomes[2].reply, std::nullopt);
    EXPECT_EQ(s.outcomes[3].reply, Time::us(17));
    EXPECT_EQ(s.lost, 2);
    EXPECT_EQ(s.missed, 2);
}

TEST(BusyFirmware, AWaitingTriggerStartsWhenTheWorkEnds) {
    // 0: noticed 0, replied 10. 2 µs: busy until 10, replied 20. 11 µs: busy until 20, replied 30.
    std::vector<ReplyTask> tasks;
    for (const long us : {0, 2, 11}) tasks.push_back({Time::us(us), Time::us(us + 5)});
    const auto s = run(tasks, irq(Time{}, Time{}, Time::us(10)));
    EXPECT_EQ(s.outcomes[1].reply, Time::us(20));
    EXPECT_EQ(s.outcomes[2].reply, Time::us(30));
    EXPECT_EQ(s.missed, 3);
    EXPECT_EQ(*s.worst_margin, Time::us(16) - Time::us(30));
    EXPECT_EQ(*s.worst, 2U);
}

// --- logic
// -------------------------------------------------------------------------------------------------------------

TEST(LogicReply, StaysInsideItsDelaysAndIsJudgedAtTheSlowest) {
    ReplyModel m;
    m.latency_min = Time::ns(6);
    m.latency_typ = Time::ns(21);
    m.latency_max = Time::ns(56);
    const auto s = run(tasks_every(Time::us(10), Time::us(3), 10'000), m);
    EXPECT_GE(s.latency.min, 6e-9);
    EXPECT_LE(s.latency.max, 56e-9);
    EXPECT_NEAR(s.latency.mean, 83e-9 / 3.0, 1e-9);  // a triangle's mean is the mean of its corners
    EXPECT_EQ(*s.worst_margin, Time::us(3) - Time::ns(56));
    EXPECT_EQ(s.missed, 0);
}

TEST(Reply, SameSeedSameResultOtherSeedAnother) {
    const auto tasks = tasks_every(Time::us(9), Time::us(3), 1000);
    const auto a = run(tasks, poll(Time::us(4), Time::us(1)), 1);
    const auto b = run(tasks, poll(Time::us(4), Time::us(1)), 1);
    const auto c = run(tasks, poll(Time::us(4), Time::us(1)), 2);
    std::size_t same = 0;
    for (std::size_t i = 0; i < tasks.size(); ++i) {
        EXPECT_EQ(a.outcomes[i].reply, b.outcomes[i].reply);
        same += a.outcomes[i].reply == c.outcomes[i].reply ? 1 : 0;
    }
    EXPECT_LT(same, 10U);
}

TEST(Reply, NoTriggersNoVerdict) {
    const auto s = run({}, poll(Time::us(4), Time::us(1)));
    EXPECT_EQ(s.replies, 0);
    EXPECT_FALSE(s.worst_margin);
    EXPECT_FALSE(s.enough_latency);
}

TEST(Reply, CanBeCancelled) {
    Progress progress;
    progress.cancel();
    EXPECT_FALSE(simulate_replies(tasks_every(Time::us(9), Time::us(3), 10), poll(Time::us(4), Time::us(1)),
                                  1, progress));
}

// --- looks and tasks
// ------------------------------------------------------------------------------------------------------

TEST(Look, IsATimeOrTheNextEdge) {
    EXPECT_EQ(parse_look("3.1us")->after, Time::ps(3'100'000));
    EXPECT_EQ(parse_look("next:STEP:fall")->next, (EdgeName{"STEP", Direction::fall}));
    for (const char* bad : {"", "0", "-1us", "next:", "next:STEP", "soon"})
        EXPECT_FALSE(parse_look(bad)) << bad;
    EXPECT_EQ(show_look(*parse_look("next:STEP:fall")), "at the next STEP ↓");
    EXPECT_EQ(show_look(*parse_look("3.1us")), "3.10 µs later");
}

TEST(Tasks, PairEachTriggerWithTheNextLook) {
    const auto c = test::capture_of(
        {{"clk", waveform_ns(true, {10, 20, 30, 40, 1000, 1010})}});  // falls 10 30 1000, rises 20 40 1010
    const auto tasks = find_tasks(c, {"clk", Direction::rise}, *parse_look("next:clk:fall"), Time::ns(2));
    ASSERT_TRUE(tasks);
    ASSERT_EQ(tasks->size(), 2U);  // nothing follows the rise at 1010
    EXPECT_EQ((*tasks)[0].trigger, Time::ns(20));
    EXPECT_EQ((*tasks)[0].deadline, Time::ns(28));
    EXPECT_EQ((*tasks)[1].deadline, Time::ns(998));
    const auto bursts =
        find_tasks(c, {"clk", Direction::rise}, *parse_look("next:clk:fall"), {}, Time::ns(100));
    EXPECT_EQ(bursts->size(), 1U);
    const auto fixed = find_tasks(c, {"clk", Direction::rise}, *parse_look("5ns"));
    EXPECT_EQ(fixed->size(), 3U);
    EXPECT_EQ((*fixed)[2].deadline, Time::ns(1015));
    EXPECT_FALSE(find_tasks(c, {"none", Direction::rise}, *parse_look("5ns")));
    EXPECT_FALSE(find_tasks(c, {"clk", Direction::rise}, *parse_look("next:none:fall")));
}

TEST(ReplayLine, ShowsTheSameBitsAtTheSimulatedTimes) {
    // original: goes low 2 ns after the trigger at 100, high 2 ns after that at 200; a load moves it at 350.
    const auto original = waveform_ns(true, {102, 202, 350});
    const std::vector<ReplyTask> tasks{{Time::ns(100), Time::ns(150)}, {Time::ns(200), Time::ns(250)}};
    ReplySummary replies;
    replies.outcomes = {{Time::ns(130)}, {Time::ns(260)}};
    const auto line = replay_line(*original, tasks, replies, {Time::ns(0), Time::ns(400)});
    const auto edges = line.edges();
    EXPECT_EQ((std::vector<Time>(edges.begin(), edges.end())), test::at_ns({130, 260, 350}));
    EXPECT_TRUE(line.first_level());
    replies.outcomes = {{std::nullopt}, {Time::ns(260)}};
    const auto lost = replay_line(*original, tasks, replies, {Time::ns(0), Time::ns(300)});
    EXPECT_TRUE(lost.edges().empty());  // the low bit never came, and the next one is high
}

// --- options as text and as facts
// ---------------------------------------------------------------------------------------

TEST(Option, IsReadFromTheCommandLine) {
    const auto p = parse_option("poll:period=2.6us,work=1.2us");
    ASSERT_TRUE(p) << message(p);
    const auto pm = model_of(*p);
    EXPECT_EQ(pm->kind, OptionKind::poll);
    EXPECT_EQ(pm->period, Time::ns(2600));
    EXPECT_EQ(pm->work, Time::ns(1200));
    const auto i = model_of(*parse_option("irq:latency=420ns..980ns,held=9us/125us,work=1.9us,busy=lost"));
    ASSERT_TRUE(i);
    EXPECT_EQ(i->latency_min, Time::ns(420));
    EXPECT_EQ(i->latency_max, Time::ns(980));
    EXPECT_EQ(i->held, Time::us(9));
    EXPECT_EQ(i->held_every, Time::us(125));
    EXPECT_EQ(i->busy, WhenBusy::lost);
    const auto l = model_of(*parse_option("logic:6ns,21ns,56ns"));
    EXPECT_EQ(l->latency_typ, Time::ns(21));
    EXPECT_EQ(model_of(*parse_option("irq:latency=1us,work=1us"))->latency_max, Time::us(1));
    EXPECT_EQ(parse_option("logic:6ns,21ns,56ns")->parameters[0].value.evidence.kind, EvidenceKind::assumed);
}

/// A spelling and what a person is told: what was found, and what would have been right.
struct BadSpelling {
    const char *text, *told;
    friend void PrintTo(const BadSpelling& b, std::ostream* out) { *out << b.text; }
};
class BadOption : public testing::TestWithParam<BadSpelling> {};
TEST_P(BadOption, IsRefusedWithWhatIsWrong) {
    const auto o = parse_option(GetParam().text);
    ASSERT_FALSE(o);
    EXPECT_EQ(o.error().kind, Error::Kind::usage);
    EXPECT_THAT(message(o), testing::HasSubstr(GetParam().told));
}
INSTANTIATE_TEST_SUITE_P(
    Spellings, BadOption,
    testing::Values(
        BadSpelling{"", "option \"\", expected poll:period=P,work=W or irq:"},
        BadSpelling{"poll", "expected poll:period"}, BadSpelling{"cow:period=1us", "expected poll:period"},
        BadSpelling{"network:a", "expected poll:period"}, BadSpelling{"poll:", "expected poll:period"},
        BadSpelling{"poll:period=0,work=1us",
                    "period 0 s in option \"poll:period=0,work=1us\", expected a loop period above 0 s"},
        BadSpelling{"poll:work=1us", "no period"},
        BadSpelling{"poll:period=1us",
                    "no work in option \"poll:period=1us\", expected a time for work, or cycles"},
        BadSpelling{"poll:period=fast,work=1us", "\"fast\" in option"},
        BadSpelling{"poll:latency=1us,work=1us", "expected poll:period"},
        BadSpelling{"irq:latency=2us..1us,work=1us", "latency-min above latency-max"},
        BadSpelling{"irq:latency=1us", "no work"},
        BadSpelling{"irq:latency=1us,held=5us,work=1us", "expected poll:period"},
        BadSpelling{"irq:latency=1us,held=9us/5us,work=1us",
                    "expected a hold shorter than the time between holds"},
        BadSpelling{"logic:1ns,2ns", "expected poll:period"},
        BadSpelling{"logic:3ns,2ns,1ns", "delays out of order"},
        BadSpelling{"logic:-1ns,2ns,3ns", "expected a time from 0 s to 1,000 s"},
        BadSpelling{"pio:1,2", "expected poll:period"},
        BadSpelling{
            "poll:period=1us,work=1us,busy=maybe",
            "busy \"maybe\" in option \"poll:period=1us,work=1us,busy=maybe\", expected late, lost or queue"},
        BadSpelling{"poll:period=1us,work=2000s", "work 2000"}));

TEST(Option, AMessageNamesTheOptionAndTheConstraint) {
    BuildOption o;
    o.name = "My loop";
    o.kind = OptionKind::poll;
    o.parameters.push_back({"work", {Time::us(1), {}, {}}});
    EXPECT_EQ(message(model_of(o)), "found no period in option \"My loop\", expected a time for period");
    o.kind = OptionKind::network;
    EXPECT_THAT(message(model_of(o)), testing::HasSubstr("found kind \"network\" in option \"My loop\""));
}

TEST(Option, EveryKindBeginsWithNumbersThatMakeAModel) {
    for (const auto kind : all_of<OptionKind>()) {
        if (kind == OptionKind::network) continue;
        const auto o = usual_option(kind, "new");
        EXPECT_TRUE(model_of(o)) << word(kind) << message(model_of(o));
        EXPECT_EQ(o.id, "new");
        for (const auto& p : o.parameters)
            EXPECT_EQ(p.value.evidence.kind, EvidenceKind::assumed) << word(kind);
        for (const auto& n : o.numbers) EXPECT_EQ(n.value.evidence.kind, EvidenceKind::assumed) << word(kind);
        // With any one more of what the kind may have it still does.
        for (const auto& spec : parameters_of(kind)) {
            const auto more = with_usual(o, spec.key);
            EXPECT_TRUE(model_of(more)) << word(kind) << " " << spec.key << message(model_of(more));
        }
        EXPECT_EQ(with_usual(o, "cow"), o);
    }
}

/// 120 cycles at 125 MHz are 960 ns; the time that stood for the work is gone, and comes back in their place.
TEST(Option, CyclesTakeThePlaceOfATime) {
    const auto timed = usual_option(OptionKind::irq, "i");
    const auto counted = with_usual(timed, "cycles");
    EXPECT_TRUE(std::none_of(counted.parameters.begin(), counted.parameters.end(),
                             [](auto& p) { return p.key == "work"; }));
    EXPECT_EQ(model_of(counted)->work, Time::ns(960));
    EXPECT_EQ(with_usual(timed, "clock").numbers.size(), 2U);
    const auto back = with_usual(counted, "work");
    EXPECT_TRUE(back.numbers.empty());
    EXPECT_EQ(model_of(back)->work, Time::us(1));
    // The clock of programmable I/O is no part of any work.
    EXPECT_EQ(with_usual(usual_option(OptionKind::pio, "p"), "write").numbers.size(), 4U);
}

}  // namespace
}  // namespace grayrelic
