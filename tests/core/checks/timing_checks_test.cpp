// SPDX-License-Identifier: GPL-3.0-or-later
// What the dossier's timing leads to: findings of contract, networks, clocks, budgets and replicas, on the
// demo and on edits of it.
#include <gmock/gmock.h>

#include "core/base/text.hpp"
#include "core/checks/analyse.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/report/contract_figure.hpp"
#include "core/report/network_figure.hpp"
#include "core/timing/timing_analysis.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

class TimingChecks : public testing::Test {
  protected:
    static void SetUpTestSuite() {
        store = new CaptureStore;
        data = DataLibrary::load_installed();
        demo = new Dossier(*load_dossier(folder()));
        base = analysed(*demo, nullptr);
    }
    static void TearDownTestSuite() {
        base.reset();
        data.reset();
        delete demo;
        delete store;
    }
    static std::filesystem::path folder() { return test::source_folder() / "demos/calder-dial-pad.relic"; }
    static std::shared_ptr<const Analysis> analysed(const Dossier& d, const Analysis* before = base.get()) {
        Progress progress;
        auto a = analyse(d, folder(), *store, progress, before, data);
        EXPECT_TRUE(a);
        return a ? *a : nullptr;
    }
    static Findings about(const Analysis& a, std::string_view subject) {
        Findings out;
        for (const auto& f : a.findings)
            if (f.subject == subject) out.push_back(f);
        return out;
    }
    static Dossier with_text(const char* network, const std::string& text) {
        auto n = *demo->timing->find_network(network);
        n.text = text;
        return put(*demo, std::move(n));
    }
    static inline CaptureStore* store = nullptr;
    static inline Dossier* demo = nullptr;
    static inline std::shared_ptr<const DataLibrary> data;
    static inline std::shared_ptr<const Analysis> base;
};

TEST_F(TimingChecks, TheDemosRegisterAnswersAsTheOriginalDid) {
    const auto* o = base->find_option("register-network");
    ASSERT_NE(o, nullptr);
    EXPECT_EQ(o->verdict, Verdict::holds) << o->problem;
    ASSERT_TRUE(o->network);
    EXPECT_EQ(o->network->differ, 0);
    EXPECT_EQ(o->network->compared, static_cast<long>(base->timing->tasks->size()));
    EXPECT_EQ(o->network->corners.size(), 3U + 14U);  // fast, typical, slow, and 2^4 − 2 mixtures
    EXPECT_EQ(base->find_option("programmable-io")->verdict, Verdict::holds);
    EXPECT_EQ(base->find_option("polling-firmware")->verdict, Verdict::stop);
}

TEST_F(TimingChecks, ASwappedBitIsFound) {
    auto text = demo->timing->find_network("dial-register")->text;
    text.replace(text.find("input b = bit2"), 14, "input b = bit1");
    const auto a = analysed(with_text("dial-register", text));
    const auto found = about(*a, "option register-network");
    const auto other =
        std::find_if(found.begin(), found.end(), [](const Finding& f) { return f.id == "network-replay"; });
    ASSERT_NE(other, found.end());
    EXPECT_THAT(other->says, HasSubstr("answers otherwise than the original"));
    ASSERT_TRUE(other->place.at);
    EXPECT_GT(*other->place.at, Time{});
    EXPECT_TRUE(std::any_of(found.begin(), found.end(), [](const Finding& f) {
        return f.says.find("gives other replies") != std::string::npos;
    }));
}

TEST_F(TimingChecks, AWrongNetListIsSaidWithItsLineAndTheRestStands) {
    const auto a =
        analysed(with_text("dial-register", "input HOLD\noutput REPLY\nU1 74x999 hct: 1A=HOLD 1Y=REPLY\n"));
    const auto found = about(*a, "network dial-register");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].severity, Severity::doubt);
    EXPECT_THAT(found[0].why, HasSubstr("Line"));
    EXPECT_EQ(a->find_option("register-network")->verdict, Verdict::unknown);
    EXPECT_EQ(a->find_option("shift-register"),
              base->find_option("shift-register"));  // kept, not computed again
}

TEST_F(TimingChecks, OnlyWhatRestsOnAnEditIsComputedAgain) {
    const auto base = analysed(*demo);  // not what another test has left
    auto b = *demo->timing->find_budget("watchdog");
    b.values[0].value.value = 0.04;
    const auto a = analysed(put(*demo, b));
    EXPECT_EQ(a->timing->find_budget("watchdog")->result->verdict, Verdict::stop);
    EXPECT_EQ(a->timing->find_budget("startup"), base->timing->find_budget("startup"));
    EXPECT_EQ(a->find_option("register-network"), base->find_option("register-network"));
    EXPECT_EQ(a->timing->find_golden("first-board"), base->timing->find_golden("first-board"));
    EXPECT_EQ(a->timing->breaches, base->timing->breaches);
    const auto found = about(*a, "budget watchdog");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].severity, Severity::stop);
    EXPECT_FALSE(found[0].todo.empty());
}

TEST_F(TimingChecks, ReplicasBreachesAndGuardsAreFindings) {
    ASSERT_EQ(about(*base, "replica first-board").size(), 1U);
    EXPECT_EQ(about(*base, "replica first-board")[0].severity, Severity::doubt);
    // A contract taken too narrow: other captures break it.
    auto i = *demo->timing->find_interval("reply");
    i.capture.clear();
    i.also.clear();
    i.max = Time::ns(200);
    auto a = analysed(put(*demo, i));
    EXPECT_FALSE(about(*a, "interval reply in idle").empty());
    EXPECT_TRUE(about(*a, "interval reply in replica").empty());  // a replica is held against it elsewhere
    i.guard = Time::ns(300);
    a = analysed(put(*demo, i));
    const auto found = about(*a, "interval reply");
    ASSERT_FALSE(found.empty());
    EXPECT_THAT(found[0].says, HasSubstr("leaves no room"));
    auto g = demo->timing->golden[0];
    g.replica = "nowhere";
    a = analysed(put(*demo, g));
    EXPECT_THAT(about(*a, "replica first-board")[0].says, HasSubstr("can't be held against"));
}

TEST_F(TimingChecks, ClocksAreExplainedAndTheirReceiversJudged) {
    ClockStudy c;
    c.id = c.name = "line";
    c.rate.value = Hertz(115'200);
    c.clock.value = Hertz(2e6);
    c.divider = DividerKind::integer;
    auto a = analysed(put(*demo, c));
    ASSERT_NE(a->timing->find_clock("line"), nullptr);
    EXPECT_TRUE(a->timing->find_clock("line")->explanation);
    // 2 MHz ÷ (16 × 1) = 125 kHz, 8.5 % fast.
    auto found = about(*a, "clock line");
    ASSERT_FALSE(found.empty());
    EXPECT_TRUE(std::any_of(found.begin(), found.end(), [](const Finding& f) {
        return f.severity == Severity::stop && f.says.find("outside the bit") != std::string::npos;
    }));
    c.clock.value = Hertz(0.5e6);  // less than half of 115200 × 16
    a = analysed(put(*demo, c));
    found = about(*a, "clock line");
    EXPECT_TRUE(std::any_of(found.begin(), found.end(), [](const Finding& f) {
        return f.says.find("can't be made") != std::string::npos;
    }));
    c.rate.value = Hertz(0);
    a = analysed(put(*demo, c));
    found = about(*a, "clock line");
    EXPECT_TRUE(std::any_of(found.begin(), found.end(), [](const Finding& f) {
        return f.says.find("can't be explained") != std::string::npos;
    }));
}

TEST_F(TimingChecks, BudgetsTakeTheirClockFromACapture) {
    const auto* autofire = base->timing->find_budget("autofire");
    ASSERT_TRUE(autofire->result) << autofire->problem;
    // Every second picture frame: 25 polls a second, so 12.5 presses at most.
    EXPECT_NEAR(autofire->result->available, 12.5, 0.01);
    auto b = autofire->budget;
    b.words["event"] = "NOBODY:rise";
    auto a = analysed(put(*demo, b));
    EXPECT_FALSE(a->timing->find_budget("autofire")->result);
    EXPECT_THAT(about(*a, "budget autofire")[0].says, HasSubstr("can't be judged"));
    b.words["capture"] = "gone";
    a = analysed(put(*demo, b));
    EXPECT_THAT(a->timing->find_budget("autofire")->problem, HasSubstr("gone"));
}

TEST_F(TimingChecks, AnotherReadingOfACaptureReachesWhatRestsOnItsFrames) {
    ContractInterval i;
    i.id = i.name = "frames";
    i.kind = IntervalKind::gap;
    i.from = "frame:end";
    i.to = "frame:start";
    i.capture = "idle";
    const auto with = put(*demo, i);
    const auto a = analysed(with);
    ASSERT_GT(a->find_figure("frames")->n, 10);
    auto c = *with.find_capture("idle");
    c.decode = {};
    const auto b = analysed(put(with, c), a.get());
    EXPECT_EQ(b->find_figure("frames")->n, 0);
    EXPECT_THAT(b->find_figure("frames")->problem, HasSubstr("without frames"));
}

TEST_F(TimingChecks, LatencyFromACapture) {
    auto o = *demo->timing->find_option("interrupt-firmware");
    o.measured = {"minute", "STEP:rise", "STEP:fall"};
    auto a = analysed(put(*demo, o));
    ASSERT_TRUE(a->find_option(o.id)->model) << a->find_option(o.id)->problem;
    EXPECT_NEAR(a->find_option(o.id)->model->latency_min.seconds(), 3.12e-6,
                0.02e-6);  // STEP high, as the contract has it
    o.measured.to = "PIN:rise";
    a = analysed(put(*demo, o));
    EXPECT_THAT(a->find_option(o.id)->problem, HasSubstr("PIN"));
    o.measured.capture = "gone";
    a = analysed(put(*demo, o));
    EXPECT_THAT(a->find_option(o.id)->problem, HasSubstr("can't be read"));
}

TEST_F(TimingChecks, TheWholeTimingSurvivesWritingAndReading) {
    auto d = *demo;
    ClockStudy c;
    c.id = "c";
    c.name = "C";
    c.rate = {Hertz(13'392.9), 0.2, {EvidenceKind::measured, "x", "", ""}};
    c.within_ppm = 300;
    c.believed = "6 MHz ceramic resonator ÷ 448";
    c.jitter = Time::ns(30);
    d = put(d, c);
    auto g = d.timing->golden[0];
    g.align = "HOLD:rise";
    g.tolerance = Time::ns(200);
    g.signals = {{"STEP", "STEP2"}};
    d = put(d, g);
    auto o = *d.timing->find_option("interrupt-firmware");
    o.measured = {"minute", "STEP:rise", "REPLY:fall"};
    o.busy = WhenBusy::queue;
    d = put(d, o);
    const auto text = dossier_to_json(d);
    const auto back = dossier_from_json(text, "d.json");
    ASSERT_TRUE(back) << back.error().message();
    EXPECT_EQ(*back->timing, *d.timing);
    for (const auto& [from, to, expected] :
         {std::tuple{"\"divider\": \"fraction64\"", "\"divider\": \"thirds\"", "integer, fraction64"},
          {"\"align\": \"HOLD:rise\"", "\"align\": \"HOLD\"", ":rise"},
          {"\"oversample\": 16", "\"oversample\": 0", "1"},
          {"\"guard\": \"20 ns\"", "\"guard\": \"-20 ns\"", "from 0 s"}}) {
        auto broken = text;
        ASSERT_NE(broken.find(from), std::string::npos) << from;
        broken.replace(broken.find(from), std::string(from).size(), to);
        const auto r = dossier_from_json(broken, "d.json");
        ASSERT_FALSE(r) << to;
        EXPECT_THAT(r.error().message(), HasSubstr(expected));
        EXPECT_GT(r.error().line, 1);
    }
}

TEST_F(TimingChecks, FiguresNameEveryIntervalAndPart) {
    const auto svg = contract_figure(base->timing->contract);
    for (const auto& f : base->timing->contract) EXPECT_THAT(svg, HasSubstr(escape_markup(f->interval.name)));
    EXPECT_THAT(svg, HasSubstr("not to scale"));
    const auto drawing = draw_contract(base->timing->contract, {});
    // Each interval has its measure and its line of the table, and all of it lies on the sheet.
    std::map<std::string, int> places;
    for (const auto& p : drawing.places) {
        ++places[p.id];
        EXPECT_GE(p.x, -1);
        EXPECT_LE(p.y + p.h, drawing.height + 1);
    }
    for (const auto& f : base->timing->contract) EXPECT_EQ(places[f->interval.id], 2) << f->interval.id;
    for (const auto& t : drawing.texts) EXPECT_LE(t.x, drawing.width);
    EXPECT_EQ(draw_contract({}, {}).texts.size(), 1U);
    const auto* n = base->timing->find_network("dial-register");
    const auto ladder = draw_network(n->network, {});
    EXPECT_EQ(ladder.boxes.size(), 4U);
    // The inverter stands before the registers that it loads.
    EXPECT_LT(ladder.places[0].x, ladder.places[1].x);
    EXPECT_EQ(draw_network({}, {}).boxes.size(), 0U);
}

}  // namespace
}  // namespace grayrelic
