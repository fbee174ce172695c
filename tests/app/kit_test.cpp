// SPDX-License-Identifier: GPL-3.0-or-later
// The kit that views are made of: pan and zoom, item choosers, drawings that are saved.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <QImage>
#include <QTest>
#include <QWheelEvent>

#include <random>

#include "app/stages/port/port_page.hpp"
#include "app/stages/timing/timing_page.hpp"
#include "app/widgets/drawing_view.hpp"
#include "app/widgets/item_chooser.hpp"
#include "app/widgets/pan_zoom.hpp"
#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {
namespace {

QWheelEvent notch(QPointF at, int y, Qt::KeyboardModifiers held = {}) {
    return QWheelEvent(at, at, {}, {0, y}, Qt::NoButton, held, Qt::NoScrollPhase, false);
}

TEST(TimeWindow, StaysInsideOfItsWhole) {
    std::mt19937_64 random(11);
    const auto pick = [&](std::int64_t most) {
        return static_cast<std::int64_t>(random() % static_cast<std::uint64_t>(most));
    };
    for (int round = 0; round < 300; ++round) {
        TimeWindow w;
        const Time from = Time::ps(pick(2'000'000'000) - 1'000'000'000);
        const Span whole{from, from + Time::ps(1 + pick(1'000'000'000'000))};
        const Time least = Time::ps(1 + pick(10'000));
        w.set_whole(whole, least);
        w.show_all();
        for (int step = 0; step < 40; ++step) {
            switch (pick(4)) {
                case 0:
                    w.zoom(0.01 * static_cast<double>(1 + pick(1000)), 0.01 * static_cast<double>(pick(101)));
                    break;
                case 1: w.pan(0.01 * static_cast<double>(pick(1000) - 500)); break;
                case 2: w.set({Time::ps(pick(1'000'000'000'000)), Time::ps(pick(1'000'000'000'000))}); break;
                default:
                    w.wheel(notch({static_cast<double>(pick(900)), 5}, static_cast<int>(pick(2000) - 1000),
                                  pick(2) == 0 ? Qt::ControlModifier : Qt::NoModifier),
                            80, 700);
            }
            ASSERT_GE(w.span().length(), least);
            ASSERT_GE(w.span().from, whole.from);
            ASSERT_LE(w.span().to, std::max(whole.to, whole.from + least));
        }
    }
}

TEST(TimeWindow, WhatLiesUnderThePointerStaysThere) {
    TimeWindow w;
    w.set_whole({Time{}, Time::ms(100)});
    w.show_all();
    // The plot is 500 wide and begins at 100: x = 225 is a quarter of it, 25 ms.
    EXPECT_EQ(w.time_at(225, 100, 500), Time::ms(25));
    ASSERT_TRUE(w.wheel(notch({225, 0}, 240, Qt::ControlModifier), 100, 500));
    EXPECT_LT(w.span().length(), Time::ms(60));
    EXPECT_NEAR(w.x_of(Time::ms(25), 100, 500), 225, 1e-3);
    const auto zoomed = w.span();
    ASSERT_TRUE(w.wheel(notch({225, 0}, -120), 100, 500))
        << "the wheel alone pans, towards the reader: later";
    EXPECT_GT(w.span().from, zoomed.from);
    EXPECT_EQ(w.span().length(), zoomed.length());
    // A window an hour long, zoomed to nanoseconds, is as exact as a picosecond.
    w.set_whole({Time{}, Time::s(3600)}, Time::ns(1));
    w.show_all();
    const Time mark = Time::s(1800) + Time::ps(123'456'789);
    for (int i = 0; i < 200; ++i) {
        const double share = (w.x_of(mark, 0, 1000)) / 1000;
        w.zoom(1.4, share);
    }
    EXPECT_EQ(w.span().length(), Time::ns(1));
    EXPECT_TRUE(w.span().contains(mark));
}

TEST(PlaneWindow, ZoomsAtAPlaceFitsAndConfines) {
    PlaneWindow w;
    w.set_limits(0.5, 40);
    w.fit(QRectF(-10, -20, 100, 50), QSizeF(400, 400));
    EXPECT_DOUBLE_EQ(w.scale(), 4.0);  // 400 / 100
    EXPECT_EQ(w.to_view({40, 5}), QPointF(200, 200)) << "the plane's middle in the view's";
    const QPointF at(320, 90), under = w.to_plane(at);
    w.zoom(3, at);
    EXPECT_NEAR(w.to_plane(at).x(), under.x(), 1e-9);
    EXPECT_NEAR(w.to_plane(at).y(), under.y(), 1e-9);
    w.zoom(1000, at);
    EXPECT_DOUBLE_EQ(w.scale(), 40.0);
    w.pan({1e7, -1e7});
    w.confine(QRectF(-10, -20, 100, 50), QSizeF(400, 400));
    EXPECT_NEAR(w.to_view({-10, 0}).x(), 0, 1e-6) << "its left edge no further in than the view's";
    EXPECT_NEAR(w.to_view({0, 30}).y(), 400, 1e-6);
    w.zoom(1e-6, {200, 200});
    w.confine(QRectF(-10, -20, 100, 50), QSizeF(400, 400));
    EXPECT_NEAR(w.to_view({40, 5}).x(), 200, 1e-6) << "what is smaller than the view stands in its middle";
}

class Kit : public WindowTest {
  protected:
    void rename(ItemChooser& chooser, const QString& name, Qt::Key last = Qt::Key_Return) {
        chooser.box().setFocus();
        QTest::keyClick(&chooser.box(), Qt::Key_F2);
        chooser.field().selectAll();
        QTest::keyClicks(&chooser.field(), name);
        QTest::keyClick(&chooser.field(), last);
        settle();
    }
};

TEST_F(Kit, ANameIsTypedInPlaceAndUndone) {
    open_demo();
    window->show_stage(Stage::port);
    window->page<PortPage>().show_view("cables");
    settle();
    auto& page = window->page<PortPage>();
    auto& cables = page.findChild<CableView*>()->chooser();
    if (cables.count() == 0) QTest::mouseClick(&cables.add(), Qt::LeftButton);
    settle();
    ASSERT_GE(cables.count(), 1);
    const auto before = dossier().cables->front().name;
    rename(cables, "Loom");
    EXPECT_EQ(dossier().cables->front().name, "Loom");
    EXPECT_EQ(cables.name(), "Loom");
    trigger("edit.undo");
    settle();
    EXPECT_EQ(dossier().cables->front().name, before);
    rename(cables, "Never", Qt::Key_Escape);
    EXPECT_EQ(dossier().cables->front().name, before);
    EXPECT_TRUE(cables.box().isVisible());
    rename(cables, "   ");
    EXPECT_EQ(dossier().cables->front().name, before);
    EXPECT_TRUE(cables.field().isVisible()) << "it stays until the name is mended or taken back";
    EXPECT_FALSE(cables.field().problem().isEmpty());
    QTest::keyClick(&cables.field(), Qt::Key_Escape);
    settle();
    EXPECT_TRUE(cables.box().isVisible());
    const int count = cables.count();
    QTest::mouseClick(&cables.remove(), Qt::LeftButton);
    settle();
    EXPECT_EQ(cables.count(), count - 1);
}

TEST_F(Kit, ADrawingIsSavedInThreeForms) {
    open_demo();
    window->show_stage(Stage::timing);
    window->page<TimingPage>().show_view("logic");
    settle();
    auto* drawing = window->findChild<DrawingView*>();
    ASSERT_NE(drawing, nullptr);
    for (auto* d : window->findChildren<DrawingView*>())
        if (d->drawing().width > drawing->drawing().width) drawing = d;
    ASSERT_GT(drawing->drawing().width, 0);
    EXPECT_EQ(drawing->write_to(path("ladder.svg")), "");
    EXPECT_THAT(test::read_file(folder / "ladder.svg"), testing::HasSubstr("<svg"));
    EXPECT_EQ(drawing->write_to(path("ladder.pdf")), "");
    EXPECT_TRUE(test::read_file(folder / "ladder.pdf").starts_with("%PDF"));
    EXPECT_EQ(drawing->write_to(path("ladder.png")), "");
    const QImage image(path("ladder.png"));
    // 200 dots to the inch of a drawing in units of 1/96 inch.
    EXPECT_NEAR(image.width(), drawing->drawing().width * 200 / 96, 1.0);
    int inked = 0;
    for (int y = 0; y < image.height(); y += 3)
        for (int x = 0; x < image.width(); x += 3) inked += image.pixelColor(x, y).lightness() < 128 ? 1 : 0;
    EXPECT_GT(inked, 50);
    EXPECT_THAT(drawing->write_to(path("ladder.bmp")).toStdString(),
                testing::HasSubstr(".pdf, .svg or .png"));
    EXPECT_NE(drawing->write_to(path("no/such/folder.svg")), "");
    // By key, to where the person says.
    drawing->ask_file = [this] { return path("by-key.svg"); };
    drawing->setFocus();
    QTest::keyClick(drawing, Qt::Key_E);
    EXPECT_THAT(test::read_file(folder / "by-key.svg"), testing::HasSubstr("<svg"));
}

}  // namespace
}  // namespace grayrelic::app
