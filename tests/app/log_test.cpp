// SPDX-License-Identifier: GPL-3.0-or-later
// Log as a person uses it: trials typed and the next one taken, glitches, complaints to evidence, money, a
// pack, the search.
#include "app/stages/log/log_page.hpp"
#include "tests/app/window_fixture.hpp"

#include <QPushButton>

#include <algorithm>
#include <fstream>

#include "core/dossier/edits.hpp"
#include "core/record/trial_table.hpp"

namespace grayrelic::app {
namespace {

using testing::HasSubstr;

class LogStage : public WindowTest {
  protected:
    void SetUp() override {
        WindowTest::SetUp();
        open_demo();
        window->show_stage(Stage::log);
        settle();
        const auto day = [] { return QStringLiteral("2026-12-01"); };
        page().trials().today = page().cover().today = page().changes().today = page().units().today =
            page().money().today = page().publish().today = day;
    }
    LogPage& page() { return window->page<LogPage>(); }
    void show(const char* view) {
        page().show_view(view);
        settle();
    }
    void type(Field& field, const QString& text) {
        field.setFocus();
        field.selectAll();
        QTest::keyClicks(&field, text);
        QTest::keyClick(&field, Qt::Key_Return);
        settle();
    }
    const JobLog& log() { return *dossier().log; }
    QString write(const std::string& name, const char* text) {
        const auto file = path(name);
        std::ofstream(file.toStdString(), std::ios::binary) << text;
        return file;
    }
    const Finding* finding(const std::string& id) {
        for (const auto& f : window->document().analysis().findings)
            if (f.id == id) return &f;
        return nullptr;
    }
};

TEST_F(LogStage, TheNextTrialTellsTwoExplanationsApart) {
    const auto* found = finding("trials-confounded");
    ASSERT_NE(found, nullptr);
    page().show_place(found->place);
    settle();
    auto& view = page().trials();
    EXPECT_THAT(view.says().toStdString(), HasSubstr("ribbon 60 cm; pull 4.7 k"));
    const int before = view.runs().row_count();
    view.begin_next();
    settle();
    ASSERT_EQ(view.runs().row_count(), before + 1);
    // Its setup is the failed run's with one change; nothing of it was typed.
    const auto& next = log().trials.back();
    EXPECT_EQ(*next.find_factor("ribbon"), "20 cm");
    EXPECT_EQ(*next.find_factor("pull"), "4.7 k");
    EXPECT_EQ(next.outcome, TrialOutcome::not_said);
    EXPECT_NE(finding("trials-confounded"), nullptr) << "it has not been run yet";
    view.runs().type(view.runs().chosen(), 3, "works");
    settle();
    EXPECT_EQ(finding("trials-confounded"), nullptr);
    EXPECT_THAT(view.says().toStdString(), HasSubstr("Only ribbon 60 cm explains"));
    window->document().undo_stack().undo();
    settle();
    EXPECT_NE(finding("trials-confounded"), nullptr);
}

TEST_F(LogStage, ATrialIsTypedInOneLineAndMistakesAreSaid) {
    auto& view = page().trials();
    const auto before = log().trials.size();
    type(view.entry(), "breaks: host a");
    EXPECT_FALSE(view.entry().problem().isEmpty());
    EXPECT_EQ(log().trials.size(), before);
    type(view.entry(), "works: unit First board, image 0.4, ribbon 60 cm, pull 10 k, host own computer");
    ASSERT_EQ(log().trials.size(), before + 1);
    EXPECT_EQ(log().trials.back().unit, "adapter-1");
    EXPECT_EQ(log().trials.back().day, "2026-12-01");
    EXPECT_TRUE(view.entry().text().isEmpty());
}

TEST_F(LogStage, AFileOfTrialsIsTakenOrRefusedWithItsLine) {
    const auto before = log().trials.size();
    page().take(write("bad.csv", "outcome,unit\nworks,nobody\n"));
    settle();
    EXPECT_THAT(page().message().toStdString(), HasSubstr("bad.csv:2: found \"nobody\""));
    EXPECT_EQ(log().trials.size(), before);
    const auto good = write("good.csv", "outcome,unit,ribbon\nfails,adapter-1,60 cm\n");
    EXPECT_EQ(page().claim(QFileInfo(good)), Claim::by_content);
    page().take(good);
    settle();
    EXPECT_EQ(log().trials.size(), before + 1);
}

TEST_F(LogStage, ALongTableIsCountedBesideTheWindow) {
    window->document().apply("x", edit(dossier(), &Dossier::log, [](JobLog& l) {
                                 for (int i = 0; i < 900; ++i) {
                                     TrialRun t;
                                     t.id = "many-" + std::to_string(i);
                                     t.outcome = i % 7 == 0 ? TrialOutcome::fails : TrialOutcome::works;
                                     t.setup = {{"ribbon", i % 7 == 0 ? "60 cm" : "20 cm", {}},
                                                {"pull", i % 14 == 0 ? "4.7 k" : "10 k", {}},
                                                {"host", std::to_string(i % 5), {}},
                                                {"lid", std::to_string(i % 3), {}},
                                                {"seat", std::to_string(i % 11), {}}};
                                     l.trials.push_back(t);
                                 }
                             }));
    wait();
    // The demo's long ribbons failed too, and the lid is not said of them.
    EXPECT_THAT(page().trials().says().toStdString(), HasSubstr("Only ribbon 60 cm explains"));
    EXPECT_THAT(page().trials().says().toStdString(), HasSubstr("lid is not said of trial run-1"));
}

TEST_F(LogStage, WhatSomebodyElseFoundStandsUnderTheirName) {
    show("cover");
    auto& view = page().cover();
    EXPECT_THAT(view.says().toStdString(), HasSubstr("dial fast is used by all 2"));
    view.ask_source = [] { return QStringLiteral("a club"); };
    page().take(write("list.csv", "item,outcome,uses\nMarble Yard,works,dial fast\n"));
    settle();
    // Somebody saw the function work: it is not missing any more.
    EXPECT_THAT(view.says().toStdString(), testing::Not(HasSubstr("dial fast is used by all")));
    EXPECT_EQ(finding("cover-common"), nullptr);
    type(view.entry(), "works: Quay Side: buttons, dial slow");
    EXPECT_EQ(log().items.back().uses, (std::vector<std::string>{"buttons", "dial slow"}));
    type(view.entry(), "nonsense");
    EXPECT_FALSE(view.entry().problem().isEmpty());
}

TEST_F(LogStage, AComplaintIsClosedByEvidence) {
    show("changes");
    auto& view = page().changes();
    EXPECT_NE(finding("complaint-unchecked"), nullptr);
    view.select("end-stop");
    type(*view.field("Closed by"), "20 clocks, last three bits high");
    EXPECT_EQ(finding("complaint-unchecked"), nullptr);
    const auto& c = log().complaints.front();
    EXPECT_EQ(c.closed.evidence.kind, EvidenceKind::measured);
    EXPECT_EQ(c.closed.evidence.date, "2026-12-01");
    // A change by hand that the next files do not have.
    type(view.bodge_entry(), "First board: wire from U2.7 to J1.4");
    ASSERT_NE(finding("bodge-not-carried"), nullptr);
    view.carry();
    settle();
    EXPECT_EQ(finding("bodge-not-carried"), nullptr);
    EXPECT_EQ(log().bodges.back().carried, log().complaints.back().id);
    EXPECT_EQ(log().complaints.back().unit, "adapter-1");
    type(view.entry(), "idea: a case in one piece");
    EXPECT_EQ(log().complaints.back().kind, ComplaintKind::idea);
    type(view.bodge_entry(), "nobody: a wire");
    EXPECT_FALSE(view.bodge_entry().problem().isEmpty());
}

TEST_F(LogStage, UnitsSayWhereTheyAreAndWhatTheyRun) {
    show("units");
    auto& view = page().units();
    view.select("adapter-1");
    EXPECT_GT(view.events().row_count(), 20);
    type(view.place(), "with the club");
    EXPECT_EQ(log().places.back().where, "with the club");
    const auto images = view.images().row_count();
    view.take_image(write("fw.bin", "abc"));
    ASSERT_TRUE(QTest::qWaitFor([&] { return view.images().row_count() == images + 1; }, 5000));
    // SHA-256 of "abc", FIPS 180-4.
    EXPECT_EQ(log().images.back().sha256.substr(0, 8), "ba7816bf");
    EXPECT_EQ(log().images.back().outside, path("fw.bin").toStdString()) << "copied in when it is saved";
}

TEST_F(LogStage, MoneyAnswersAtOnce) {
    show("money");
    auto& view = page().money();
    EXPECT_THAT(view.says().toStdString(),
                HasSubstr("2 cost 83.40, 41.70 each; sold at 39.00 they pay from 3 on"));
    type(view.price(), "50");
    // Two bring 100 and cost 83.40; one brings 50 and costs 69.20.
    EXPECT_THAT(view.says().toStdString(), HasSubstr("they pay from 2 on"));
    type(view.cost_entry(), "tools 18: a jig");
    // 32 + 18 + 23 + 28.40 = 101.40 > 100; three: 115.60 <= 150.
    EXPECT_THAT(view.says().toStdString(), HasSubstr("they pay from 3 on"));
    type(view.cost_entry(), "cake 3");
    EXPECT_FALSE(view.cost_entry().problem().isEmpty());
    type(view.batch(), "0");
    EXPECT_FALSE(view.batch().problem().isEmpty());
    type(view.hours_entry(), "Draw revision 2 4.5");
    EXPECT_EQ(log().money.hours.back().task, "Draw revision 2");
}

TEST_F(LogStage, APackIsWrittenOnlyWhenNothingIsInTheWay) {
    show("publish");
    auto& view = page().publish();
    const auto zip = path("release.zip");
    EXPECT_THAT(view.write_pack_to(zip).toStdString(), HasSubstr("files written to"));
    EXPECT_TRUE(QFileInfo::exists(zip));
    // Without the hardware's licence nothing goes.
    view.rights().type(0, 2, "");
    wait();
    EXPECT_THAT(view.says().toStdString() + view.problems().text(0, 0).toStdString(), HasSubstr("hardware"));
    EXPECT_NE(finding("release-missing"), nullptr);
    EXPECT_THAT(view.write_pack_to(path("again.zip")).toStdString(), HasSubstr("Not written"));
    EXPECT_FALSE(QFileInfo::exists(path("again.zip")));
    EXPECT_THAT(view.write_card_to(path("card.pdf")).toStdString(), HasSubstr("Written to"));
    type(view.card_entry(), "red = stop");
    EXPECT_EQ(log().card.back().means, "stop");
}

TEST_F(LogStage, EverythingIsFoundAndLeadsToItsStage) {
    show("find");
    auto& view = page().find();
    wait();
    EXPECT_GT(view.lines().row_count(), 20) << "the time line";
    type(view.words(), "pins idle");
    wait();
    int at = -1;
    for (int row = 0; row < view.lines().row_count(); ++row)
        if (view.lines().text(row, 0) == "Port" && view.lines().text(row, 2).endsWith("idle")) at = row;
    ASSERT_GE(at, 0);
    Q_EMIT view.lines().row_opened(at);
    settle();
    EXPECT_EQ(window->stage(), Stage::port);
    window->show_stage(Stage::log);
    type(view.words(), "nowhere at all");
    wait();
    EXPECT_EQ(view.lines().row_count(), 0);
    EXPECT_THAT(view.says().toStdString(), HasSubstr("Nothing holds these words"));
    // Against itself nothing differs; after an edit one thing does; what is no dossier is said.
    const auto here = QString::fromStdString(window->document().folder().string());
    view.compare_with(here);
    wait();
    EXPECT_THAT(view.says().toStdString(), HasSubstr("No difference"));
    window->document().apply("x", edit<Dimension>(dossier(), dossier().dimensions->front().id,
                                                  [](Dimension& m) { m.name = "renamed"; }));
    wait();
    ASSERT_EQ(view.lines().row_count(), 1);
    EXPECT_TRUE(view.lines().text(0, 3).endsWith("renamed")) << view.lines().text(0, 3).toStdString();
    view.compare_with("/nowhere.relic");
    wait();
    EXPECT_THAT(view.says().toStdString(), HasSubstr("nowhere.relic"));
}

TEST_F(LogStage, AnEmptyDossierCanBegin) {
    window->files().make_new();
    settle();
    window->show_stage(Stage::log);
    settle();
    page().begin_trials();
    settle();
    type(page().trials().entry(), "fails: host a");
    EXPECT_EQ(log().trials.size(), 1U);
    for (const auto& view : page().views()) {
        page().show_view(view.id);
        wait();
    }
    EXPECT_EQ(window->rail().stage(Stage::log).line(), "1 trial");
}

}  // namespace
}  // namespace grayrelic::app
