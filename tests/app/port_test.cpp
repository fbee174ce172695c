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
        window->show_stage(Stage::port);
        QApplication::processEvents();
    }
    [[nodiscard]] const Pin& pin(const char* number) { return *dossier().ports->front().find_pin(number); }
    void click_pin(const char* number) {
        auto& view = window->page<PortPage>().connector();
        QTest::mouseClick(&view, Qt::LeftButton, Qt::NoModifier, view.place(number).toPoint());
        settle();
    }
};

TEST_F(PortStage, PinsArePickedOnTheDrawingInEveryViewpoint) {
    auto& page = window->page<PortPage>();
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
    auto& page = window->page<PortPage>();
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
    auto& view = window->page<PortPage>().connector();
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
    auto& editor = window->page<PortPage>().editor();
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
    auto* volts = window->page<PortPage>().editor().row("volts")->value_field();
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
    type_into(window->page<PortPage>().editor().row("name")->value_field(), "SENSE");
    ASSERT_NE(dossier().ports->front().find_pin("9"), nullptr);
    EXPECT_EQ(pin("9").name.value, "SENSE");
    EXPECT_EQ(window->rail().stage(Stage::port).line(), "13 of 14 pins known");
}

TEST_F(PortStage, ShowsWhatTheCapturesSawOnAPin) {
    click_pin("4");
    EXPECT_THAT(window->page<PortPage>().traffic().figures().toStdString(),
                testing::HasSubstr("59,960 edges"));
    click_pin("1");
    EXPECT_EQ(window->page<PortPage>().traffic().figures(), "No capture has a signal on this pin.");
}

TEST_F(PortStage, AnEmptyDossierOffersToDescribeAPort) {
    answer = FileFlow::Answer::discard;
    trigger("file.new");
    window->show_stage(Stage::port);
    auto& chooser = window->page<PortPage>().chooser();
    QTest::keyClicks(&chooser.filter(), "d-sub 9");
    EXPECT_EQ(chooser.chosen(), "dsub-9");
    QTest::keyClick(&chooser.filter(), Qt::Key_Return);
    settle();
    ASSERT_EQ(dossier().ports->size(), 1U);
    EXPECT_EQ(dossier().ports->front().pins.size(), 9U);
    EXPECT_EQ(window->rail().stage(Stage::port).line(), "0 of 9 pins known");
}

/// A note lies beside the keyboard: nine lines of it, and nobody touches the mouse.
TEST_F(PortStage, ANinePinPortIsEnteredWithTheKeyboardAlone) {
    answer = FileFlow::Answer::discard;
    trigger("file.new");
    window->show_stage(Stage::port);
    QTest::keyClick(window.get(), Qt::Key_N, Qt::AltModifier);
    auto& chooser = window->page<PortPage>().chooser();
    chooser.filter().setFocus();
    QTest::keyClicks(&chooser.filter(), "mini 9");
    QTest::keyClick(&chooser.filter(), Qt::Key_Return);
    settle();
    auto& view = window->page<PortPage>().connector();
    EXPECT_EQ(view.selected(), "1");
    const char* note[] = {"+5 V supply 5.25V 120mA",
                          "ground",
                          "HOLD relic ttl idle high",
                          "STEP relic ttl",
                          "REPLY bridge hct oc",
                          "BANK relic ttl",
                          "n.c.",
                          "n.c.",
                          "SENSE bridge ls"};
    for (const char* line : note) {
        view.setFocus();
        const QString text = line;
        QTest::keyClick(&view, text[0].toLatin1());
        ASSERT_TRUE(view.entry().isVisible()) << line;
        QTest::keyClicks(&view.entry(), text.mid(1));
        QTest::keyClick(&view.entry(), Qt::Key_Return);
        settle();
    }
    EXPECT_EQ(view.selected(), "1") << "the last goes on to the first";
    const auto& port = dossier().ports->front();
    EXPECT_EQ(port.find_pin("1")->current_max.value, Amperes(0.12));
    EXPECT_EQ(port.find_pin("3")->idle.value, "high");
    EXPECT_EQ(port.find_pin("5")->output.value, "open-collector");
    EXPECT_EQ(port.find_pin("9")->driver.value, Driver::bridge);
    EXPECT_TRUE(finding_titles().contains("J1 rests on assumed facts")) << "nobody said how they are known";
    trigger("edit.undo");
    EXPECT_TRUE(dossier().ports->front().find_pin("9")->name.value.empty());
}

TEST_F(PortStage, WhatIsTypedWrongStaysToBeMended) {
    click_pin("6");
    auto& view = window->page<PortPage>().connector();
    view.setFocus();
    QTest::keyClick(&view, Qt::Key_F2);
    EXPECT_EQ(view.entry().text(), "BANK");
    view.entry().setText("BANK, relic purple");
    QTest::keyClick(&view.entry(), Qt::Key_Return);
    EXPECT_TRUE(view.entry().isVisible());
    EXPECT_THAT(view.entry().toolTip().toStdString(), testing::HasSubstr("purple"));
    QTest::keyClick(&view.entry(), Qt::Key_Escape);
    EXPECT_FALSE(view.entry().isVisible());
    EXPECT_EQ(pin("6").family.value, "");
}

TEST_F(PortStage, NewFactsAreKnownAsSaid) {
    click_pin("9");
    auto& editor = window->page<PortPage>().editor();
    editor.set_new_evidence(EvidenceKind::measured, "me", "meter", "2026-11-23");
    type_into(editor.row("name")->value_field(), "SENSE");
    EXPECT_EQ(pin("9").name.evidence.kind, EvidenceKind::measured);
    EXPECT_EQ(pin("9").name.evidence.tool, "meter");
    EXPECT_EQ(pin("9").name.evidence.date, "2026-11-23");
    type_into(editor.row("volts")->value_field(), "5V ± 0.1");
    EXPECT_EQ(pin("9").volts_max.uncertainty, 0.1);
    click_pin("5");
    type_into(editor.row("name")->value_field(), "ANSWER");
    EXPECT_EQ(pin("5").name.evidence.kind, EvidenceKind::documented) << "what was known keeps its evidence";
}

TEST_F(PortStage, ATableThatAgreesFillsThePort) {
    auto& page = window->page<PortPage>();
    page.take_table("pin\tname\tcolour\n3\tHOLD\tyellow\n7\tSPARE\t\n", "the clipboard", false);
    settle();
    EXPECT_EQ(pin("3").colour.value, "yellow");
    EXPECT_EQ(pin("7").name.value, "SPARE");
    EXPECT_THAT(page.message().toStdString(), testing::HasSubstr("Read 2 pins"));
    trigger("edit.undo");
    EXPECT_EQ(pin("3").colour.value, "") << "one step";
}

TEST_F(PortStage, ATableThatContradictsBecomesAnotherSource) {
    auto& page = window->page<PortPage>();
    // Mirrored: 3 4 5 6 reads 6 5 4 3, and 1 2 reads 2 1.
    test::write_file(folder / "other.csv", "pin,name\n1,ground\n2,+5 V\n3,BANK\n4,REPLY\n5,STEP\n6,HOLD\n");
    page.ask_open = [this](const QString&, const QString&) { return path("other.csv"); };
    for (auto* b : page.findChildren<QPushButton*>())
        if (b->text() == "Table in…") QTest::mouseClick(b, Qt::LeftButton);
    settle();
    ASSERT_EQ(dossier().ports->front().sources.size(), 1U);
    auto& view = page.source_view();
    EXPECT_TRUE(view.isVisible());
    EXPECT_THAT(view.verdict().toStdString(),
                testing::HasSubstr("agree at 6 of 6 if it is mirrored left to right"));
    EXPECT_TRUE(finding_titles().contains("J1: other.csv contradicts the port at 6 pins"));
    QTest::mouseClick(&view.read_button(), Qt::LeftButton);
    settle();
    EXPECT_THAT(view.verdict().toStdString(), testing::StartsWith("6 agree, 0 contradict"));
    EXPECT_FALSE(finding_titles().contains("J1: other.csv contradicts the port at 6 pins"));
}

TEST_F(PortStage, ABrokenTableChangesNothingAndSaysWhere) {
    auto& page = window->page<PortPage>();
    const auto before = dossier();
    page.take_table("pin,name\n1,A\n1,B\n", "the clipboard", false);
    EXPECT_THAT(page.message().toStdString(),
                testing::HasSubstr("the clipboard:3: found pin \"1\" a second time"));
    test::write_file(folder / "latin.csv", "pin,name\n1,\xE9t\xE9\n");
    page.ask_open = [this](const QString&, const QString&) { return path("latin.csv"); };
    for (auto* b : page.findChildren<QPushButton*>())
        if (b->text() == "Table in…") QTest::mouseClick(b, Qt::LeftButton);
    EXPECT_THAT(page.message().toStdString(), testing::HasSubstr("no UTF-8 text"));
    EXPECT_TRUE(dossier() == before);
}

TEST_F(PortStage, TheTableIsWritten) {
    EXPECT_TRUE(window->page<PortPage>().write_table_to(path("out.csv")));
    EXPECT_THAT(test::read_file(folder / "out.csv"), testing::HasSubstr("5,REPLY,bridge,hct,"));
    EXPECT_FALSE(window->page<PortPage>().write_table_to("/nonexistent/out.csv"));
}

TEST_F(PortStage, WrongWaysAreShownWithTheirCautions) {
    QTest::keyClick(&window->page<PortPage>().connector(), Qt::Key_3, Qt::AltModifier);
    settle();
    auto& view = window->page<PortPage>().wrong_ways_view();
    ASSERT_TRUE(view.isVisible());
    ASSERT_GT(view.cases().count(), 0);
    // Mirrored, 1 and 2 change places: +5 V meets ground.
    for (int i = 0; i < view.cases().count(); ++i)
        if (view.cases().item(i)->text().startsWith("Mirrored")) {
            view.cases().setCurrentRow(i);
            EXPECT_THAT(view.collisions().toStdString(), testing::HasSubstr("the supply is shorted"));
        }
    EXPECT_THAT(view.cautions().text().toStdString(),
                testing::HasSubstr("Plug and unplug with the power off"));
    EXPECT_THAT(view.cautions().text().toStdString(), testing::Not(testing::HasSubstr("Mains voltage")));
    view.nearby().actions().front()->trigger();
    settle();
    EXPECT_EQ(dossier().ports->front().nearby, std::vector<std::string>{"mains"});
    EXPECT_THAT(view.cautions().text().toStdString(), testing::HasSubstr("Mains voltage"));
}

TEST_F(PortStage, APortIsRenamedRefittedAndRemoved) {
    auto& page = window->page<PortPage>();
    // F2 on the box, a name, Enter.
    auto& chooser = page.ports();
    chooser.box().setFocus();
    QTest::keyClick(&chooser.box(), Qt::Key_F2);
    ASSERT_TRUE(chooser.field().isVisible());
    EXPECT_EQ(chooser.field().text(), to_q(dossier().ports->front().name));
    QTest::keyClicks(&chooser.field(), "Pad port");
    QTest::keyClick(&chooser.field(), Qt::Key_Return);
    settle();
    EXPECT_TRUE(chooser.box().isVisible());
    EXPECT_EQ(dossier().ports->front().name, "Pad port");
    page.begin_port();
    page.chooser().choose("dsub-9");
    for (auto* b : page.findChildren<QPushButton*>())
        if (b->text() == "Use it for J1") QTest::mouseClick(b, Qt::LeftButton);
    settle();
    EXPECT_EQ(dossier().ports->front().connector, "dsub-9");
    EXPECT_EQ(dossier().ports->front().pins.size(), 6U) << "its pins stay";
    for (auto* b : page.findChildren<QPushButton*>())
        if (b->text() == "Remove" && b->isVisible()) QTest::mouseClick(b, Qt::LeftButton);
    settle();
    EXPECT_EQ(dossier().find_port("J1"), nullptr);
    trigger("edit.undo");
    EXPECT_NE(dossier().find_port("J1"), nullptr);
}

TEST_F(PortStage, ACableIsMadeLaidAndPrinted) {
    auto& page = window->page<PortPage>();
    page.show_view("cables");
    settle();
    auto& view = page.cable_view();
    EXPECT_THAT(view.verdict().toStdString(), testing::HasSubstr("Nothing speaks against it"));
    EXPECT_EQ(view.wires().row_count(), 7) << "six wires and a row for the next";
    view.wires().type(0, 4, "pink");
    settle();
    EXPECT_EQ(dossier().cables->front().wires[0].colour, "pink");
    view.wires().type(6, 0, "7");
    settle();
    EXPECT_EQ(dossier().cables->front().wires.size(), 6U);
    ASSERT_EQ(view.wires().row_count(), 7);
    EXPECT_EQ(view.wires().text(6, 0), "7") << "half a wire stays to be finished";
    view.wires().type(6, 2, "9");
    settle();
    ASSERT_EQ(dossier().cables->front().wires.size(), 7U);
    EXPECT_EQ(dossier().cables->front().wires[6].b, "9");
    view.add_cable();
    settle();
    EXPECT_EQ(dossier().cables->size(), 2U);
    EXPECT_TRUE(view.write_card_to(path("card.pdf"), false));
    EXPECT_THAT(test::read_file(folder / "card.pdf"), testing::StartsWith("%PDF"));
    EXPECT_FALSE(view.write_card_to(path("card.odd"), false));
}

TEST_F(PortStage, APhotoIsBroughtInWhenSaved) {
    QImage picture(40, 30, QImage::Format_RGB32);
    picture.fill(Qt::gray);
    ASSERT_TRUE(picture.save(path("port.png")));
    window->page<PortPage>().add_photo(path("port.png"));
    settle();
    ASSERT_EQ(dossier().ports->front().photos.size(), 1U);
    trigger("file.save");
    EXPECT_EQ(dossier().ports->front().photos[0].file, "photos/port.png");
    EXPECT_TRUE(std::filesystem::exists(folder / "demo/calder-dial-pad.relic/photos/port.png"));
    test::write_file(folder / "no.png", "not a picture");
    window->page<PortPage>().add_photo(path("no.png"));
    EXPECT_THAT(window->page<PortPage>().message().toStdString(), testing::HasSubstr("no picture"));
}

TEST_F(PortStage, FindingsOfAnotherPortLeadThere) {
    ASSERT_TRUE(window->files().open(copy_demo("calder-page-card")));
    window->show_stage(Stage::port);
    settle();
    for (int i = 0; i < window->findings().cards().size(); ++i) {
        trigger("view.next-finding");
        settle();
    }
    EXPECT_TRUE(window->page<PortPage>().wrong_ways_view().isVisible() ||
                window->page<PortPage>().source_view().isVisible());
}

}  // namespace
}  // namespace grayrelic::app
