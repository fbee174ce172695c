// SPDX-License-Identifier: GPL-3.0-or-later
// What an edit recomputes, what is shown on the way, and what an interrupted run leaves.
#include "core/analysis/analysis.hpp"

#include <gmock/gmock.h>

#include <algorithm>
#include <set>

#include "core/checks/analyse.hpp"
#include "core/checks/registry.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/timing/timing_analysis.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::Contains;
using testing::Each;
using testing::ElementsAre;
using testing::Not;
using testing::StartsWith;

class AnalysisParts : public testing::Test {
  protected:
    static std::filesystem::path folder(const std::string& demo) {
        return test::source_folder() / "demos" / (demo + ".relic");
    }
    std::shared_ptr<const Analysis> run(const Dossier& d, const ShowPart& show = {}) {
        Progress progress;
        auto a = analyse(d, folder("calder-dial-pad"), store, progress, last.get(), data, show);
        EXPECT_TRUE(a);
        return last = *a;
    }
    /// The parts that an edit makes anew, the checks apart.
    std::vector<std::string> made_by(const Dossier& edited) {
        const auto before = last->memory->times_made();
        run(edited);
        std::vector<std::string> out;
        for (const auto& [part, times] : last->memory->times_made())
            if (!part.starts_with("check ") && (before.count(part) == 0 || before.at(part) != times))
                out.push_back(part);
        return out;
    }
    std::set<std::string> checks_made(const std::map<std::string, long>& before) const {
        std::set<std::string> out;
        for (std::size_t i = 0; i < checks().size(); ++i) {
            const auto part = "check " + std::to_string(i);
            if (last->memory->times_made().at(part) != before.at(part))
                out.insert(std::string(checks()[i].id));
        }
        return out;
    }
    CaptureStore store;
    std::shared_ptr<const DataLibrary> data = DataLibrary::load_installed();
    const Dossier demo = *load_dossier(folder("calder-dial-pad"));
    std::shared_ptr<const Analysis> last;
};

TEST_F(AnalysisParts, AnEditMakesAnewOnlyWhatRestsOnIt) {
    run(demo);
    auto about = *demo.about;
    about.purpose = "another one";
    auto edited = demo;
    edited.about = Section(about);
    EXPECT_THAT(made_by(edited), ElementsAre());

    auto port = demo.ports->front();
    port.pins.front().note = "a note";
    EXPECT_THAT(made_by(put(demo, port)), ElementsAre("board circuits", "boards", "fabrication adapter",
                                                      "port", "trace", "wire", "wrong ways J1"));
    run(demo);

    auto budget = *demo.timing->find_budget("watchdog");
    budget.values[0].value.value = 0.04;
    EXPECT_THAT(made_by(put(demo, budget)), ElementsAre("budget watchdog", "timing"));
    run(demo);

    // The capture's title is said in figures, and nothing is read, decoded or simulated again.
    auto capture = *demo.find_capture("minute");
    capture.title = "Another title";
    const auto made = made_by(put(demo, capture));
    EXPECT_THAT(made, Contains("captured minute"));
    for (const char* heavy : {"capture ", "decode ", "lines ", "sampling ", "replies ", "question", "budget ",
                              "interval ", "breaches "})
        EXPECT_THAT(made, Each(Not(StartsWith(heavy))));
    run(demo);

    // Bits only get names: what is read stays.
    capture = *demo.find_capture("minute");
    capture.decode.bits.front() = "fire";
    EXPECT_THAT(made_by(put(demo, capture)), ElementsAre("captured minute", "listen", "map"))
        << "the map names its bits";
    run(demo);

    // A note or a bill of an option is no reason to simulate it again; its number is.
    auto option = *demo.timing->find_option("polling-firmware");
    option.note = "loud";
    EXPECT_THAT(made_by(put(demo, option)), ElementsAre("option polling-firmware", "timing"));
    option.parameters.front().value.value = Time::us(3);
    EXPECT_THAT(made_by(put(demo, option)),
                ElementsAre("option polling-firmware", "replies polling-firmware", "timing"));
}

TEST_F(AnalysisParts, ChecksAreMadeAnewOnlyWhenTheirGroundMoves) {
    run(demo);
    auto before = last->memory->times_made();
    auto cable = demo.cables->front();
    cable.name += " 2";
    run(put(demo, cable));
    // What a cable leads on to is part of the circuit.
    EXPECT_EQ(checks_made(before),
              (std::set<std::string>{"circuit-broken", "does-not-fit", "hard-to-solder", "link-fails",
                                     "log-open", "pins-short", "rail-fails", "setting-kills",
                                     "transmit-to-transmit", "value-wrong", "wrong-value"}));
    before = last->memory->times_made();
    auto edited = demo;
    auto about = *demo.about;
    about.name = "other";
    edited.about = Section(about);
    edited.cables = last->dossier.cables;
    run(edited);
    EXPECT_EQ(checks_made(before), std::set<std::string>{});
}

TEST_F(AnalysisParts, AnInterruptedRunLosesNothingThatItFinished) {
    auto none = std::make_shared<const Analysis>();
    Progress progress;
    const auto stopped =
        analyse(demo, folder("calder-dial-pad"), store, progress, none.get(), data, [&](const auto& part) {
            const auto* c = part->find_capture("minute");
            if (c != nullptr && c->capture) progress.cancel();
        });
    ASSERT_FALSE(stopped);
    EXPECT_EQ(stopped.error().kind, Error::Kind::cancelled);
    Progress again;
    const auto whole = analyse(demo, folder("calder-dial-pad"), store, again, none.get(), data);
    ASSERT_TRUE(whole);
    EXPECT_EQ(none->memory->times_made().at("capture minute"), 1);
    EXPECT_TRUE((*whole)->under_way.empty());
    EXPECT_EQ((*whole)->find_option("shift-register")->verdict, Verdict::holds);
}

TEST_F(AnalysisParts, WhatIsShownOnTheWaySaysWhatIsMissing) {
    std::vector<std::shared_ptr<const Analysis>> shown;
    const auto whole =
        run(demo, [&](std::shared_ptr<const Analysis> part) { shown.push_back(std::move(part)); });
    ASSERT_GE(shown.size(), 2U);  // before anything is read, and when all is read
    const auto& first = *shown.front();
    EXPECT_THAT(first.under_way, Contains("reading: A minute of play"));
    EXPECT_EQ(first.find_capture("minute")->under_way, "reading");
    EXPECT_TRUE(first.find_capture("minute")->problem.empty());
    for (const auto& part : shown) {
        EXPECT_FALSE(part->under_way.empty());
        for (const auto& f : part->findings)
            EXPECT_TRUE(
                std::any_of(whole->findings.begin(), whole->findings.end(),
                            [&](const Finding& g) { return g.subject == f.subject && g.says == f.says; }))
                << "said on the way and taken back: " << f.says;
    }
    EXPECT_TRUE(whole->under_way.empty());
    // An edit of an analysed dossier shows no capture as unread.
    shown.clear();
    auto port = demo.ports->front();
    port.pins.front().note = "a note";
    run(put(demo, port), [&](std::shared_ptr<const Analysis> part) { shown.push_back(std::move(part)); });
    for (const auto& part : shown) EXPECT_TRUE(part->find_capture("minute")->capture);
}

TEST_F(AnalysisParts, AChecksFindingsAreThoseItMakesOfEverything) {
    for (const char* name : {"calder-dial-pad", "calder-chart-slate", "calder-page-card"}) {
        const auto dossier = load_dossier(folder(name));
        ASSERT_TRUE(dossier);
        Progress progress;
        CaptureStore captures;
        const auto a = analyse(*dossier, folder(name), captures, progress, nullptr, data);
        ASSERT_TRUE(a);
        for (std::size_t i = 0; i < checks().size(); ++i) {
            Findings all;
            checks()[i].run(**a, all);  // with more to see than it says it rests on
            ASSERT_TRUE((*a)->by_check[i]);
            ASSERT_EQ((*a)->by_check[i]->size(), all.size()) << name << ", " << checks()[i].id;
            for (std::size_t f = 0; f < all.size(); ++f) {
                EXPECT_EQ((*(*a)->by_check[i])[f].says, all[f].says) << name;
                EXPECT_EQ((*(*a)->by_check[i])[f].why, all[f].why) << name;
            }
        }
    }
}

}  // namespace
}  // namespace grayrelic
