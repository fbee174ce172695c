// SPDX-License-Identifier: GPL-3.0-or-later
// One law for saving, through the window's own edits: whatever is typed anywhere, the dossier that results
// can be saved, opened and is the same.
#include <QPointer>
#include "app/widgets/fact_table.hpp"

#include "app/widgets/field.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/storable.hpp"
#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {
namespace {

const std::vector<QString>& extremes() {
    static const std::vector<QString> all{QString(32'767, QLatin1Char('x')),
                                          QString(20'000, QChar(0xE9)),
                                          QStringLiteral("\uFFFE\uFFFF\u200F"),
                                          QString::fromUtf8("😀 #RESET, \"a\"; \\ ../.."),
                                          QStringLiteral("#RESET"),
                                          QStringLiteral("1e308"),
                                          QStringLiteral("1e308 kV"),
                                          QStringLiteral("-1e300"),
                                          QStringLiteral("5e-324"),
                                          QStringLiteral("inf"),
                                          QStringLiteral("nan"),
                                          QStringLiteral("9e6 s"),
                                          QStringLiteral("0.000000000001 s"),
                                          QStringLiteral("2000000"),
                                          QStringLiteral("3.3 V ± 1e308")};
    return all;
}

class Typed : public WindowTest {
  protected:
    /// The law, and back to what the dossier was: each case stands alone.
    void expect_storable(const std::string& what) {
        const OffTheRecord off;
        const auto& d = window->document().dossier();
        const auto again = dossier_from_json(dossier_to_json(d), "d.json");
        ASSERT_TRUE(again) << what << again.error().message();
        EXPECT_TRUE(*again == d) << what;
        if (window->document().undo_stack().canUndo()) {
            ++edits;
            window->document().undo_stack().undo();
        }
        EXPECT_FALSE(window->document().undo_stack().canUndo()) << what << ": more than one step";
        QApplication::processEvents();
    }
    /// Each view of each stage in turn: what is not seen is not refreshed, and nobody types there.
    void in_every_view(const std::function<void(StagePage&)>& work) {
        for (auto* page : window->pages())
            for (const auto& view : page->views()) {
                window->show_stage(page->stage());
                page->show_view(view.id);
                settle();
                work(*page);
                if (HasFatalFailure()) return;
            }
    }
    template <class W>
    static QList<W*> seen(StagePage& page) {
        QList<W*> out;
        for (auto* w : page.findChildren<W*>())
            if (w->isVisible()) out << w;
        return out;
    }
    void type_everywhere(StagePage& page) {
        const auto count = seen<Field>(page).size();
        for (int i = 0; i < count; ++i)
            for (const auto& text : extremes()) {
                const auto fields = seen<Field>(page);
                if (i >= fields.size()) return;
                const QPointer<Field> field = fields[i];
                if (field->isReadOnly() || !field->commit) break;
                const auto name = field->accessibleName().toStdString();
                field->setText(text);
                field->setModified(true);
                QTest::keyClick(field, Qt::Key_Return);
                if (field) QTest::keyClick(field, Qt::Key_Escape);
                expect_storable(name + " " + text.left(20).toStdString());
                if (HasFatalFailure()) return;
            }
    }
    void type_into_cells(StagePage& page) {
        for (int t = 0; t < seen<FactTable>(page).size(); ++t)
            for (int column = 0;; ++column) {
                auto* table = seen<FactTable>(page)[t];
                if (table->row_count() == 0 || column >= table->column_count()) break;
                for (const auto& text : extremes()) {
                    table = seen<FactTable>(page)[t];
                    if (table->row_count() == 0 || !table->is_editable(0, column)) break;
                    table->type(0, column, text);
                    expect_storable(table->accessibleName().toStdString() + " " +
                                    text.left(20).toStdString());
                    if (HasFatalFailure()) return;
                }
            }
    }
    void type_anything() {
        in_every_view([this](StagePage& page) {
            type_everywhere(page);
            type_into_cells(page);
        });
    }
    int edits = 0;
};

TEST_F(Typed, AnythingInTheDialPad) {
    open_demo();
    type_anything();
    EXPECT_GT(edits, 100);
}

TEST_F(Typed, AnythingInThePageCard) {
    ASSERT_TRUE(window->files().open(copy_demo("calder-page-card")));
    settle();
    type_anything();
    EXPECT_GT(edits, 100);
}

TEST_F(Typed, WhatCannotBeKeptIsToldAndDoesNotCount) {
    open_demo();
    const auto before = window->document().dossier();
    auto port = before.ports->front();
    port.pins.front().note.assign(200'000, 'x');
    window->document().apply(QStringLiteral("a long note"), put(before, port));
    QApplication::processEvents();
    EXPECT_EQ(window->document().dossier(), before);
    EXPECT_FALSE(window->document().undo_stack().canUndo());
    ASSERT_EQ(told.size(), 1);
    EXPECT_TRUE(told[0].contains(
        QStringLiteral("found 200000 bytes, expected at most 100000 for ports[0].pins[0].note")))
        << told[0].toStdString();
}

}  // namespace
}  // namespace grayrelic::app
