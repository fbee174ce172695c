// SPDX-License-Identifier: GPL-3.0-or-later
// Listen's views that study a capture: what it could be, shapes, the button hunt, original against replica.
#include <gmock/gmock.h>

#include "app/stages/listen/listen_page.hpp"
#include "core/capture/vcd_writer.hpp"
#include "core/listen/listen_analysis.hpp"
#include "standin/spoken.hpp"
#include "tests/app/window_fixture.hpp"
#include "tests/unseen/judge.hpp"

namespace grayrelic::app {
namespace {

class Study : public WindowTest {
  protected:
    ListenPage& page() { return window->page<ListenPage>(); }
    void show(const char* view) {
        window->show_stage(Stage::listen);
        page().show_view(view);
        wait();
    }
};

TEST_F(Study, AnUnknownCaptureIsDroppedIdentifiedAndReadWithOneButton) {
    standin::SpeakOptions o;
    o.unrelated = 2;
    o.jitter = 0.01;
    test::write_file(folder / "port.vcd", dump(standin::speak("framed-clock", o).capture));
    window->files().make_new();
    window->files().drop({path("port.vcd")});
    settle();
    show("identify");
    auto& view = page().identification();
    ASSERT_FALSE(view.candidates().empty());
    EXPECT_THAT(view.verdict().toStdString(), testing::HasSubstr("framed-clock"));
    EXPECT_EQ(view.table().text(0, 1), "framed-clock");
    QTest::mouseClick(&view.adopt_button(), Qt::LeftButton);
    wait();
    const auto& c = *window->document().analysis().listen->captures.at(0);
    EXPECT_EQ(c.ref.decode.kind, "framed-clock");
    ASSERT_TRUE(c.decoding);
    EXPECT_EQ(c.decoding->frames.size(), 200U);
    EXPECT_EQ(c.decoding->frames_with_errors(), 0);
    EXPECT_EQ(page().decoder_bar().kind().currentText(), "framed-clock");
    EXPECT_EQ(page().decoder_bar().role("clock")->currentText(), "CLOCK");
    trigger("edit.undo");
    settle();
    EXPECT_TRUE(window->document().analysis().listen->captures.at(0)->ref.decode.kind.empty());
}

TEST_F(Study, NoiseFitsNothingAndSaysSo) {
    std::vector<standin::Wire> wires{standin::chatter("a", 3, Time::ms(9), Time::us(20)),
                                     standin::chatter("b", 4, Time::ms(9), Time::us(31))};
    test::write_file(folder / "noise.vcd", dump(standin::capture_of(wires, Time::ms(9))));
    window->files().make_new();
    window->files().drop({path("noise.vcd")});
    settle();
    show("identify");
    EXPECT_THAT(page().identification().verdict().toStdString(), testing::HasSubstr("None fits"));
}

TEST_F(Study, TheFamilyAndItsRolesAreChosenByHand) {
    ASSERT_TRUE(window->files().open(copy_demo("calder-chart-slate")));
    settle();
    show("waves");
    auto& bar = page().decoder_bar();
    EXPECT_EQ(bar.kind().currentText(), "async-serial");
    EXPECT_EQ(bar.settings().text(), "packets=length:6+xor");
    ASSERT_TRUE(window->document().analysis().listen->captures.at(0)->decoding);
    EXPECT_EQ(window->document().analysis().listen->captures.at(0)->decoding->frames.size(), 240U);
    bar.settings().setText("bits=purple");
    QTest::mouseClick(bar.read_button(), Qt::LeftButton);
    wait();
    EXPECT_THAT(window->document().analysis().listen->captures.at(0)->decode_problem,
                testing::HasSubstr("bits"));
    bar.settings().setText("baud=13.36kHz");
    QTest::mouseClick(bar.read_button(), Qt::LeftButton);
    wait();
    EXPECT_EQ(window->document().analysis().listen->captures.at(0)->decoding->frames.size(), 1440U);
    // Another family brings other roles; a role of several lines is one line of names.
    bar.kind().setCurrentIndex(bar.kind().findText("strobed-bus"));
    Q_EMIT bar.kind().activated(bar.kind().currentIndex());
    ASSERT_NE(bar.role("strobe"), nullptr);
    ASSERT_NE(bar.list_role("data"), nullptr);
    EXPECT_EQ(bar.role("latch"), nullptr);
}

TEST_F(Study, SeveralLinksAreReadWithOneClick) {
    // Two links of different pace in one recording, made by tests/unseen.
    std::uint64_t seed = 80'000;
    auto made = unseen::make(seed, "pulse-width");
    while (made.links.size() != 2 || made.links[1].kind != "async-serial")
        made = unseen::make(++seed, "pulse-width");
    {
        const OffTheRecord off;
        drop_new("two.vcd", dump(unseen::capture_of(made)));
    }
    show("identify");
    auto& view = page().identification();
    ASSERT_TRUE(wait_until([&] { return !view.candidates().empty(); }));
    EXPECT_THAT(view.verdict().toStdString(), testing::HasSubstr("links")) << made.about;
    ASSERT_TRUE(view.adopt_all_button().isVisible());
    QTest::mouseClick(&view.adopt_all_button(), Qt::LeftButton);
    wait();
    const auto& ref = dossier().captures->front();
    std::set<std::string> kinds{ref.decode.kind};
    for (const auto& d : ref.also) kinds.insert(d.kind);
    EXPECT_TRUE(kinds.count("pulse-width") == 1 && kinds.count("async-serial") == 1);
    trigger("edit.undo");
    settle();
    EXPECT_EQ(dossier().captures->front().decode.kind, "");
}

TEST_F(Study, ShapesOverlayAndTheWayToAnOutlier) {
    open_demo();
    show("shapes");
    auto& view = page().shapes();
    ASSERT_NE(view.shapes(), nullptr);
    EXPECT_GE(view.shapes()->shapes.size(), 2U);
    EXPECT_EQ(view.table().row_count(),
              static_cast<int>(std::min<std::size_t>(500, view.shapes()->shapes.size())));
    ASSERT_NE(view.plot().overlay(), nullptr);
    EXPECT_EQ(view.plot().overlay()->spans, static_cast<std::size_t>(view.shapes()->shapes[0].count));
    // Any edge under the pointer tells its spread; a click leads to the transaction with the latest one.
    QPointF at;
    for (int x = 80; x < view.plot().width() && at.isNull(); ++x)
        for (int y = 4; y < view.plot().height(); y += 6)
            if (!view.plot().text_at(QPointF(x, y)).isEmpty()) at = QPointF(x, y);
    ASSERT_FALSE(at.isNull());
    EXPECT_THAT(view.plot().text_at(at).toStdString(), testing::HasSubstr("deviation"));
    QTest::mouseClick(&view.plot(), Qt::LeftButton, {}, at.toPoint());
    settle();
    EXPECT_TRUE(page().waves().cursors().a.has_value());
    show("shapes");
    type_into(&view.gap(), "nonsense");
    EXPECT_FALSE(view.shapes() == nullptr);
    const auto before = view.shapes()->transactions.size();
    type_into(&view.gap(), "2us");
    wait();
    ASSERT_NE(view.shapes(), nullptr);
    EXPECT_GT(view.shapes()->transactions.size(), before);
}

TEST_F(Study, TheHuntNamesEachButtonsBit) {
    open_demo();
    show("buttons");
    auto& view = page().button_hunt();
    ASSERT_TRUE(view.result().problem.empty());
    EXPECT_EQ(view.result().width, 20U);
    EXPECT_GE(view.result().answers.size(), 6U);
    EXPECT_THAT(view.verdict().toStdString(), testing::HasSubstr("20 bits"));
    // Left out one by one.
    const int rows = view.takes().row_count();
    int cleared = 0;
    for (int r = 0; r < rows; ++r)
        if (!view.takes().text(r, 2).isEmpty() && view.takes().text(r, 2) != "rest") {
            view.takes().type(r, 2, "");
            ++cleared;
        }
    settle();
    EXPECT_GE(cleared, 6);
    EXPECT_THAT(view.verdict().toStdString(), testing::HasSubstr("Bring a recording"));
    EXPECT_FALSE(view.name_button().isEnabled());
    for (int r = 0; r < rows; ++r)
        if (view.takes().key(r).toStringList().value(0) == "button-c") view.takes().type(r, 2, "trigger");
    settle();
    ASSERT_TRUE(view.name_button().isEnabled());
    QTest::mouseClick(&view.name_button(), Qt::LeftButton);
    wait();
    EXPECT_EQ(dossier().find_capture("minute")->decode.bits.at(2), "trigger");
    trigger("edit.undo");
    settle();
    EXPECT_NE(dossier().find_capture("minute")->decode.bits.at(2), "trigger");
}

TEST_F(Study, OriginalAndReplicaSideBySide) {
    open_demo();
    show("compare");
    auto& view = page().comparison();
    const auto choose = [&](QComboBox& box, const char* id) {
        box.setCurrentIndex(box.findData(id));
        Q_EMIT box.activated(box.currentIndex());
        wait();
    };
    choose(view.original(), "idle");
    choose(view.replica(), "idle");
    EXPECT_THAT(view.verdict().toStdString(), testing::HasSubstr("The same"));
    choose(view.replica(), "button-b");
    EXPECT_THAT(view.verdict().toStdString(), testing::HasSubstr("part for the first time"));
    EXPECT_EQ(view.table().row_count(), 4);
    type_into(&view.tolerance(), "much");
    type_into(&view.tolerance(), "1ns");
    wait();
    EXPECT_THAT(view.verdict().toStdString(), testing::HasSubstr("part for the first time"));
}

TEST_F(Study, TheOverlayZoomsPansAndAlignsOnAnEdge) {
    open_demo();
    show("shapes");
    auto& plot = page().shapes().plot();
    ASSERT_NE(plot.overlay(), nullptr);
    const auto whole = plot.window();
    plot.setFocus();
    press(Qt::Key_Plus);
    const auto closer = plot.window();
    EXPECT_NEAR(closer.length().seconds() * 1.5, whole.length().seconds(), 1e-9);
    press(Qt::Key_Left);
    EXPECT_LT(plot.window().from, closer.from);
    // Pixels of the same edge: the axis moves with the view.
    for (int i = 0; i < 14; ++i) press(Qt::Key_Plus);
    wait();  // a finer one was laid beside the window
    EXPECT_LT(plot.window().length(), Time::us(10));
    const auto image = plot.grab().toImage();
    int inked = 0;
    for (int x = 90; x < image.width() - 10; ++x)
        for (int y = 4; y < image.height() - 30; y += 2)
            inked += image.pixelColor(x, y).lightness() < 200 ? 1 : 0;
    EXPECT_GT(inked, 100) << "levels are drawn however close one looks";
    press(Qt::Key_0);
    EXPECT_EQ(plot.window(), whole);
    // Aligned on the first STEP ↓: that edge then comes at one time in all of them.
    auto& align = page().shapes().align();
    align.setCurrentText(QString::fromUtf8("STEP ↓"));
    ASSERT_EQ(align.currentText(), QString::fromUtf8("STEP ↓"));
    Q_EMIT align.activated(align.currentIndex());
    wait();
    bool fixed = false;
    for (const auto& line : plot.overlay()->lines)
        if (short_name(line.signal) == "STEP")
            for (const auto& e : line.spread)
                fixed = fixed || (!e.rises && std::abs(e.min_s) < 1e-12 && std::abs(e.max_s) < 1e-12);
    EXPECT_TRUE(fixed);
    EXPECT_LT(plot.window().from, Time{});
}

}  // namespace
}  // namespace grayrelic::app
