// SPDX-License-Identifier: GPL-3.0-or-later
// Each check is shown a dossier that should and one that should not make it speak.
#include "core/checks/analyse.hpp"
#include "core/checks/registry.hpp"

#include <set>

#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/timing/timing_analysis.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

const std::filesystem::path demo_folder = test::source_folder() / "demos/calder-dial-pad.relic";

class OnTheDemo : public testing::Test {
  protected:
    static void SetUpTestSuite() {
        store = new CaptureStore;
        demo = new Dossier(*load_dossier(demo_folder));
        base = run(*demo);
    }
    static void TearDownTestSuite() {
        base.reset();
        delete demo;
        delete store;
    }
    static std::shared_ptr<const Analysis> run(const Dossier& d, const Analysis* before = nullptr) {
        Progress progress;
        auto a = analyse(d, demo_folder, *store, progress, before);
        EXPECT_TRUE(a);
        return *a;
    }
    /// The findings with this id and subject.
    static Findings some(const Analysis& a, const std::string& id, const std::string& subject) {
        Findings out;
        for (const auto& f : a.findings)
            if (f.id == id && f.subject == subject) out.push_back(f);
        return out;
    }
    static CaptureStore* store;
    static Dossier* demo;
    static std::shared_ptr<const Analysis> base;
};
CaptureStore* OnTheDemo::store = nullptr;
Dossier* OnTheDemo::demo = nullptr;
std::shared_ptr<const Analysis> OnTheDemo::base;

TEST_F(OnTheDemo, TheChosenOptionHoldsAndTheOthersFailAsNotes) {
    EXPECT_EQ(count(base->findings).stop, 0);
    EXPECT_EQ(base->find_option("shift-register")->verdict, Verdict::holds);
    EXPECT_TRUE(some(*base, "reply-late", "option shift-register").empty());
    for (const char* option : {"interrupt-firmware", "polling-firmware"}) {
        const auto found = some(*base, "reply-late", std::string("option ") + option);
        ASSERT_EQ(found.size(), 1U) << option;
        EXPECT_EQ(found[0].severity, Severity::note);
        EXPECT_THAT(found[0].says, testing::HasSubstr("not chosen"));
        EXPECT_THAT(found[0].todo, testing::HasSubstr("Choose Shift register"));
        EXPECT_GT(base->find_option(option)->summary->missed, 0);
    }
}

TEST_F(OnTheDemo, ChoosingTheLateFirmwareIsAStop) {
    const auto a = run(choose_option(*demo, "interrupt-firmware"), base.get());
    const auto found = some(*a, "reply-late", "option interrupt-firmware");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].severity, Severity::stop);
    EXPECT_EQ(found[0].says, "Interrupt firmware answers too late");
    EXPECT_EQ(a->findings.front().id, "reply-late") << "the worst stands first";
    EXPECT_EQ(found[0].place.kind, "option");
    EXPECT_TRUE(found[0].place.at);
}

TEST_F(OnTheDemo, OneChangedNumberChangesTheVerdict) {
    auto o = *demo->timing->find_option("interrupt-firmware");
    for (auto& p : o.parameters) {
        if (p.key == "held") p.value.value = Time::ns(300);
        if (p.key == "work") p.value.value = Time::ns(1000);
    }
    // worst: 300 held + 980 entry + 1000 work = 2.28 µs of about 3.07 µs
    const auto a = run(choose_option(put(*demo, o), o.id), base.get());
    EXPECT_EQ(a->find_option(o.id)->verdict, Verdict::holds);
    EXPECT_EQ(count(a->findings).stop, 0);
}

TEST_F(OnTheDemo, ThinMarginsAreADoubt) {
    auto o = *demo->timing->find_option("shift-register");
    const Time enough = *base->find_option("shift-register")->summary->enough_latency;
    o.parameters[2].value.value = enough - Time::ns(100);  // 100 ns of about 3 µs is under a tenth
    const auto a = run(put(*demo, o), base.get());
    const auto found = some(*a, "reply-late", "option shift-register");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].severity, Severity::doubt);
    EXPECT_THAT(found[0].why, testing::HasSubstr("smallest margin 100 ns"));
}

TEST_F(OnTheDemo, NoChoiceIsADoubt) {
    auto timing = *demo->timing;
    timing.chosen.clear();
    EXPECT_EQ(some(*run(put(*demo, timing), base.get()), "reply-late", "options").size(), 1U);
    timing.options.clear();
    EXPECT_TRUE(some(*run(put(*demo, timing), base.get()), "reply-late", "options").empty());
}

TEST_F(OnTheDemo, AChosenOptionThatCannotBeJudgedIsADoubt) {
    auto o = *demo->timing->find_option("shift-register");
    o.parameters.pop_back();
    const auto found = some(*run(put(*demo, o), base.get()), "reply-late", "option shift-register");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].severity, Severity::doubt);
    EXPECT_THAT(found[0].why, testing::HasSubstr("no max"));
}

TEST_F(OnTheDemo, TheHostsLookIsAssumedUntilConfirmed) {
    const auto found = some(*base, "rests-on-assumed", "host look");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].severity, Severity::doubt);
    EXPECT_THAT(found[0].why, testing::HasSubstr("a capture can't show it"));
    auto reply = demo->timing->reply;
    reply.look.evidence = {EvidenceKind::measured, "a late reply on purpose", "", ""};
    EXPECT_TRUE(some(*run(put(*demo, reply), base.get()), "rests-on-assumed", "host look").empty());
}

TEST_F(OnTheDemo, AssumedNumbersOfTheChosenOptionAreNamed) {
    // the fastest path is assumed too, but a logic path is judged at its slowest
    EXPECT_TRUE(some(*base, "rests-on-assumed", "option shift-register").empty());
    auto o = *demo->timing->find_option("shift-register");
    o.parameters[2].value.evidence.kind = EvidenceKind::assumed;
    const auto found = some(*run(put(*demo, o), base.get()), "rests-on-assumed", "option shift-register");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].why, "Path, slowest 56.0 ns.");
}

TEST_F(OnTheDemo, TheHonestMistakeIsCaught) {
    const auto found = some(*base, "sample-rate-low", "capture button-e");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].severity, Severity::doubt);
    EXPECT_THAT(found[0].why, testing::HasSubstr("500 kHz"));
    EXPECT_EQ(found[0].place.id, "button-e");
    for (const char* good : {"capture minute", "capture idle", "capture button-a"})
        EXPECT_TRUE(some(*base, "sample-rate-low", good).empty()) << good;
}

TEST_F(OnTheDemo, RareShortPulsesAreANote) {
    const auto found = some(*base, "sample-rate-low", "capture minute glitches");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].severity, Severity::note);
}

TEST_F(OnTheDemo, AResponseFasterThanTheSamplingIsADoubt) {
    auto c = *demo->find_capture("minute");
    c.sample_rate.value = Hertz(1e6);
    const auto a = run(put(*demo, c), base.get());
    EXPECT_EQ(some(*a, "sample-rate-low", "interval reply").size(), 1U);
    EXPECT_TRUE(some(*base, "sample-rate-low", "interval reply").empty());
}

TEST_F(OnTheDemo, WordsWithErrorsAreADoubt) {
    auto c = *demo->find_capture("idle");
    c.decode.settings["bits"] = "24";
    const auto found = some(*run(put(*demo, c), base.get()), "decode-errors", "capture idle");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_THAT(found[0].says, testing::HasSubstr("74 words"));
    EXPECT_THAT(found[0].why, testing::HasSubstr("74 short"));
}

TEST_F(OnTheDemo, UnreadableSettingsAndSilentSignalsAreADoubt) {
    auto c = *demo->find_capture("idle");
    c.decode.roles["clock"] = {"CLOCK"};
    EXPECT_THAT(some(*run(put(*demo, c), base.get()), "decode-errors", "capture idle").at(0).says,
                testing::HasSubstr("can't be decoded"));
    c.decode.roles["clock"] = {"BANK"};
    c.decode.roles["latch"] = {"BANK"};
    c.decode.roles["data"] = {"BANK"};
    auto a = run(put(*demo, c), base.get());
    EXPECT_FALSE(a->find_capture("idle")->decoding->frames.empty());  // BANK clocks itself: read, however odd
}

TEST_F(OnTheDemo, OtherLengthsAreANote) {
    auto c = *demo->find_capture("idle");
    // With the latch's other level as the pulse, the words stay; with HOLD as clock the lengths differ from
    // poll to poll.
    c.decode.roles["clock"] = {"REPLY"};
    const auto found = some(*run(put(*demo, c), base.get()), "decode-errors", "capture idle lengths");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].severity, Severity::note);
}

TEST_F(OnTheDemo, UsedPinsMustBeKnown) {
    EXPECT_TRUE(some(*base, "pin-unknown", "pin J1/4").empty());
    auto pin = *demo->ports->front().find_pin("4");
    pin.driver.value = Driver::unknown;
    const auto found = some(*run(put_pin(*demo, "J1", pin), base.get()), "pin-unknown", "pin J1/4");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].severity, Severity::doubt);
    EXPECT_THAT(found[0].why, testing::HasSubstr("its driver is not recorded"));
    EXPECT_EQ(found[0].place.id, "J1/4");
}

TEST_F(OnTheDemo, APinThatIsNotInThePortIsADoubt) {
    auto c = *demo->find_capture("idle");
    c.ties[0].pin = "12";
    EXPECT_EQ(some(*run(put(*demo, c), base.get()), "pin-unknown", "pin J1/12").size(), 1U);
}

TEST_F(OnTheDemo, ADriverThatContradictsTheConversationIsADoubt) {
    auto pin = *demo->ports->front().find_pin("5");
    pin.driver.value = Driver::relic;  // but REPLY is what the device answers
    EXPECT_EQ(some(*run(put_pin(*demo, "J1", pin), base.get()), "pin-unknown", "pin J1/5 driver").size(), 1U);
    pin.driver.value = Driver::both;
    EXPECT_TRUE(some(*run(put_pin(*demo, "J1", pin), base.get()), "pin-unknown", "pin J1/5 driver").empty());
}

TEST_F(OnTheDemo, UntiedSignalsAreANote) {
    auto c = *demo->find_capture("idle");
    c.ties.erase(c.ties.begin());
    const auto found = some(*run(put(*demo, c), base.get()), "pin-unknown", "capture idle untied");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0].why, "HOLD.");
}

TEST_F(OnTheDemo, MissingCapturesAreToldOnceAndTheRestGoesOn) {
    auto c = *demo->find_capture("idle");
    c.file = "captures/gone.vcd";
    const auto a = run(put(*demo, c), base.get());
    EXPECT_EQ(some(*a, "capture-unreadable", "capture idle").size(), 1U);
    EXPECT_EQ(a->find_option("shift-register")->verdict, Verdict::holds);
    auto m = *demo->find_capture("minute");
    m.file = "captures/gone.vcd";
    const auto b = run(put(*demo, m), base.get());
    EXPECT_EQ(b->timing->question_problem, "its capture can't be read");
    EXPECT_EQ(b->find_option("shift-register")->verdict, Verdict::unknown);
    EXPECT_EQ(some(*b, "capture-unreadable", "interval look").size(), 1U);
}

TEST_F(OnTheDemo, ResultsAreKeptWhereNothingChanged) {
    auto o = *demo->timing->find_option("polling-firmware");
    o.parameters[0].value.value = Time::us(5);
    const auto base = run(*demo);  // whatever was run before: only the last versions are remembered
    const auto a = run(put(*demo, o), base.get());
    for (std::size_t i = 0; i < base->listen->captures.size(); ++i)
        EXPECT_EQ(a->listen->captures[i], base->listen->captures[i]);
    EXPECT_EQ(a->timing->contract[0], base->timing->contract[0]);
    EXPECT_EQ(a->timing->tasks, base->timing->tasks);
    EXPECT_EQ(a->timing->options[0], base->timing->options[0]);
    EXPECT_EQ(a->timing->options[1], base->timing->options[1]);
    EXPECT_NE(a->timing->options[2], base->timing->options[2]);
    // and a fresh run finds the same
    const auto fresh = run(put(*demo, o));
    ASSERT_EQ(fresh->findings.size(), a->findings.size());
    for (std::size_t i = 0; i < a->findings.size(); ++i)
        EXPECT_EQ(fresh->findings[i].why, a->findings[i].why);
}

TEST_F(OnTheDemo, CancelledAnalysisGivesNothing) {
    Progress progress;
    progress.cancel();
    EXPECT_FALSE(analyse(*demo, demo_folder, *store, progress));
}

TEST(Checks, HaveTheirOwnIds) {
    std::set<std::string_view> ids;
    for (const auto& c : checks()) {
        EXPECT_TRUE(ids.insert(c.id).second) << c.id;
        EXPECT_FALSE(c.about.empty());
    }
}

TEST(Checks, AnEmptyDossierHasNoFindings) {
    CaptureStore store;
    Progress progress;
    const auto a = analyse({}, {}, store, progress);
    ASSERT_TRUE(a);
    EXPECT_TRUE((*a)->findings.empty());
}

TEST(Findings, CountAndVerdict) {
    Findings f(3);
    f[0].severity = Severity::stop;
    f[0].stage = Stage::timing;
    f[1].severity = Severity::doubt;
    f[1].stage = Stage::port;
    f[2].stage = Stage::port;
    EXPECT_EQ(print(count(f)), "1 stop · 1 doubt · 1 note");
    EXPECT_EQ(print(count(f, Stage::listen)), "nothing found");
    EXPECT_EQ(verdict(count(f)), Verdict::stop);
    EXPECT_EQ(verdict(count(f, Stage::port)), Verdict::doubt);
    EXPECT_EQ(verdict(count(f, Stage::listen)), Verdict::holds);
}

TEST(CaptureGuessed, ATableThatLeavesItsUnitOpenIsADoubt) {
    test::TempFolder folder;
    test::write_file(folder / "open.csv", "time,a\n0,0\n100,1\n200,0\n");
    test::write_file(folder / "stated.csv", "time_us,a\n0,0\n100,1\n200,0\n");
    for (const auto& [file, doubts] : {std::pair{"open.csv", 1}, std::pair{"stated.csv", 0}}) {
        CaptureRef ref;
        ref.id = "table";
        ref.title = "a table";
        ref.outside = (folder / file).string();
        CaptureStore store;
        Progress progress;
        const auto a = analyse(put({}, ref), {}, store, progress);
        ASSERT_TRUE(a);
        int seen = 0;
        for (const auto& f : (*a)->findings)
            if (f.id == "capture-guessed") {
                ++seen;
                EXPECT_EQ(f.severity, Severity::doubt);
                EXPECT_THAT(f.why, testing::HasSubstr("nanoseconds"));
            }
        EXPECT_EQ(seen, doubts) << file;
    }
}

}  // namespace
}  // namespace grayrelic
