// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/contract.hpp"

#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::trace_ns;

Capture small_talk() {
    // two polls: latch 100..150, clock falls 200, 300, rises 250, 350; the device answers 20 ns after a rise
    return test::capture_of({{"latch", trace_ns(false, {100, 150, 5100, 5150})},
                             {"clk", trace_ns(true, {200, 250, 300, 350, 5200, 5250, 5300, 5350})},
                             {"data", trace_ns(true, {110, 270, 5270})}});
}

ContractInterval interval(const char* from, const char* to, const char* kind) {
    ContractInterval i;
    i.id = i.name = "x";
    i.from = from;
    i.to = to;
    i.kind = kind;
    i.capture = "c";
    i.evidence.kind = EvidenceKind::measured;
    return i;
}

TEST(Contract, MeasuresResponsesWithTheirEvidence) {
    const auto c = small_talk();
    auto i = interval("clk:rise", "data:any", "response");
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
    auto i = interval("clk:fall", "clk:fall", "period");
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
    EXPECT_EQ(figure_of(interval("clk:rise", "data:any", "response"), nullptr, {}, "").problem,
              "its capture can't be read");
    EXPECT_THAT(figure_of(interval("clk", "data:any", "response"), &c, {}, "").problem,
                testing::HasSubstr("found \"clk\" as an edge"));
    EXPECT_THAT(figure_of(interval("cow:rise", "data:any", "response"), &c, {}, "").problem,
                testing::HasSubstr("signal \"cow\""));
    auto never = interval("clk:rise", "data:any", "response");
    never.within = Time::ns(5);
    EXPECT_EQ(figure_of(never, &c, {}, "").problem, "it never happens in the capture");
}

TEST(Contract, HandEnteredNumbersStandAsTheyAre) {
    auto i = interval("a:rise", "b:rise", "setup");
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
    const auto list = propose_contract("c", roles, *d);
    ASSERT_EQ(list.size(), 9U);
    EXPECT_EQ(list[0].from, "clk:rise");
    EXPECT_EQ(list[0].to, "data:any");
    EXPECT_EQ(list[1].kind, "look");
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
    const auto q = propose_question("c", roles, *d);
    EXPECT_EQ(q.trigger, "clk:rise");
    EXPECT_EQ(q.look.value, "next:clk:fall");
    EXPECT_EQ(q.look.evidence.kind, EvidenceKind::assumed);
    EXPECT_EQ(q.within, Time::ns(400));
    EXPECT_TRUE(propose_contract("c", {}, *d).empty());
}

std::shared_ptr<const ContractFigure> entered(const char* from, const char* to, const char* kind, std::optional<Time> min, std::optional<Time> max) {
    auto i = interval(from, to, kind);
    i.capture.clear();
    i.min = min;
    i.max = max;
    return std::make_shared<const ContractFigure>(figure_of(i, nullptr, {}, {}));
}

TEST(ContractBreaches, AreWhatLiesOutsideByMoreThanTheSampling) {
    const auto c = small_talk();  // latch 50 ns twice; clock low 50 ns, high 50 ns, once 4,850; reply 20 ns
    const auto breaches = [&](std::shared_ptr<const ContractFigure> f, Time sampling = {}) { return contract_breaches(c, {std::move(f)}, sampling); };
    EXPECT_EQ(breaches(entered("latch:rise", "latch:fall", "width", Time::ns(60), {})).size(), 2U);
    EXPECT_EQ(breaches(entered("latch:rise", "latch:fall", "width", Time::ns(60), {}), Time::ns(10)).size(), 0U) << "uncertain by 10 ns";
    EXPECT_EQ(breaches(entered("latch:rise", "latch:fall", "width", {}, Time::ns(40))).size(), 2U);
    EXPECT_EQ(breaches(entered("latch:rise", "latch:fall", "width", Time::ns(50), Time::ns(50))).size(), 0U);
    // A reply may come sooner than the original's, a setup may last longer.
    EXPECT_EQ(breaches(entered("clk:rise", "data:any", "response", Time::ns(30), Time::ns(40))).size(), 0U);
    EXPECT_EQ(breaches(entered("clk:rise", "data:any", "response", {}, Time::ns(15))).size(), 2U);
    EXPECT_EQ(breaches(entered("latch:fall", "clk:fall", "setup", Time::ns(40), Time::ns(45))).size(), 0U);
    EXPECT_EQ(breaches(entered("latch:fall", "clk:fall", "setup", Time::ns(60), {})).size(), 2U);
    // Periods of the falling edge: 100, 4,900 and 100 ns.
    const auto period = breaches(entered("clk:fall", "clk:fall", "period", {}, Time::ns(200)));
    ASSERT_EQ(period.size(), 1U);
    EXPECT_EQ(period[0].where.from, Time::ns(300));
    EXPECT_EQ(period[0].signal, "clk");
    EXPECT_EQ(period[0].interval, "x");
    // What the capture has not, and figures without numbers, allow everything.
    EXPECT_EQ(breaches(entered("strobe:rise", "data:any", "response", {}, Time::ns(1))).size(), 0U);
    EXPECT_EQ(breaches(entered("latch:rise", "latch:fall", "width", {}, {})).size(), 0U);
}

TEST(ContractBreaches, OfTheCaptureItselfAreNone) {
    const auto c = small_talk();
    const auto i = interval("clk:rise", "data:any", "response");
    const auto f = std::make_shared<const ContractFigure>(figure_of(i, &c, Time::ns(10), "c"));
    EXPECT_TRUE(contract_breaches(c, {f}, Time::ns(10)).empty());
}

}  // namespace
}  // namespace grayrelic
