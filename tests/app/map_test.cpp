// SPDX-License-Identifier: GPL-3.0-or-later
// Map as a person uses it: the drawn device, assigning, coverage, reports, the matrix, movement, tables.
#include <QMenu>
#include <QMimeData>

#include "app/stages/map/map_page.hpp"
#include "core/input/map_analysis.hpp"
#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {
namespace {

class MapStage : public WindowTest {
  protected:
    void SetUp() override {
        WindowTest::SetUp();
        ASSERT_TRUE(window->files().open(copy_demo("calder-counter-keypad")));
        window->show_stage(Stage::map);
        settle();
    }
    MapPage& page() { return window->page<MapPage>(); }
    DeviceView& device() {
        page().show_view("device");
        settle();
        return page().device_view();
    }
    const MapKey& key(const char* id) { return *dossier().map->find_key(id); }
    void enter(Field& field, const QString& text) {
        field.setFocus();
        field.selectAll();
        field.insert(text);
        QTest::keyClick(&field, Qt::Key_Return);
        settle();
    }
};

TEST_F(MapStage, TheDemoSaysItsTwoMistakes) {
    std::set<std::string> ids;
    for (const auto& f : window->document().analysis().findings)
        if (f.stage == Stage::map && f.severity == Severity::stop) ids.insert(f.id);
    EXPECT_TRUE(ids.contains("meaning-not-carried")) << "00 is no key of the boot keyboard";
    EXPECT_TRUE(ids.contains("chord-ghosts")) << "NOTE, COIN and F2 fake MC";
    EXPECT_EQ(window->rail().stage(Stage::map).line(), "45 of 47 codes");
}

TEST_F(MapStage, AKeyIsChosenAndItsMeaningTyped) {
    auto& view = device();
    QTest::mouseClick(&view.canvas(), Qt::LeftButton, Qt::NoModifier,
                      view.canvas().rect_of("batch").center().toPoint());
    settle();
    EXPECT_EQ(view.panel().legend().text(), "BATCH");
    EXPECT_THAT(view.panel().says().toStdString(), testing::HasSubstr("BATCH becomes nothing"));
    enter(view.panel().meaning(), "media:volume-up");
    EXPECT_EQ(key("batch").meaning, "media:volume-up");
    enter(view.panel().meaning(), "volume");
    EXPECT_THAT(view.panel().meaning().problem().toStdString(),
                testing::HasSubstr("expected a meaning such as"));
    EXPECT_EQ(key("batch").meaning, "media:volume-up");
    trigger("edit.undo");
    EXPECT_EQ(key("batch").meaning, "");
}

TEST_F(MapStage, AMeaningIsSearchedAndDropped) {
    auto& view = device();
    view.select("feed");
    settle();
    QTest::keyClicks(&view.panel().search(), "page down");
    ASSERT_GT(view.panel().found().count(), 0);
    QTest::keyClick(&view.panel().search(), Qt::Key_Return);
    settle();
    EXPECT_EQ(key("feed").meaning, "key:page-down");
    QMimeData data;
    data.setData(meaning_mime, "key:page-up");
    const auto at = view.canvas().rect_of("batch").center();
    QDragEnterEvent enter(at.toPoint(), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&view.canvas(), &enter);
    EXPECT_TRUE(enter.isAccepted());
    QDropEvent dropped(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&view.canvas(), &dropped);
    settle();
    EXPECT_EQ(key("batch").meaning, "key:page-up");
}

TEST_F(MapStage, KeysAreAssignedByPressing) {
    auto& view = device();
    view.select("batch");
    settle();
    view.pressing().click();
    QTest::keyClick(&view.canvas(), Qt::Key_F13);
    settle();
    EXPECT_EQ(key("batch").meaning, "key:f13");
    EXPECT_EQ(view.panel().legend().text(), "COUNT") << "the next key is chosen";
    QTest::keyClick(&view.canvas(), Qt::Key_Tab);
    settle();
    EXPECT_EQ(key("count").meaning, "key:tab") << "Tab is a key like the others";
    view.pressing().click();
    QTest::keyClick(&view.canvas(), Qt::Key_F14);
    settle();
    EXPECT_EQ(key("count").meaning, "key:tab");
}

TEST_F(MapStage, TheArrowsWalkOverTheDevice) {
    auto& view = device();
    view.select("5");
    settle();
    view.canvas().setFocus();
    for (const auto& [press, legend] : {std::pair(Qt::Key_Right, "6"), std::pair(Qt::Key_Up, "9"),
                                        std::pair(Qt::Key_Left, "8"), std::pair(Qt::Key_Down, "5")}) {
        QTest::keyClick(&view.canvas(), press);
        settle();
        EXPECT_EQ(view.panel().legend().text().toStdString(), legend);
    }
}

TEST_F(MapStage, FromAnEmptyWindowKeysAreTypedRowByRow) {
    auto bare = dossier();
    window->document().apply("bare", put(bare, DeviceMap{}));
    settle();
    auto& view = device();
    for (const auto* line : {"A 0x1C", "B 0x32", "/ ENTER 2x1 0x5A"}) enter(view.walk(), line);
    ASSERT_EQ(dossier().map->keys.size(), 3U);
    EXPECT_EQ(key("enter").y, 1);
    EXPECT_EQ(key("enter").code.value, "0x5A");
    EXPECT_EQ(key("enter").code.evidence.kind, EvidenceKind::assumed);
    enter(view.walk(), "/");
    EXPECT_THAT(view.walk().problem().toStdString(), testing::HasSubstr("a legend"));
    page().show_view("coverage");
    settle();
    enter(page().coverage_view().profiles(), "keyboard");
    view.proposals().click();
    settle();
    EXPECT_EQ(key("a").meaning, "key:a");
    EXPECT_EQ(key("enter").meaning, "key:enter");
    trigger("edit.undo");
    EXPECT_EQ(key("a").meaning + key("enter").meaning, "") << "all at once";
}

TEST_F(MapStage, ATableIsDroppedAndAWrongOneIsTold) {
    test::write_file(folder / "keys.csv", "key,code,x,y,row,column\nA,0x1C,0,0,R0,C0\nB,0x32,1,0,R0,C1\n");
    drop({path("keys.csv")});
    settle();
    EXPECT_EQ(page().view(), "device");
    EXPECT_EQ(dossier().map->keys.size(), 2U);
    test::write_file(folder / "bad.csv", "key,code,x,y\nA,0x1C,0,0\nB,0x32,0.5,0\n");
    drop({path("bad.csv")});
    settle();
    EXPECT_THAT(page().message().toStdString(),
                testing::HasSubstr("bad.csv:3: found \"B\" over \"A\" of line 2"));
    EXPECT_EQ(dossier().map->keys.size(), 2U);
}

TEST_F(MapStage, CoverageProposesAndIsObeyed) {
    page().show_view("coverage");
    settle();
    auto& view = page().coverage_view();
    enter(view.wanted(), "arrows, media");
    EXPECT_EQ(dossier().map->modern.wanted, (std::vector<std::string>{"arrows", "media"}));
    EXPECT_THAT(view.says().toStdString(), testing::HasSubstr("4 of 8 wanted are reached"));
    enter(view.wanted(), "everything");
    EXPECT_THAT(view.wanted().problem().toStdString(), testing::HasSubstr("expected text, letters"));
    enter(view.profiles(), "keyboard; media");
    int row = -1;
    for (int i = 0; i < view.gaps().row_count(); ++i)
        if (view.gaps().text(i, 2) == "media:volume-up") row = i;
    ASSERT_GE(row, 0);
    const auto id = view.gaps().key(row).toString().toStdString();
    view.gaps().choose(row);
    view.take().click();
    settle();
    EXPECT_EQ(dossier().map->find_key(id)->meaning, "media:volume-up");
    EXPECT_THAT(view.says().toStdString(), testing::HasSubstr("5 of 8 wanted are reached"));
}

TEST_F(MapStage, AMessageIsWatched) {
    page().show_view("coverage");
    settle();
    auto& view = page().coverage_view();
    enter(view.new_message(), "alive 0xFA heartbeat watch");
    ASSERT_EQ(view.messages().row_count(), 1);
    EXPECT_THAT(view.messages().text(0, 7).toStdString(),
                testing::HasSubstr("how often it comes is not known"));
    view.messages().type(0, 4, "250 ms");
    settle();
    EXPECT_EQ(dossier().map->messages.front().every.evidence.kind, EvidenceKind::assumed);
    view.messages().type(0, 4, "250 ms measured");
    settle();
    EXPECT_EQ(dossier().map->messages.front().every.evidence.kind, EvidenceKind::measured);
    view.messages().type(0, 5, "1 %");
    settle();
    EXPECT_THAT(view.messages().text(0, 7).toStdString(),
                testing::HasSubstr("within 1.00 s; 0.35 false alarms a day"));
    view.messages().type(0, 3, "sing");
    settle();
    EXPECT_EQ(*dossier().map->messages.front().act, MessageAct::watch);
}

TEST_F(MapStage, ReportsAreShownAsAHostUnderstandsThem) {
    page().show_view("reports");
    settle();
    auto& view = page().reports_view();
    enter(view.text(), "Aa");
    EXPECT_EQ(view.reports().row_count(), 6);
    EXPECT_EQ(view.reports().text(1, 1), "02 00 04 00 00 00 00 00");
    EXPECT_THAT(view.host_says().toStdString(), testing::HasSubstr("types: Aa"));
    EXPECT_THAT(view.listing().toPlainText().toStdString(), testing::HasSubstr("usage keyboard"));
    test::write_file(
        folder / "dump.hex",
        "0: 00 00 04 00 00 00 00 00\n0.01: 00 00 04 05 00 00 00 00\n0.02: 00 00 00 05 00 00 00 00\n");
    drop({path("dump.hex")});
    settle();
    EXPECT_EQ(view.reports().row_count(), 3);
    EXPECT_THAT(view.host_says().toStdString(), testing::HasSubstr("key b stays down"));
    test::write_file(folder / "other.hex", "05 01 09 04 A1 01 09 30 15 00 26 FF 00 75 08 95 01 81 02 C0");
    drop({path("other.hex")});
    settle();
    EXPECT_THAT(view.listing().toPlainText().toStdString(), testing::HasSubstr("0 to 255: x"));
    test::write_file(folder / "bad.hex", "05 0G");
    drop({path("bad.hex")});
    settle();
    EXPECT_THAT(page().message().toStdString(), testing::HasSubstr("bad.hex:1: found \"0G\""));
}

TEST_F(MapStage, KeysOfTheMatrixAreHeldAndGhostsShown) {
    page().show_view("matrix");
    settle();
    auto& view = page().matrix_view();
    const auto& m = window->document().analysis().map->matrix->model;
    const auto click = [&](const char* id) {
        for (const auto& k : m.keys)
            if (k.id == id)
                QTest::mouseClick(&view.canvas(), Qt::LeftButton, Qt::NoModifier,
                                  view.canvas().cell(k.row, k.column).center().toPoint());
    };
    for (const auto* id : {"note", "coin", "f2"}) click(id);
    EXPECT_THAT(view.says().toStdString(), testing::HasSubstr("MC seems closed, too"));
    click("f2");
    EXPECT_THAT(view.says().toStdString(), testing::HasSubstr("read as they are"));
    view.chord().click();
    settle();
    EXPECT_EQ(dossier().map->matrix.chords.back(), (std::vector<std::string>{"note", "coin"}));
    enter(view.walk(), "SPARE R5 C4 diode");
    EXPECT_TRUE(key("spare").diode);
    enter(view.walk(), "SPARE R5");
    EXPECT_THAT(view.walk().problem().toStdString(), testing::HasSubstr("a row, a column"));
}

TEST_F(MapStage, TheMatrixIsTakenFromTheWalkAndBudgetsGoToTiming) {
    auto bare = *dossier().map;
    for (auto& k : bare.keys) k.row = k.column = "";
    bare.matrix.rows.clear();
    bare.matrix.columns.clear();
    const auto want = *dossier().map;
    window->document().apply("bare", put(dossier(), bare));
    settle();
    page().show_view("matrix");
    settle();
    auto& view = page().matrix_view();
    ASSERT_TRUE(view.recording().isVisible());
    view.recording().menu()->actions().front()->trigger();
    settle();
    // ENTER and STOP are pressed twice under one name: which of them closes what can't be told from their
    // names.
    EXPECT_EQ(key("7").row, want.find_key("7")->row);
    EXPECT_EQ(key("7").column, want.find_key("7")->column);
    view.budgets().click();
    settle();
    ASSERT_NE(dossier().timing->find_budget("map-latency"), nullptr);
    ASSERT_NE(dossier().timing->find_budget("map-queue"), nullptr);
    view.numbers().type(0, 1, "120");
    settle();
    EXPECT_EQ(window->document().analysis().map->matrix->numbers.foil_ohm, 120);
    EXPECT_EQ(dossier().map->matrix.numbers.back().value.evidence.kind, EvidenceKind::measured)
        << "it stays as it was";
    view.numbers().type(2, 1, "150 pF");
    settle();
    EXPECT_EQ(dossier().map->matrix.numbers.back().value.evidence.kind, EvidenceKind::assumed)
        << "typed is not measured";
    view.numbers().type(2, 2, "measured");
    settle();
    EXPECT_EQ(dossier().map->matrix.numbers.back().value.evidence.kind, EvidenceKind::measured);
    view.numbers().type(0, 1, "much");
    settle();
    EXPECT_EQ(window->document().analysis().map->matrix->numbers.foil_ohm, 120);
}

TEST_F(MapStage, ACurveIsMadeTriedAndDrawnOn) {
    page().show_view("movement");
    settle();
    auto& view = page().movement_view();
    view.chooser().add().click();
    settle();
    enter(view.counts_per_step(), "4");
    enter(view.dead(), "10");
    enter(view.limit(), "13");
    EXPECT_EQ(dossier().map->curves.front().limit, 13);
    enter(view.limit(), "many");
    EXPECT_EQ(dossier().map->curves.front().limit, 13);
    view.set_counts({3, 3, -7, 40, 0, 0, 0}, "by hand");
    settle();
    EXPECT_THAT(view.says().toStdString(), testing::HasSubstr("7 polls: 9.8 steps wished, 9.0 moved"));
    auto& plot = view.plot();
    QTest::mousePress(&plot, Qt::LeftButton, Qt::NoModifier, {80, 60});
    for (int x = 82; x < 160; x += 6) QTest::mouseMove(&plot, {x, 60}, 4);
    QTest::mouseRelease(&plot, Qt::LeftButton, Qt::NoModifier, {160, 60});
    settle();
    EXPECT_EQ(view.counts_name(), "drawn here");
    test::write_file(folder / "curve.csv", "out,speed\n8,0\n20,4\n60,31\n");
    drop({path("curve.csv")});
    settle();
    EXPECT_EQ(dossier().map->curves.front().table.size(), 3U);
    EXPECT_EQ(dossier().map->curves.front().evidence.kind, EvidenceKind::documented)
        << "a file is no measurement";
}

TEST_F(MapStage, TablesAreWrittenAndAnEditedCopyTakenOver) {
    page().show_view("tables");
    settle();
    auto& view = page().tables_view();
    EXPECT_THAT(view.text().toPlainText().toStdString(),
                testing::HasSubstr("Calder_counter_keypad_map_self_test"));
    view.kind().setCurrentIndex(view.kind().findData("csv"));
    settle();
    EXPECT_THAT(view.write_to(path("map.csv")).toStdString(), testing::HasSubstr("Written"));
    auto text = test::read_file(folder / "map.csv");
    text.replace(text.find("key:f1,"), 7, "key:f9,");
    test::write_file(folder / "edited.csv", text);
    drop({path("edited.csv")});
    settle();
    EXPECT_EQ(page().view(), "tables");
    ASSERT_EQ(view.changes().row_count(), 1);
    view.take().click();
    settle();
    EXPECT_EQ(key("f1").meaning, "key:f9");
    EXPECT_EQ(view.changes().row_count(), 0);
    EXPECT_THAT(view.write_to("/nonexistent/map.h").toStdString(),
                testing::Not(testing::HasSubstr("Written")));
}

TEST_F(MapStage, ProbedLinesBecomeRowsAndColumns) {
    window->document().apply("bare", put(dossier(), DeviceMap{}));
    settle();
    test::write_file(folder / "probes.csv", "key,a,b\n7,P1,P4\n8,P5,P1\n4,P2,P4\n5,P2,P5\n0,P3,P4\n");
    drop({path("probes.csv")});
    settle();
    EXPECT_EQ(page().view(), "matrix");
    EXPECT_EQ(dossier().map->matrix.rows, (std::vector<std::string>{"P4", "P5"}))
        << "the shorter side is strobed";
    EXPECT_EQ(dossier().map->matrix.columns, (std::vector<std::string>{"P1", "P2", "P3"}));
    EXPECT_EQ(key("7").row, "P4");
    test::write_file(folder / "ring.csv", "key,a,b\nx,1,2\ny,2,3\nz,3,1\n");
    drop({path("ring.csv")});
    settle();
    EXPECT_THAT(page().message().toStdString(), testing::HasSubstr("No rows and columns fit"));
    EXPECT_EQ(dossier().map->keys.size(), 5U);
}

TEST_F(MapStage, BitsOfARecordingBecomeControlsAndShiftedCodesAreTyped) {
    open_demo();
    window->document().apply("bare", put(dossier(), DeviceMap{}));
    settle();
    window->show_stage(Stage::map);
    settle();
    auto& view = device();
    ASSERT_TRUE(view.recording().isVisible() || !view.recording().menu()->isEmpty());
    view.recording().menu()->actions().front()->trigger();
    settle();
    EXPECT_EQ(key("a").code.value, "bit a");
    EXPECT_EQ(dossier().map->keys.back().code.value, "bits 9..0");
    view.select("a");
    settle();
    enter(view.panel().shifted(), "shift 0x5C text:&");
    ASSERT_EQ(key("a").shifted.size(), 1U);
    enter(view.panel().shifted(), "shift");
    EXPECT_THAT(view.panel().shifted().problem().toStdString(), testing::HasSubstr("a modifier, a code"));
}

}  // namespace
}  // namespace grayrelic::app
