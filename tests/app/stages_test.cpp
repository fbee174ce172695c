// SPDX-License-Identifier: GPL-3.0-or-later
// Port, Listen and Timing, used as a person would.
#include <QWheelEvent>

#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {
namespace {

class PortStage : public WindowTest {
  protected:
    void SetUp() override {
        WindowTest::SetUp();
        open_demo();
        window->show_stage(0);
        QApplication::processEvents();
    }
    [[nodiscard]] const Pin& pin(const char* number) { return *dossier().ports->front().find_pin(number); }
    void click_pin(const char* number) {
        auto& view = window->port_page().connector();
        QTest::mouseClick(&view, Qt::LeftButton, Qt::NoModifier, view.place(number).toPoint());
        settle();
    }
};

TEST_F(PortStage, PinsArePickedOnTheDrawingInEveryViewpoint) {
    auto& page = window->port_page();
    for (int v = 0; v < 4; ++v) {
        page.viewpoint().setCurrentIndex(v);
        Q_EMIT page.viewpoint().activated(v);
        settle();
        for (const char* number : {"1", "3", "6", "9"}) {
            click_pin(number);
            EXPECT_EQ(page.connector().selected(), number) << "viewpoint " << v;
        }
    }
}

TEST_F(PortStage, TheDrawingMirrorsWithTheViewpoint) {
    auto& page = window->port_page();
    const auto into_socket = page.connector().place("3");
    page.viewpoint().setCurrentIndex(1);
    Q_EMIT page.viewpoint().activated(1);
    settle();
    const auto into_plug = page.connector().place("3");
    EXPECT_NEAR(into_socket.x() + into_plug.x(), page.connector().width(), 1.0);
    EXPECT_NEAR(into_socket.y(), into_plug.y(), 0.5);
    EXPECT_EQ(dossier().ports->front().viewpoint, "into-plug");
}

TEST_F(PortStage, ArrowKeysWalkTheContacts) {
    auto& view = window->port_page().connector();
    click_pin("4");
    view.setFocus();
    QTest::keyClick(&view, Qt::Key_Left);
    EXPECT_EQ(view.selected(), "5");
    QTest::keyClick(&view, Qt::Key_Right);
    QTest::keyClick(&view, Qt::Key_Right);
    EXPECT_EQ(view.selected(), "3");
    QTest::keyClick(&view, Qt::Key_Up);
    EXPECT_EQ(view.selected(), "7");
    QTest::keyClick(&view, Qt::Key_Down);
    QTest::keyClick(&view, Qt::Key_Down);
    EXPECT_EQ(view.selected(), "1");
}

TEST_F(PortStage, FactsAreEditedWithTheirEvidence) {
    click_pin("6");
    auto& editor = window->port_page().editor();
    EXPECT_EQ(finding_titles(), QStringList{"J1 BANK: level not known"});
    type_into(editor.row("family")->value_field(), "ls");
    EXPECT_EQ(pin("6").family.value, "ls");
    EXPECT_EQ(pin("6").family.evidence.kind, EvidenceKind::assumed);
    EXPECT_TRUE(finding_titles().isEmpty()) << "everything recomputes";
    auto* evidence = editor.row("family")->findChild<EvidenceButton*>();
    evidence->setFocus();
    QTest::keyClick(evidence, Qt::Key_M);
    settle();
    EXPECT_EQ(pin("6").family.evidence.kind, EvidenceKind::measured);
    trigger("edit.undo");
    EXPECT_EQ(pin("6").family.evidence.kind, EvidenceKind::assumed);
    trigger("edit.undo");
    EXPECT_EQ(pin("6").family.value, "");
    EXPECT_EQ(finding_titles().size(), 1);
}

TEST_F(PortStage, QuantitiesAreUnderstoodAndNonsenseIsNotTaken) {
    click_pin("6");
    auto* volts = window->port_page().editor().row("volts")->value_field();
    type_into(volts, "3V6");
    EXPECT_EQ(pin("6").volts_max.value, Volts(3.6));
    EXPECT_EQ(volts->text(), "3.6 V");
    type_into(volts, "a lot");
    EXPECT_EQ(volts->problem(), "Expected a voltage like 3V3.");
    EXPECT_EQ(pin("6").volts_max.value, Volts(3.6));
    QTest::keyClick(volts, Qt::Key_Escape);
    EXPECT_EQ(volts->text(), "3.6 V");
    EXPECT_EQ(volts->problem(), "");
    type_into(volts, "");
    EXPECT_FALSE(pin("6").volts_max.value);
}

TEST_F(PortStage, AnUnusedContactBecomesAPinByEditing) {
    click_pin("9");
    EXPECT_EQ(dossier().ports->front().find_pin("9"), nullptr);
    type_into(window->port_page().editor().row("name")->value_field(), "SENSE");
    ASSERT_NE(dossier().ports->front().find_pin("9"), nullptr);
    EXPECT_EQ(pin("9").name.value, "SENSE");
    EXPECT_EQ(window->rail().stages()[0]->line(), "6 of 7 pins known");
}

TEST_F(PortStage, ShowsWhatTheCapturesSawOnAPin) {
    click_pin("4");
    EXPECT_THAT(window->port_page().traffic().figures().toStdString(), testing::HasSubstr("59,960 edges"));
    click_pin("1");
    EXPECT_EQ(window->port_page().traffic().figures(), "No capture has a signal on this pin.");
}

TEST_F(PortStage, AnEmptyDossierOffersToDescribeAPort) {
    answer = FileFlow::Answer::discard;
    trigger("file.new");
    window->show_stage(0);
    auto buttons = window->port_page().findChildren<QPushButton*>();
    QPushButton* describe = nullptr;
    for (auto* b : buttons)
        if (b->isVisible() && b->text().startsWith("Describe")) describe = b;
    ASSERT_NE(describe, nullptr);
    QTest::mouseClick(describe, Qt::LeftButton);
    settle();
    EXPECT_EQ(dossier().ports->front().pins.size(), 9U);
    EXPECT_EQ(window->rail().stages()[0]->line(), "0 of 9 pins known");
}

class ListenStage : public WindowTest {
  protected:
    void SetUp() override {
        WindowTest::SetUp();
        open_demo();
        window->show_stage(1);
        QApplication::processEvents();
    }
    [[nodiscard]] WaveView& waves() { return window->listen_page().waves(); }
    [[nodiscard]] const DigitalTrace& step() { return *waves().trace_of(1); }
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
    EXPECT_THAT(window->listen_page().measurements().word_text().toStdString(),
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
    for (int i = 0; i < 200; ++i)
        QTest::keyClick(&waves(), Qt::Key_Plus);
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
    auto& m = window->listen_page().measurements();
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
    auto& page = window->listen_page();
    const auto& h = page.histogram().histogram();
    ASSERT_GT(h.bars.size(), 5U);
    long all = 0;
    for (const long n : h.bars)
        all += n;
    EXPECT_EQ(all, 9376) << "as many answers as `capture delay --within 3us` counts";
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
    auto& h = window->listen_page().histogram();
    h.setFocus();
    QTest::keyClick(&h, Qt::Key_Right);
    const auto one = waves().marks().size();
    EXPECT_GT(one, 0U);
    QTest::keyClick(&h, Qt::Key_Right, Qt::ShiftModifier);
    EXPECT_GT(waves().marks().size(), one);
}

TEST_F(ListenStage, EveryBarTogetherMarksEveryAnswer) {
    auto& h = window->listen_page().histogram();
    Q_EMIT h.picked(h.histogram().low, h.histogram().edge(h.histogram().bars.size()));
    EXPECT_EQ(waves().marks().size(), 9376U);
}

TEST_F(ListenStage, AnotherCaptureIsShownAndItsWordsDiffer) {
    auto& page = window->listen_page();
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
    auto& page = window->listen_page();
    auto* clock = page.reading().role("clock");
    clock->setCurrentIndex(clock->findText("BANK"));
    QTest::mouseClick(page.reading().read_button(), Qt::LeftButton);
    settle();
    EXPECT_EQ(dossier().find_capture("minute")->decode.roles.at("clock"),
              std::vector<std::string>{"control_port.BANK"});
    trigger("edit.undo");
    EXPECT_EQ(dossier().find_capture("minute")->decode.roles.at("clock"), std::vector<std::string>{"STEP"});
    EXPECT_EQ(page.reading().role("clock")->currentText(), "STEP");
}

TEST_F(ListenStage, PaintsAtEveryZoomWithoutFaults) {
    waves().fit();
    for (int i = 0; i < 40; ++i) {
        EXPECT_FALSE(waves().grab().isNull());
        waves().zoom(1.8, Time::ms(50'150) / 1000 + Time::ns(10));
    }
}

class Timing : public WindowTest {
  protected:
    void SetUp() override {
        WindowTest::SetUp();
        open_demo();
        window->show_stage(2);
        QApplication::processEvents();
    }
    [[nodiscard]] TimingPage& page() { return window->timing_page(); }
};

TEST_F(Timing, OptionsShowTheirVerdicts) {
    EXPECT_EQ(page().card("shift-register")->verdict_text(), "In time");
    EXPECT_THAT(page().card("interrupt-firmware")->verdict_text().toStdString(),
                testing::HasSubstr("Too late: 7."));
    EXPECT_THAT(page().card("polling-firmware")->verdict_text().toStdString(),
                testing::HasSubstr("Too late: 2"));
    EXPECT_FALSE(page().card("shift-register")->choose_button()->isEnabled());
}

TEST_F(Timing, ChangingOneNumberChangesTheVerdict) {
    auto* card = page().card("polling-firmware");
    // period + work under the deadline of about 3.07 µs: nothing is missed any more
    type_into(card->field("period"), "1.5us");
    EXPECT_EQ(card->verdict_text(), "In time");
    const auto& p = dossier().timing->find_option("polling-firmware")->parameters[0];
    EXPECT_EQ(p.value.value, Time::ns(1500));
    EXPECT_EQ(p.value.evidence.kind, EvidenceKind::assumed) << "the old evidence was for the old number";
    trigger("edit.undo");
    EXPECT_THAT(card->verdict_text().toStdString(), testing::HasSubstr("Too late"));
}

TEST_F(Timing, ChoosingTheLateOptionTurnsTheStageToStop) {
    QTest::mouseClick(page().card("interrupt-firmware")->choose_button(), Qt::LeftButton);
    settle();
    EXPECT_EQ(window->rail().stages()[2]->verdict(), Verdict::stop);
    EXPECT_EQ(window->rail().stages()[2]->line(), "chosen option is late");
    EXPECT_EQ(window->findings().cards().front()->finding().severity, Severity::stop);
}

TEST_F(Timing, NonsenseNumbersAreRefusedInPlace) {
    auto* field = page().card("polling-firmware")->field("period");
    type_into(field, "soon");
    EXPECT_EQ(field->problem(), "Expected a time like 2.2us.");
    type_into(field, "0");
    EXPECT_EQ(field->problem(), "Expected a loop period above 0 s.");
    type_into(field, "-1us");
    EXPECT_EQ(field->problem(), "Expected a time from 0 s to 1,000 s.");
    QTest::keyClick(field, Qt::Key_Escape);
    EXPECT_EQ(field->problem(), "");
    EXPECT_FALSE(window->document().is_modified());
}

TEST_F(Timing, TheLookIsAFactThatCanBeConfirmed) {
    EXPECT_TRUE(finding_titles().contains("The host's look is assumed"));
    auto* evidence = page().look().findChild<EvidenceButton*>();
    evidence->setFocus();
    QTest::keyClick(evidence, Qt::Key_M);
    settle();
    EXPECT_FALSE(finding_titles().contains("The host's look is assumed"));
    type_into(page().look().value_field(), "100ns");
    EXPECT_EQ(dossier().timing->reply.look.value, "100ns");
    // 50 ns are left after the guard and the slowest part takes 56: of the triangle 6, 21, 56 ns the tail
    // above 50 is (56−50)² ÷ ((56−6)·(56−21)) = 36/1750.
    const auto& s = *window->document().analysis().find_option("shift-register")->summary;
    const double share = 36.0 / 1750.0;
    EXPECT_NEAR(static_cast<double>(s.missed) / static_cast<double>(s.replies), share,
                3.0 * std::sqrt(share * (1 - share) / static_cast<double>(s.replies)));
    EXPECT_EQ(*s.worst_margin, Time::ns(50 - 56));
    EXPECT_THAT(page().card("shift-register")->verdict_text().toStdString(), testing::HasSubstr("Too late"));
    type_into(page().look().value_field(), "when it likes");
    EXPECT_FALSE(page().look().value_field()->problem().isEmpty());
}

TEST_F(Timing, AGuardEatsIntoTheMargin) {
    const auto before = *window->document().analysis().find_option("shift-register")->summary->worst_margin;
    type_into(page().guard().value_field(), "150ns");
    const auto after = *window->document().analysis().find_option("shift-register")->summary->worst_margin;
    EXPECT_EQ(before - after, Time::ns(100));
}

TEST_F(Timing, SelectingAnOptionShowsItsMargins) {
    QTest::mouseClick(page().card("interrupt-firmware"), Qt::LeftButton, Qt::NoModifier, QPoint(5, 5));
    settle();
    const auto& h = page().histogram().histogram();
    const auto* o = window->document().analysis().find_option("interrupt-firmware");
    long bars = 0;
    for (const long n : h.bars)
        bars += n;
    EXPECT_EQ(bars, o->summary->latency.n);
    EXPECT_GT(h.edge(h.bars.size()), 0.0) << "some come after the look";
    EXPECT_LT(h.low, 0.0);
}

TEST_F(Timing, OptionsAreAddedAndRemoved) {
    page().add_option("irq");
    settle();
    auto* card = page().card("interrupt-firmware-2");
    ASSERT_NE(card, nullptr);
    for (const auto& p : dossier().timing->find_option("interrupt-firmware-2")->parameters)
        EXPECT_EQ(p.value.evidence.kind, EvidenceKind::assumed);
    trigger("edit.undo");
    EXPECT_EQ(page().card("interrupt-firmware-2"), nullptr);
}

TEST_F(Timing, AVerdictChangeSurvivesSaveAndReopen) {
    type_into(page().card("polling-firmware")->field("period"), "1.5us");
    trigger("file.save");
    ASSERT_TRUE(window->files().open(window->demo_path()));
    settle();
    EXPECT_EQ(page().card("polling-firmware")->verdict_text(), "In time");
}

}  // namespace
}  // namespace grayrelic::app
