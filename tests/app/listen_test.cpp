// SPDX-License-Identifier: GPL-3.0-or-later
// Listen, used as a person would.
#include <QTimer>
#include <QWheelEvent>

#include "tests/app/window_fixture.hpp"

#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {
namespace {

class ListenStage : public WindowTest {
  protected:
    void SetUp() override {
        WindowTest::SetUp();
        open_demo();
        window->show_stage(Stage::listen);
        QApplication::processEvents();
    }
    [[nodiscard]] WaveView& waves() { return window->page<ListenPage>().waves(); }
    [[nodiscard]] const DigitalWaveform& step() { return *waves().waveform_of(1); }
    /// The rises of STEP that REPLY follows with an edge before STEP falls again, said the slow way.
    [[nodiscard]] long answers_counted_by_hand() const {
        const auto& capture = *window->document().analysis().find_capture("minute")->capture;
        const auto clock =
            (*capture.find_digital("STEP"))->edges();  // starts high: falls are even, rises odd
        const auto reply = (*capture.find_digital("REPLY"))->edges();
        long n = 0;
        for (std::size_t i = 1; i < clock.size(); i += 2) {
            // the last rise of a poll has no fall soon after: 4 µs is longer than any half period, 3.2 µs
            const Time until = clock[i] + Time::us(4);
            n += std::any_of(reply.begin(), reply.end(), [&](Time t) { return t > clock[i] && t < until; })
                     ? 1
                     : 0;
        }
        return n;
    }
    void wheel(int delta, Qt::KeyboardModifiers modifiers, QPointF at) {
        QWheelEvent e(at, waves().mapToGlobal(at), {}, {0, delta}, Qt::NoButton, modifiers, Qt::NoScrollPhase,
                      false);
        QApplication::sendEvent(&waves(), &e);
    }
};

TEST_F(ListenStage, BeginsAtTheFirstWordWithPinsAndDrivers) {
    EXPECT_EQ(waves().row_count(), 4);
    EXPECT_EQ(waves().name_of(1), "STEP");
    EXPECT_EQ(waves().row(), 1) << "the clock is chosen";
    EXPECT_LT(waves().window().length(), Time::ms(1));
    EXPECT_THAT(window->page<ListenPage>().measurements().word_text().toStdString(),
                testing::HasSubstr("20 bits"));
}

TEST_F(ListenStage, TheWheelPansAndWithCtrlZoomsAtThePointer) {
    const auto before = waves().window();
    const QPointF at(500, 100);
    const Time under = waves().time_at(at.x());
    wheel(120, Qt::ControlModifier, at);
    EXPECT_LT(waves().window().length(), before.length());
    EXPECT_NEAR(waves().x_of(under), at.x(), 1.0) << "the time under the pointer stays there";
    const auto zoomed = waves().window();
    wheel(-120, Qt::NoModifier, at);
    EXPECT_GT(waves().window().from, zoomed.from);
    EXPECT_EQ(waves().window().length(), zoomed.length());
}

TEST_F(ListenStage, KeysPanZoomAndFit) {
    waves().setFocus();
    const auto start = waves().window();
    QTest::keyClick(&waves(), Qt::Key_Right);
    EXPECT_GT(waves().window().from, start.from);
    QTest::keyClick(&waves(), Qt::Key_Left);
    EXPECT_EQ(waves().window(), start);
    QTest::keyClick(&waves(), Qt::Key_Plus);
    EXPECT_LT(waves().window().length(), start.length());
    QTest::keyClick(&waves(), Qt::Key_0);
    EXPECT_EQ(waves().window().length(), Time::s(60));
    QTest::keyClick(&waves(), Qt::Key_Minus);
    EXPECT_EQ(waves().window().length(), Time::s(60)) << "never wider than the capture";
    QTest::keyClick(&waves(), Qt::Key_Down);
    EXPECT_EQ(waves().row(), 2);
    for (int i = 0; i < 200; ++i) QTest::keyClick(&waves(), Qt::Key_Plus);
    EXPECT_GE(waves().window().length(), Time::ns(10)) << "and never without end";
    QTest::keyClick(&waves(), Qt::Key_Home);
    EXPECT_EQ(waves().window().from, Time{});
    QTest::keyClick(&waves(), Qt::Key_End);
    EXPECT_EQ(waves().window().to, Time::s(60));
}

TEST_F(ListenStage, CursorsSnapToEdgesAndMeasureBetweenThem) {
    const auto edges = step().edges();
    // click 5 px beside the first two edges of STEP in view
    const auto click = [&](Time edge, Qt::KeyboardModifiers modifiers) {
        QTest::mouseClick(&waves(), Qt::LeftButton, modifiers,
                          QPoint(static_cast<int>(waves().x_of(edge)) + 5,
                                 static_cast<int>(waves().row_box(1).center().y())));
    };
    click(edges[0], Qt::NoModifier);
    click(edges[2], Qt::ShiftModifier);
    ASSERT_TRUE(waves().cursors().a);
    ASSERT_TRUE(waves().cursors().b);
    EXPECT_EQ(*waves().cursors().a, edges[0]);
    EXPECT_EQ(*waves().cursors().b, edges[2]);
    auto& m = window->page<ListenPage>().measurements();
    settle();
    EXPECT_EQ(m.cell(2, 1), "1") << "one whole low pulse between two falls";
    EXPECT_THAT(m.cursor_text().toStdString(), testing::HasSubstr("A to B " + print(edges[2] - edges[0], 4)));
    waves().setFocus();
    QTest::keyClick(&waves(), Qt::Key_BracketRight);
    EXPECT_EQ(*waves().cursors().a, edges[1]);
    QTest::keyClick(&waves(), Qt::Key_BracketLeft);
    EXPECT_EQ(*waves().cursors().a, edges[0]);
    QTest::keyClick(&waves(), Qt::Key_BraceRight, Qt::ShiftModifier);
    EXPECT_EQ(*waves().cursors().b, edges[3]);
    QTest::keyClick(&waves(), Qt::Key_Escape);
    EXPECT_FALSE(waves().cursors().a);
}

TEST_F(ListenStage, ADossierOpenedFromAnotherStageBeginsAtItsFirstWordToo) {
    window->show_stage(Stage::port);
    ASSERT_TRUE(window->files().open(copy_demo("calder-chart-slate")));
    settle();
    ASSERT_TRUE(window->files().open(window->demo_path()));
    settle();
    window->show_stage(Stage::listen);
    settle();
    const auto& first = window->document().analysis().listen->captures.front()->decoding->frames.front();
    EXPECT_LE(waves().window().length(), (first.end - first.start) * 2);
    EXPECT_LE(waves().window().from, first.start);
    EXPECT_GE(waves().window().to, first.end);
}

TEST_F(ListenStage, DraggingPans) {
    const auto before = waves().window();
    const QPoint from(600, 60);
    QTest::mousePress(&waves(), Qt::LeftButton, Qt::NoModifier, from);
    QTest::mouseMove(&waves(), from - QPoint(100, 0));
    QMouseEvent move(QEvent::MouseMove, QPointF(500, 60), waves().mapToGlobal(QPointF(500, 60)), Qt::NoButton,
                     Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(&waves(), &move);
    QTest::mouseRelease(&waves(), Qt::LeftButton, Qt::NoModifier, from - QPoint(100, 0));
    EXPECT_GT(waves().window().from, before.from);
    EXPECT_FALSE(waves().cursors().a) << "a drag sets no cursor";
}

TEST_F(ListenStage, HistogramBarsLeadToTheEdgesBehindThem) {
    auto& page = window->page<ListenPage>();
    const auto& h = page.histogram().histogram();
    ASSERT_GT(h.bars.size(), 5U);
    long all = 0;
    for (const long n : h.bars) all += n;
    EXPECT_EQ(all, answers_counted_by_hand());
    const auto bar =
        static_cast<std::size_t>(std::max_element(h.bars.begin(), h.bars.end()) - h.bars.begin());
    QTest::mouseClick(&page.histogram(), Qt::LeftButton, Qt::NoModifier,
                      page.histogram().bar_rect(bar).center().toPoint());
    EXPECT_EQ(static_cast<long>(waves().marks().size()), h.bars[bar]);
    for (const auto& m : waves().marks()) {
        EXPECT_GE(m.length().seconds(), h.edge(bar) - 1e-12);
        EXPECT_LE(m.length().seconds(), h.edge(bar + 1) + 1e-12);
    }
    EXPECT_EQ(*waves().cursors().a, waves().marks().front().from) << "the first one is shown";
    EXPECT_EQ(*waves().cursors().b, waves().marks().front().to);
    waves().setFocus();
    QTest::keyClick(&waves(), Qt::Key_N);
    EXPECT_EQ(*waves().cursors().a, waves().marks()[1].from);
    QTest::keyClick(&waves(), Qt::Key_N, Qt::ShiftModifier);
    EXPECT_EQ(*waves().cursors().a, waves().marks()[0].from);
    page.histogram().setFocus();
    QTest::keyClick(&page.histogram(), Qt::Key_Escape);
    EXPECT_TRUE(waves().marks().empty());
}

TEST_F(ListenStage, BarsArePickedAndExtendedWithKeys) {
    auto& h = window->page<ListenPage>().histogram();
    h.setFocus();
    QTest::keyClick(&h, Qt::Key_Right);
    const auto one = waves().marks().size();
    EXPECT_GT(one, 0U);
    QTest::keyClick(&h, Qt::Key_Right, Qt::ShiftModifier);
    EXPECT_GT(waves().marks().size(), one);
}

TEST_F(ListenStage, EveryBarTogetherMarksEveryAnswer) {
    auto& h = window->page<ListenPage>().histogram();
    Q_EMIT h.picked(h.histogram().low, h.histogram().edge(h.histogram().bars.size()));
    EXPECT_EQ(static_cast<long>(waves().marks().size()), answers_counted_by_hand());
}

TEST_F(ListenStage, AnotherCaptureIsShownAndItsWordsDiffer) {
    auto& page = window->page<ListenPage>();
    const int i = page.choice().findText("Button c held");
    page.choice().setCurrentIndex(i);
    Q_EMIT page.choice().activated(i);
    settle();
    EXPECT_EQ(page.sentence(), "Button c held");
    waves().set_cursors({Time::ms(1500), std::nullopt});
    waves().center_on(Time::ms(1490), Time::ms(50));
    waves().set_cursors({Time::ps(1'490'150'000'000), std::nullopt});
    EXPECT_THAT(page.measurements().word_text().toStdString(), testing::HasSubstr("low: c"));
}

TEST_F(ListenStage, OtherRolesAreReadAtOnceAndUndone) {
    auto& page = window->page<ListenPage>();
    auto* clock = page.decoder_bar().role("clock");
    clock->setCurrentIndex(clock->findText("BANK"));
    QTest::mouseClick(page.decoder_bar().read_button(), Qt::LeftButton);
    settle();
    EXPECT_EQ(dossier().find_capture("minute")->decode.roles.at("clock"),
              std::vector<std::string>{"control_port.BANK"});
    trigger("edit.undo");
    EXPECT_EQ(dossier().find_capture("minute")->decode.roles.at("clock"), std::vector<std::string>{"STEP"});
    EXPECT_EQ(page.decoder_bar().role("clock")->currentText(), "STEP");
}

TEST_F(ListenStage, ASignalIsTiedToAPinFromItsRowsMenu) {
    // Esc, then a real choice: three down is the third pin.
    const auto answer_menu = [](std::initializer_list<Qt::Key> keys) {
        QTimer::singleShot(50, [keys = std::vector<Qt::Key>(keys)] {
            for (const auto key : keys)
                if (auto* menu = QApplication::activePopupWidget()) QTest::keyClick(menu, key);
        });
    };
    int bank = 0;
    while (waves().name_of(bank) != "BANK" && bank < waves().row_count()) ++bank;
    waves().select_row(bank);
    const QPoint name(20, static_cast<int>(waves().row_box(bank).center().y()));
    answer_menu({Qt::Key_Escape});
    QTest::mouseClick(&waves(), Qt::LeftButton, Qt::NoModifier, name);
    settle();
    EXPECT_EQ(dossier().find_capture("minute")->find_tie("control_port.BANK")->pin, "6");
    answer_menu({Qt::Key_Down, Qt::Key_Down, Qt::Key_Down, Qt::Key_Return});
    QTest::mouseClick(&waves(), Qt::LeftButton, Qt::NoModifier, name);
    settle();
    EXPECT_EQ(dossier().find_capture("minute")->find_tie("control_port.BANK")->pin, "3");
    EXPECT_EQ(dossier().find_capture("minute")->ties.size(), 4U);
    trigger("edit.undo");
    EXPECT_EQ(dossier().find_capture("minute")->find_tie("control_port.BANK")->pin, "6");
}

TEST_F(ListenStage, PaintsAtEveryZoomWithoutFaults) {
    waves().fit();
    for (int i = 0; i < 40; ++i) {
        EXPECT_FALSE(waves().grab().isNull());
        waves().zoom(1.8, Time::ms(50'150) / 1000 + Time::ns(10));
    }
}

}  // namespace
}  // namespace grayrelic::app
