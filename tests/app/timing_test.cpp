// SPDX-License-Identifier: GPL-3.0-or-later
// Timing, used as a person would.
#include <QContextMenuEvent>
#include <QTimer>

#include "tests/app/window_fixture.hpp"

#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {
namespace {

class Timing : public WindowTest {
  protected:
    void SetUp() override {
        WindowTest::SetUp();
        open_demo();
        window->show_stage(Stage::timing);
        QApplication::processEvents();
    }
    [[nodiscard]] TimingPage& page() { return window->page<TimingPage>(); }
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
    EXPECT_EQ(window->rail().stage(Stage::timing).verdict(), Verdict::stop);
    EXPECT_EQ(window->rail().stage(Stage::timing).line(), "chosen option is late");
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
    for (const long n : h.bars) bars += n;
    EXPECT_EQ(bars, o->summary->latency.n);
    EXPECT_GT(h.edge(h.bars.size()), 0.0) << "some come after the look";
    EXPECT_LT(h.low, 0.0);
}

TEST_F(Timing, OptionsAreAddedAndRemoved) {
    page().add_option(OptionKind::irq);
    settle();
    auto* card = page().card("interrupt-firmware-2");
    ASSERT_NE(card, nullptr);
    for (const auto& p : dossier().timing->find_option("interrupt-firmware-2")->parameters)
        EXPECT_EQ(p.value.evidence.kind, EvidenceKind::assumed);
    trigger("edit.undo");
    EXPECT_EQ(page().card("interrupt-firmware-2"), nullptr);
}

TEST_F(Timing, AnOptionIsRemovedFromItsMenu) {
    auto* card = page().card("polling-firmware");
    QTimer::singleShot(50, [] {
        if (auto* menu = QApplication::activePopupWidget()) {
            QTest::keyClick(menu, Qt::Key_Up);  // the last entry
            QTest::keyClick(menu, Qt::Key_Return);
        }
    });
    QContextMenuEvent e(QContextMenuEvent::Mouse, QPoint(20, 100), card->mapToGlobal(QPoint(20, 100)));
    QApplication::sendEvent(card, &e);
    settle();
    EXPECT_EQ(page().card("polling-firmware"), nullptr);
    EXPECT_EQ(dossier().timing->options.size(), 4U);
    trigger("edit.undo");
    EXPECT_NE(page().card("polling-firmware"), nullptr);
}

TEST_F(Timing, EvidenceIsPickedFromItsMenu) {
    auto* evidence = page().look().findChild<EvidenceButton*>();
    QTimer::singleShot(50, [] {
        if (auto* menu = QApplication::activePopupWidget()) {
            QTest::keyClick(menu, Qt::Key_Down);
            QTest::keyClick(menu, Qt::Key_Return);
        }
    });
    QTest::mouseClick(evidence, Qt::LeftButton);
    settle();
    EXPECT_EQ(dossier().timing->reply.look.evidence.kind, EvidenceKind::measured);
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
