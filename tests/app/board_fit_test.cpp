// SPDX-License-Identifier: GPL-3.0-or-later
// Board's Fit and Order as a person uses them: heights typed in one line, the verdict and its section, tiers,
// what was sent.
#include "app/stages/board/board_page.hpp"
#include "tests/app/window_fixture.hpp"
#include "tests/unseen/fab_boards.hpp"

#include <QPushButton>

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

}  // namespace
}  // namespace grayrelic::app
