// SPDX-License-Identifier: GPL-3.0-or-later
// Board as a person uses it: files brought, roles corrected, nets and faces held against what is known, ways
// of making.
#include <fmt/format.h>

#include "app/stages/board/board_page.hpp"
#include "tests/app/window_fixture.hpp"
#include "tests/unseen/fab_boards.hpp"

namespace grayrelic::app {
namespace {

class BoardStage : public WindowTest {
  protected:
    void SetUp() override {
        WindowTest::SetUp();
        window->show_stage(Stage::board);
        settle();
    }
    BoardPage& page() { return window->page<BoardPage>(); }
    /// A board of the generator in a folder of its own.
    QString write_board(std::uint64_t seed, bool faults) {
        ::unseen::FabWish wish;
        wish.faults = faults;
        made = ::unseen::fab_board(seed, wish);
        std::filesystem::create_directories(folder / "fab");
        for (const auto& [name, text] : made.files) test::write_file(folder / "fab" / name, text);
        test::write_file(folder / "pads.csv", made.pads_csv);
        test::write_file(folder / "nets.csv", made.nets_csv);
        return path("fab");
    }
    void bring() {
        window->files().drop({write_board(5, false)});
        settle();
    }
    bool row_with(FactTable& table, int column, const QString& text) {
        for (int i = 0; i < table.row_count(); ++i)
            if (table.text(i, column) == text) {
                table.choose(i);
                return true;
            }
        return false;
    }
    ::unseen::FabBoard made;
};

TEST_F(BoardStage, AnEmptyWindowTakesAFolderThatIsDroppedAndSavesIt) {
    bring();
    ASSERT_EQ(dossier().boards->size(), 1U);
    EXPECT_EQ(window->stage(), Stage::board);
    EXPECT_EQ(page().view(), "files");
    EXPECT_EQ(page().files_view().files().row_count(), 5);
    EXPECT_THAT(page().files_view().says().toStdString(), testing::HasSubstr("mm"));
    EXPECT_TRUE(wait_until([&] { return page().files_view().pane().canvas().painted(); }));
    // Saved, the dossier holds one zip and opens again.
    window->files().ask_save_folder = [this] { return path("mine.relic"); };
    trigger("file.save");
    settle();
    EXPECT_EQ(dossier().boards->front().file, "boards/fab.zip");
    ASSERT_TRUE(window->files().open(path("mine.relic")));
    settle();
    window->show_stage(Stage::board);
    settle();
    EXPECT_EQ(page().files_view().files().row_count(), 5);
    trigger("edit.undo");
}

TEST_F(BoardStage, AFolderWithoutLayersIsNobodys) {
    std::filesystem::create_directories(folder / "plain");
    test::write_file(folder / "plain/readme.txt", "nothing");
    window->files().drop({path("plain")});
    settle();
    ASSERT_FALSE(told.isEmpty());
    EXPECT_THAT(told.last().toStdString(), testing::HasSubstr("plain"));
}

TEST_F(BoardStage, ARoleIsCorrectedAndTakenBack) {
    bring();
    auto& view = page().files_view();
    ASSERT_TRUE(row_with(view.files(), 0, "copper-top.gbr"));
    auto& box = view.role();
    box.setCurrentIndex(box.findData("silk-top"));
    Q_EMIT box.activated(box.currentIndex());
    settle();
    EXPECT_EQ(dossier().boards->front().roles.at("copper-top.gbr"), "silk-top");
    ASSERT_TRUE(row_with(view.files(), 0, "copper-top.gbr"));
    EXPECT_EQ(view.files().text(view.files().chosen(), 1), "print, front");
    EXPECT_EQ(view.files().text(view.files().chosen(), 2), "you");
    trigger("edit.undo");
    settle();
    EXPECT_TRUE(dossier().boards->front().roles.empty());
}

TEST_F(BoardStage, PadsAndANetlistShowWhatIsJoinedAndOpen) {
    window->files().drop({write_board(3, true)});
    settle();
    window->files().drop({path("pads.csv")});
    settle();
    EXPECT_EQ(dossier().boards->front().pads.size(), 15U) << made.story;
    EXPECT_EQ(page().view(), "against");
    // The netlist comes by way of Trace, as any other.
    NetSource list;
    list.id = "meant";
    list.name = "What was meant";
    const auto nets = read_net_csv(made.nets_csv, "nets.csv");
    ASSERT_TRUE(nets);
    list.nets = nets->nets;
    window->document().apply("netlist", put(dossier(), list));
    settle();
    auto& view = page().against_view();
    auto& box = view.against();
    box.setCurrentIndex(box.findData("meant"));
    Q_EMIT box.activated(box.currentIndex());
    settle();
    EXPECT_EQ(view.says().toStdString(),
              fmt::format("{} of 5 as What was meant has them; pads from the dossier's table", made.same));
    EXPECT_EQ(window->rail().stage(Stage::board).line(), QString("%1 of 5 nets as meant").arg(made.same));
    std::size_t open = 0;
    for (int i = 0; i < view.nets().row_count(); ++i) open += view.nets().text(i, 1) == "open" ? 1 : 0;
    EXPECT_EQ(open, made.split);
    // A finding leads to its row.
    for (const auto& f : window->document().analysis().findings)
        if (f.id == "board-net-open") {
            page().show_place(f.place);
            break;
        }
    EXPECT_EQ(view.nets().text(view.nets().chosen(), 1), "open");
}

TEST_F(BoardStage, AConnectorIsGivenItsPortAndIsMirrored) {
    bring();
    // IEC 60807: nine contacts into the socket, 2.77 apart, rows 2.84 apart; here as a mirror image.
    std::string pads = "ref,pin,x_mm,y_mm,side\n";
    for (int n = 1; n <= 9; ++n)
        pads += fmt::format("J7,{},{},{},top\n", n, n <= 5 ? (n - 3) * 2.77 : (n - 7.5) * 2.77,
                            n <= 5 ? 1.42 : -1.42);
    test::write_file(folder / "nine.csv", pads);
    window->files().drop({path("nine.csv")});
    settle();
    Port port;
    port.id = "J1";
    port.connector = "dsub-9";
    port.half = Half::plug;
    window->document().apply("port", put(dossier(), port));
    settle();
    auto& view = page().against_view();
    ASSERT_TRUE(row_with(view.faces(), 0, "J7"));
    auto& box = view.port();
    box.setCurrentIndex(box.findData("J1"));
    Q_EMIT box.activated(box.currentIndex());
    settle();
    ASSERT_TRUE(row_with(view.faces(), 0, "J7"));
    EXPECT_EQ(view.faces().text(view.faces().chosen(), 2), "mirrored");
    EXPECT_FALSE(view.picture().drawing().circles.empty()) << "a picture shows why";
    const auto& findings = window->document().analysis().findings;
    EXPECT_TRUE(std::any_of(findings.begin(), findings.end(), [](const Finding& f) {
        return f.id == "face-mirrored" && f.severity == Severity::stop;
    }));
    // As the plug it is right.
    auto& half = view.half();
    half.setCurrentIndex(half.findData("plug"));
    Q_EMIT half.activated(half.currentIndex());
    settle();
    ASSERT_TRUE(row_with(view.faces(), 0, "J7"));
    EXPECT_EQ(view.faces().text(view.faces().chosen(), 2), "as drawn");
}

TEST_F(BoardStage, AWayOfMakingJudgesAndLeadsToThePlace) {
    bring();
    page().show_view("making");
    settle();
    auto& view = page().making_view();
    auto& box = view.process();
    box.setCurrentIndex(box.findData("home-toner"));
    Q_EMIT box.activated(box.currentIndex());
    settle();
    EXPECT_GT(view.places().row_count(), 0);
    EXPECT_THAT(view.to_do().toStdString(), testing::HasSubstr("wire through each"));
    view.places().choose(0);
    const auto& v = window->document().analysis();
    EXPECT_FALSE(v.findings.empty());
    box.setCurrentIndex(box.findData("house-basic"));
    Q_EMIT box.activated(box.currentIndex());
    settle();
    EXPECT_EQ(view.places().row_count(), 0);
    EXPECT_THAT(view.says().toStdString(), testing::HasSubstr("can be made as it is"));
}

TEST_F(BoardStage, PointingTellsWhatLiesThereAndTheBackIsAMirrorImage) {
    bring();
    window->files().drop({path("pads.csv")});
    settle();
    page().show_view("files");
    settle();
    auto& canvas = page().files_view().pane().canvas();
    const auto& pad = dossier().boards->front().pads.front();
    const BoardXY at{from_mm(pad.x_mm), from_mm(pad.y_mm)};
    const auto says = canvas.said_of(canvas.to_widget(at));
    EXPECT_THAT(says.toStdString(), testing::HasSubstr(pad.ref + "." + pad.pin));
    EXPECT_THAT(says.toStdString(), testing::HasSubstr("plated hole 0.80 mm"));
    const auto before = canvas.to_widget(at);
    page().files_view().pane().back().click();
    EXPECT_NEAR(canvas.to_widget(at).x(), canvas.width() - before.x(), 2.0);
    QTest::mouseClick(&canvas, Qt::LeftButton, Qt::NoModifier, canvas.to_widget(at).toPoint());
    EXPECT_TRUE(wait_until([&] { return canvas.painted(); }));
}

/// IEC 60807: nine contacts, 2.77 apart, rows 2.84 apart, as one looks into the socket; or as a mirror image.
std::string nine_flashes(bool mirrored) {
    std::string out = "%FSLAX33Y33*%\n%MOMM*%\n%ADD10C,1.5*%\nD10*\n";
    for (int n = 1; n <= 9; ++n) {
        const double x = n <= 5 ? (3 - n) * 2.77 : (7.5 - n) * 2.77;
        out += fmt::format("X{}Y{}D03*\n", std::lround((20 + (mirrored ? -x : x)) * 1000),
                           std::lround((15 + (n <= 5 ? 1.42 : -1.42)) * 1000));
    }
    return out + "X40000Y30000D03*\nX0Y0D03*\nM02*\n";
}

TEST_F(BoardStage, APadThatIsPointedAtNamesItsConnector) {
    std::filesystem::create_directories(folder / "nine");
    test::write_file(folder / "nine/copper-top.gbr", nine_flashes(false));
    window->files().drop({path("nine")});
    settle();
    page().show_view("against");
    settle();
    auto& pane = page().against_view().pane();
    EXPECT_FALSE(pane.naming()->isEnabled());
    const BoardXY one{from_mm(20 + 2 * 2.77), from_mm(15 + 1.42)};
    QTest::mouseClick(&pane.canvas(), Qt::LeftButton, Qt::NoModifier, pane.canvas().to_widget(one).toPoint());
    ASSERT_TRUE(pane.naming()->isEnabled());
    const auto type = [&](const char* text) {
        pane.naming()->setFocus();
        pane.naming()->selectAll();
        QTest::keyClicks(pane.naming(), text);
        QTest::keyClick(pane.naming(), Qt::Key_Return);
        settle();
    };
    type("J1");
    EXPECT_THAT(pane.naming()->problem().toStdString(), testing::HasSubstr("a part and its contact"));
    type("J1.1 no-such");
    EXPECT_FALSE(pane.naming()->problem().isEmpty());
    type("J1.1 dsub-9");
    ASSERT_EQ(dossier().boards->front().pads.size(), 9U);
    EXPECT_EQ(dossier().boards->front().connectors.front().connector, "dsub-9");
    ASSERT_TRUE(row_with(page().against_view().faces(), 0, "J1"));
    EXPECT_EQ(page().against_view().faces().text(page().against_view().faces().chosen(), 2), "as drawn");
    trigger("edit.undo");
    settle();
    EXPECT_TRUE(dossier().boards->front().pads.empty());
}

TEST_F(BoardStage, BoardsThatArePushedTogetherAreHeldAgainstEachOther) {
    for (const char* name : {"lower", "upper"}) {
        std::filesystem::create_directories(folder / name);
        test::write_file(folder / name / "copper-top.gbr", nine_flashes(false));
        // Both have contact 1 at the same place of the files: face to face they are mirror images.
        std::string pads = "ref,pin,x_mm,y_mm,side\n";
        for (int n = 1; n <= 9; ++n)
            pads += fmt::format("J1,{},{},{},top\n", n, 20 + (n <= 5 ? (3 - n) * 2.77 : (7.5 - n) * 2.77),
                                15 + (n <= 5 ? 1.42 : -1.42));
        test::write_file(folder / "pads.csv", pads);
        window->files().drop({path(name)});
        settle();
        window->files().drop({path("pads.csv")});
        settle();
    }
    auto& view = page().against_view();
    ASSERT_TRUE(row_with(view.faces(), 0, "J1"));
    ASSERT_TRUE(view.mates().isVisibleTo(&view));
    view.mates().setCurrentIndex(view.mates().findData("lower/J1"));
    Q_EMIT view.mates().activated(view.mates().currentIndex());
    settle();
    EXPECT_EQ(dossier().boards->back().connectors.front().mates, "lower/J1");
    const auto& mates = window->document().analysis().board->mates;
    ASSERT_EQ(mates.size(), 1U);
    EXPECT_EQ(mates[0].face.match.is, FaceIs::mirrored);
    ASSERT_TRUE(row_with(view.faces(), 1, "into lower/J1"));
    EXPECT_EQ(view.faces().text(view.faces().chosen(), 2), "mirrored");
    bool said = false;
    for (const auto& f : window->document().analysis().findings)
        said = said || f.says == "J1 and lower/J1 are mirrored to each other";
    EXPECT_TRUE(said);
}

TEST_F(BoardStage, BrokenFilesAreSaid) {
    write_board(5, false);
    test::write_file(folder / "fab/copper-top.gbr", "%FSLAX33Y33*%\n%MOMM*%\nX1");
    window->files().drop({path("fab")});
    settle();
    ASSERT_TRUE(row_with(page().files_view().files(), 0, "copper-top.gbr"));
    EXPECT_EQ(page().files_view().files().text(page().files_view().files().chosen(), 1), "can't be read");
    test::write_file(folder / "broken.zip", "PK nothing");
    window->files().drop({path("broken.zip")});
    settle();
    ASSERT_EQ(dossier().boards->size(), 2U);
    EXPECT_THAT(page().files_view().says().toStdString(), testing::HasSubstr("zip"));
    test::write_file(folder / "pads.csv", "ref,pin,x_mm,y_mm\nJ1,1,a,0\n");
    window->files().drop({path("pads.csv")});
    settle();
    EXPECT_THAT(page().message().toStdString(), testing::HasSubstr("pads.csv:2"));
}

}  // namespace
}  // namespace grayrelic::app
