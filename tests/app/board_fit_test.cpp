// SPDX-License-Identifier: GPL-3.0-or-later
// Board's Fit and Order as a person uses them: heights typed in one line, the verdict and its section, tiers,
// what was sent.
#include "app/stages/board/board_page.hpp"
#include "tests/app/window_fixture.hpp"
#include "tests/unseen/fab_boards.hpp"

#include <QPushButton>

#include <algorithm>
#include <set>

namespace grayrelic::app {
namespace {

class BoardFitStage : public WindowTest {
  protected:
    void SetUp() override {
        WindowTest::SetUp();
        window->show_stage(Stage::board);
        settle();
    }
    BoardPage& page() { return window->page<BoardPage>(); }
    void type(Field& field, const QString& text) {
        field.setFocus();
        field.selectAll();
        QTest::keyClicks(&field, text);
        QTest::keyClick(&field, Qt::Key_Return);
        settle();
    }
    static QPushButton* find_button(QWidget* in, const char* text) {
        for (auto* b : in->findChildren<QPushButton*>())
            if (b->text() == QLatin1String(text)) return b;
        return nullptr;
    }
    const Fabrication& board() { return dossier().boards->front(); }
};

TEST_F(BoardFitStage, HeightsAreTypedFromAnEmptyWindowAndJudged) {
    window->files().make_new();
    settle();
    window->show_stage(Stage::board);
    auto* begin = find_button(&page(), "Begin with what has to fit");
    ASSERT_NE(begin, nullptr);
    begin->click();
    settle();
    EXPECT_EQ(page().view(), "fit");
    auto& view = page().fit_view();
    type(view.entry(), QStringLiteral("+ lid to board 12.0 ± 0.3 measured caliper"));
    ASSERT_EQ(board().fits.size(), 1U);
    EXPECT_THAT(view.says().toStdString(), testing::HasSubstr("can't be told"));
    type(view.entry(), QStringLiteral("- module 11.5 ± 0.4"));
    // Plan has both as dimensions, for whoever else needs them.
    ASSERT_EQ(dossier().dimensions->size(), 2U);
    EXPECT_EQ(dossier().dimensions->front().mm.evidence.source, "caliper");
    // 12.0 − 11.5 = 0.5; at the least 11.7 − 11.9 = −0.2
    EXPECT_EQ(view.fits().text(0, 1), "0.50");
    EXPECT_EQ(view.fits().text(0, 2), QStringLiteral("−0.20"));
    std::set<std::string> ids;
    for (const auto& f : window->document().analysis().findings) ids.insert(f.id);
    EXPECT_EQ(ids.count("fits-barely"), 1U);
    EXPECT_EQ(ids.count("fit-assumed"), 1U) << "the module was not measured";
    // Measured, it is higher than was thought.
    view.lines().type(1, 2, QStringLiteral("12.3"));
    settle();
    view.lines().type(1, 4, QStringLiteral("measured"));
    settle();
    EXPECT_EQ(view.fits().text(0, 1), QStringLiteral("−0.30"));
    bool stops = false;
    for (const auto& f : window->document().analysis().findings) {
        stops = stops || (f.id == "does-not-fit" && f.severity == Severity::stop);
        if (f.id == "does-not-fit") page().show_place(f.place);
    }
    EXPECT_TRUE(stops);
    EXPECT_EQ(view.fits().chosen(), 0);
    EXPECT_FALSE(view.section().drawing().areas.empty());
    // Wrong lines are said and stay.
    type(view.entry(), QStringLiteral("lid 12"));
    EXPECT_THAT(view.entry().problem().toStdString(), testing::HasSubstr("+ for what gives room"));
    type(view.entry(), QStringLiteral("+ module 3"));
    EXPECT_THAT(view.entry().problem().toStdString(), testing::HasSubstr("already"));
    for (int i = 0; i < 3; ++i) trigger("edit.undo");
    settle();
    EXPECT_EQ(view.lines().row_count(), 1);
}

TEST_F(BoardFitStage, TiersAreTypedAndTheOrderIsNotedWithItsHash) {
    const auto made = ::unseen::fab_board(5, {0, 0, false});
    std::filesystem::create_directories(folder / "fab");
    for (const auto& [name, text] : made.files) test::write_file(folder / "fab" / name, text);
    window->files().drop({path("fab")});
    settle();
    page().show_view("order");
    settle();
    auto& view = page().order_view();
    EXPECT_FALSE(view.ordered().isEnabled());
    type(view.entry(), QStringLiteral("10 14 4"));
    type(view.entry(), QStringLiteral("5 9 4"));
    type(view.want(), QStringLiteral("3"));
    type(view.yield(), QStringLiteral("80 %"));
    type(view.respin(), QStringLiteral("25 %"));
    ASSERT_EQ(view.tiers().row_count(), 2);
    EXPECT_EQ(view.tiers().text(0, 3), "16.25");  // 13 × 1.25
    EXPECT_EQ(view.tiers().text(0, 4), "4.0");
    EXPECT_EQ(view.tiers().text(0, 6), "4.06");
    EXPECT_THAT(view.says().toStdString(), testing::HasSubstr("order 5: 3 working with a chance of 94 %"));
    type(view.yield(), QStringLiteral("120 %"));
    EXPECT_FALSE(view.yield().problem().isEmpty());
    view.today = [] { return QStringLiteral("2026-11-30"); };
    view.ordered().click();
    settle();
    ASSERT_EQ(dossier().supply->orders.size(), 1U);
    const auto& order = dossier().supply->orders.front();
    EXPECT_EQ(order.lines.front().count, 5);
    EXPECT_EQ(order.ordered, "2026-11-30");
    ASSERT_EQ(order.files.size(), 1U);
    EXPECT_EQ(order.files.front().sha256.size(), 64U);
}

TEST_F(BoardFitStage, TheTemplateIsWrittenAtTrueSize) {
    const auto made = ::unseen::fab_board(7, {0, 0, false});
    std::filesystem::create_directories(folder / "fab");
    for (const auto& [name, text] : made.files) test::write_file(folder / "fab" / name, text);
    window->files().drop({path("fab")});
    settle();
    page().ask_template = [this] { return path("true.svg"); };
    auto* button = find_button(&page(), "1:1");
    ASSERT_NE(button, nullptr);
    button->click();
    settle();
    const auto svg = test::read_file(folder / "true.svg");
    EXPECT_THAT(svg, testing::HasSubstr("width=\"210mm\""));
    EXPECT_THAT(svg, testing::HasSubstr("50 mm long"));
}

/// Two boards that somebody else laid out, over one another: typed by hand, with a wrong line between.
TEST_F(BoardFitStage, BoardsAreLaidOverOneAnotherByTyping) {
    for (const auto& [name, seed] : {std::pair("low", 5U), {"up", 6U}}) {
        const auto made = ::unseen::fab_board(seed, {0, 0, false});
        std::filesystem::create_directories(folder / name);
        for (const auto& [file, text] : made.files) test::write_file(folder / name / file, text);
        window->files().drop({path(name)});
        settle();
    }
    ASSERT_EQ(dossier().boards->size(), 2U);
    page().show_view("together");
    settle();
    auto& view = page().stack_view();
    EXPECT_EQ(view.boards().row_count(), 2);
    EXPECT_EQ(view.boards().text(0, 1), "drawn, not ordered");
    type(view.entry(), QStringLiteral("join low/J1 up/J1"));
    EXPECT_THAT(view.entry().problem().toStdString(), testing::HasSubstr("low is no level of the stack yet"));
    type(view.entry(), QStringLiteral("level attic"));
    EXPECT_THAT(view.entry().problem().toStdString(),
                testing::HasSubstr("attic is no board of the job; there are low, up"));
    type(view.entry(), QStringLiteral("level low"));
    type(view.entry(), QStringLiteral("level up at 5 5"));
    ASSERT_EQ(dossier().stacks->size(), 1U);
    EXPECT_EQ(dossier().stacks->front().levels.size(), 2U);
    EXPECT_EQ(view.levels().text(0, 0), "up") << "the highest stands at the top";
    EXPECT_EQ(view.levels().text(0, 1), "5, 5");
    std::set<std::string> ids;
    const auto gather = [&] {
        ids.clear();
        for (const auto& f : window->document().analysis().findings) ids.insert(f.id);
    };
    gather();
    EXPECT_EQ(ids.count("stack-unknown"), 1U) << "nobody knows the gap";
    view.levels().type(0, 2, QStringLiteral("11"));
    settle();
    gather();
    EXPECT_EQ(ids.count("fit-assumed"), 1U);
    view.levels().type(0, 3, QStringLiteral("measured caliper"));
    settle();
    EXPECT_EQ(dossier().stacks->front().levels[1].gap.value, 11.0);
    EXPECT_EQ(dossier().stacks->front().levels[1].gap.evidence.source, "caliper");
    gather();
    EXPECT_EQ(ids.count("fit-assumed"), 0U);
    // A variant of the board that is chosen, used by a level, changed from its row.
    type(view.entry(), QStringLiteral("level up as bare gap 11 measured"));
    EXPECT_THAT(view.entry().problem().toStdString(), testing::HasSubstr("not fitted as bare yet"));
    type(view.entry(), QStringLiteral("variant bare without U1 R1"));
    const auto& with_variant = *std::find_if(dossier().boards->begin(), dossier().boards->end(),
                                             [](const Fabrication& f) { return !f.variants.empty(); });
    EXPECT_EQ(with_variant.variants[0].omit, (std::vector<std::string>{"U1", "R1"}));
    type(view.entry(), to_q("level " + with_variant.id + " as bare"));
    EXPECT_EQ(dossier().stacks->front().find_level(with_variant.id)->variant, "bare");
    EXPECT_FALSE(view.picture().drawing().areas.empty());
    for (const auto& f : window->document().analysis().findings)
        if (f.place.kind == "stack") {
            page().show_place(f.place);
            settle();
            EXPECT_GE(view.troubles().chosen(), 0) << f.place.id;
        }
    // Taken away a row at a time; undo brings all of it back.
    const auto before = *dossier().stacks;
    auto* less = find_button(&view, "Remove");
    view.levels().choose(0);
    less->click();
    settle();
    EXPECT_EQ(dossier().stacks->front().levels.size(), 1U);
    view.levels().choose(0);
    less->click();
    settle();
    EXPECT_TRUE(dossier().stacks->empty());
    trigger("edit.undo");
    trigger("edit.undo");
    settle();
    EXPECT_EQ(*dossier().stacks, before);
}

TEST_F(BoardFitStage, TheSoundTileSaysWhatItsRoleForgot) {
    ASSERT_TRUE(window->files().open(copy_demo("calder-sound-tile")));
    settle();
    window->show_stage(Stage::board);
    page().show_view("together");
    settle();
    auto& view = page().stack_view();
    // The counter of the lone role drives the six colour lines of the module, and its clock is left out.
    EXPECT_THAT(view.says().toStdString(), testing::HasSubstr("2 doubts"));
    bool counter = false, clock = false;
    for (int i = 0; i < view.troubles().row_count(); ++i) {
        const auto text = view.troubles().text(i, 0).toStdString();
        counter = counter ||
                  text.find("test/U2 and tile/M1 can both drive C0, C1, C2, C3, C4, C5") != std::string::npos;
        clock = clock || text.find("test/X1.3 is left out") != std::string::npos;
    }
    EXPECT_TRUE(counter);
    EXPECT_TRUE(clock);
    // Leaving it out too settles both: the variant's line comes by opening its row.
    int variant = -1;
    for (int i = 0; i < view.levels().row_count(); ++i)
        if (view.levels().text(i, 0) == QStringLiteral("ladder as driven")) variant = i;
    ASSERT_GE(variant, 0);
    Q_EMIT view.levels().row_opened(variant);
    EXPECT_EQ(view.entry().text(), "variant driven without X1 with JP1 1-2");
    page().show_place({"board", "ladder/process", {}});
    page().show_view("together");
    settle();
    type(view.entry(), QStringLiteral("variant driven without X1 U2 with JP1 1-2"));
    EXPECT_THAT(view.says().toStdString(), testing::HasSubstr("nothing drives against anything"));
}

TEST_F(BoardFitStage, AnOutlineIsDroppedAndTheBoardLaidIntoIt) {
    const auto made = ::unseen::fab_board(5, {0, 0, false});
    std::filesystem::create_directories(folder / "fab");
    for (const auto& [name, text] : made.files) test::write_file(folder / "fab" / name, text);
    window->files().drop({path("fab")});
    settle();
    const auto room = [](double w, double h) {
        return "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"" + std::to_string(w) + "mm\" height=\"" +
               std::to_string(h) + "mm\" viewBox=\"0 0 " + std::to_string(w) + " " + std::to_string(h) +
               "\"><path d=\"M0 0H" + std::to_string(w) + "V" + std::to_string(h) + "H0Z\"/></svg>";
    };
    test::write_file(folder / "case.svg", room(made.width_mm + 2, made.height_mm + 3));
    test::write_file(folder / "tight.svg", room(made.width_mm - 4, made.height_mm + 3));
    test::write_file(folder / "open.svg",
                     "<svg xmlns=\"http://www.w3.org/2000/svg\"><path d=\"M0 0H50V20\"/></svg>");
    for (const char* name : {"case.svg", "tight.svg", "open.svg"}) {
        window->files().drop({path(name)});
        settle();
    }
    auto& view = page().fit_view();
    EXPECT_EQ(page().view(), "fit");
    ASSERT_EQ(dossier().boards->front().outlines.size(), 3U);
    ASSERT_EQ(view.fits().row_count(), 3);
    EXPECT_EQ(view.fits().text(0, 0), "Inside case");
    EXPECT_EQ(view.fits().text(0, 1), "1.00");  // half of 2 mm, on each side
    EXPECT_EQ(view.fits().text(1, 1), QStringLiteral("−2.00"));
    EXPECT_EQ(view.fits().text(2, 1), "");
    EXPECT_EQ(view.section().drawing().areas.size(), 2U) << "the first case, as there are no heights";
    view.fits().choose(1);
    settle();
    EXPECT_EQ(view.section().drawing().areas.size(), 2U);
    int stops = 0, unknown = 0;
    for (const auto& f : window->document().analysis().findings) {
        stops += f.id == "does-not-fit" ? 1 : 0;
        unknown += f.id == "fit-unknown" && f.why.find("without going on") != std::string::npos ? 1 : 0;
    }
    EXPECT_EQ(stops, 1);
    EXPECT_EQ(unknown, 1);
    // Saved, the drawings lie in the dossier's folder.
    window->files().ask_save_folder = [this] { return path("kept.relic"); };
    ASSERT_TRUE(window->files().save());
    settle();
    EXPECT_FALSE(dossier().boards->front().outlines[0].file.empty());
    EXPECT_TRUE(
        std::filesystem::exists(window->document().folder() / dossier().boards->front().outlines[0].file));
}

TEST_F(BoardFitStage, ExtrasAndStockStandBesideTheTiers) {
    window->files().make_new();
    settle();
    window->show_stage(Stage::board);
    page().show_view("order");
    settle();
    find_button(&page(), "Begin with what has to fit")->click();
    settle();
    page().show_view("order");
    settle();
    auto& view = page().order_view();
    type(view.yield(), QStringLiteral("100 %"));
    for (const char* line :
         {"5 10 4", "5 20 4 200x200", "extra slots 6", "useless 3 boards of revision 1 2.50"})
        type(view.entry(), QString::fromUtf8(line));
    EXPECT_EQ(view.tiers().row_count(), 2);
    EXPECT_EQ(view.tiers().text(0, 3), "20.00");  // 10 + 4 + 6
    ASSERT_EQ(view.extras().row_count(), 2);
    EXPECT_EQ(view.extras().text(1, 1), "7.50");
    EXPECT_THAT(view.says().toStdString(), testing::HasSubstr("stock worth 7.50 becomes useless"));
    type(view.entry(), QStringLiteral("extra slots"));
    EXPECT_FALSE(view.entry().problem().isEmpty());
    view.extras().choose(0);
    view.remove();
    settle();
    EXPECT_EQ(view.tiers().text(0, 3), "14.00");
    view.tiers().choose(1);
    view.remove();
    settle();
    EXPECT_EQ(view.tiers().row_count(), 1);
}

}  // namespace
}  // namespace grayrelic::app
