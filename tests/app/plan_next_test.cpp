// SPDX-License-Identifier: GPL-3.0-or-later
// The whole job in the window: begun from empty, its gates, questions, musts, tasks and ways, by keyboard.
#include <QSettings>

#include "app/shell/latest.hpp"
#include "tests/app/plan_window.hpp"

namespace grayrelic::app {
namespace {

using testing::HasSubstr;
using testing::Not;

class JobWindow : public PlanWindow {
  protected:
    void SetUp() override {
        PlanWindow::SetUp();
        QSettings().remove(QStringLiteral("evening"));
        page().outlook().ask_today = [] { return QDate(2026, 11, 29); };
    }
    NextView& next() { return page().next(); }
    void show(const char* view) {
        page().show_view(QString::fromLatin1(view));
        settle();
    }
    /// Until the dates are there as well.
    void dates() {
        settle();
        ASSERT_TRUE(QTest::qWaitFor([] { return figures_under_way == 0; }, 10'000));
        settle();
    }
    void begin_selector() {
        window->show_stage(Stage::plan);
        show("next");
        next().kinds().pick(QStringLiteral("signal-selector"));
        Q_EMIT next().kind_chosen(next().kinds().picked());
        dates();
    }
    std::string gate(JobGate g) { return next().gates().said_of(g).toStdString(); }
    std::string said_of(const QString& question) {
        return next().questions().said_of(question).toStdString();
    }
};

TEST_F(JobWindow, AnEmptyWindowAsksWhatToBuild) {
    EXPECT_EQ(window->stage(), Stage::plan) << "the first thing that is seen";
    EXPECT_TRUE(next().asks_what_to_build());
    EXPECT_GE(next().kinds().count(), 12);
    // By keys: down to the second kind, then the button behind the list.
    next().kinds().sheet().setFocus();
    QTest::keyClick(&next().kinds().sheet(), Qt::Key_Down);
    const auto kind = next().kinds().picked();
    QPushButton* begin = nullptr;
    for (auto* b : next().findChildren<QPushButton*>()) {
        if (b->text() == "Begin with this") begin = b;
    }
    ASSERT_NE(begin, nullptr);
    begin->setFocus();
    QTest::keyClick(begin, Qt::Key_Space);
    settle();
    EXPECT_TRUE(window->document().is_open());
    EXPECT_EQ(dossier().plan->kind, kind.toStdString());
    EXPECT_EQ(page().view(), "job") << "where it gets its name";
    EXPECT_TRUE(page().job_field("Job")->hasFocus());
    QTest::keyClicks(page().job_field("Job"), "Selector for three");
    QTest::keyClick(page().job_field("Job"), Qt::Key_Return);
    settle();
    EXPECT_EQ(dossier().about->name, "Selector for three");
    show("next");
    EXPECT_FALSE(next().asks_what_to_build());
}

TEST_F(JobWindow, ANewDossierAsksToo) {
    trigger("file.new");
    settle();
    EXPECT_EQ(window->stage(), Stage::plan);
    show("next");
    EXPECT_TRUE(next().asks_what_to_build());
}

TEST_F(JobWindow, TheKindAsksProposesAndLeavesOutStages) {
    begin_selector();
    show("next");
    EXPECT_NE(said_of("kind which-ground"), "");
    EXPECT_THAT(gate(JobGate::order), HasSubstr("Order: stop"));
    EXPECT_THAT(next().calendar_says().toStdString(), HasSubstr("likely done"));
    EXPECT_THAT(next().calendar_says().toStdString(), HasSubstr("as proposed"));
    EXPECT_GT(next().calendar().count(), 4);
    EXPECT_EQ(window->rail().stage(Stage::listen).line(), "not needed here");
    EXPECT_EQ(window->rail().stage(Stage::port).line(), "not started");
    show("job");
    page().job().stage(Stage::listen).click();
    settle();
    EXPECT_EQ(window->rail().stage(Stage::listen).line(), "not started") << "brought back";
    trigger("edit.undo");
    settle();
    EXPECT_EQ(window->rail().stage(Stage::listen).line(), "not needed here");
}

TEST_F(JobWindow, AQuestionIsTypedWeighedAnsweredAndSettled) {
    begin_selector();
    show("next");
    type(&next().entry(), "Does it hum?");
    const auto id = next().questions().picked();
    EXPECT_THAT(said_of(id), HasSubstr("Does it hum?"));
    EXPECT_TRUE(next().entry().text().isEmpty());
    type(&next().takes(), "25");
    EXPECT_THAT(said_of(id), HasSubstr("25 min"));
    type(&next().chance(), "2");
    EXPECT_EQ(next().chance().problem(), "Expected a number from 0 to 1.");
    QTest::keyClick(&next().chance(), Qt::Key_Escape);
    type(&next().chance(), "0.25");
    EXPECT_EQ(things<PlanQuestion>(dossier()).back().chance, 0.25);
    // An answer that is only assumed leaves it open; one that was measured ends it.
    type(next().answer().value_field(), "a little");
    EXPECT_THAT(said_of(id), HasSubstr("Does it hum?"));
    auto q = things<PlanQuestion>(dossier()).back();
    EXPECT_EQ(q.answer.value, "a little");
    q.answer.evidence.kind = EvidenceKind::measured;
    window->document().apply("measured", put(dossier(), q));
    settle();
    EXPECT_EQ(said_of(id), "");
}

TEST_F(JobWindow, GatesAreWalkedByKeysAndPassedWithAReason) {
    begin_selector();
    show("next");
    auto& gates = next().gates();
    gates.setFocus();
    QTest::keyClick(&gates, Qt::Key_Right);
    while (gates.picked() != JobGate::order)
        QTest::keyClick(&gates, gates.picked() < JobGate::order ? Qt::Key_Right : Qt::Key_Left);
    ASSERT_TRUE(next().reason().isVisible());
    type(&next().reason(), "only to see the house's price");
    ASSERT_EQ(dossier().plan->overrides.size(), 1U);
    EXPECT_EQ(dossier().plan->overrides[0].gate, JobGate::order);
    EXPECT_EQ(dossier().plan->overrides[0].date, "2026-11-29");
    EXPECT_THAT(gate(JobGate::order), HasSubstr("gone on: only to see the house's price"));
    next().reason().clear();
    type(&next().reason(), "");
    EXPECT_TRUE(dossier().plan->overrides.empty());
    EXPECT_THAT(gate(JobGate::order), HasSubstr("Order: stop"));
}

TEST_F(JobWindow, EnterOnAGateLeadsToWhatIsInTheWay) {
    open_demo();
    window->show_stage(Stage::plan);
    show("next");
    next().gates().pick(JobGate::order);
    next().gates().setFocus();
    QTest::keyClick(&next().gates(), Qt::Key_Return);
    settle();
    EXPECT_EQ(page().view(), "job") << "the must that is open comes first";
    EXPECT_EQ(page().job().musts().picked(), "fits-port");
}

TEST_F(JobWindow, AQuestionLeadsToItsPlace) {
    open_demo();
    window->show_stage(Stage::plan);
    show("next");
    next().show_question("pin J1/6");
    for (auto* b : next().findChildren<QPushButton*>()) {
        if (b->text() == "Go there") b->click();
    }
    settle();
    EXPECT_EQ(window->stage(), Stage::port);
}

TEST_F(JobWindow, AMustHangsOnADimension) {
    begin_selector();
    Dimension lid;
    lid.id = lid.name = "lid";
    lid.mm.value = 12.4;
    lid.mm.uncertainty = 0.2;
    lid.mm.evidence.kind = EvidenceKind::measured;
    window->document().apply("a dimension", put(dossier(), lid));
    show("job");
    auto& job = page().job();
    type(&job.entry(), "The socket goes below the lid");
    const auto id = job.musts().picked();
    job.tie().setCurrentIndex(job.tie().findData(static_cast<int>(MustTie::dimension)));
    Q_EMIT job.tie().activated(job.tie().currentIndex());
    settle();
    job.thing().setCurrentIndex(job.thing().findData("lid"));
    Q_EMIT job.thing().activated(job.thing().currentIndex());
    settle();
    type(job.field("At least, mm"), "12");
    EXPECT_THAT(job.musts().said_of(id).toStdString(), HasSubstr("holds"));
    type(job.field("At least, mm"), "12.3");
    EXPECT_THAT(job.musts().said_of(id).toStdString(), HasSubstr("doubt"));
    type(job.field("At least, mm"), "13");
    EXPECT_THAT(job.musts().said_of(id).toStdString(), HasSubstr("stop"));
    type(job.field("At most, mm"), "12.5");
    EXPECT_EQ(job.field("At most, mm")->problem(), "At least 13 mm is above at most 12.5 mm.");
    EXPECT_FALSE(dossier().plan->musts.back().most.has_value()) << "nothing is exchanged behind one's back";
    QTest::keyClick(job.field("At most, mm"), Qt::Key_Escape);
    type(job.field("At least, mm"), "thirteen");
    EXPECT_THAT(job.field("At least, mm")->problem().toStdString(), HasSubstr("Expected a number"));
}

TEST_F(JobWindow, TasksAreEditedAndGiveDates) {
    begin_selector();
    show("calendar");
    auto& view = page().calendar();
    EXPECT_TRUE(dossier().plan->tasks.empty());
    type(&view.entry(), "Paint the case 1-2-3 h after Assemble");
    dates();
    EXPECT_FALSE(dossier().plan->tasks.empty()) << "the first edit takes the proposal over";
    EXPECT_EQ(dossier().plan->tasks.back().id, "Paint the case");
    EXPECT_THAT(view.chart().said_of("Paint the case").toStdString(), HasSubstr("Paint the case"));
    type(&view.entry(), "Nothing 3-2-1 h");
    EXPECT_THAT(view.entry().problem().toStdString(), HasSubstr("expected a task"));
    QTest::keyClick(&view.entry(), Qt::Key_Escape);
    type(&view.hours(), "14");
    EXPECT_EQ(window->document().person().bench.hours_per_week, 14);
    dates();
    EXPECT_THAT(view.says().toStdString(), HasSubstr("14 hours a week: likely done"));
    // A circle is not taken, and says so.
    const auto before = dossier();
    view.tasks().type(0, 4, "Paint the case");
    settle();
    EXPECT_EQ(dossier(), before);
}

TEST_F(JobWindow, ATableOfTasksIsTakenFromADrop) {
    begin_selector();
    test::write_file(path("tasks.csv").toStdString(),
                     "task,least_h,likely_h,most_h\nDraw,1,2,3\nSolder,1,1,2\n");
    window->files().drop({path("tasks.csv")});
    dates();
    EXPECT_EQ(page().view(), "calendar");
    ASSERT_EQ(dossier().plan->tasks.size(), 2U);
    EXPECT_EQ(dossier().plan->tasks[1].id, "Solder");
    test::write_file(path("bad.csv").toStdString(), "task,likely_h\nDraw,soon\n");
    window->files().drop({path("bad.csv")});
    dates();
    EXPECT_THAT(page().message().toStdString(), HasSubstr("bad.csv:2"));
    EXPECT_EQ(dossier().plan->tasks.size(), 2U);
}

TEST_F(JobWindow, WaysAndHedgesCarryTheirArithmetic) {
    begin_selector();
    show("ways");
    auto& view = page().ways();
    type(&view.way_entry(), "One that somebody drew");
    view.ways().type(1, 5, "30");
    settle();
    view.ways().type(1, 6, "2");
    settle();
    EXPECT_EQ(dossier().plan->ways[0].money, 30);
    view.ways().type(1, 5, "dear");
    settle();
    EXPECT_EQ(dossier().plan->ways[0].money, 30);
    EXPECT_FALSE(view.ways().is_editable(0, 5)) << "what is planned here is computed";
    type(&view.hedge_entry(), "A second board");
    for (const auto& [column, text] : {std::pair(1, "5"), std::pair(2, "0.5"), std::pair(3, "20")}) {
        view.hedges().type(0, column, text);
        settle();
    }
    EXPECT_EQ(view.hedges().text(0, 5), "5.00") << "0.5 × 20 − 5";
}

TEST_F(JobWindow, TheDrawerIsLookedThroughAndEdited) {
    begin_job();
    show("drawer");
    auto& view = page().drawer();
    type(&view.entry(), "12 x 74x165 hct, resistor 4k7");
    ASSERT_EQ(view.parts().row_count(), 2);
    type(&view.entry(), "3 x 74x165 hct");
    EXPECT_EQ(view.parts().text(0, 2), "15") << "so many more";
    view.parts().type(0, 3, "box 3");
    settle();
    view.parts().type(1, 2, "-4");
    settle();
    EXPECT_THAT(view.says().toStdString(), HasSubstr("expected a whole number"));
    view.search().setText("box");
    settle();
    EXPECT_EQ(view.parts().row_count(), 1);
    const auto kept = read_drawer(disk(), drawer_file(user_data_folder()));
    EXPECT_EQ(kept->count_of("74x165 hct"), 15);
    EXPECT_EQ(kept->find("74x165 hct")->place, "box 3");
}

TEST_F(JobWindow, AnEveningHoldsWhatFits) {
    begin_selector();
    show("next");
    const int rows = next().evening().row_count();
    EXPECT_GT(rows, 0);
    type(&next().minutes(), "10");
    EXPECT_LT(next().evening().row_count(), rows);
    type(&next().minutes(), "none");
    EXPECT_EQ(next().minutes().problem(), "Expected minutes, 1 to 1440.");
}

TEST_F(JobWindow, ASheetIsWritten) {
    open_demo();
    window->show_stage(Stage::plan);
    show("next");
    const auto out = path("question.html");
    window->files().ask_sheet = [&] { return out; };
    Q_EMIT next().sheet_wanted(next().questions().picked());
    settle();
    EXPECT_THAT(page().message().toStdString(), HasSubstr("Written to"));
    EXPECT_THAT(test::read_file(out.toStdString()), HasSubstr("If you know"));
}

TEST_F(JobWindow, AnyFindingBudgetOrNetCanBeAsked) {
    open_demo();
    const auto out = path("any.html");
    QStringList offered;
    window->files().ask_sheet = [&] { return out; };
    window->files().ask_sheet_about = [&](const QStringList& titles) {
        offered = titles;
        return static_cast<int>(titles.size()) - 1;
    };
    trigger("file.sheet");
    settle();
    EXPECT_THAT(test::read_file(out.toStdString()), HasSubstr("If you know"));
    for (const auto& f : window->document().analysis().findings)
        EXPECT_TRUE(offered.contains(to_q(f.says)) || f.place.kind == "pin" || f.place.kind == "look")
            << f.says;
}

TEST_F(JobWindow, WhatWasTypedIsShownAsText) {
    begin_selector();
    show("next");
    type(&next().entry(), "<b>bold</b> & <img src=x>?");
    EXPECT_THAT(said_of(next().questions().picked()), HasSubstr("<b>bold</b> & <img src=x>?"));
}

}  // namespace
}  // namespace grayrelic::app
