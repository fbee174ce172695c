// SPDX-License-Identifier: GPL-3.0-or-later
// Plan in the window: the job's fields, parts and orders, units, dimensions, the bench, with keys and mouse.
#include <gmock/gmock.h>

#include "app/stages/listen/file_view.hpp"
#include "app/stages/plan/plan_page.hpp"
#include "core/port/connector_library.hpp"
#include "core/timing/timing_analysis.hpp"
#include "core/trace/trace_analysis.hpp"
#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {
namespace {

using testing::HasSubstr;

class PlanWindow : public WindowTest {
  protected:
    void SetUp() override {
        was_ = qgetenv("XDG_DATA_HOME");
        data_ = std::make_unique<test::TempFolder>();
        qputenv("XDG_DATA_HOME", QByteArray::fromStdString(data_->path().string()));
        WindowTest::SetUp();
    }
    void TearDown() override {
        WindowTest::TearDown();
        qputenv("XDG_DATA_HOME", was_);
    }
    void begin_job() {
        window->files().make_new();
        window->show_stage(Stage::plan);
        settle();
    }
    PlanPage& page() { return window->page<PlanPage>(); }
    SupplyView& supply() { return page().supply(); }
    /// Types into a field and presses Enter.
    void type(Field* field, const QString& text) {
        ASSERT_NE(field, nullptr);
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, text);
        QTest::keyClick(field, Qt::Key_Return);
        settle();
    }
    std::string said(const QString& part) { return supply().parts().said_of(part).toStdString(); }

  private:
    QByteArray was_;
    std::unique_ptr<test::TempFolder> data_;
};

TEST_F(PlanWindow, TheJobIsNamedInPlaceAndUndone) {
    begin_job();
    type(page().job_field("Job"), "Pad for two");
    EXPECT_EQ(dossier().about->name, "Pad for two");
    EXPECT_EQ(window->rail().stage(Stage::plan).text(), "Pad for two");
    type(page().job_field("Relic side"), "control port");
    type(page().job_field("Revision"), "3");
    type(page().job_field("To build"), "4");
    EXPECT_EQ(dossier().about->relic, "control port");
    EXPECT_EQ(dossier().about->revision, 3);
    EXPECT_EQ(dossier().supply->boards, 4);
    type(page().job_field("Revision"), "none");
    EXPECT_EQ(page().job_field("Revision")->problem(), "Expected a whole number, 1 or more.");
    QTest::keyClick(page().job_field("Revision"), Qt::Key_Escape);
    trigger("edit.undo");
    settle();
    EXPECT_EQ(dossier().supply->boards, 1);
    EXPECT_EQ(page().job_field("To build")->text(), "1");
}

TEST_F(PlanWindow, OneThatNobodyNamedTakesTheNameItIsSavedUnder) {
    begin_job();
    ASSERT_TRUE(window->files().save_to(path("pad-for-two.relic")));
    EXPECT_EQ(dossier().about->name, "pad-for-two");
    EXPECT_EQ(load_dossier(path("pad-for-two.relic").toStdString())->about->name, "pad-for-two");
    EXPECT_FALSE(window->document().is_modified());
    type(page().job_field("Job"), "Another");
    ASSERT_TRUE(window->files().save_to(path("third.relic")));
    EXPECT_EQ(dossier().about->name, "Another") << "a name that was given stays";
}

TEST_F(PlanWindow, PartsAreTypedFoundInTheDrawerOrderedAndArrive) {
    begin_job();
    type(page().job_field("To build"), "2");
    type(&supply().entry(), "3 x resistor 4k7, socket");
    EXPECT_EQ(supply().parts().count(), 2);
    EXPECT_THAT(said("resistor 4k7"), HasSubstr("order 6 of 6"));
    EXPECT_EQ(page().sentence(), "2 parts to order");
    supply().show_part("Resistor  4k7");
    type(supply().field("In your drawer"), "6");
    EXPECT_THAT(said("resistor 4k7"), HasSubstr("6 from the drawer"));
    EXPECT_EQ(read_drawer(disk(), drawer_file(user_data_folder()))->count_of("resistor 4k7"), 6);
    // The next part by key, its price and time, then its order.
    QTest::keyClick(&supply().parts().sheet(), Qt::Key_Down);
    EXPECT_EQ(supply().parts().picked(), "socket");
    type(supply().field("Price steps"), "1:0.5 10:0.2");
    EXPECT_THAT(said("socket"), HasSubstr("2 for 1.00"));
    type(supply().field("Days to come"), "9-14");
    type(supply().field("Supplier"), "shop");
    supply().today = [] { return QDate(2026, 11, 29); };
    for (auto* b : page().findChildren<QPushButton*>())
        if (b->text() == "Ordered today") QTest::mouseClick(b, Qt::LeftButton);
    settle();
    ASSERT_EQ(dossier().supply->orders.size(), 1U);
    EXPECT_EQ(dossier().supply->orders[0].expected_to, "2026-12-13");
    EXPECT_THAT(said("socket"), HasSubstr("on the way"));
    EXPECT_EQ(page().sentence(), "All parts are here or on their way");
    type(supply().field("Frees"), "the ribbon");
    EXPECT_THAT(supply().orders().said_of("shop").toStdString(), HasSubstr("frees the ribbon"));
    supply().today = [] { return QDate(2026, 12, 10); };
    for (auto* b : page().findChildren<QPushButton*>())
        if (b->text() == "Arrived today") QTest::mouseClick(b, Qt::LeftButton);
    settle();
    EXPECT_EQ(page().sentence(), "All parts are here");
    EXPECT_THAT(supply().orders().said_of("shop").toStdString(), HasSubstr("arrived 2026-12-10"));
}

TEST_F(PlanWindow, WhatIsNotDecidedIsNotOrdered) {
    begin_job();
    type(&supply().entry(), "level shifter");
    supply().show_part("level shifter");
    type(supply().field("Decide first"), "Does the line exceed 3.6 V?");
    EXPECT_THAT(said("level shifter"), testing::AllOf(HasSubstr("do not order yet"), HasSubstr("exceed 3.6 V")));
    EXPECT_EQ(page().sentence(), "1 part is not to be ordered yet");
    for (auto* b : page().findChildren<QPushButton*>())
        EXPECT_FALSE(b->text() == "Ordered today" && b->isEnabled());
    for (const auto& [label, wrong] : std::initializer_list<std::pair<const char*, const char*>>{
             {"Good ones", "2"}, {"Price steps", "cheap"}, {"Days to come", "14-9"}, {"Seen on", "May"},
             {"On each board", "-1"}, {"In your drawer", "-3"}}) {
        auto* field = supply().field(label);
        type(field, wrong);
        EXPECT_THAT(field->problem().toStdString(), HasSubstr("Expected")) << label;
        QTest::keyClick(field, Qt::Key_Escape);
    }
    EXPECT_EQ(dossier().supply->parts.size(), 1U);
}

TEST_F(PlanWindow, TheFilesSentAreKeptByTheirSum) {
    begin_job();
    Order o;
    o.id = "o";
    o.from = "board house";
    window->document().apply("order", put(dossier(), o));
    settle();
    supply().show_order("o");
    // SHA-256 of "abc": FIPS 180-4, example.
    test::write_file(path("board.zip").toStdString(), "abc");
    supply().add_files({path("board.zip")});
    settle();
    ASSERT_EQ(dossier().supply->orders[0].files.size(), 1U);
    EXPECT_EQ(dossier().supply->orders[0].files[0].sha256,
              "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
    supply().add_files({path("nothing.zip")});
    EXPECT_THAT(page().message().toStdString(), HasSubstr("can't be read"));
}

TEST_F(PlanWindow, TablesGoInAndOut) {
    begin_job();
    test::write_file(path("parts.csv").toStdString(), "part,per_board,supplier\nplug,2,shop\nheader,1,\n");
    window->files().drop({path("parts.csv")});
    settle();
    EXPECT_EQ(window->stage(), Stage::plan);
    EXPECT_EQ(dossier().supply->parts.size(), 2U);
    test::write_file(path("drawer.csv").toStdString(), "part,count\nplug,9\n");
    window->files().drop({path("drawer.csv")});
    settle();
    EXPECT_THAT(page().message().toStdString(), HasSubstr("1 part taken into your drawer"));
    EXPECT_THAT(said("plug"), HasSubstr("from the drawer"));
    test::write_file(path("bad.csv").toStdString(), "part,per_board\nplug,many\n");
    page().take(path("bad.csv"));
    EXPECT_THAT(page().message().toStdString(), testing::AllOf(HasSubstr("bad.csv:2"), HasSubstr("many")));
    page().ask_save = [this](const QString&, const QString& name) { return path(name.toStdString()); };
    Q_EMIT supply().parts_out_wanted();
    EXPECT_THAT(test::read_file(path("parts.csv").toStdString()), HasSubstr("plug,other,,2"));
    Q_EMIT supply().drawer_out_wanted();
    EXPECT_THAT(test::read_file(path("drawer.csv").toStdString()), HasSubstr("plug,other,9"));
}

TEST_F(PlanWindow, AnOldDrawerMovesToThePersons) {
    open_demo();
    window->show_stage(Stage::plan);
    settle();
    ASSERT_FALSE(dossier().timing->drawer.empty());
    for (auto* b : page().findChildren<QPushButton*>())
        if (b->text() == "Move to your drawer") QTest::mouseClick(b, Qt::LeftButton);
    settle();
    EXPECT_TRUE(dossier().timing->drawer.empty());
    EXPECT_EQ(window->document().person().drawer.count_of("74x00 hct"), 2);
    EXPECT_EQ(window->document().person().drawer.count_of("74x04 hct"), 1);
    trigger("edit.undo");
    settle();
    EXPECT_FALSE(dossier().timing->drawer.empty()) << "the dossier's own is back";
}

TEST_F(PlanWindow, AnotherProgramsDrawerIsSeenAndABrokenOneIsSaid) {
    begin_job();
    type(&supply().entry(), "plug");
    const auto file = drawer_file(user_data_folder());
    ASSERT_TRUE(change_drawer(disk(), file, [](Drawer& d) { d.entry("plug", PartKind::other).count = 4; }));
    window->document().read_person_again();
    settle();
    EXPECT_THAT(said("plug"), HasSubstr("from the drawer"));
    test::write_file(file, "{ broken");
    window->document().read_person_again();
    settle();
    bool found = false;
    for (const auto& f : window->document().analysis().findings) found = found || f.id == "drawer-unreadable";
    EXPECT_TRUE(found);
    supply().show_part("plug");
    type(supply().field("In your drawer"), "5");
    EXPECT_THAT(supply().field("In your drawer")->problem().toStdString(), HasSubstr("drawer.json"));
    EXPECT_EQ(test::read_file(file), "{ broken") << "nothing is written over it";
}

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
    EXPECT_TRUE(std::filesystem::exists(path("mine.relic").toStdString() + "/" + saved->captures->front().file));
    EXPECT_THAT(page().take_side_from(path("nowhere"), "J1").toStdString(), HasSubstr("nowhere"));
}

TEST_F(PlanWindow, FindingsLeadToTheirPlaces) {
    open_demo();
    for (const auto& f : window->document().analysis().findings)
        if (f.id == "dimension-assumed") {
            window->show_stage(Stage::timing);
            Q_EMIT window->findings().opened(f);
        }
    EXPECT_EQ(window->stage(), Stage::plan);
    EXPECT_EQ(page().view(), "dimensions");
    EXPECT_EQ(page().dimensions().list().picked(), "plug-body");
    page().show_place({"part", "74x165 hct", {}});
    EXPECT_EQ(page().view(), "parts");
    EXPECT_EQ(supply().parts().picked(), "74x165 hct");
    page().show_place({"order", "module-shop", {}});
    EXPECT_EQ(supply().orders().picked(), "module-shop");
    page().show_place({"unit", "adapter-1", {}});
    EXPECT_EQ(page().units().units().picked(), "adapter-1");
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
    EXPECT_TRUE(window->document().analysis().trace->state.contradictions.empty()) << "two boards, not a slip";
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

}  // namespace
}  // namespace grayrelic::app
