// SPDX-License-Identifier: GPL-3.0-or-later
// The Board view: scans brought, read, measured, corrected by strokes and clicks.
#include <gmock/gmock.h>

#include <QMenu>

#include <algorithm>

#include "render/picture.hpp"
#include "standin/board_artist.hpp"
#include "tests/app/trace_window.hpp"

#include "core/trace/trace_analysis.hpp"

namespace grayrelic::app {
namespace {

TEST_F(TraceWindow, TwoClicksOnTheBoardNameAPair) {
    open_card();
    page().show_view("board");
    settle();
    auto& canvas = page().board_view().canvas();
    const auto click = [&](const char* point) {
        const auto& b = window->document().analysis().trace->view->board;
        const auto& at = *b.points[static_cast<std::size_t>(b.table.find(point))].place;
        QTest::mouseClick(&canvas, Qt::LeftButton, {}, canvas.to_widget(at.x_mm, at.y_mm).toPoint());
    };
    click("U1.1");
    EXPECT_EQ(canvas.chosen(), "U1.1");
    click("U4.28");
    EXPECT_EQ(probe().entry().text(), "U1.1 U4.28 ");
    const auto before = readings();
    page().show_view("probe");
    probe().entry().setFocus();
    probe().setFocus();
    EXPECT_EQ(readings(), before) << "a pair without a reading is not entered by leaving the line";
}

TEST_F(TraceWindow, TheScanIsReadAndItsJoinsTakenOver) {
    open_card();
    page().show_view("board");
    settle();
    const auto& t = window->document().analysis().trace;
    ASSERT_TRUE(t->scan && t->scan->scanned);
    EXPECT_THAT(page().board_view().figures().toStdString(), testing::HasSubstr("106."));
    const auto before = readings();
    const auto nets = t->state.net_count();
    QTest::mouseClick(&page().board_view().merge_button(), Qt::LeftButton);
    settle();
    EXPECT_GT(readings(), before);
    EXPECT_EQ(dossier().readings->back().tool, "scan");
    EXPECT_LT(window->document().analysis().trace->state.net_count(), nets);
}

TEST_F(TraceWindow, StrokesAndMeasuringByDragging) {
    open_card();
    page().show_view("board");
    settle();
    auto& view = page().board_view();
    auto& canvas = view.canvas();
    const auto drag = [&](QPointF from, QPointF to) {
        const auto a = canvas.to_widget(from.x(), from.y()).toPoint(),
                   b = canvas.to_widget(to.x(), to.y()).toPoint();
        QTest::mousePress(&canvas, Qt::LeftButton, {}, a);
        QTest::mouseMove(&canvas, (a + b) / 2);
        QTest::mouseMove(&canvas, b);
        QTest::mouseRelease(&canvas, Qt::LeftButton, {}, b);
    };
    const auto choose = [&](BoardCanvas::Tool tool) {
        view.tool().setCurrentIndex(view.tool().findData(static_cast<int>(tool)));
        Q_EMIT view.tool().activated(view.tool().currentIndex());
    };
    choose(BoardCanvas::Tool::measure);
    drag({3.175, 3.175}, {103.5, 3.175});
    bool said = false;
    for (auto* l : view.findChildren<QLabel*>()) said = said || l->text().startsWith("Measured: 100.");
    EXPECT_TRUE(said) << "the corner holes are 106.68 - 6.35 = 100.33 mm apart";
    ASSERT_TRUE(view.measure_field().isVisible());
    view.measure_field().setFocus();
    QTest::keyClicks(&view.measure_field(), "corner holes");
    QTest::keyClick(&view.measure_field(), Qt::Key_Return);
    settle();
    ASSERT_EQ(dossier().dimensions->size(), 1U);
    const auto& kept = dossier().dimensions->front();
    EXPECT_NEAR(*kept.mm.value, 100.33, 0.5);
    EXPECT_NEAR(*kept.mm.uncertainty, 25.4 / 300, 0.01) << "a pixel of 300 dpi";
    EXPECT_EQ(kept.mm.evidence.kind, EvidenceKind::measured);
    EXPECT_THAT(kept.mm.evidence.source, testing::HasSubstr("scan Front"));
    choose(BoardCanvas::Tool::cut);
    drag({40, 60}, {45, 60});
    settle();
    ASSERT_EQ(dossier().trace->scans[0].strokes.size(), 1U);
    EXPECT_EQ(dossier().trace->scans[0].strokes[0].kind, StrokeKind::cut);
    EXPECT_NEAR(dossier().trace->scans[0].strokes[0].x1_mm, 40, 0.5);
    trigger("edit.undo");
    EXPECT_TRUE(dossier().trace->scans[0].strokes.empty());
}

TEST_F(TraceWindow, AClickSaysWhatThePictureShows) {
    open_card();
    page().show_view("board");
    settle();
    auto& view = page().board_view();
    auto& canvas = view.canvas();
    const auto choose = [&](BoardCanvas::Tool tool) {
        view.tool().setCurrentIndex(view.tool().findData(static_cast<int>(tool)));
        Q_EMIT view.tool().activated(view.tool().currentIndex());
    };
    const auto nets = window->document().analysis().trace->scan_nets.nets.size();
    // A bare place called copper turns the reading over: what was copper is board now.
    choose(BoardCanvas::Tool::copper);
    const auto at = canvas.to_widget(53, 1.2).toPoint();
    ASSERT_EQ(window->document().analysis().trace->scan->scanned->layers[0].at(53, 1.2), Ground::board);
    QTest::mouseClick(&canvas, Qt::LeftButton, {}, at);
    // The part in sight answers before both pictures are read again.
    const auto before = window->document().analysis().trace;
    const auto answered = [&] {
        const auto labels = view.findChildren<QLabel*>();
        return std::any_of(labels.begin(), labels.end(),
                           [](QLabel* l) { return l->text().contains(QStringLiteral("mm² in sight")); });
    };
    ASSERT_TRUE(QTest::qWaitFor(answered, 10'000));
    EXPECT_EQ(window->document().analysis().trace, before);
    settle();
    EXPECT_FALSE(answered());
    ASSERT_EQ(dossier().trace->scans[0].clicks.size(), 1U);
    EXPECT_EQ(dossier().trace->scans[0].clicks[0].kind, ClickKind::copper);
    EXPECT_NEAR(dossier().trace->scans[0].clicks[0].x_mm, 53, 0.5);
    EXPECT_EQ(window->document().analysis().trace->scan->scanned->layers[0].at(53, 1.2), Ground::copper);
    EXPECT_THAT(view.figures().toStdString(), testing::HasSubstr("The last change altered"));
    EXPECT_NE(window->document().analysis().trace->scan_nets.nets.size(), nets);
    auto* menu = view.findChild<QMenu*>(QStringLiteral("take-back"));
    Q_EMIT menu->aboutToShow();
    EXPECT_FALSE(menu->actions()[0]->isEnabled());  // no stroke was drawn
    menu->actions()[1]->trigger();
    settle();
    EXPECT_TRUE(dossier().trace->scans[0].clicks.empty());
    EXPECT_EQ(window->document().analysis().trace->scan_nets.nets.size(), nets);
    // Taken back before the whole is read, nothing of it stays to see.
    const auto plain = canvas.grab().toImage();
    QTest::mouseClick(&canvas, Qt::LeftButton, {}, at);
    ASSERT_TRUE(QTest::qWaitFor(answered, 10'000));
    EXPECT_NE(canvas.grab().toImage(), plain);
    trigger("edit.undo");
    EXPECT_FALSE(answered());
    settle();
    EXPECT_EQ(canvas.grab().toImage(), plain);
}

TEST_F(TraceWindow, ADroppedPictureBecomesAScanAndReferencesAreTyped) {
    standin::BoardArt art;
    art.width = 40;
    art.height = 30;
    for (const double x : {3.175, 36.825})
        for (const double y : {3.175, 26.825}) art.pads.push_back({x, y, 4.0, 2.5});
    standin::ScanStyle style;
    style.dpi = 200;
    const auto painted = standin::paint_scan(art, BoardSide::front, style);
    ASSERT_TRUE(render::write_png(painted.pixels, folder / "front.png"));
    window->files().make_new();
    window->files().drop({path("front.png")});
    settle();
    EXPECT_EQ(window->stage(), Stage::trace);
    ASSERT_EQ(dossier().trace->scans.size(), 1U);
    for (const auto& r : painted.references) {
        Q_EMIT page().board_view().canvas().marked(QPointF(r.x_px, r.y_px));
        type_into(&page().board_view().reference_field(),
                  QStringLiteral("%1 %2").arg(r.x_mm).arg(r.y_mm).toUtf8().constData());
    }
    settle();
    ASSERT_EQ(dossier().trace->scans[0].references.size(), 4U);
    const auto& t = window->document().analysis().trace;
    ASSERT_TRUE(t->scan->scanned);
    EXPECT_NEAR(t->scan->scanned->width_mm, 40, 0.15);
    type_into(&page().board_view().reference_field(), "nonsense");
    EXPECT_EQ(dossier().trace->scans[0].references.size(), 4U);
}

TEST_F(TraceWindow, ADrawingIsNoPicture) {
    open_card();
    test::write_file(
        folder / "scan.png",
        "<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\" width=\"40\" "
        "height=\"40\"><image width=\"40\" height=\"40\" xlink:href=\"../../secret.png\"/></svg>");
    const auto read = render::read_picture((folder / "scan.png").string());
    ASSERT_FALSE(read);
    EXPECT_THAT(read.error().message(),
                testing::HasSubstr("found no picture, expected a PNG, JPEG, BMP or PPM picture"));
    window->show_stage(Stage::port);
    const auto before = window->document().dossier();
    window->page<PortPage>().add_photo(path("scan.png"));
    EXPECT_EQ(window->document().dossier(), before);
}

}  // namespace
}  // namespace grayrelic::app
