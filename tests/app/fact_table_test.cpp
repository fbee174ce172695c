// SPDX-License-Identifier: GPL-3.0-or-later
// The table of the kit: sorting by what is meant, copying, widths that stay, room that is shared.
#include <QClipboard>
#include <QHeaderView>
#include <QLabel>
#include <QSignalSpy>

#include "app/shell/findings_panel.hpp"
#include "app/widgets/fact_table.hpp"
#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {
namespace {

class Table : public testing::Test {
  protected:
    void SetUp() override {
        QSettings().clear();
        table = std::make_unique<FactTable>();
        fill(*table);
        table->resize(400, 200);
        table->show();
        ASSERT_TRUE(QTest::qWaitForWindowExposed(table.get()));
    }
    void TearDown() override { QSettings().clear(); }
    static void fill(FactTable& t) {
        t.set_columns({{"Name", 100}, {"Time", 80, true}, {"Note", 120, false, true}}, "A table");
        std::vector<TableRow> rows;
        for (const auto& [name, text, time] :
             {std::tuple{"second", "900 ns", 9e-7}, {"third", "2 µs", 2e-6}, {"first", "10 ns", 1e-8}}) {
            TableRow row{QString(name), QString::fromUtf8(text), QString("a\tnote")};
            row[0].key = name;
            row[1].sort = time;
            rows.push_back(row);
        }
        t.set_rows(rows);
    }
    void click_heading(int column) const {
        auto* head = table->horizontalHeader();
        QTest::mouseClick(head->viewport(), Qt::LeftButton, {},
                          QPoint(head->sectionViewportPosition(column) + 10, head->height() / 2));
    }
    [[nodiscard]] QStringList seen() const {
        QStringList out;
        for (int p = 0; p < table->model()->rowCount(); ++p)
            out << table->model()->index(p, 0).data().toString();
        return out;
    }
    std::unique_ptr<FactTable> table;
};

TEST_F(Table, AHeadingSortsByWhatIsMeantAndTheThirdClickTakesItBack) {
    const QStringList given{"second", "third", "first"};
    EXPECT_EQ(seen(), given);
    table->choose(2);
    click_heading(1);
    EXPECT_EQ(seen(), (QStringList{"first", "second", "third"}))
        << "10 ns, 900 ns, 2 us: no order of letters";
    EXPECT_EQ(table->chosen(), 2) << "the chosen row stays the chosen one";
    EXPECT_EQ(table->text(2, 0), "first") << "rows are counted as they were given";
    click_heading(1);
    EXPECT_EQ(seen(), (QStringList{"third", "second", "first"}));
    click_heading(1);
    EXPECT_EQ(seen(), given);
    // New rows are sorted as the person wanted.
    click_heading(0);
    fill(*table);
    EXPECT_EQ(seen(), (QStringList{"first", "second", "third"}));
    EXPECT_EQ(table->key(table->chosen()).toString(), "first");
}

TEST_F(Table, RowsAreCopiedForASpreadsheet) {
    table->choose(1);
    table->setFocus();
    QTest::keyClick(table.get(), Qt::Key_C, Qt::ControlModifier);
    EXPECT_EQ(QGuiApplication::clipboard()->text(), "Name\tTime\tNote\nthird\t2 µs\ta note\n");
    table->selectAll();
    click_heading(1);
    EXPECT_EQ(table->copied().count('\n'), 4);
    EXPECT_TRUE(table->copied().startsWith("Name\tTime\tNote\nfirst\t")) << "in the order that is seen";
}

TEST_F(Table, AWidthThatAPersonGaveIsKept) {
    table->horizontalHeader()->resizeSection(0, 173);
    FactTable another;
    fill(another);
    another.resize(600, 200);
    another.show();
    EXPECT_EQ(another.columnWidth(0), 173);
    another.resize(900, 200);
    QApplication::processEvents();
    EXPECT_EQ(another.columnWidth(0), 173) << "whatever room there is";
}

TEST_F(Table, ColumnsShareTheRoomAndNeverShrinkToNothing) {
    const auto all = [this] { return table->horizontalHeader()->length(); };
    EXPECT_EQ(all(), table->viewport()->width());
    table->resize(900, 200);
    QApplication::processEvents();
    EXPECT_EQ(all(), table->viewport()->width());
    table->resize(120, 200);
    QApplication::processEvents();
    EXPECT_GE(table->columnWidth(0), 60) << "three fifths of what was wished, then it scrolls";
}

TEST_F(Table, TypedTextIsToldAndNotKeptByTheTable) {
    QSignalSpy told(table.get(), &FactTable::edited);
    EXPECT_FALSE(table->is_editable(0, 0));
    table->type(0, 0, "no");
    EXPECT_EQ(told.count(), 0);
    table->setCurrentIndex(table->model()->index(0, 2));
    table->edit(table->currentIndex());
    auto* editor = table->viewport()->findChild<QLineEdit*>();
    ASSERT_NE(editor, nullptr);
    QTest::keyClicks(editor, "typed");
    QTest::keyClick(editor, Qt::Key_Return);
    QApplication::processEvents();
    ASSERT_EQ(told.count(), 1);
    EXPECT_EQ(told[0][2].toString(), "typed");
    EXPECT_EQ(table->text(0, 2), "a\tnote") << "until the dossier has taken it";
}

Finding finding(const char* id, int n, Severity severity = Severity::doubt, Stage stage = Stage::port) {
    Finding f;
    f.id = id;
    f.severity = severity;
    f.stage = stage;
    f.subject = std::string(id) + " " + std::to_string(n);
    f.says = "Finding " + std::to_string(n) + " of " + id;
    f.why = "Because of a number.";
    f.todo = "Measure it.";
    f.place = {"pin", std::to_string(n)};
    return f;
}

class Panel : public testing::Test {
  protected:
    void SetUp() override {
        panel.resize(284, 600);
        panel.show();
        ASSERT_TRUE(QTest::qWaitForWindowExposed(&panel));
        panel.activateWindow();
        ASSERT_TRUE(QTest::qWaitForWindowActive(&panel));
    }
    FindingsPanel panel;
};

TEST_F(Panel, AHundredFindingsStayReadable) {
    Findings list{finding("burns", 1, Severity::stop)};
    for (int i = 0; i < 60; ++i) list.push_back(finding("pin-unknown", i));
    for (int i = 0; i < 37; ++i) list.push_back(finding("level-unknown", i, Severity::note));
    list.push_back(finding("pair", 1, Severity::note));
    list.push_back(finding("pair", 2, Severity::note));
    panel.show_findings(list, Stage::port, false);
    ASSERT_EQ(panel.cards().size(), 5) << "stop; sixty; thirty-seven; two that stand for themselves";
    EXPECT_EQ(panel.cards()[0]->finding().severity, Severity::stop);
    EXPECT_EQ(panel.cards()[0]->more(), 0);
    EXPECT_EQ(panel.cards()[1]->more(), 59);
    EXPECT_EQ(panel.cards()[2]->more(), 36);
    EXPECT_EQ(panel.summary(), "this stage · 1 stop · 60 doubts · 39 notes");
    QApplication::processEvents();
    // The last line of a card unfolds its kind, and folds it again.
    auto* card = panel.cards()[1];
    QTest::mouseClick(card, Qt::LeftButton, {}, QPoint(60, card->height() - 10));
    EXPECT_EQ(panel.cards().size(), 64);
    EXPECT_EQ(panel.cards()[1], card) << "the same card";
    card->setFocus();
    QTest::keyClick(card, Qt::Key_Left);
    EXPECT_EQ(panel.cards().size(), 5);
    QTest::keyClick(card, Qt::Key_Right);
    EXPECT_EQ(panel.cards().size(), 64);
}

TEST_F(Panel, TheCardsAndTheFocusStayWhenResultsArrive) {
    panel.show_findings({finding("a", 1), finding("b", 1), finding("c", 1)}, Stage::port, true);
    QApplication::processEvents();
    auto* b = panel.cards()[1];
    b->setFocus();
    ASSERT_TRUE(b->hasFocus());
    // One more before it, one gone, its own words changed.
    auto changed = finding("b", 1);
    changed.why = "Because of another number.";
    panel.show_findings({finding("z", 1, Severity::stop), changed, finding("c", 1)}, Stage::port, false);
    ASSERT_EQ(panel.cards().size(), 3);
    EXPECT_EQ(panel.cards()[1], b);
    EXPECT_TRUE(b->hasFocus());
    EXPECT_EQ(b->finding().why, "Because of another number.");
}

TEST_F(Panel, SteppingComesToEveryFindingAlsoToFoldedOnes) {
    Findings list;
    for (int i = 0; i < 5; ++i) list.push_back(finding("many", i));
    list.push_back(finding("one", 9));
    panel.show_findings(list, Stage::port, false);
    std::vector<std::string> opened;
    QObject::connect(&panel, &FindingsPanel::opened, &panel,
                     [&](const Finding& f) { opened.push_back(f.subject); });
    for (int i = 0; i < 6; ++i) panel.step(1);
    EXPECT_THAT(opened, testing::ElementsAre("many 0", "many 1", "many 2", "many 3", "many 4", "one 9"));
    panel.step(1);
    EXPECT_EQ(opened.back(), "many 0") << "around the end";
    panel.step(-1);
    EXPECT_EQ(opened.back(), "one 9");
    // An edit that changes its numbers does not send the person back to the first.
    panel.step(-1);
    list[4].why = "Because of another number.";
    panel.show_findings(list, Stage::port, false);
    panel.step(1);
    EXPECT_EQ(opened.back(), "one 9");
}

}  // namespace
}  // namespace grayrelic::app
