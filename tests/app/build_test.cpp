// SPDX-License-Identifier: GPL-3.0-or-later
// Build as a person uses it: parts ticked by keyboard, values read from their bands, joints beeped line by
// line.
#include "app/stages/build/build_page.hpp"
#include "tests/app/window_fixture.hpp"

#include <QLabel>
#include <QPushButton>

#include <algorithm>

namespace grayrelic::app {
namespace {

class BuildStage : public WindowTest {
  protected:
    void SetUp() override {
        WindowTest::SetUp();
        ASSERT_TRUE(window->files().open(copy_demo("calder-sound-tile")));
        settle();
        window->show_stage(Stage::build);
        settle();
        page().assembly().today = [] { return QStringLiteral("2026-12-01"); };
        page().joints().today = page().assembly().today;
    }
    BuildPage& page() { return window->page<BuildPage>(); }
    void type(Field& field, const QString& text) {
        field.setFocus();
        field.selectAll();
        QTest::keyClicks(&field, text);
        QTest::keyClick(&field, Qt::Key_Return);
        settle();
    }
    const UnitBuild& unit(const std::string& id) {
        return *std::find_if(dossier().builds->begin(), dossier().builds->end(),
                             [&](const UnitBuild& b) { return b.id == id; });
    }
    const Finding* finding(const std::string& id) {
        for (const auto& f : window->document().analysis().findings)
            if (f.id == id) return &f;
        return nullptr;
    }
};

TEST_F(BuildStage, ADecadeSlipIsAStopUntilThePartIsRight) {
    const auto* slip = finding("wrong-value");
    ASSERT_NE(slip, nullptr);
    EXPECT_EQ(slip->severity, Severity::stop);
    EXPECT_THAT(slip->says, testing::HasSubstr("R8 on Second tile: ten times what was drawn"));
    page().show_place(slip->place);
    settle();
    EXPECT_EQ(page().units().currentText(), "Second tile");
    auto& view = page().assembly();
    bool shown = false;
    for (int i = 0; i < view.parts().row_count(); ++i)
        shown = shown || (view.parts().text(i, 0) == "R8" && view.parts().text(i, 2).contains("22"));
    EXPECT_TRUE(shown);
    // Read again and measured: it was the other resistor.
    type(view.entry(), QStringLiteral("red red red gold"));
    settle();
    EXPECT_EQ(finding("wrong-value"), nullptr);
    page().show_place({"build", "tile-2/part:R8", {}});
    settle();
    type(view.entry(), QStringLiteral("= 2.61k"));
    ASSERT_NE(finding("wrong-value"), nullptr) << "19 % off";
    EXPECT_EQ(finding("wrong-value")->severity, Severity::doubt);
    type(view.entry(), QStringLiteral("mauve black"));
    EXPECT_FALSE(view.entry().problem().isEmpty());
    for (int i = 0; i < 2; ++i) trigger("edit.undo");
    settle();
    EXPECT_EQ(finding("wrong-value")->severity, Severity::stop);
}

TEST_F(BuildStage, AWholeUnitIsTickedByKeyboard) {
    page().begin_unit();
    settle();
    const auto id = dossier().builds->back().id;
    EXPECT_EQ(page().units().currentData().toString().toStdString(), id);
    auto& view = page().assembly();
    EXPECT_GT(view.steps().row_count(), 4);
    view.steps().setFocus();
    std::vector<std::string> order;
    for (int i = 0; i < 100 && unit(id).fitted.size() < 14; ++i) {
        QTest::keyClick(&view.steps(), Qt::Key_Space);
        settle();
    }
    ASSERT_EQ(unit(id).fitted.size(), 14U)
        << "8 resistors, 2 capacitors, a diode, the module, two connectors";
    // Each part once, in the order of the steps.
    std::set<std::string> once;
    for (const auto& f : unit(id).fitted) {
        EXPECT_TRUE(once.insert(f.ref).second);
        EXPECT_EQ(f.day, "2026-12-01");
    }
    EXPECT_THAT(page().detail().toStdString(), testing::HasSubstr("14 of 14 parts on"));
    trigger("edit.undo");
    settle();
    EXPECT_EQ(unit(id).fitted.size(), 13U);
}

TEST_F(BuildStage, JointsAreBeepedLineByLine) {
    page().show_view("joints");
    settle();
    auto& view = page().joints();
    const int count = view.lines().row_count();
    ASSERT_GT(count, 10);
    view.lines().setFocus();
    view.lines().choose(0);
    const auto readings = dossier().readings->size();
    const auto expected = [&](int row) { return view.lines().text(row, 2) == "beep"; };
    for (int i = 0; i < count; ++i) {
        const int row = view.lines().chosen();
        ASSERT_GE(row, 0);
        // The last line goes wrong.
        const bool beep = i + 1 < count ? expected(row) : !expected(row);
        QTest::keyClick(&view.lines(), beep ? Qt::Key_B : Qt::Key_O);
        settle();
    }
    ASSERT_EQ(dossier().readings->size(), readings + static_cast<std::size_t>(count));
    EXPECT_EQ(dossier().readings->back().unit, page().units().currentData().toString().toStdString());
    EXPECT_THAT(view.says().toStdString(),
                testing::HasSubstr(QString("%1 as they should be, 1 not").arg(count - 1).toStdString()));
    const auto* wrong =
        finding("solder-bridge") != nullptr ? finding("solder-bridge") : finding("joint-open");
    ASSERT_NE(wrong, nullptr);
    EXPECT_EQ(wrong->severity, Severity::stop);
    page().show_view("order");
    page().show_place(wrong->place);
    settle();
    EXPECT_EQ(page().view(), "joints");
    EXPECT_EQ(view.lines().text(view.lines().chosen(), 3).isEmpty(), false);
}

TEST_F(BuildStage, AnEmptyWindowSaysWhatToBring) {
    window->files().ask_save = [] { return FileFlow::Answer::discard; };
    window->files().make_new();
    settle();
    window->show_stage(Stage::build);
    settle();
    EXPECT_FALSE(page().has_content());
    EXPECT_EQ(page().assembly().steps().row_count(), 0);
    QStringList seen;
    for (auto* l : page().findChildren<QLabel*>())
        if (l->isVisible()) seen << l->text();
    EXPECT_TRUE(seen.join(QLatin1Char(' ')).contains("As soon as Wire has a circuit"))
        << seen.join(QLatin1Char('|')).toStdString();
}

}  // namespace
}  // namespace grayrelic::app
