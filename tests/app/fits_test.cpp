// SPDX-License-Identifier: GPL-3.0-or-later
// Every view at three sizes in both themes: no text is cut and none lies over another, whether it stands in a
// label or is part of a drawing.
#include <QAbstractItemView>
#include <QComboBox>
#include <QHeaderView>
#include <QLineEdit>
#include <QMenuBar>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>

#include "app/shell/help_dialog.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/fact_table.hpp"
#include "tests/app/text_recorder.hpp"
#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {
namespace {

/// Texts that a person sees now, in the window's coordinates.
std::vector<DrawnText> visible_texts(QWidget& window) {
    std::vector<DrawnText> out;
    for (auto* w : window.findChildren<QWidget*>()) {
        // Popups have their own window; fields scroll what is longer than they are.
        if (!w->isVisible() || w->window() != &window || qobject_cast<QLineEdit*>(w) != nullptr) continue;
        const auto seen = w->visibleRegion().boundingRect();
        for (auto t : texts_of(*w)) {
            // The last line of a list may stand half in its scrolled area.
            const bool list = qobject_cast<QAbstractItemView*>(w->parentWidget()) != nullptr;
            const auto whole = QRectF(w->rect()).adjusted(-1, list ? -30 : -2, 1, list ? 30 : 2);
            // So may the last heading of a table that scrolls sideways.
            const auto* table = qobject_cast<QHeaderView*>(w->parentWidget()) != nullptr
                                    ? qobject_cast<QAbstractItemView*>(w->parentWidget()->parentWidget())
                                    : qobject_cast<QAbstractItemView*>(w->parentWidget());
            const bool sideways = table != nullptr && table->horizontalScrollBar()->maximum() > 0;
            const bool pans = (t.clipped_area && !t.clip.contains(t.box)) || (sideways && t.box.left() >= 0);
            if (!pans) {
                EXPECT_TRUE(whole.contains(t.box))
                    << w->metaObject()->className() << " cuts \"" << t.text.toStdString()
                    << "\": " << t.box.left() << "," << t.box.top() << " " << t.box.width() << "x"
                    << t.box.height() << " in " << w->width() << "x" << w->height();
            }
            if (pans || !QRectF(seen).contains(t.box.center())) continue;
            t.box.translate(w->mapTo(&window, QPoint(0, 0)));
            out.push_back(t);
        }
    }
    return out;
}

void expect_apart(const std::vector<DrawnText>& texts, const std::string& where) {
    for (std::size_t i = 0; i < texts.size(); ++i)
        for (std::size_t k = i + 1; k < texts.size(); ++k) {
            // Lines may touch with ascent and descent; letters may not.
            const auto a =
                texts[i].box.adjusted(1, texts[i].box.height() * 0.25, -1, -texts[i].box.height() * 0.25);
            const auto b =
                texts[k].box.adjusted(1, texts[k].box.height() * 0.25, -1, -texts[k].box.height() * 0.25);
            EXPECT_FALSE(a.intersects(b))
                << where << ": \"" << texts[i].text.toStdString() << "\" over \""
                << texts[k].text.toStdString() << "\" at " << b.left() << "," << b.top();
        }
}

struct Size {
    int width, height;
};
void PrintTo(const Size& s, std::ostream* out) {
    *out << s.width << "x" << s.height;
}
class Fits : public WindowTest, public testing::WithParamInterface<Size> {
  protected:
    QString copied(const std::string& demo) {
        const auto there = path("demo/" + demo + ".relic");
        return QFileInfo::exists(there) ? there : copy_demo(demo);
    }
    void expect_fits(const std::string& where) {
        SCOPED_TRACE(where);
        const auto texts = visible_texts(*window);
        EXPECT_GT(texts.size(), 20U);
        expect_apart(texts, where);
        for (auto* l : window->findChildren<QLabel*>()) {
            if (!l->isVisible() || l->text().isEmpty()) continue;
            EXPECT_GE(l->height(), l->fontMetrics().ascent()) << l->text().toStdString();
            if (l->wordWrap()) {
                EXPECT_LE(l->heightForWidth(l->width()), l->height() + 2) << l->text().toStdString();
            } else if (l->sizePolicy().horizontalPolicy() != QSizePolicy::Ignored) {
                EXPECT_LE(l->fontMetrics().horizontalAdvance(l->text().section('\n', 0, 0)), l->width() + 1)
                    << l->text().toStdString();
            }
        }
        for (auto* t : window->findChildren<FactTable*>())
            for (int c = 0; t->isVisible() && c < t->column_count(); ++c) {
                const auto text = t->heading(c).section('\n', 0, 0);
                EXPECT_LE(t->horizontalHeader()->fontMetrics().horizontalAdvance(text),
                          t->columnWidth(c) - 10)
                    << t->accessibleName().toStdString() << ": " << text.toStdString();
            }
        // What stands in a field or a box is seen whole; one that is being typed in scrolls. A sentence that
        // is longer than its field ends in "…" and stands in the tooltip; in Port there is none such.
        const bool port = where.starts_with("port");
        for (auto* f : window->findChildren<QLineEdit*>())
            if (f->isVisible() && !f->hasFocus() && !f->text().isEmpty()) {
                const bool whole = f->fontMetrics().horizontalAdvance(f->text()) <= f->width() - 12;
                const bool told = qobject_cast<Field*>(f) != nullptr && f->toolTip().contains(f->text()) &&
                                  f->width() >= 60;
                EXPECT_TRUE(whole || (told && !port))
                    << f->accessibleName().toStdString() << ": " << f->text().toStdString() << ", "
                    << f->fontMetrics().horizontalAdvance(f->text()) << " in " << f->width();
            }
        for (auto* c : window->findChildren<QComboBox*>())
            if (c->isVisible() && !c->currentText().isEmpty()) {
                const bool whole = c->fontMetrics().horizontalAdvance(c->currentText()) <= c->width() - 26;
                EXPECT_TRUE(whole || (dynamic_cast<ChoiceBox*>(c) != nullptr &&
                                      c->toolTip().contains(c->currentText())))
                    << c->accessibleName().toStdString() << ": " << c->currentText().toStdString();
            }
        for (auto* b : window->findChildren<QPushButton*>())
            if (b->isVisible()) {
                EXPECT_LE(b->fontMetrics().horizontalAdvance(b->text()), b->width() - 8)
                    << b->text().toStdString();
            }
        for (auto* c : window->findings().cards())
            EXPECT_GE(c->height(), c->heightForWidth(c->width())) << c->text().toStdString();
        for (const auto& [stage, s] : window->rail().stages()) {
            EXPECT_LE(QFontMetrics(text_font(11)).horizontalAdvance(s->line()), s->width() - 46)
                << s->line().toStdString();
        }
    }
};

/// No label, button or field shows less than its text, and none lies outside its window, unless it scrolls.
TEST_P(Fits, EveryViewAtThisSize) {
    window->resize(GetParam().width, GetParam().height);
    QString open;
    for (const bool dark : {false, true}) {
        window->set_dark(dark);
        for (auto* page : window->pages())
            for (const auto& view : page->views()) {
                if (open != view.demo || !window->document().is_open()) {
                    open = view.demo;
                    ASSERT_TRUE(window->files().open(open.isEmpty() ? window->demo_path()
                                                                    : copied(open.toStdString())));
                }
                window->show_stage(page->stage());
                page->show_view(view.id);
                wait();
                expect_fits((to_q(word(page->stage())) + "/" + view.id).toStdString() +
                            (dark ? " at night" : ""));
            }
        // The waves once more, while something is searched for.
        window->show_stage(Stage::listen);
        window->page<ListenPage>().show_view("waves");
        window->page<ListenPage>().waves().setFocus();
        press(Qt::Key_F, Qt::ControlModifier);
        wait();
        expect_fits("listen/waves with the find bar");
        press(Qt::Key_Escape);
    }
    EXPECT_EQ(window->size(), QSize(GetParam().width, GetParam().height))
        << "nothing forces the window wider";
}

INSTANTIATE_TEST_SUITE_P(Sizes, Fits, testing::Values(Size{1024, 700}, Size{1280, 800}, Size{1920, 1080}));

TEST_P(Fits, TheEmptyWindowAndHelp) {
    window->resize(GetParam().width, GetParam().height);
    for (auto* page : window->pages())
        for (const auto& view : page->views()) {
            window->show_stage(page->stage());
            page->show_view(view.id);
            settle();
            expect_apart(visible_texts(*window),
                         "empty " + (to_q(word(page->stage())) + "/" + view.id).toStdString());
        }
    HelpDialog help(window->actions(), window.get());
    help.show();
    settle();
    EXPECT_GT(visible_texts(help).size(), 20U);
    expect_apart(visible_texts(help), "help");
}

TEST_P(Fits, DrawingsAreSeenByThisTest) {
    open_demo();
    window->show_stage(Stage::listen);
    settle();
    QStringList drawn;
    for (const auto& t : texts_of(window->page<ListenPage>().waves())) drawn << t.text;
    for (const char* text : {"Words", "STEP", "REPLY", "J1 6"})
        EXPECT_TRUE(drawn.contains(QLatin1String(text))) << text << " in " << drawn.join(", ").toStdString();
}

TEST_P(Fits, MoreSignalsThanThereIsRoomFor) {
    window->resize(GetParam().width, GetParam().height);
    std::string dump = "$timescale 1 us $end\n";
    std::string values = "#0\n";
    for (int i = 0; i < 40; ++i) {
        const std::string id(1, static_cast<char>('!' + i));
        dump += "$var wire 1 " + id + " line" + std::to_string(i) + " $end\n";
        values += "0" + id + "\n";
    }
    test::write_file(folder / "many.vcd",
                     dump + "$enddefinitions $end\n" + values + "#10\n1!\n#20\n0!\n#30\n");
    ASSERT_TRUE(window->files().add_capture(path("many.vcd")));
    settle();
    auto& waves = window->page<ListenPage>().waves();
    ASSERT_EQ(waves.row_count(), 40);
    expect_apart(visible_texts(*window), "first rows");
    EXPECT_FALSE(waves.is_in_view(39));
    waves.setFocus();
    for (int i = 0; i < 39; ++i) QTest::keyClick(&waves, Qt::Key_Down);
    EXPECT_EQ(waves.row(), 39);
    EXPECT_TRUE(waves.is_in_view(39));
    expect_apart(visible_texts(*window), "last rows");
    QStringList drawn;
    for (const auto& t : texts_of(waves)) drawn << t.text;
    EXPECT_TRUE(drawn.contains(QStringLiteral("line39")));
    EXPECT_FALSE(drawn.contains(QStringLiteral("line0")));
    // A click takes the row that is seen there.
    QTest::mouseClick(&waves, Qt::LeftButton, Qt::NoModifier,
                      QPoint(400, static_cast<int>(waves.row_box(37).center().y())));
    EXPECT_EQ(waves.row(), 37);
}

TEST(TextRecorder, SeesCutAndOverlappingText) {
    QWidget window;
    window.resize(300, 100);
    QLabel cut(QStringLiteral("much too long for its place"), &window);
    cut.setGeometry(0, 0, 40, 20);
    QLabel a(QStringLiteral("one over"), &window);
    QLabel b(QStringLiteral("the other"), &window);
    a.setGeometry(100, 40, 150, 20);
    b.setGeometry(110, 44, 150, 20);
    window.show();
    const auto texts = texts_of(cut);
    ASSERT_EQ(texts.size(), 1U);
    EXPECT_EQ(texts[0].text, QStringLiteral("much too long for its place"));
    EXPECT_GT(texts[0].box.right(), 40.0);
    const auto first = texts_of(a).at(0).box.translated(100, 40);
    const auto second = texts_of(b).at(0).box.translated(110, 44);
    EXPECT_TRUE(first.intersects(second));
}

}  // namespace
}  // namespace grayrelic::app
