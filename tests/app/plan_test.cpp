// SPDX-License-Identifier: GPL-3.0-or-later
// Plan in the window: the job's fields, parts, drawer and orders, with keys and mouse.
#include "app/stages/timing/logic_bench.hpp"
#include "tests/app/plan_window.hpp"

namespace grayrelic::app {
namespace {

using testing::HasSubstr;

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
    // With ways to build and none chosen, nobody knows whether that is all.
    BuildOption open;
    open.id = "open";
    window->document().apply("option", put(dossier(), open));
    settle();
    EXPECT_EQ(page().sentence(), "Parts may be missing from the list");
}

TEST_F(PlanWindow, WhatIsNotDecidedIsNotOrdered) {
    begin_job();
    type(&supply().entry(), "level shifter");
    supply().show_part("level shifter");
    type(supply().field("Decide first"), "Does the line exceed 3.6 V?");
    EXPECT_THAT(said("level shifter"),
                testing::AllOf(HasSubstr("do not order yet"), HasSubstr("exceed 3.6 V")));
    EXPECT_EQ(page().sentence(), "1 part is not to be ordered yet");
    for (auto* b : page().findChildren<QPushButton*>())
        EXPECT_FALSE(b->text() == "Ordered today" && b->isEnabled());
    for (const auto& [label, wrong] :
         std::initializer_list<std::pair<const char*, const char*>>{{"Good ones", "2"},
                                                                    {"Price steps", "cheap"},
                                                                    {"Days to come", "14-9"},
                                                                    {"Seen on", "May"},
                                                                    {"On each board", "-1"},
                                                                    {"In your drawer", "-3"}}) {
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
    // The logic bench looks into it now.
    window->show_stage(Stage::timing);
    window->page<TimingPage>().show_view("logic");
    settle();
    auto* bench = window->page<TimingPage>().findChild<LogicBench*>();
    EXPECT_EQ(bench->drawer().text(), "");
    EXPECT_EQ(bench->drawer().placeholderText(), "empty: your drawer");
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

}  // namespace
}  // namespace grayrelic::app
