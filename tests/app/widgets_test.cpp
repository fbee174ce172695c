// SPDX-License-Identifier: GPL-3.0-or-later
// The document and the shared widgets on their own.
#include <QPainter>
#include <QSignalSpy>

#include "app/paint/wave.hpp"
#include "app/widgets/fact_row.hpp"
#include "app/widgets/histogram_view.hpp"
#include "tests/app/window_fixture.hpp"

#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {
namespace {

Dossier named(const std::string& name) {
    About about;
    about.name = name;
    return put({}, about);
}

TEST(DocumentHistory, StepsWithOneKeyBecomeOne) {
    Document d;
    d.open(named("a"), {});
    d.apply("type", named("ab"), "name");
    d.apply("type", named("abc"), "name");
    d.apply("other", named("x"));
    EXPECT_EQ(d.undo_stack().count(), 2);
    d.undo_stack().undo();
    EXPECT_EQ(d.dossier().about->name, "abc");
    d.undo_stack().undo();
    EXPECT_EQ(d.dossier().about->name, "a");
    d.wait_until_current();
}

TEST(DocumentHistory, NothingChangedIsNoStep) {
    Document d;
    d.open(named("a"), {});
    d.apply("nothing", named("a"));
    EXPECT_EQ(d.undo_stack().count(), 0);
    d.wait_until_current();
}

TEST(DocumentHistory, TheLastChangeWinsHoweverFastTheyCome) {
    Document d;
    d.open(named("a"), {});
    for (int i = 0; i < 50; ++i) d.apply("rename", named("n" + std::to_string(i)));
    d.wait_until_current();
    EXPECT_EQ(d.analysis().dossier.about->name, "n49");
}

TEST(DocumentHistory, OpeningAnotherDossierForgetsTheHistory) {
    Document d;
    d.open(named("a"), {});
    d.apply("rename", named("b"));
    d.open(named("c"), "/somewhere.relic");
    EXPECT_EQ(d.undo_stack().count(), 0);
    EXPECT_FALSE(d.is_modified());
    d.wait_until_current();
}

TEST(DocumentHistory, ACancelledAnalysisKeepsTheOldResultsUntilTheNextChange) {
    Document d;
    d.open(*load_dossier(test::source_folder() / "demos/calder-dial-pad.relic"),
           test::source_folder() / "demos/calder-dial-pad.relic");
    d.cancel_analysis();
    d.wait_until_current();
    auto about = *d.dossier().about;
    about.revision = 7;
    d.apply("revision", put(d.dossier(), about));
    d.wait_until_current();
    EXPECT_EQ(d.analysis().dossier.about->revision, 7);
    EXPECT_EQ(d.analysis().listen->captures.size(), 10U);
}

TEST(HistogramWidget, BarsBeyondTheDeadlineAreInTheStopColour) {
    HistogramView view;
    view.resize(400, 200);
    view.show_values({1e-6, 1e-6, 9e-6}, Driver::bridge, HistogramView::Marker{5e-6, "look"}, 0.0);
    const auto image = view.grab().toImage();
    const auto& h = view.histogram();
    const auto colour_at = [&](double seconds) {
        const auto c = view.bar_rect(h.bar_of(seconds)).center().toPoint();
        return image.pixelColor(c);
    };
    EXPECT_EQ(colour_at(1e-6), theme().slate);
    EXPECT_EQ(colour_at(9e-6), theme().oxide);
}

TEST(HistogramWidget, PickingGivesTheBarsRange) {
    HistogramView view;
    view.resize(400, 200);
    view.show_values({1e-6, 2e-6, 3e-6, 4e-6}, Driver::bridge, std::nullopt, 1e-6);
    QSignalSpy spy(&view, &HistogramView::picked);
    QTest::mouseClick(&view, Qt::LeftButton, Qt::NoModifier, view.bar_rect(1).center().toPoint());
    QTest::mouseClick(&view, Qt::LeftButton, Qt::ShiftModifier, view.bar_rect(2).center().toPoint());
    ASSERT_EQ(spy.count(), 2);
    EXPECT_NEAR(spy[0][0].toDouble(), 1.5e-6, 1e-12);  // bars are centred on the sampling's multiples
    EXPECT_NEAR(spy[0][1].toDouble(), 2.5e-6, 1e-12);
    EXPECT_NEAR(spy[1][1].toDouble(), 3.5e-6, 1e-12);
    view.clear_selection();
    EXPECT_EQ(spy.last()[0].toDouble(), spy.last()[1].toDouble());
}

TEST(WavePainting, LevelsStandWhereTheyShould) {
    QImage image(100, 40, QImage::Format_RGB32);
    image.fill(Qt::white);
    QPainter p(&image);
    // high from 250 to 750 of 1000 ns over 100 px: the line is at the top from x = 25 to 75
    draw_wave(p, *test::waveform_ns(false, {250, 750}), {Time{}, Time::ns(1000)}, QRectF(0, 10, 100, 20),
              Qt::black);
    p.end();
    const auto dark = [&](int x, int y) { return image.pixelColor(x, y).lightness() < 128; };
    EXPECT_TRUE(dark(10, 30));
    EXPECT_FALSE(dark(10, 10));
    EXPECT_TRUE(dark(50, 10));
    EXPECT_FALSE(dark(50, 30));
    EXPECT_TRUE(dark(90, 30));
    EXPECT_TRUE(dark(25, 20)) << "the rise";
}

TEST(FieldWidget, EscapeTakesTypingBackAndFailuresStay) {
    Field field;
    field.show_value("7");
    QStringList taken;
    field.commit = [&](const QString& text) -> std::optional<QString> {
        if (text == "bad") return QString("Expected better.");
        taken << text;
        return std::nullopt;
    };
    field.show();
    field.setFocus();
    field.selectAll();
    QTest::keyClicks(&field, "bad");
    QTest::keyClick(&field, Qt::Key_Return);
    EXPECT_EQ(field.problem(), "Expected better.");
    EXPECT_EQ(field.text(), "bad");
    QTest::keyClick(&field, Qt::Key_Escape);
    EXPECT_EQ(field.text(), "7");
    EXPECT_EQ(field.problem(), "");
    field.selectAll();
    QTest::keyClicks(&field, "8");
    QTest::keyClick(&field, Qt::Key_Return);
    EXPECT_EQ(taken, QStringList{"8"});
}

}  // namespace
}  // namespace grayrelic::app
