// SPDX-License-Identifier: GPL-3.0-or-later
// Plan in the window: units, dimensions, the bench, and a machine's side taken over; units in Trace and
// Listen.
#include <QMenu>

#include "app/stages/listen/file_view.hpp"
#include "app/stages/listen/live_view.hpp"
#include "core/person/bench_text.hpp"
#include "core/timing/timing_analysis.hpp"
#include "core/trace/trace_analysis.hpp"

#include "tests/app/plan_window.hpp"

namespace grayrelic::app {
namespace {

using testing::HasSubstr;

TEST_F(PlanWindow, UnitsAreAddedAndKeptApart) {
    begin_job();
    page().show_view("units");
    settle();
    for (const auto* name : {"First", "Second"}) {
        for (auto* b : page().units().findChildren<QPushButton*>())
            if (b->text() == "Add") QTest::mouseClick(b, Qt::LeftButton);
        settle();
        type(page().units().field("Name"), name);
    }
    ASSERT_EQ(dossier().units->size(), 2U);
    EXPECT_EQ((*dossier().units)[1].name, "Second");
    auto& state = page().units().state();
    state.setCurrentIndex(state.findText("spoken for"));
    Q_EMIT state.activated(state.currentIndex());
    settle();
    EXPECT_EQ((*dossier().units)[1].state, UnitState::spoken_for);
    const auto first = (*dossier().units)[0].id, second = (*dossier().units)[1].id;
    MeterReading r;
    r.a = "U1.1";
    r.b = "U2.1";
    r.unit = first;
    auto open = r;
    open.kind = MeterReadingKind::open;
    open.unit = second;
    auto more = r;
    more.b = "U3.1";
    window->document().apply("readings", add_readings(dossier(), {r, more, open}));
    settle();
    EXPECT_THAT(page().units().units().said_of(to_q(first)).toStdString(),
                testing::AllOf(HasSubstr("2 readings"), HasSubstr("looked at in Trace")));
    ASSERT_EQ(page().units().differences().row_count(), 1);
    EXPECT_EQ(page().units().differences().text(0, 3), "apart on Second");
    page().units().show_unit(to_q(second));
    for (auto* b : page().units().findChildren<QPushButton*>())
        if (b->text() == "Look at this board") QTest::mouseClick(b, Qt::LeftButton);
    settle();
    EXPECT_EQ(dossier().trace->unit, second);
    EXPECT_EQ(window->document().analysis().trace->unit, second);
}

TEST_F(PlanWindow, DimensionsComeFromACaliper) {
    begin_job();
    page().show_view("dimensions");
    settle();
    auto& view = page().dimensions();
    type(&view.entry(), "lid to board 12.4 ± 0.1");
    ASSERT_EQ(dossier().dimensions->size(), 1U);
    const auto& lid = dossier().dimensions->front();
    EXPECT_EQ(lid.mm.evidence.kind, EvidenceKind::measured);
    EXPECT_EQ(lid.mm.evidence.tool, "caliper");
    EXPECT_THAT(view.list().said_of(to_q(lid.id)).toStdString(), HasSubstr("12.4 ± 0.1 mm"));
    type(view.field("Decides"), "whether the module fits");
    type(view.size().value_field(), "13");
    EXPECT_EQ(dossier().dimensions->front().mm.value, 13);
    type(view.field("Tolerance ±"), "wide");
    EXPECT_THAT(view.field("Tolerance ±")->problem().toStdString(), HasSubstr("millimetres"));
    QTest::keyClick(view.field("Tolerance ±"), Qt::Key_Escape);
    type(&view.entry(), "lid");
    EXPECT_THAT(view.entry().problem().toStdString(), HasSubstr("such as: lid to board"));
}

TEST_F(PlanWindow, TheBenchIsKeptOverDossiers) {
    window->show_stage(Stage::plan);
    page().show_view("bench");
    settle();
    auto& bench = page().bench();
    type(&bench.entry(), "analyser 24 MHz 5 V small one");
    type(&bench.packages(), "soic 120 2");
    type(&bench.hours(), "6");
    type(&bench.currency(), "EUR");
    QTest::mouseClick(&bench.process(Process::home_toner), Qt::LeftButton, {}, QPoint(8, 8));
    bench.instruments().type(0, 2, "5.5 V");
    const auto kept = *read_bench(disk(), bench_file(user_data_folder()));
    ASSERT_EQ(kept.instruments.size(), 1U);
    EXPECT_EQ(kept.instruments[0].most_volts, Volts(5.5));
    EXPECT_EQ(kept.solder[0].bad, 2);
    EXPECT_EQ(kept.hours_per_week, 6);
    EXPECT_EQ(kept.processes, std::vector<Process>{Process::home_toner});
    EXPECT_EQ(bench.soldering().text(0, 3), "97.5 %");  // (118 + 1) ÷ 122
    bench.instruments().type(0, 4, "fast");
    EXPECT_EQ(read_bench(disk(), bench_file(user_data_folder()))->instruments[0].rate, Hertz(24e6));
    type(&bench.entry(), "wand");
    EXPECT_THAT(bench.entry().problem().toStdString(), HasSubstr("meter, scope"));
    QTest::keyClick(&bench.entry(), Qt::Key_Escape);
    open_demo();
    window->show_stage(Stage::plan);
    page().show_view("bench");
    settle();
    EXPECT_THAT(bench.reach().toStdString(), HasSubstr("the bench reaches 24.0 MHz"));
    page().show_view("cautions");
    settle();
    EXPECT_TRUE(page().cautions().titles().contains("Etchant and its waste"));
}

TEST_F(PlanWindow, AMachinesSideIsTakenFromAnotherDossier) {
    const auto pad = path("demo") + "/calder-dial-pad.relic";
    begin_job();
    page().ask_dossier = [&] { return pad; };
    page().ask_port = [](const QStringList& ports) { return ports.value(0); };
    for (auto* b : page().findChildren<QPushButton*>())
        if (b->text() == "Take a machine's side…") QTest::mouseClick(b, Qt::LeftButton);
    settle();
    EXPECT_THAT(page().message().toStdString(), HasSubstr("Port J1 with 10 captures"));
    EXPECT_EQ(dossier().captures->size(), 10U);
    ASSERT_TRUE(window->files().save_to(path("mine.relic")));
    const auto saved = load_dossier(path("mine.relic").toStdString());
    ASSERT_TRUE(saved);
    EXPECT_TRUE(
        std::filesystem::exists(path("mine.relic").toStdString() + "/" + saved->captures->front().file));
    EXPECT_THAT(page().take_side_from(path("nowhere"), "J1").toStdString(), HasSubstr("nowhere"));
}

TEST_F(PlanWindow, WhatIsProbedIsTakenOnTheUnitThatIsLookedAt) {
    begin_job();
    JobUnit first, second;
    first.id = "a", first.name = "First";
    second.id = "b", second.name = "Second";
    auto next = put(put(dossier(), first), second);
    next = edit(next, &Dossier::trace, [](Trace& t) { t.unit = "b"; });
    window->document().apply("units", next);
    window->show_stage(Stage::trace);
    settle();
    auto& probe = window->page<TracePage>().probe_view();
    ASSERT_TRUE(probe.unit().isVisible());
    EXPECT_EQ(probe.unit().currentText(), "Second");
    type(&probe.entry(), "U1.3 J1.4 beep");
    EXPECT_EQ(dossier().readings->front().unit, "b");
    probe.unit().setCurrentIndex(probe.unit().findText("First"));
    Q_EMIT probe.unit().activated(probe.unit().currentIndex());
    settle();
    type(&probe.entry(), "U1.3 J1.4 open");
    EXPECT_EQ((*dossier().readings)[1].unit, "a");
    EXPECT_TRUE(window->document().analysis().trace->state.contradictions.empty())
        << "two boards, not a slip";
    EXPECT_EQ(probe.ledger().text(1, 4), "on Second");
    // What was measured before there were units is named afterwards.
    probe.ledger().choose(1);
    auto* menu = probe.taken_on().menu();
    Q_EMIT menu->aboutToShow();
    menu->actions()[0]->trigger();
    settle();
    EXPECT_EQ((*dossier().readings)[0].unit, "a");
    EXPECT_EQ(window->document().analysis().trace->state.contradictions.size(), 1U);
}

TEST_F(PlanWindow, ACaptureSaysItsUnitAndTheContractKnowsWhich) {
    open_demo();
    window->show_stage(Stage::listen);
    window->page<ListenPage>().show_view("file");
    settle();
    auto& box = window->page<ListenPage>().findChild<FileView*>()->unit();
    EXPECT_EQ(box.currentText(), "Borrowed dial pad");
    const auto specimens = [&] {
        std::string out;
        for (const auto& f : window->document().analysis().timing->contract)
            for (const auto& s : f->specimens) out += s.title + "\n";
        return out;
    };
    EXPECT_THAT(specimens(), testing::Not(HasSubstr("(Borrowed dial pad)"))) << "all of one unit";
    const auto id = dossier().timing->intervals.front().id;
    window->document().apply("over two units", edit<ContractInterval>(dossier(), id, [](ContractInterval& i) {
                                 i.also.push_back("replica");
                             }));
    settle();
    EXPECT_THAT(specimens(), testing::AllOf(HasSubstr("(Borrowed dial pad)"), HasSubstr("(First board)")));
}

TEST_F(PlanWindow, CautionsStandWhereTheStepIsDone) {
    open_demo();
    window->show_stage(Stage::trace);
    settle();
    auto& probing = window->page<TracePage>().probe_view().care();
    EXPECT_TRUE(probing.isVisible());
    EXPECT_THAT(probing.text().toStdString(), HasSubstr("A probe that slips"));
    EXPECT_THAT(probing.accessibleDescription().toStdString(), HasSubstr("a supply pin beside a signal"));
    EXPECT_THAT(probing.text().toStdString(), testing::Not(HasSubstr("The clip of a scope")));
    // A scope on the bench brings its own.
    ASSERT_EQ(
        window->document().change_bench([](Bench& b) { b.instruments = {*parse_instrument("scope 300 V")}; }),
        QString());
    settle();
    EXPECT_THAT(probing.text().toStdString(), HasSubstr("The clip of a scope"));
    window->show_stage(Stage::listen);
    window->page<ListenPage>().show_view("live");
    settle();
    auto& recording = window->page<ListenPage>().findChild<LiveView*>()->care();
    EXPECT_TRUE(recording.isVisible());
    EXPECT_THAT(recording.text().toStdString(), HasSubstr("A probe that slips"));
}

TEST_F(PlanWindow, AScanSaysWhichBoardItShowsAndAUnitItsWorth) {
    begin_job();
    Scan scan;
    scan.id = "front";
    scan.title = "Front";
    scan.file = "scans/front.png";
    JobUnit unit;
    unit.id = "one";
    unit.name = "First board";
    window->document().apply("both", put(put(dossier(), scan), unit));
    page().show_view("units");
    settle();
    auto& view = page().units();
    view.show_unit("one");
    ASSERT_TRUE(view.scans().isEnabled());
    auto* menu = view.scans().menu();
    ASSERT_NE(menu, nullptr);
    Q_EMIT menu->aboutToShow();
    ASSERT_EQ(menu->actions().size(), 1);
    EXPECT_FALSE(menu->actions().front()->isChecked());
    menu->actions().front()->trigger();
    settle();
    EXPECT_EQ(dossier().trace->scans.front().unit, "one");
    Q_EMIT menu->aboutToShow();
    EXPECT_TRUE(menu->actions().front()->isChecked());
    menu->actions().front()->trigger();
    settle();
    EXPECT_EQ(dossier().trace->scans.front().unit, "");
    type(view.field("Worth"), "120");
    EXPECT_EQ(dossier().units->front().worth, 120);
    type(view.field("Worth"), "much");
    EXPECT_EQ(view.field("Worth")->problem(), "Expected money, zero or more.");
}

}  // namespace
}  // namespace grayrelic::app
