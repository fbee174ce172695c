// SPDX-License-Identifier: GPL-3.0-or-later
#include <QMenuBar>
#include <QPushButton>
#include <QScrollArea>
#include <QTimer>

#include <set>
#include "app/shell/help_dialog.hpp"
#include "app/shell/screenshots.hpp"

#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {
namespace {

class Shell : public WindowTest {};

TEST_F(Shell, AnEmptyWindowSaysWhatToBring) {
    EXPECT_EQ(window->windowTitle(), "Gray Relic");
    EXPECT_EQ(window->rail().stages().size(), 10);
    for (const auto& [stage, button] : window->rail().stages()) EXPECT_EQ(button->line(), "not started");
    EXPECT_FALSE(window->actions().find("file.save")->isEnabled());
    EXPECT_TRUE(window->findings().cards().isEmpty());
}

TEST_F(Shell, EveryEmptyScreenOffersTheExample) {
    for (const auto* page : window->pages()) {
        window->show_stage(page->stage());
        QPushButton* example = nullptr;
        for (auto* b : window->findChildren<QPushButton*>())
            if (b->isVisible() && b->text() == "Open the shipped example") example = b;
        ASSERT_NE(example, nullptr) << word(page->stage());
        EXPECT_TRUE(example->isEnabled());
        if (page != window->pages().back()) continue;
        QTest::mouseClick(example, Qt::LeftButton);
        settle();
        EXPECT_EQ(dossier().about->name, "Calder dial pad");
    }
}

TEST_F(Shell, OpensTheDemoAndShowsItsState) {
    open_demo();
    EXPECT_EQ(window->windowTitle(), "Calder dial pad · Gray Relic");
    const auto at = [this](Stage stage) { return &window->rail().stage(stage); };
    EXPECT_EQ(at(Stage::port)->line(), "13 of 13 pins known");
    EXPECT_EQ(at(Stage::listen)->line(), "10 captures · 10 read");
    EXPECT_EQ(at(Stage::timing)->line(), "chosen option holds");
    EXPECT_EQ(at(Stage::port)->verdict(), Verdict::holds);
    EXPECT_EQ(at(Stage::listen)->verdict(), Verdict::doubt);
    EXPECT_EQ(at(Stage::timing)->verdict(), Verdict::doubt);
    EXPECT_THAT(at(Stage::timing)->accessibleName().toStdString(), testing::HasSubstr("chosen option holds"));
}

TEST_F(Shell, StagesAreReachedByMouseAndKeys) {
    open_demo();
    QTest::mouseClick(&window->rail().stage(Stage::port), Qt::LeftButton);
    EXPECT_EQ(window->stage(), Stage::port);
    QTest::keyClick(window.get(), Qt::Key_4, Qt::ControlModifier);
    EXPECT_EQ(window->stage(), Stage::timing);
    QTest::keyClick(window.get(), Qt::Key_3, Qt::ControlModifier);
    EXPECT_EQ(window->stage(), Stage::listen);
    QTest::keyClick(window.get(), Qt::Key_2, Qt::ControlModifier);
    EXPECT_EQ(window->stage(), Stage::trace);
    QTest::keyClick(window.get(), Qt::Key_0, Qt::ControlModifier);
    EXPECT_EQ(window->stage(), Stage::plan);
    QTest::keyClick(window.get(), Qt::Key_1, Qt::ControlModifier);
    EXPECT_EQ(window->stage(), Stage::port);
    EXPECT_TRUE(window->rail().stage(Stage::port).isChecked());
}

TEST_F(Shell, FindingsAreThoseOfTheStageOrAll) {
    open_demo();
    window->show_stage(Stage::timing);
    EXPECT_EQ(window->findings().cards().size(), 4);
    EXPECT_EQ(window->findings().summary(), "this stage · 2 doubts · 2 notes");
    QTest::keyClick(window.get(), Qt::Key_F7);
    EXPECT_EQ(window->findings().cards().size(), 17);
    EXPECT_EQ(window->findings().summary(), "all stages · 11 doubts · 6 notes");
}

TEST_F(Shell, F8WalksTheFindingsAndOpensTheirPlaces) {
    open_demo();
    QTest::keyClick(window.get(), Qt::Key_F7);
    std::set<Stage> stages;
    for (int i = 0; i < 7; ++i) {
        QTest::keyClick(window.get(), Qt::Key_F8);
        stages.insert(window->stage());
    }
    EXPECT_EQ(stages.size(), 5U) << "the findings lead through all stages that have some";
    const auto last = window->stage();
    QTest::keyClick(window.get(), Qt::Key_F8, Qt::ShiftModifier);
    QTest::keyClick(window.get(), Qt::Key_F8);
    EXPECT_EQ(window->stage(), last);
}

TEST_F(Shell, AFindingLeadsToItsMoment) {
    open_demo();
    window->show_stage(Stage::listen);
    QTest::mouseClick(window->findings().cards()[0], Qt::LeftButton);
    settle();
    EXPECT_EQ(window->page<ListenPage>().choice().currentText(), "Button e held");
    EXPECT_TRUE(window->page<ListenPage>().waves().cursors().a);
}

TEST_F(Shell, UndoAndRedoRunThroughTheWholeHistory) {
    open_demo();
    const auto before = dossier();
    window->show_stage(Stage::timing);
    type_into(window->page<TimingPage>().card("interrupt-firmware")->field("work"), "1us");
    QTest::mouseClick(window->page<TimingPage>().card("interrupt-firmware")->choose_button(), Qt::LeftButton);
    settle();
    const auto after = dossier();
    EXPECT_EQ(window->windowTitle(), "Calder dial pad * · Gray Relic");
    EXPECT_THAT(window->actions().find("edit.undo")->text().toStdString(),
                testing::HasSubstr("choose Interrupt firmware"));
    trigger("edit.undo");
    trigger("edit.undo");
    EXPECT_EQ(dossier(), before);
    EXPECT_EQ(window->windowTitle(), "Calder dial pad · Gray Relic");
    EXPECT_FALSE(window->actions().find("edit.undo")->isEnabled());
    trigger("edit.redo");
    trigger("edit.redo");
    EXPECT_EQ(dossier(), after);
}

TEST_F(Shell, CtrlZInAFieldUndoesTypingFirstThenTheDossier) {
    open_demo();
    window->show_stage(Stage::timing);
    auto* work = window->page<TimingPage>().card("interrupt-firmware")->field("work");
    type_into(work, "1us");
    EXPECT_EQ(work->text(), "1 µs");
    work->setFocus();
    QTest::keyClicks(work, "9");
    QTest::keyClick(work, Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(work->text(), "1 µs") << "the typing is undone";
    EXPECT_TRUE(window->document().is_modified());
    QTest::keyClick(work, Qt::Key_Escape);
    QTest::keyClick(work, Qt::Key_Z, Qt::ControlModifier);
    settle();
    EXPECT_FALSE(window->document().is_modified()) << "then the edit";
    EXPECT_EQ(work->text(), "1.9 µs");
}

TEST_F(Shell, HelpListsEveryShortcut) {
    HelpDialog dialog(window->actions(), window.get());
    QStringList shown;
    for (auto* l : dialog.findChildren<QLabel*>()) shown << l->text();
    int keys = 0;
    for (const auto& e : window->actions().entries())
        for (const auto& k : e.action->shortcuts()) {
            ++keys;
            EXPECT_FALSE(shown.filter(k.toString(QKeySequence::NativeText)).isEmpty()) << e.id.toStdString();
        }
    EXPECT_GE(keys, 17);
    // Keys of the views come from the views' own actions: all of them, whoever added them.
    std::set<QString> lines;
    for (const auto& line : window->actions().shortcuts()) {
        lines.insert(line.group + "/" + line.text);
        EXPECT_TRUE(shown.contains(line.text) && shown.contains(line.keys)) << line.text.toStdString();
    }
    for (auto* page : window->pages()) {
        int of_page = 0;
        for (auto* w : page->findChildren<QWidget*>() + QList<QWidget*>{page})
            for (const auto* a : w->actions()) {
                if (a->shortcuts().isEmpty()) continue;
                ++of_page;
                EXPECT_TRUE(lines.contains(a->data().toString() + "/" + a->text()))
                    << word(page->stage()) << ": " << a->text().toStdString();
            }
        EXPECT_GE(of_page, page->views().size()) << word(page->stage()) << ": Alt and a digit for each view";
    }
    QTimer::singleShot(50, [] {
        if (auto* d = qobject_cast<QDialog*>(QApplication::activeModalWidget())) d->accept();
    });
    QTest::keyClick(window.get(), Qt::Key_F1);
}

TEST_F(Shell, NoTwoActionsShareAShortcut) {
    QMap<QString, QString> seen;
    for (const auto& e : window->actions().entries())
        for (const auto& k : e.action->shortcuts()) {
            EXPECT_FALSE(seen.contains(k.toString())) << k.toString().toStdString();
            seen[k.toString()] = e.id;
        }
}

TEST_F(Shell, EveryActionIsInAMenu) {
    QSet<QAction*> in_menus;
    for (auto* top : window->menuBar()->actions())
        for (auto* a : top->menu()->actions()) in_menus.insert(a);
    for (const auto& e : window->actions().entries())
        EXPECT_TRUE(in_menus.contains(e.action)) << e.id.toStdString();
}

TEST_F(Shell, TheDarkThemeIsRemembered) {
    open_demo();
    QTest::keyClick(window.get(), Qt::Key_D, Qt::ControlModifier);
    EXPECT_TRUE(theme().dark);
    EXPECT_TRUE(QSettings().value("dark").toBool());
    QTest::keyClick(window.get(), Qt::Key_D, Qt::ControlModifier);
    EXPECT_FALSE(theme().dark);
}

/// WCAG 2.1 contrast ratio.
double contrast(const QColor& a, const QColor& b) {
    const auto luminance = [](const QColor& c) {
        const auto channel = [](double v) {
            return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
        };
        return 0.2126 * channel(c.redF()) + 0.7152 * channel(c.greenF()) + 0.0722 * channel(c.blueF());
    };
    const double x = luminance(a);
    const double y = luminance(b);
    return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

TEST_F(Shell, TextHasContrastOnEverySurfaceInBothThemes) {
    for (const bool dark : {false, true}) {
        apply_theme(*qApp, dark);
        const auto& t = theme();
        for (const auto& surface : {t.bench, t.rail, t.panel, t.sheet, t.selection})
            for (const auto& text : {t.ink, t.ink2})
                EXPECT_GE(contrast(text, surface), 4.5)
                    << text.name().toStdString() << " on " << surface.name().toStdString();
        for (const auto& text : {t.umber, t.slate, t.oxide})
            EXPECT_GE(contrast(text, t.sheet), 4.5) << text.name().toStdString();
    }
}

TEST_F(Shell, EveryControlHasAName) {
    open_demo();
    for (auto* page : window->pages())
        for (const auto& view : page->views()) {
            window->show_stage(page->stage());
            page->show_view(view.id);
            settle();
            for (auto* w : window->findChildren<QWidget*>()) {
                if (!w->isVisible() || (w->focusPolicy() & Qt::TabFocus) == 0 ||
                    qobject_cast<QScrollArea*>(w) != nullptr)
                    continue;
                if (w->objectName().startsWith("qt_") || w->inherits("QComboBoxListView")) continue;
                const auto* button = qobject_cast<QAbstractButton*>(w);
                const bool named =
                    !w->accessibleName().isEmpty() || (button != nullptr && !button->text().isEmpty());
                EXPECT_TRUE(named) << w->metaObject()->className() << " in " << word(page->stage()) << " "
                                   << view.id.toStdString();
            }
        }
}

/// Tab goes through all that can be reached in a view and comes back; nothing holds it.
TEST_F(Shell, TabGoesRoundInEveryView) {
    open_demo();
    for (auto* page : window->pages())
        for (const auto& view : page->views()) {
            window->show_stage(page->stage());
            page->show_view(view.id);
            settle();
            page->begin();
            std::set<QWidget*> met;
            QWidget* first = QApplication::focusWidget();
            ASSERT_NE(first, nullptr);
            constexpr int most = 400;
            int steps = 0;
            for (; steps < most; ++steps) {
                auto* now = QApplication::focusWidget();
                ASSERT_NE(now, nullptr) << view.id.toStdString();
                if (!met.insert(now).second) break;
                EXPECT_TRUE(now->isVisible() && now->isEnabled());
                QTest::keyClick(now, Qt::Key_Tab);
            }
            EXPECT_LT(steps, most);
            int reachable = 0;
            for (auto* w : page->findChildren<QWidget*>())
                if (w->isVisible() && w->isEnabled() && (w->focusPolicy() & Qt::TabFocus) != 0 &&
                    w->focusProxy() == nullptr && qobject_cast<QScrollArea*>(w) == nullptr &&
                    !w->visibleRegion().isEmpty()) {
                    ++reachable;
                    EXPECT_TRUE(met.contains(w))
                        << word(page->stage()) << " " << view.id.toStdString() << ": "
                        << w->metaObject()->className() << " " << w->accessibleName().toStdString();
                }
            EXPECT_GE(reachable, 1);
        }
}

/// What a field refuses it says beside itself, for as long as the wrong text stands there.
TEST_F(Shell, ARefusedFieldSaysWhyBesideIt) {
    open_demo();
    window->show_stage(Stage::timing);
    settle();
    auto* work = window->page<TimingPage>().card("interrupt-firmware")->field("work");
    work->setFocus();
    work->selectAll();
    QTest::keyClicks(work, "soon");
    QTest::keyClick(work, Qt::Key_Return);
    ASSERT_NE(work->note(), nullptr);
    EXPECT_TRUE(work->note()->isVisible());
    EXPECT_EQ(work->note()->text(), work->problem());
    EXPECT_THAT(work->note()->text().toStdString(), testing::HasSubstr("xpected"));
    const QRect note(work->note()->mapToGlobal(QPoint()), work->note()->size());
    const QRect field(work->mapToGlobal(QPoint()), work->size());
    EXPECT_FALSE(note.intersects(field));
    EXPECT_LE(std::abs(note.top() - field.bottom()), 4);
    EXPECT_EQ(work->accessibleDescription(), work->problem());
    // Another stage takes it away with the field, Escape for good.
    window->show_stage(Stage::listen);
    EXPECT_FALSE(work->note()->isVisible());
    window->show_stage(Stage::timing);
    work->setFocus();
    QTest::keyClick(work, Qt::Key_Escape);
    EXPECT_EQ(work->note(), nullptr);
}

TEST_F(Shell, PicturesAreWrittenForEveryViewInBothThemes) {
    open_demo();
    EXPECT_EQ(write_screenshots(*window, path("shots"), {false, true, {1280, 800}}), "");
    for (const auto* page : window->pages())
        for (const auto& view : page->views())
            for (const char* theme : {"light", "dark"}) {
                const auto name =
                    QStringLiteral("%1/%2-%3-%4.png")
                        .arg(path("shots"), to_q(word(page->stage())), view.id, QLatin1String(theme));
                EXPECT_EQ(QImage(name).size(), QSize(1280, 800)) << name.toStdString();
            }
    test::write_file(folder / "file", "");
    EXPECT_NE(write_screenshots(*window, path("file/shots"), {}), "");
}

}  // namespace
}  // namespace grayrelic::app
