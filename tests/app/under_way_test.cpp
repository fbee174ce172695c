// SPDX-License-Identifier: GPL-3.0-or-later
// The window while a dossier is being worked out: it says what is under way and never that there is nothing.
#include <QDialog>
#include <QPushButton>
#include <QTimer>

#include <new>

#include "app/shell/busy_dialog.hpp"
#include "app/shell/latest.hpp"
#include "tests/app/text_recorder.hpp"
#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {
namespace {

class UnderWay : public WindowTest {
  protected:
    /// Every word that is to be seen, painted or in a label.
    QString words() {
        QString out;
        for (auto* w : window->findChildren<QWidget*>()) {
            if (!w->isVisible()) continue;
            if (const auto* label = qobject_cast<QLabel*>(w)) out += label->text() + QLatin1Char('\n');
            TextRecorder recorder(*w);
            w->render(&recorder, QPoint(), QRegion(), {});
            for (const auto& t : recorder.texts) out += t.text + QLatin1Char('\n');
        }
        return out;
    }
};

TEST_F(UnderWay, NothingSaysThatThereIsNoCaptureWhileOneIsRead) {
    window->show_stage(Stage::listen);
    ASSERT_TRUE(window->files().open(window->demo_path()));
    ASSERT_FALSE(window->document().is_current());  // nothing has been read: no event has come back yet
    const auto listen = words();
    EXPECT_TRUE(listen.contains(QStringLiteral("Reading “A minute of play” …"))) << listen.toStdString();
    EXPECT_TRUE(listen.contains(QStringLiteral("reading …")));
    EXPECT_FALSE(listen.contains(QStringLiteral("nothing found"))) << "nothing has been looked at";
    for (const auto& [stage, button] : window->rail().stages())
        EXPECT_EQ(button->verdict(), Verdict::unknown) << word(stage);
    for (const char* wrong : {"No capture", "can't be read", "nothing recorded"})
        EXPECT_FALSE(listen.contains(QString::fromUtf8(wrong))) << wrong << "\n" << listen.toStdString();
    window->show_stage(Stage::port);
    EXPECT_FALSE(words().contains(QStringLiteral("No capture has"))) << words().toStdString();
    window->show_stage(Stage::timing);
    for (const char* wrong : {"no option chosen", "no option yet", "can't be read"})
        EXPECT_FALSE(words().contains(QString::fromUtf8(wrong))) << wrong << "\n" << words().toStdString();
    settle();
    window->show_stage(Stage::listen);
    EXPECT_FALSE(words().contains(QStringLiteral("Reading “"))) << words().toStdString();
}

TEST_F(UnderWay, ProgressNeverGoesBackThroughEditsOneAfterTheOther) {
    std::vector<double> fractions;
    bool busy = false;
    QObject::connect(&window->document(), &Document::busy_changed, window.get(), [&](bool b) {
        if (b && !busy) fractions.push_back(0);  // a new bar
        busy = b;
    });
    QObject::connect(&window->document(), &Document::progressed, window.get(), [&](double f) {
        ASSERT_FALSE(fractions.empty());
        EXPECT_GE(f, fractions.back());
        EXPECT_LE(f, 1.0);
        fractions.push_back(f);
    });
    ASSERT_TRUE(window->files().open(window->demo_path()));
    for (int i = 0; i < 12; ++i) {
        auto port = window->document().dossier().ports->front();
        port.pins.front().note = "note " + std::to_string(i);
        window->document().apply(QStringLiteral("edit"), put(window->document().dossier(), port));
        QTest::qWait(40);
    }
    settle();
    EXPECT_TRUE(window->document().analysis().under_way.empty());
    // However fast the edits came, each capture was read once.
    EXPECT_EQ(window->document().analysis().memory->times_made().at("capture minute"), 1);
    EXPECT_EQ(window->document().analysis().memory->times_made().at("replies register-network"), 1);
}

TEST_F(UnderWay, AnotherDossierIsNotMixedWithTheOneBefore) {
    open_demo();
    const auto slate = copy_demo("calder-chart-slate");
    ASSERT_TRUE(window->files().open(slate));
    // Until the new one is worked out nothing of the old one is shown as its own.
    EXPECT_EQ(window->document().analysis().find_capture("minute"), nullptr);
    settle();
    EXPECT_EQ(window->document().analysis().find_capture("minute"), nullptr);
    EXPECT_FALSE(window->document().analysis().listen->captures.empty());
}

TEST_F(UnderWay, CancelledReadingSaysSoAndTheNextEditReadsOn) {
    window->show_stage(Stage::listen);
    ASSERT_TRUE(window->files().open(window->demo_path()));
    window->document().cancel_analysis();
    settle();
    auto port = window->document().dossier().ports->front();
    port.pins.front().note = "on";
    window->document().apply(QStringLiteral("edit"), put(window->document().dossier(), port));
    settle();
    const auto* c = window->document().analysis().find_capture("minute");
    ASSERT_NE(c, nullptr);
    EXPECT_TRUE(c->capture);
}

/// Sixty more networks to simulate take a while; whoever asks for the report meanwhile can wait or not.
TEST_F(UnderWay, AReportIsWaitedForAndTheWaitCanBeGivenUp) {
    open_demo();
    auto next = window->document().dossier();
    auto option = *next.timing->find_option("register-network");
    for (int i = 0; i < 60; ++i) {
        option.id = "copy-" + std::to_string(i);
        option.name = "Copy number " + std::to_string(i);
        next = put(next, option);
    }
    window->document().apply(QStringLiteral("copies"), next);
    const auto report = path("report.html");
    int dialogs = 0;
    QTimer clicker;
    QObject::connect(&clicker, &QTimer::timeout, window.get(), [&] {
        auto* dialog = window->findChild<QDialog*>(QStringLiteral("busy"));
        if (dialog == nullptr || !dialog->isVisible()) return;
        clicker.stop();
        ++dialogs;
        EXPECT_TRUE(dialog->isModal());
        dialog->findChild<QPushButton*>()->click();
    });
    clicker.start(10);
    EXPECT_FALSE(window->files().write_report_to(report));
    EXPECT_EQ(dialogs, 1);
    EXPECT_FALSE(QFile::exists(report));
    EXPECT_FALSE(window->document().is_current()) << "what was under way goes on";
    EXPECT_TRUE(window->files().write_report_to(report));
    QFile file(report);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    EXPECT_TRUE(file.readAll().contains("Copy number 59"));
}

TEST_F(UnderWay, AReportTakesUpWhatWasCancelled) {
    ASSERT_TRUE(window->files().open(window->demo_path()));
    window->document().cancel_analysis();
    settle();
    ASSERT_TRUE(window->files().write_report_to(path("report.html")));
    EXPECT_TRUE(window->document().analysis().under_way.empty());
    const auto* c = window->document().analysis().find_capture("minute");
    ASSERT_NE(c, nullptr);
    EXPECT_TRUE(c->decoding);
}

// Work of the window that finds no memory: one message, and the window goes on.
TEST_F(UnderWay, WorkBesideTheWindowThatFindsNoMemoryIsOneMessage) {
    QObject owner;
    Latest<int> figure(&owner);
    int shown = 0;
    figure.ask([](Progress&) -> int { throw std::bad_alloc(); }, [&](const int&) { ++shown; });
    ASSERT_TRUE(QTest::qWaitFor([&] { return !told.isEmpty(); }));
    EXPECT_TRUE(told.first().contains(QStringLiteral("more than there is memory for")))
        << told.first().toStdString();
    EXPECT_EQ(figures_under_way, 0);
    figure.ask([](Progress&) { return 7; }, [&](const int& value) { shown = value; });
    EXPECT_TRUE(QTest::qWaitFor([&] { return shown == 7; }));
    told.clear();
    const auto ran =
        run_with_progress(window.get(), QStringLiteral("Saving"), [](Progress&) { throw std::bad_alloc(); });
    ASSERT_FALSE(ran);
    EXPECT_THAT(ran.error().message(), testing::HasSubstr("Saving: found more than there is memory for"));
    told.clear();
}

}  // namespace
}  // namespace grayrelic::app
