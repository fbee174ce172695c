// SPDX-License-Identifier: GPL-3.0-or-later
// Port's later views as a person uses them: how to record it, the supplies at a jack, what speaks against a
// cable, a connector found by its measures.
#include "core/port/cable.hpp"
#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {
namespace {

class TapStage : public WindowTest {
  protected:
    void SetUp() override {
        WindowTest::SetUp();
        open_demo();
        window->show_stage(Stage::port);
        settle();
    }
    PortPage& page() { return window->page<PortPage>(); }
    TapView& taps() {
        page().show_view("taps");
        settle();
        return page().tap_view();
    }
};

TEST_F(TapStage, ThePlanIsShownAndChanged) {
    auto& view = taps();
    ASSERT_TRUE(view.isVisible());
    // HOLD, STEP, REPLY and BANK are signals; the pad's supply is a meter's work.
    EXPECT_EQ(view.lines().row_count(), 6);
    EXPECT_EQ(view.study().least_rate_hz, 2.5e6) << "five samples of 2 µs";
    EXPECT_EQ(view.study().rate_hz, 4e6);
    view.shortest().setFocus();
    view.shortest().selectAll();
    QTest::keyClicks(&view.shortest(), "500ns");
    QTest::keyClick(&view.shortest(), Qt::Key_Return);
    settle();
    EXPECT_EQ(view.study().rate_hz, 12e6);
    EXPECT_EQ(dossier().find_port("J1")->taps.shortest.value, *parse_time("500ns"));
    view.shortest().selectAll();
    QTest::keyClicks(&view.shortest(), "soon");
    QTest::keyClick(&view.shortest(), Qt::Key_Return);
    EXPECT_THAT(view.shortest().problem().toStdString(), testing::HasSubstr("expected a time"));
    EXPECT_EQ(dossier().find_port("J1")->taps.shortest.value, *parse_time("500ns"));
}

TEST_F(TapStage, WhatIsWantedIsTypedInTheTable) {
    auto& view = taps();
    const int before = view.wishes().row_count();
    view.wishes().type(before - 1, 0, "a key held for a minute");
    settle();
    ASSERT_EQ(view.wishes().row_count(), before + 1);
    view.wishes().type(before - 1, 2, "60 s");
    settle();
    view.wishes().type(before - 1, 3, "5");
    settle();
    const auto& wish = dossier().find_port("J1")->taps.wishes.back();
    EXPECT_EQ(wish.what, "a key held for a minute");
    EXPECT_EQ(wish.every_s, 60.0);
    EXPECT_EQ(wish.times, 5);
    EXPECT_GT(view.study().seconds, 500) << "60 s · 9.15";
    view.wishes().type(before - 1, 2, "often");
    settle();
    EXPECT_THAT(view.said().toStdString(), testing::HasSubstr("expected how often"));
    EXPECT_EQ(dossier().find_port("J1")->taps.wishes.back().every_s, 60.0);
    trigger("edit.undo");
    EXPECT_EQ(dossier().find_port("J1")->taps.wishes.back().times, 20);
}

TEST_F(TapStage, ALineIsPickedInTheDrawingAndTheCardIsWritten) {
    auto& view = taps();
    QTest::mouseClick(&view.drawing(), Qt::LeftButton, Qt::NoModifier, view.drawing().middle_of("pin 5"));
    settle();
    EXPECT_TRUE(view.write_card_to(path("taps.pdf")));
    EXPECT_THAT(test::read_file(folder / "taps.pdf"), testing::StartsWith("%PDF"));
    EXPECT_FALSE(view.write_card_to("/nonexistent/taps.pdf"));
}

TEST_F(TapStage, TheUsualSuppliesAreTriedAtAJack) {
    ASSERT_TRUE(window->files().open(copy_demo("calder-chart-slate")));
    window->show_stage(Stage::port);
    settle();
    page().show_place({"port", "J3"});
    page().show_view("wrong-ways");
    settle();
    auto& view = page().wrong_ways_view();
    const int supplies = view.against().findText("the usual supplies with that plug");
    ASSERT_GE(supplies, 0);
    view.against().setCurrentIndex(supplies);
    Q_EMIT view.against().activated(supplies);
    settle();
    ASSERT_GE(view.cases().count(), 8);
    bool meant = false;
    for (int i = 0; i < view.cases().count(); ++i) {
        view.cases().setCurrentRow(i);
        const auto name = view.cases().item(i)->text();
        EXPECT_FALSE(view.collisions().isEmpty()) << name.toStdString();
        if (name.startsWith("12 V, middle positive")) {
            meant = name.endsWith("what the jack wants");
            EXPECT_THAT(view.collisions().toStdString(), testing::HasSubstr("What the jack wants"));
        }
        // Its P-channel transistor keeps the wrong polarity out.
        if (name.startsWith("12 V, middle negative")) {
            EXPECT_THAT(view.remedy().toStdString(), testing::HasSubstr("it would be: stop"));
        }
    }
    EXPECT_TRUE(meant);
    EXPECT_EQ(page().ports().chosen(), "J3");
}

TEST_F(TapStage, ACableSaysWhatSpeaksAgainstIt) {
    page().show_view("cables");
    settle();
    auto cable = dossier().cables->front();
    const auto lines = page().cable_view().verdict();
    EXPECT_THAT(lines.toStdString(), testing::HasSubstr("Nothing speaks against it"));
    // Both ends lose their ground.
    const auto* port = dossier().find_port(cable.a.port);
    std::erase_if(cable.wires,
                  [&](const CableWire& w) { return role_of(*port->find_pin(w.a)) == PinRole::ground; });
    window->document().apply("no ground", put(dossier(), cable));
    settle();
    EXPECT_THAT(page().cable_view().verdict().toStdString(), testing::HasSubstr("has no ground wire"));
}

TEST_F(TapStage, AConnectorIsFoundByItsMeasures) {
    page().begin_port();
    settle();
    auto& chooser = page().chooser();
    chooser.filter().clear();
    QTest::keyClicks(&chooser.filter(), "2.77 mm 2 rows 9 pins");
    ASSERT_EQ(chooser.list().count(), 1);
    EXPECT_EQ(chooser.chosen(), "dsub-9");
    chooser.filter().clear();
    QTest::keyClicks(&chooser.filter(), "2x13 2.54mm");
    ASSERT_GT(chooser.list().count(), 1);
    for (int i = 0; i < chooser.list().count(); ++i) {
        chooser.list().setCurrentRow(i);
        EXPECT_THAT(chooser.chosen().toStdString(), testing::HasSubstr("2x13"));
    }
}

}  // namespace
}  // namespace grayrelic::app
