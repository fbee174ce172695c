// SPDX-License-Identifier: GPL-3.0-or-later
// Listen's views of files and of recordings that are still being made.
#include <gmock/gmock.h>

#include <thread>

#include "app/stages/listen/listen_page.hpp"
#include "standin/logic_stream.hpp"
#include "standin/spoken.hpp"
#include "tests/app/window_fixture.hpp"

#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {
namespace {

class Live : public WindowTest {
  protected:
    ListenPage& page() { return window->page<ListenPage>(); }
    LiveView& live() { return page().live(); }
    void show(const char* view) {
        window->show_stage(Stage::listen);
        page().show_view(view);
        wait();
    }
    void press_start() { QTest::mouseClick(&live().start_button(), Qt::LeftButton); }
};

TEST_F(Live, AGrowingFileIsFollowedStoppedAndKept) {
    const auto spoken = standin::speak("latch-shift", {.seed = 6, .words = 40});
    standin::LogicStream stream(spoken.capture);
    const auto file = folder / "growing.vcd";
    std::string text = stream.definitions();
    test::write_file(file, text);
    window->files().make_new();
    show("live");
    ASSERT_TRUE(live().isVisible()) << "also without a capture";
    live().source().setText(path("growing.vcd"));
    press_start();
    ASSERT_TRUE(live().is_running());
    const Time length = spoken.capture.extent.length();
    for (int i = 1; i <= 10; ++i) {
        std::string more;
        stream.changes(length * i / 10 - Time::us(1), more);
        std::ofstream(file, std::ios::binary | std::ios::app) << more;
        QTest::qWait(20);
    }
    const auto edges = spoken.capture.edge_count();
    EXPECT_TRUE(wait_until([&] { return live().waves().row_count() == 3; }));
    ASSERT_TRUE(wait_until([&] { return live().state_text().contains(QStringLiteral("edges")); }));
    QTest::qWait(200);
    press_start();  // it says Stop now
    EXPECT_FALSE(live().is_running());
    EXPECT_THAT(live().state_text().toStdString(),
                testing::HasSubstr(print_count(static_cast<long long>(edges)) + " edges"));
    ASSERT_TRUE(live().keep_button().isEnabled());
    QTest::mouseClick(&live().keep_button(), Qt::LeftButton);
    wait();
    ASSERT_EQ(dossier().captures->size(), 1U);
    const auto& c = *window->document().analysis().listen->captures.at(0);
    ASSERT_TRUE(c.capture) << c.problem;
    EXPECT_EQ(c.capture->edge_count(), edges);
    EXPECT_FALSE(live().keep_button().isEnabled());
}

TEST_F(Live, AStreamStopsByItselfAtWhatIsLookedFor) {
    // The conversation holds one poll in which LATCH is far longer; a port on the loopback sends it for ever.
    standin::Wire latch("LATCH", false), other("BUSY", false);
    for (int i = 0; i < 50; ++i) {
        const Time t = Time::ms(2 * i + 1);
        latch.pulse(t, t + (i == 33 ? Time::us(90) : Time::us(12)), true);
        other.pulse(t + Time::us(300), t + Time::us(500), true);
    }
    const auto capture = standin::capture_of({latch, other}, Time::ms(101));
    std::atomic<int> port{0};
    std::thread([&port, capture] {
        (void)standin::serve_logic([capture] { return standin::LogicStream(capture); }, 0,
                                   {.speed = 0.5, .seconds = 0}, [&port](int p) { port = p; });
    }).detach();
    ASSERT_TRUE(wait_until([&] { return port > 0; }));
    show("live");
    live().source().setText(QStringLiteral("port %1").arg(port));
    live().stop_box().setCurrentIndex(LiveView::pulse_longer);
    live().stop_field().setText("LATCH much");
    press_start();
    EXPECT_FALSE(live().is_running());
    EXPECT_THAT(live().state_text().toStdString(), testing::HasSubstr("a signal and a length"));
    live().stop_field().setText("LATCH 50us");
    press_start();
    ASSERT_TRUE(live().is_running()) << live().state_text().toStdString();
    // Between the polls LATCH rests low for longer than 50 µs: a low pulse is one, too, so it stops at once.
    ASSERT_TRUE(wait_until([&] { return !live().is_running(); }));
    EXPECT_THAT(live().state_text().toStdString(), testing::HasSubstr("Stopped at what was looked for"));
    live().stop_box().setCurrentIndex(LiveView::order);
    live().stop_field().setText("LATCH:rise then BUSY:rise within 250us");
    press_start();
    EXPECT_FALSE(wait_until([&, n = 0]() mutable { return ++n > 60 || !live().is_running(); }) &&
                 !live().is_running())
        << "they are 300 µs apart";
    press_start();
    live().stop_field().setText("LATCH:rise then BUSY:rise within 350us");
    press_start();
    ASSERT_TRUE(wait_until([&] { return !live().is_running(); }));
    ASSERT_TRUE(live().waves().cursors().a && live().waves().cursors().b);
    EXPECT_EQ(*live().waves().cursors().b - *live().waves().cursors().a, Time::us(300));
}

TEST_F(Live, WhatCannotBeFollowedIsSaid) {
    show("live");
    press_start();
    EXPECT_THAT(live().state_text().toStdString(), testing::HasSubstr("Say what to follow"));
    live().source().setText(path("missing.vcd"));
    press_start();
    EXPECT_THAT(live().state_text().toStdString(), testing::HasSubstr("missing.vcd"));
    live().source().setText("port 1");
    press_start();
    EXPECT_THAT(live().state_text().toStdString(), testing::HasSubstr("port 1"));
    test::write_file(
        folder / "bad.vcd",
        "$timescale 1 ns $end\n$var wire 1 ! a $end\n$enddefinitions $end\n#0\n0!\n#10\nrubbish here\n#20\n");
    live().source().setText(path("bad.vcd"));
    press_start();
    ASSERT_TRUE(wait_until([&] { return !live().is_running(); }));
    EXPECT_THAT(live().state_text().toStdString(), testing::HasSubstr("bad.vcd:7"));
    live().stop_box().setCurrentIndex(LiveView::length);
    live().stop_field().setText("never");
    press_start();
    EXPECT_THAT(live().state_text().toStdString(), testing::HasSubstr("time such as"));
}

// --- how files were understood
// ------------------------------------------------------------------------------------

TEST_F(Live, ATableIsPreviewedAndReadInAnotherWay) {
    drop_new("bench.csv", "Bench capture\nt;probe;line\n0;0,1;1\n5;4,9;0\n9;0,2;1\n20;5,0;1\n");
    show("file");
    wait();
    auto& file = page().file();
    ASSERT_EQ(file.rows().column_count(), 3);
    EXPECT_EQ(file.rows().row_count(), 4);
    EXPECT_EQ(file.rows().heading(0), "t\ntime in ns");
    EXPECT_EQ(file.rows().heading(1), "probe\nanalogue");
    EXPECT_EQ(file.rows().text(1, 1), "4,9");
    EXPECT_FALSE(file.read_button().isEnabled()) << "it is read so already";
    auto& unit = *file.box("unit");
    unit.setCurrentIndex(unit.findData("us"));
    Q_EMIT unit.activated(unit.currentIndex());
    wait();
    EXPECT_EQ(file.rows().heading(0), "t\ntime in us");
    EXPECT_EQ(file.state_text(), "Not read so yet.");
    EXPECT_EQ(window->document().analysis().listen->captures.at(0)->capture->extent.to, Time::ns(20));
    QTest::mouseClick(&file.read_button(), Qt::LeftButton);
    wait();
    EXPECT_EQ(window->document().analysis().listen->captures.at(0)->capture->extent.to, Time::us(20));
    EXPECT_EQ(dossier().captures->front().read_as.at("unit"), "us");
    EXPECT_TRUE(file.state_text().isEmpty());
    // Saved with the dossier, and undone like any edit.
    ASSERT_TRUE(window->files().save_to(path("kept")));
    ASSERT_TRUE(window->files().open(path("kept")));
    settle();
    EXPECT_EQ(dossier().captures->front().read_as.at("unit"), "us");
    EXPECT_EQ(window->document().analysis().listen->captures.at(0)->capture->extent.to, Time::us(20));
    show("file");
    type_into(file.field("first_row"), "x");
    EXPECT_THAT(file.state_text().toStdString(), testing::HasSubstr("number of a line"));
    EXPECT_FALSE(file.read_button().isEnabled());
    type_into(file.field("first_row"), "4");
    wait();
    EXPECT_EQ(dossier().captures->front().read_as.at("first_row"), "4");
    trigger("edit.undo");
    EXPECT_EQ(dossier().captures->front().read_as.count("first_row"), 0U);
}

TEST_F(Live, PackedSamplesAreUnderstoodOnceTheirShapeIsSaid) {
    // Bit 0 toggles with each byte, bit 3 with each fourth.
    std::string bytes;
    for (int i = 0; i < 64; ++i) bytes += static_cast<char>((i & 1) | ((i / 4 & 1) << 3));
    drop_new("lines.bin", bytes);
    show("file");
    EXPECT_FALSE(window->document().analysis().listen->captures.at(0)->capture);
    auto& file = page().file();
    auto& raw = *file.box("raw");
    ASSERT_TRUE(raw.isVisible());
    raw.setCurrentIndex(raw.findData("8"));
    Q_EMIT raw.activated(raw.currentIndex());
    EXPECT_THAT(file.state_text().toStdString(), testing::HasSubstr("rate"));
    type_into(file.field("raw_rate"), "1 MHz");
    wait();
    const auto& c = *window->document().analysis().listen->captures.at(0);
    ASSERT_TRUE(c.capture) << c.problem;
    EXPECT_EQ(c.capture->signals.size(), 8U);
    EXPECT_EQ((*c.capture->find_digital("d0"))->edges().size(), 63U);
    EXPECT_EQ((*c.capture->find_digital("d3"))->edges().size(), 15U);
    EXPECT_EQ(c.capture->extent.to, Time::us(64));
}

}  // namespace
}  // namespace grayrelic::app
