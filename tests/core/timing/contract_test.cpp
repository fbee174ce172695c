// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/contract.hpp"
#include "core/timing/derive_contract.hpp"

#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::waveform_ns;

Capture small_talk() {
    // two polls: latch 100..150, clock falls 200, 300, rises 250, 350; the device answers 20 ns after a rise
    return test::capture_of({{"latch", waveform_ns(false, {100, 150, 5100, 5150})},
                             {"clk", waveform_ns(true, {200, 250, 300, 350, 5200, 5250, 5300, 5350})},
                             {"data", waveform_ns(true, {110, 270, 5270})}});
}

ContractInterval interval(const char* from, const char* to, IntervalKind kind) {
    ContractInterval i;
    i.id = i.name = "x";
    i.from = from;
    i.to = to;
    i.kind = kind;
    i.capture = "c";
    i.evidence.kind = EvidenceKind::measured;
    return i;
}

/// From one capture, as most tests want it.
ContractFigure figure_of(const ContractInterval& i, const Capture* c, std::optional<Time> period,
                         const std::string& title) {
    if (i.capture.empty()) return grayrelic::figure_of(i, {});
    return grayrelic::figure_of(i, {{i.capture, title, c, nullptr, period}});
}

TEST(Contract, MeasuresResponsesWithTheirEvidence) {
    const auto c = small_talk();
    auto i = interval("clk:rise", "data:any", IntervalKind::response);
    i.within = Time::ns(40);
    const auto f = figure_of(i, &c, Time::ns(10), "My capture");
    EXPECT_EQ(f.n, 2);
    EXPECT_EQ(*f.min, Time::ns(20));
    EXPECT_EQ(*f.max, Time::ns(20));
    EXPECT_EQ(f.sampling, Time::ns(10));
    EXPECT_EQ(f.evidence.source, "2 times in My capture, ± 10.0 ns");
    EXPECT_EQ(f.evidence.kind, EvidenceKind::measured);
    EXPECT_TRUE(f.problem.empty());
}

TEST(Contract, APeriodGoesToTheNextEdgeOfTheSameKind) {
    const auto c = small_talk();
    auto i = interval("clk:fall", "clk:fall", IntervalKind::period);
    EXPECT_EQ(figure_of(i, &c, {}, "c").n, 3);
    EXPECT_EQ(*figure_of(i, &c, {}, "c").max, Time::ns(4900));
    i.within = Time::ns(1000);
    const auto f = figure_of(i, &c, {}, "c");
    EXPECT_EQ(f.n, 2);
    EXPECT_EQ(*f.typ, Time::ns(100));
    EXPECT_EQ(f.sampling, Time::ns(1));  // the file's own resolution when no rate is known
}

TEST(Contract, SaysWhyThereIsNoFigure) {
    const auto c = small_talk();
    EXPECT_EQ(figure_of(interval("clk:rise", "data:any", IntervalKind::response), nullptr, {}, "").problem,
              "its capture can't be read");
    EXPECT_THAT(figure_of(interval("clk", "data:any", IntervalKind::response), &c, {}, "").problem,
                testing::HasSubstr("found \"clk\""));
    EXPECT_THAT(figure_of(interval("cow:rise", "data:any", IntervalKind::response), &c, {}, "").problem,
                testing::HasSubstr("signal \"cow\""));
    auto never = interval("clk:rise", "data:any", IntervalKind::response);
    never.within = Time::ns(5);
    EXPECT_EQ(figure_of(never, &c, {}, "").problem, "it never happens in the capture");
}

TEST(Contract, HandEnteredNumbersStandAsTheyAre) {
    auto i = interval("a:rise", "b:rise", IntervalKind::setup);
    i.capture.clear();
    i.min = Time::ns(20);
    i.evidence = {EvidenceKind::documented, "sheet 4", "", ""};
    const auto f = figure_of(i, nullptr, {}, "");
    EXPECT_EQ(f.min, Time::ns(20));
    EXPECT_FALSE(f.max);
    EXPECT_EQ(f.evidence.source, "sheet 4");
    i.min.reset();
    EXPECT_EQ(figure_of(i, nullptr, {}, "").problem, "no number and no capture to measure it from");
}

TEST(Contract, IsProposedFromAReading) {
    const auto c = small_talk();
    const RoleMap roles{{"latch", {"latch"}}, {"clock", {"clk"}}, {"data", {"data"}}};
    Progress progress;
    const auto d = (*find_decoder("latch-shift"))->decode(c, roles, {}, progress);
    ASSERT_TRUE(d);
    const auto derived = derive_contract({"c", c, roles, *d, {}}, progress);
    ASSERT_TRUE(derived) << test::message(derived);
    const auto& list = derived->intervals;
    ASSERT_EQ(list.size(), 12U);
    EXPECT_EQ(list[0].from, "clk:rise");
    EXPECT_EQ(list[0].to, "data:any");
    EXPECT_EQ(list[1].kind, IntervalKind::look);
    EXPECT_EQ(list[1].to, "clk:fall");
    EXPECT_EQ(list[1].evidence.kind, EvidenceKind::assumed);
    // arithmetic on the edges above
    const std::map<std::string, Time> typical{
        {"reply", Time::ns(20)},         {"look", Time::ns(50)},         {"load-width", Time::ns(50)},
        {"load-to-clock", Time::ns(50)}, {"clock-high", Time::ns(50)},   {"clock-low", Time::ns(50)},
        {"clock-period", Time::ns(100)}, {"poll-period", Time::ns(5000)}};
    for (const auto& i : list) {
        const auto f = figure_of(i, &c, {}, "c");
        if (const auto want = typical.find(i.id); want != typical.end()) {
            EXPECT_EQ(f.typ, want->second) << i.id;
        }
    }
    const auto& q = derived->question;
    EXPECT_EQ(q.trigger, "clk:rise");
    EXPECT_EQ(q.look.value, "next:clk:fall");
    EXPECT_EQ(q.look.evidence.kind, EvidenceKind::assumed);
    EXPECT_EQ(q.within, Time::ns(400));
    const auto without = derive_contract({"c", c, {}, *d, {}}, progress);
    ASSERT_TRUE(without);
    EXPECT_TRUE(without->intervals.empty());
    EXPECT_TRUE(without->question.trigger.empty());
}

std::shared_ptr<const ContractFigure> entered(const char* from, const char* to, IntervalKind kind,
                                              std::optional<Time> min, std::optional<Time> max) {
    auto i = interval(from, to, kind);
    i.capture.clear();
    i.min = min;
    i.max = max;
    return std::make_shared<const ContractFigure>(figure_of(i, nullptr, {}, {}));
}

TEST(ContractBreaches, AreWhatLiesOutsideByMoreThanTheSampling) {
    const auto c = small_talk();  // latch 50 ns twice; clock low 50 ns, high 50 ns, once 4,850; reply 20 ns
    const auto breaches = [&](std::shared_ptr<const ContractFigure> f, Time sampling = {}) {
        return contract_breaches(c, {std::move(f)}, sampling);
    };
    EXPECT_EQ(breaches(entered("latch:rise", "latch:fall", IntervalKind::width, Time::ns(60), {})).size(),
              2U);
    EXPECT_EQ(
        breaches(entered("latch:rise", "latch:fall", IntervalKind::width, Time::ns(60), {}), Time::ns(10))
            .size(),
        0U)
        << "uncertain by 10 ns";
    EXPECT_EQ(breaches(entered("latch:rise", "latch:fall", IntervalKind::width, {}, Time::ns(40))).size(),
              2U);
    EXPECT_EQ(
        breaches(entered("latch:rise", "latch:fall", IntervalKind::width, Time::ns(50), Time::ns(50))).size(),
        0U);
    // A reply may come sooner than the original's, a setup may last longer.
    EXPECT_EQ(
        breaches(entered("clk:rise", "data:any", IntervalKind::response, Time::ns(30), Time::ns(40))).size(),
        0U);
    EXPECT_EQ(breaches(entered("clk:rise", "data:any", IntervalKind::response, {}, Time::ns(15))).size(), 2U);
    EXPECT_EQ(
        breaches(entered("latch:fall", "clk:fall", IntervalKind::setup, Time::ns(40), Time::ns(45))).size(),
        0U);
    EXPECT_EQ(breaches(entered("latch:fall", "clk:fall", IntervalKind::setup, Time::ns(60), {})).size(), 2U);
    // Periods of the falling edge: 100, 4,900 and 100 ns.
    const auto period = breaches(entered("clk:fall", "clk:fall", IntervalKind::period, {}, Time::ns(200)));
    ASSERT_EQ(period.size(), 1U);
    EXPECT_EQ(period[0].where.from, Time::ns(300));
    EXPECT_EQ(period[0].signal, "clk");
    EXPECT_EQ(period[0].interval, "x");
    // What the capture has not, and figures without numbers, allow everything.
    EXPECT_EQ(breaches(entered("strobe:rise", "data:any", IntervalKind::response, {}, Time::ns(1))).size(),
              0U);
    EXPECT_EQ(breaches(entered("latch:rise", "latch:fall", IntervalKind::width, {}, {})).size(), 0U);
}

TEST(ContractBreaches, OfTheCaptureItselfAreNone) {
    const auto c = small_talk();
    const auto i = interval("clk:rise", "data:any", IntervalKind::response);
    const auto f = std::make_shared<const ContractFigure>(figure_of(i, &c, Time::ns(10), "c"));
    EXPECT_TRUE(contract_breaches(c, {f}, Time::ns(10)).empty());
}

TEST(Contract, ARangeOverSeveralSpecimensIsTheWidestOfThem) {
    const auto one = small_talk();
    const auto two = test::capture_of(
        {{"clk", waveform_ns(true, {200, 250, 300, 350})}, {"data", waveform_ns(true, {265, 391})}});
    auto i = interval("clk:rise", "data:any", IntervalKind::response);
    i.also = {"d", "e"};
    i.within = Time::ns(60);
    const auto f = grayrelic::figure_of(i, {{"c", "first", &one, nullptr, Time::ns(10)},
                                            {"d", "second", &two, nullptr, Time::ns(20)},
                                            {"e", "gone", nullptr, nullptr, {}}});
    // 20 and 20 in the first (data rises after 250 and 5250), 15 and 41 in the second.
    EXPECT_EQ(f.n, 4);
    EXPECT_EQ(*f.min, Time::ns(15));
    EXPECT_EQ(*f.max, Time::ns(41));
    EXPECT_EQ(f.sampling, Time::ns(20));
    ASSERT_EQ(f.specimens.size(), 2U);
    EXPECT_EQ(f.specimens[1].max, Time::ns(41));
    EXPECT_EQ(f.evidence.source, "4 times in 2 captures, ± 20.0 ns; 1 of its captures could not be measured");
    EXPECT_TRUE(f.problem.empty());
}

TEST(Contract, LimitsFollowTheKindAndTheGuardMakesThemTighter) {
    struct Row {
        IntervalKind kind;
        std::optional<Time> least, most;
    };
    // Measured 100 … 200 ns, guard 15 ns.
    const Row rows[] = {{IntervalKind::response, {}, Time::ns(185)},
                        {IntervalKind::look, {}, Time::ns(185)},
                        {IntervalKind::setup, Time::ns(115), {}},
                        {IntervalKind::hold, Time::ns(115), {}},
                        {IntervalKind::gap, Time::ns(115), {}},
                        {IntervalKind::recovery, Time::ns(115), {}},
                        {IntervalKind::width, Time::ns(115), Time::ns(185)},
                        {IntervalKind::period, Time::ns(115), Time::ns(185)}};
    for (const auto& row : rows) {
        ContractInterval i = interval("a:rise", "b:rise", row.kind);
        i.capture.clear();
        i.min = Time::ns(100);
        i.max = Time::ns(200);
        i.guard = Time::ns(15);
        const auto l = limits_of(grayrelic::figure_of(i, {}));
        EXPECT_EQ(l.least, row.least) << word(row.kind);
        EXPECT_EQ(l.most, row.most) << word(row.kind);
    }
    EXPECT_EQ(std::size(rows), all_of<IntervalKind>().size());
}

TEST(Contract, FrameEventsAreMeasuredLikeEdges) {
    const auto c = small_talk();
    Decoding d;
    for (const long at : {100L, 5100L}) {
        Frame f;
        f.start = Time::ns(at);
        f.end = Time::ns(at + 260);
        f.bit_times = {Time::ns(at + 100), Time::ns(at + 200)};
        d.frames.push_back(f);
    }
    d.frames[1].errors = {"parity"};
    const auto measured = [&](const char* from, const char* to) {
        const auto m = measure_interval(interval(from, to, IntervalKind::gap), c, &d);
        EXPECT_TRUE(m) << from << test::message(m);
        std::vector<Time> out;
        if (m)
            for (const auto& i : m->answered) out.push_back(i.length());
        return out;
    };
    EXPECT_THAT(measured("frame:end", "frame:start"), testing::ElementsAre(Time::ns(5100 - 360)));
    EXPECT_THAT(measured("frame:start", "frame:start"), testing::ElementsAre(Time::ns(5000)));
    EXPECT_THAT(measured("frame:start", "frame:bit2"), testing::ElementsAre(Time::ns(200), Time::ns(200)));
    EXPECT_THAT(measured("frame:start", "latch:fall"), testing::ElementsAre(Time::ns(50), Time::ns(50)));
    EXPECT_THAT(measured("frame:error", "frame:end"), testing::ElementsAre(Time::ns(260)));
    EXPECT_THAT(
        test::message(measure_interval(interval("frame:end", "frame:start", IntervalKind::gap), c, nullptr)),
        testing::HasSubstr("without frames"));
    for (const char* wrong : {"frame:middle", "frame:bit0", "frame:bit65", "frame:bitx", "clk"})
        EXPECT_FALSE(parse_event(wrong)) << wrong;
    EXPECT_EQ(show_event(*parse_event("frame:bit3")), "frame's bit 3");
}

}  // namespace
}  // namespace grayrelic
