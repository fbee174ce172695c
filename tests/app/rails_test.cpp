// SPDX-License-Identifier: GPL-3.0-or-later
// Rails, Settings, Pins and Compare in the window: begun from the ports, typed, read and written; what is
// wrong is said at its line; findings lead to their place.
#include <QTest>

#include "app/shell/latest.hpp"
#include "app/stages/wire/wire_page.hpp"
#include "core/dossier/store.hpp"
#include "core/wire/wire_analysis.hpp"
#include "tests/app/plan_window.hpp"

namespace grayrelic::app {
namespace {

using testing::HasSubstr;

class RailsWindow : public PlanWindow {
  protected:
    WirePage& wire() { return window->page<WirePage>(); }
    RailsView& rails() { return wire().rails_view(); }
    void show(const char* view) {
        window->show_stage(Stage::wire);
        wire().show_view(QString::fromLatin1(view));
        settle();
    }
    void open_slate() {
        ASSERT_TRUE(window->files().open(copy_demo("calder-chart-slate")));
        settle();
    }
    void begin_port() {
        window->files().make_new();
        Port j1;
        j1.id = "J1";
        Pin p;
        p.number = "1";
        p.name.value = "+12 V";
        p.driver.value = Driver::supply;
        p.volts_min.value = Volts(11.4);
        p.volts_max.value = Volts(12.6);
        p.current_max.value = Amperes(0.5);
        j1.pins.push_back(p);
        window->document().apply(QStringLiteral("a port"), put(dossier(), std::move(j1)));
        settle();
    }
    const RailStudy& study() { return window->document().analysis().wire->rails; }
    void type(const QString& text) {
        rails().text().setPlainText(text);
        rails().commit_text();
        settle();
    }
    std::string cell(FactTable& t, int row, int column) { return t.text(row, column).toStdString(); }
    std::string all_of_table(FactTable& t) {
        std::string out;
        for (int row = 0; row < t.row_count(); ++row)
            for (int c = 0; c < t.column_count(); ++c)
                out += t.text(row, c).toStdString() + (c + 1 == t.column_count() ? "\n" : " | ");
        return out;
    }
};

TEST_F(RailsWindow, BegunFromThePortsAndTyped) {
    begin_port();
    window->show_stage(Stage::wire);
    settle();
    QPushButton* begin = nullptr;
    for (auto* b : wire().findChildren<QPushButton*>())
        if (b->isVisible() && b->text() == "Begin with the rails") begin = b;
    ASSERT_NE(begin, nullptr);
    QTest::mouseClick(begin, Qt::LeftButton);
    settle();
    EXPECT_EQ(wire().view(), "rails");
    EXPECT_THAT(dossier().wire->rails, HasSubstr("source +12_V 12V ±5% relic limit 0.5A"));
    EXPECT_EQ(cell(rails().figures(), 0, 1), "11.4 … 12.6 V");
    EXPECT_EQ(cell(rails().figures(), 0, 3), "500 mA");
    type(to_q(dossier().wire->rails) + "load PAD +12_V 480mA\n");
    // 480 mA of 500 mA: less than a tenth is left.
    EXPECT_THAT(cell(rails().figures(), 0, 4), HasSubstr("less than a tenth"));
    EXPECT_EQ(wire().rail_line(), "rails in doubt");
    window->document().undo_stack().undo();
    settle();
    EXPECT_THAT(rails().text().toPlainText().toStdString(), testing::Not(HasSubstr("PAD")));
}

TEST_F(RailsWindow, WhatIsWrongIsSaidAtItsLineAndKept) {
    begin_port();
    show("rails");
    type("source A 5V\nload L B 3mA\n");
    EXPECT_THAT(rails().problem().toStdString(), HasSubstr("Line 2: found load \"L\" on rail \"B\""));
    type("source A 5V\nload L A three\nflux\n");
    EXPECT_THAT(rails().problem().toStdString(), HasSubstr("Line 3"));
    EXPECT_THAT(dossier().wire->rails, HasSubstr("flux"));
    wire().show_place({"rail", "line 3"});
    EXPECT_EQ(rails().text().textCursor().blockNumber(), 2);
    type("source A 5V\nload L A 3mA in idle 1mA\n");
    EXPECT_EQ(rails().problem(), "");
    EXPECT_EQ(rails().modes().count(), 2);
    rails().modes().setCurrentIndex(1);
    Q_EMIT rails().modes().activated(1);
    EXPECT_EQ(cell(rails().figures(), 0, 2), "1.00 mA");
}

TEST_F(RailsWindow, AFileIsReadAndWritten) {
    begin_port();
    show("rails");
    const auto path = folder / "own.rails";
    test::write_file(path, "source A 5V limit 1A\nload L A 3mA\n");
    EXPECT_FALSE(rails().read_file(to_q(path.string())));
    settle();
    EXPECT_EQ(study().tree.sources.size(), 1U);
    test::write_file(path, "source A 5V limit 1A\nload L X 3mA\n");
    const auto wrong = rails().read_file(to_q(path.string()));
    ASSERT_TRUE(wrong);
    EXPECT_THAT(wrong->toStdString(), HasSubstr("own.rails:2: found load"));
    EXPECT_EQ(study().tree.loads.front().rail, "A");
    EXPECT_TRUE(rails().read_file(QStringLiteral("/nowhere.rails")));
    const auto out = folder / "out.rails";
    rails().ask_save = [&] { return to_q(out.string()); };
    for (auto* b : rails().findChildren<QPushButton*>())
        if (b->text() == "Write …") QTest::mouseClick(b, Qt::LeftButton);
    EXPECT_EQ(*disk().read(out.string(), 1000), dossier().wire->rails);
}

TEST_F(RailsWindow, TheDemoSlateIsNeverSwitchedOff) {
    open_slate();
    show("rails");
    EXPECT_THAT(all_of_table(rails().events()), HasSubstr("It never opens"));
    EXPECT_THAT(all_of_table(rails().events()), HasSubstr("nothing flows backwards"));
    EXPECT_THAT(all_of_table(rails().events()), HasSubstr("Leave it off for"));
    EXPECT_GT(rails().modes().count(), 3);
    // What is clicked in the drawing is chosen in the table.
    const auto at = rails().drawing().middle_of("part Q1");
    QTest::mouseClick(&rails().drawing(), Qt::LeftButton, {}, at);
    settle();
    EXPECT_EQ(rails().figures().key(rails().figures().chosen()).toString(), "part Q1");
    wire().show_place({"rail", "rail SLATE"});
    EXPECT_EQ(rails().figures().key(rails().figures().chosen()).toString(), "rail SLATE");
    // Pulled up to its own rail it opens.
    auto text = rails().text().toPlainText();
    type(text.replace("off 3.3V ", ""));
    EXPECT_THAT(all_of_table(rails().events()), testing::Not(HasSubstr("It never opens")));
}

TEST_F(RailsWindow, ASettingStandsAsAStopUntilItIsRight) {
    open_slate();
    show("settings");
    auto& view = wire().settings_view();
    EXPECT_THAT(all_of_table(view.tries()), HasSubstr("dies: PAD gets 15."));
    view.list().type(0, 6, "15V");
    settle();
    EXPECT_THAT(view.says().toStdString(), HasSubstr("it kills: PAD"));
    bool stop = false;
    for (const auto& f : window->document().analysis().findings)
        stop |= f.id == "setting-kills" && f.severity == Severity::stop;
    EXPECT_TRUE(stop);
    view.list().type(0, 6, "much");
    settle();
    EXPECT_THAT(view.problem().toStdString(), HasSubstr("expected volts"));
    EXPECT_EQ(*dossier().wire->settings[0].now.value, 15);
    view.list().type(0, 6, "12V");
    settle();
    EXPECT_THAT(view.says().toStdString(), HasSubstr("It is at 12.0 V"));
    view.entry().setText("far 13V");
    QTest::keyClick(&view.entry(), Qt::Key_Return);
    settle();
    EXPECT_EQ(dossier().wire->settings[0].positions.size(), 4U);
    view.tries().type(3, 1, "11V");
    settle();
    EXPECT_EQ(dossier().wire->settings[0].positions[3].volts, 11);
    view.tries().type(3, 0, "");
    settle();
    EXPECT_EQ(dossier().wire->settings[0].positions.size(), 3U);
    view.add(SettingKind::trimmer);
    settle();
    EXPECT_EQ(dossier().wire->settings.size(), 2U);
    wire().show_place({"setting", "brick"});
    EXPECT_EQ(wire().view(), "settings");
    EXPECT_EQ(view.list().key(view.list().chosen()).toString(), "brick");
}

TEST_F(RailsWindow, PinsAreGivenOutAndWritten) {
    open_slate();
    show("pins");
    auto& view = wire().pins_view();
    EXPECT_EQ(view.pins().row_count(), 6);
    EXPECT_THAT(view.header().toPlainText().toStdString(), HasSubstr("#define PIN_SLATE_ON 4\n"));
    const auto checksum = pins_checksum(window->document().analysis().wire->pins);
    view.entry().setText("BUZZER programmable P9");
    QTest::keyClick(&view.entry(), Qt::Key_Return);
    settle();
    EXPECT_EQ(view.pins().row_count(), 7);
    EXPECT_THAT(view.header().toPlainText().toStdString(), HasSubstr("#define PIN_BUZZER 9\n"));
    EXPECT_NE(pins_checksum(window->document().analysis().wire->pins), checksum);
    view.entry().setText("A loud P3");
    QTest::keyClick(&view.entry(), Qt::Key_Return);
    EXPECT_THAT(view.entry().problem().toStdString(), HasSubstr("plain, interrupt"));
    view.entry().setText({});
    view.form_button().setChecked(true);
    view.header().setPlainText("{name} on {pin}\n");
    view.commit_form();
    settle();
    view.form_button().setChecked(false);
    settle();
    EXPECT_THAT(view.header().toPlainText().toStdString(), HasSubstr("BUZZER on P9\n"));
    EXPECT_EQ(dossier().wire->pins.form, "{name} on {pin}\n");
    const auto out = folder / "pins.txt";
    EXPECT_THAT(view.write_to(to_q(out.string())).toStdString(), HasSubstr("written"));
    EXPECT_THAT(*disk().read(out.string(), 10'000), HasSubstr("BUZZER on P9"));
    // A pin that can't do it is a finding that leads here.
    view.pins().type(0, 1, "analogue");
    settle();
    bool found = false;
    for (const auto& f : window->document().analysis().findings) found |= f.id == "pins-short";
    EXPECT_TRUE(found);
}

TEST_F(RailsWindow, OptionsSideBySide) {
    open_demo();
    show("compare");
    auto& view = wire().schools_view();
    const auto text = all_of_table(view.options());
    for (const auto* row : {"Margin", "Board area", "Undone by", "Will need replacing", "Hours"})
        EXPECT_THAT(text, HasSubstr(row));
    const auto hours = [&] {
        for (int row = 0; row < view.options().row_count(); ++row)
            if (view.options().text(row, 0) == "Hours") return row;
        return -1;
    }();
    view.options().type(hours, 1, "6 h");
    settle();
    EXPECT_EQ(dossier().timing->options[0].bill.hours, 6);
    EXPECT_EQ(cell(view.options(), hours, 1), "6 h");
    view.options().type(hours, 1, "soon");
    settle();
    EXPECT_EQ(dossier().timing->options[0].bill.hours, 6);
    EXPECT_GT(view.mounts().row_count(), 0);
    EXPECT_THAT(all_of_table(view.module()), HasSubstr("17 parts"));
    EXPECT_EQ(view.regulators().row_count(), 1);
}

}  // namespace
}  // namespace grayrelic::app
