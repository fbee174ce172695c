// SPDX-License-Identifier: GPL-3.0-or-later
// Port, used as a person would.
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

}  // namespace
}  // namespace grayrelic::app
