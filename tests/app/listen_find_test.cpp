// SPDX-License-Identifier: GPL-3.0-or-later
// Listen's waves as a person searches and measures in them: find, extremes, over time, chatter, the
// contract's breaches, further decoders, marked moments, a picture.
#include <gmock/gmock.h>

#include "app/stages/listen/listen_page.hpp"
#include "standin/spoken.hpp"
#include "tests/app/window_fixture.hpp"

#include "core/listen/listen_analysis.hpp"
#include "core/signal/measure.hpp"

namespace grayrelic::app {
namespace {

using standin::capture_of;
using standin::Wire;

class Waves : public WindowTest {
  protected:
    ListenPage& page() { return window->page<ListenPage>(); }
    WaveView& waves() { return page().waves(); }
    void show(const char* view = "waves") {
        window->show_stage(Stage::listen);
        page().show_view(view);
        wait();
    }
    /// CLK: 40 pulses of 2 µs each 10 µs, the 20th 5 µs long; DATA rises 1 µs behind each second rise of CLK
    /// and stays 6 µs.
    void drop_clock(const char* name = "clock.vcd") {
        Wire clock("p.CLK", false), data("p.DATA", false);
        for (int i = 0; i < 40; ++i) {
            const Time t = Time::us(10 + 10 * i);
            clock.pulse(t, t + Time::us(i == 20 ? 5 : 2), true);
            if (i % 2 == 0) data.pulse(t + Time::us(1), t + Time::us(7), true);
        }
        drop_new(name, dump(capture_of({clock, data}, Time::us(420))));
        show();
    }
    FindBar& find() { return page().find_bar(); }
    void search(QLineEdit& field, const char* text) {
        type_into(&field, text);
        wait();
    }
};

TEST_F(Waves, FindAPulseWithTheKeyboard) {
    drop_clock();
    EXPECT_FALSE(find().isVisible());
    waves().setFocus();
    press(Qt::Key_F, Qt::ControlModifier);
    ASSERT_TRUE(find().isVisible());
    find().signal_box().setCurrentText("CLK");
    search(find().time_field(), "4us");
    // The high one of 5 µs, and all low ones between pulses, of which there are 39.
    EXPECT_EQ(find().answer(), "40 hits");
    find().level_box().setCurrentText("high");
    press(Qt::Key_Return);
    wait();
    EXPECT_EQ(find().answer(), "1 hit");
    EXPECT_EQ(waves().cursors().a, Time::us(210));
    EXPECT_EQ(waves().cursors().b, Time::us(215));
}

TEST_F(Waves, FindLevelsOrdersPausesAndConditions) {
    drop_clock();
    waves().setFocus();
    press(Qt::Key_F, Qt::ControlModifier);
    find().choose(FindBar::order);
    search(find().text_field(), "CLK:rise then DATA:rise within 2us");
    EXPECT_EQ(find().answer(), "20 hits");
    ASSERT_EQ(waves().marks().size(), 20U);
    EXPECT_EQ(waves().marks()[0].from, Time::us(10));
    EXPECT_EQ(waves().marks()[0].to, Time::us(11));
    EXPECT_EQ(waves().cursors().a, Time::us(10));
    press(Qt::Key_F3);
    EXPECT_EQ(waves().cursors().a, Time::us(30));
    press(Qt::Key_F3, Qt::ShiftModifier);
    EXPECT_EQ(waves().cursors().a, Time::us(10));
    find().choose(FindBar::levels);
    search(find().text_field(), "CLK=1, DATA=1");
    // From 1 to 2 µs behind each second rise; the long pulse (number 20) holds from 1 to 5.
    EXPECT_EQ(find().answer(), "20 hits");
    EXPECT_EQ(waves().marks()[10].length(), Time::us(4));
    EXPECT_EQ(waves().marks()[11].length(), Time::us(1));
    find().choose(FindBar::pulse);
    find().signal_box().setCurrentText("CLK");
    find().length_box().setCurrentIndex(0);
    search(find().time_field(), "4us");
    search(find().while_field(), "DATA=1");
    // High ones begin before DATA rises; low ones behind each second pulse begin while it is high.
    EXPECT_EQ(find().answer(), "20 hits");
    find().while_field().clear();
    find().choose(FindBar::pause);
    search(find().time_field(), "1ms");
    EXPECT_EQ(find().answer(), "none");
    EXPECT_TRUE(waves().marks().empty());
}

TEST_F(Waves, WrongQuestionsAreSaid) {
    drop_clock();
    waves().setFocus();
    press(Qt::Key_F, Qt::ControlModifier);
    search(find().time_field(), "much");
    EXPECT_THAT(find().answer().toStdString(), testing::HasSubstr("a time like"));
    search(find().time_field(), "");
    EXPECT_THAT(find().answer().toStdString(), testing::HasSubstr("length such as"));
    find().choose(FindBar::order);
    search(find().text_field(), "NOBODY:rise then CLK:fall");
    EXPECT_THAT(find().answer().toStdString(), testing::HasSubstr("NOBODY"));
    search(find().text_field(), "sideways");
    EXPECT_THAT(find().answer().toStdString(), testing::HasSubstr("xpected"));
    find().choose(FindBar::words);
    search(find().text_field(), "0x3f");
    EXPECT_THAT(find().answer().toStdString(), testing::HasSubstr("No words"));
    find().choose(FindBar::contract);
    find().step(1);
    EXPECT_THAT(find().answer().toStdString(), testing::HasSubstr("no contract"));
    find().choose(FindBar::levels);
    find().time_field().clear();
    search(find().text_field(), "");
    EXPECT_THAT(find().answer().toStdString(), testing::HasSubstr("levels such as"));
}

TEST_F(Waves, WordsWithErrorsAndValuesAreFound) {
    standin::AsyncStyle style;
    Wire line("rx");
    Time t = Time::ms(1);
    for (int i = 0; i < 60; ++i)
        t = standin::say_async(line, t, static_cast<std::uint64_t>(i * 37 % 256), style,
                               i == 40 ? 9 : -1);  // its stop bit turned
    drop_new("serial.vcd", dump(capture_of({line}, t + Time::ms(5))));
    show();
    page().decoder_bar().kind().setCurrentText("async-serial");
    Q_EMIT page().decoder_bar().kind().activated(page().decoder_bar().kind().currentIndex());
    QTest::mouseClick(page().decoder_bar().read_button(), Qt::LeftButton);
    wait();
    const auto& words = *window->document().analysis().listen->captures.at(0)->decoding;
    ASSERT_EQ(words.frames_with_errors(), 1);
    find().choose(FindBar::words);
    page().find_bar().show();
    search(find().text_field(), "error");
    ASSERT_EQ(waves().marks().size(), 1U);
    EXPECT_EQ(find().answer(), "1 hit");
    search(find().text_field(), "error parity");
    EXPECT_EQ(find().answer(), "none");
    search(find().text_field(), "0x25");  // 1 · 37
    EXPECT_EQ(find().answer(), "1 hit");
    EXPECT_GT(waves().cursors().a, Time::ms(1));
}

TEST_F(Waves, ExtremesAreOneClickAway) {
    drop_clock();
    waves().select_row(0);
    page().measurements().measure_whole(true);
    wait();
    EXPECT_EQ(page().measurements().cell(1, 4), "5.00 µs");
    page().measurements().follow(1, 4);
    ASSERT_TRUE(waves().cursors().a && waves().cursors().b);
    EXPECT_EQ(*waves().cursors().a, Time::us(210));
    EXPECT_EQ(*waves().cursors().b, Time::us(215));
    page().measurements().follow(2, 2);  // the shortest low: behind the long pulse
    EXPECT_EQ(*waves().cursors().a, Time::us(215));
    EXPECT_EQ(*waves().cursors().b, Time::us(220));
    page().delay().show_extreme(true);
    EXPECT_THAT(page().picked_text().toStdString(), testing::HasSubstr("Longest"));
}

TEST_F(Waves, DelaysOverTimeAndBetweenTheCursors) {
    drop_clock();
    auto& delay = page().delay();
    const auto choose = [&](QComboBox& box, const char* edge) {
        box.setCurrentText(QString::fromUtf8(edge));
        Q_EMIT box.activated(box.currentIndex());
        wait();
    };
    choose(delay.from(), "CLK ↑");
    choose(delay.to(), "CLK ↑");
    EXPECT_THAT(delay.about().toStdString(), testing::HasSubstr("39 periods"));
    choose(delay.to(), "DATA ↑");
    EXPECT_THAT(delay.about().toStdString(), testing::HasSubstr("20 answers to 40"));
    delay.show_over_time(true);
    EXPECT_THAT(delay.about().toStdString(), testing::HasSubstr("drift"));
    // A click on a point goes there.
    delay.over_time().setFocus();
    press(Qt::Key_Right);
    EXPECT_EQ(waves().cursors().a, Time::us(10));
    press(Qt::Key_Right);
    EXPECT_EQ(waves().cursors().a, Time::us(30));
    const Interval third{Time::us(50), Time::us(51)};
    QTest::mouseClick(&delay.over_time(), Qt::LeftButton, Qt::NoModifier,
                      delay.over_time().point_of(third).toPoint());
    EXPECT_EQ(waves().cursors().a, Time::us(50));
    waves().set_cursors({Time::us(95), Time::us(195)});
    delay.set_between_cursors(true);
    wait();
    delay.show_over_time(false);
    EXPECT_THAT(delay.about().toStdString(), testing::HasSubstr("5 answers to 10"));  // rises at 100 … 190
}

TEST_F(Waves, ChatterIsHiddenInTheViewOnly) {
    Wire line("p.KEY", false);
    for (int i = 0; i < 10; ++i) {
        const Time t = Time::ms(10 * (i + 1));
        line.set(t, i % 2 == 0);
        line.set(t + Time::us(100), i % 2 != 0);
        line.set(t + Time::us(250), i % 2 == 0);
    }
    drop_new("key.vcd", dump(capture_of({line}, Time::ms(120))));
    show();
    EXPECT_EQ(waves().waveform_of(0)->edges().size(), 30U);
    type_into(&page().chatter_field(), "1ms");
    wait();
    EXPECT_EQ(waves().waveform_of(0)->edges().size(), 10U);
    EXPECT_EQ(
        (*window->document().analysis().listen->captures.at(0)->capture->find_digital("KEY"))->edges().size(),
        30U);
    page().measurements().measure_whole(true);
    wait();
    EXPECT_THAT(page().measurements().about().toStdString(), testing::HasSubstr("chatter hidden"));
    type_into(&page().chatter_field(), "");
    wait();
    EXPECT_EQ(waves().waveform_of(0)->edges().size(), 30U);
    EXPECT_FALSE(window->document().is_modified() && dossier().captures->front().read_as.size() > 0);
}

TEST_F(Waves, WhatTheContractDoesNotAllowIsMarked) {
    drop_clock();
    auto timing = *dossier().timing;
    ContractInterval width;
    width.id = "width";
    width.name = "CLK high";
    width.from = "CLK:rise";
    width.to = "CLK:fall";
    width.kind = IntervalKind::width;
    width.min = Time::us(1);
    width.max = Time::us(3);
    timing.intervals.push_back(width);
    window->document().apply("contract", put(dossier(), timing));
    wait();
    ASSERT_EQ(waves().breaches().size(), 1U);
    EXPECT_EQ(waves().breaches()[0].where.from, Time::us(210));
    find().choose(FindBar::contract);
    find().step(1);
    wait();
    EXPECT_EQ(find().answer(), "1 hit");
    EXPECT_EQ(waves().cursors().a, Time::us(210));
}

TEST_F(Waves, ASecondDecoderHasItsOwnLane) {
    drop_clock();
    auto& bar = page().decoder_bar();
    bar.kind().setCurrentText("clocked");
    Q_EMIT bar.kind().activated(bar.kind().currentIndex());
    bar.role("clock")->setCurrentText("CLK");
    bar.role("data")->setCurrentText("DATA");
    QTest::mouseClick(bar.read_button(), Qt::LeftButton);
    wait();
    const double one = waves().row_box(0).height();
    bar.which().setCurrentIndex(1);  // and as …
    Q_EMIT bar.which().activated(1);
    bar.kind().setCurrentText("async-serial");
    Q_EMIT bar.kind().activated(bar.kind().currentIndex());
    bar.role("data")->setCurrentText("DATA");
    QTest::mouseClick(bar.read_button(), Qt::LeftButton);
    wait();
    const auto& c = *window->document().analysis().listen->captures.at(0);
    EXPECT_EQ(c.ref.decode.kind, "clocked");
    ASSERT_EQ(c.also.size(), 1U);
    EXPECT_EQ(c.also[0].title, "async-serial");
    EXPECT_TRUE(c.also[0].decoding);
    EXPECT_EQ(bar.which().count(), 3);
    EXPECT_LE(waves().row_box(0).height(), one);
    // It is saved and comes back, and "nothing" takes it away.
    ASSERT_TRUE(window->files().save_to(path("kept")));
    ASSERT_TRUE(window->files().open(path("kept")));
    settle();
    ASSERT_EQ(dossier().captures->front().also.size(), 1U);
    EXPECT_EQ(dossier().captures->front().also[0].kind, "async-serial");
    show();
    bar.which().setCurrentIndex(1);
    Q_EMIT bar.which().activated(1);
    EXPECT_EQ(bar.kind().currentText(), "async-serial");
    bar.kind().setCurrentText("nothing");
    Q_EMIT bar.kind().activated(bar.kind().currentIndex());
    QTest::mouseClick(bar.read_button(), Qt::LeftButton);
    wait();
    EXPECT_TRUE(dossier().captures->front().also.empty());
    EXPECT_EQ(dossier().captures->front().decode.kind, "clocked");
}

TEST_F(Waves, MomentsOfOneLongRecordingAreMarkedAndNamed) {
    // 60 polls of 8 bits each 10 ms; from the 20th to the 29th bit 2 is low, from the 40th to the 49th bit 5.
    Wire latch("p.LATCH", false), clock("p.CLOCK", true), data("p.DATA", true);
    for (int i = 0; i < 60; ++i) {
        std::uint64_t value = 0xFF;
        if (i >= 20 && i < 30) value &= ~(1ULL << 5U);  // most significant first: bit 2 in order of arrival
        if (i >= 40 && i < 50) value &= ~(1ULL << 2U);
        standin::ShiftStyle style;
        style.bits = 8;
        standin::say_latch_shift(latch, clock, data, Time::ms(10 * (i + 1)), value, style);
    }
    drop_new("long.vcd", dump(capture_of({latch, clock, data}, Time::ms(620))));
    show();
    auto& bar = page().decoder_bar();
    bar.kind().setCurrentText("latch-shift");
    Q_EMIT bar.kind().activated(bar.kind().currentIndex());
    for (const auto& [role, signal] : {std::pair{"latch", "LATCH"}, {"clock", "CLOCK"}, {"data", "DATA"}})
        bar.role(role)->setCurrentText(signal);
    QTest::mouseClick(bar.read_button(), Qt::LeftButton);
    wait();
    const auto mark = [&](int from, int to) {
        show();
        waves().set_cursors({Time::ms(10 * (from + 1)) - Time::ms(2), Time::ms(10 * to) + Time::ms(5)});
        waves().setFocus();
        press(Qt::Key_M);
        wait();
    };
    mark(20, 30);
    mark(40, 50);
    ASSERT_EQ(dossier().captures->front().moments.size(), 2U);
    auto& hunt = page().button_hunt();
    ASSERT_TRUE(hunt.isVisible()) << "marking leads to the buttons";
    ASSERT_EQ(hunt.takes().row_count(), 3);
    hunt.takes().type(1, 2, "fire");
    settle();
    hunt.takes().type(2, 2, "left");
    settle();
    const auto& r = hunt.result();
    ASSERT_EQ(r.answers.size(), 2U);
    EXPECT_EQ(r.answers[0].take, "fire");
    EXPECT_THAT(r.answers[0].bits, testing::ElementsAre(2U));
    EXPECT_EQ(r.answers[1].take, "left");
    EXPECT_THAT(r.answers[1].bits, testing::ElementsAre(5U));
    EXPECT_TRUE(r.bits[2].active_low);
    QTest::mouseClick(&hunt.name_button(), Qt::LeftButton);
    settle();
    EXPECT_EQ(dossier().captures->front().decode.bits.at(2), "fire");
    // By hand, too: a line of names in order.
    EXPECT_EQ(hunt.bit_names().text(), "- - fire - - left - -");
    type_into(&hunt.bit_names(), "- up fire");
    EXPECT_EQ(dossier().captures->front().decode.bits, (std::vector<std::string>{"", "up", "fire"}));
    trigger("edit.undo");
    EXPECT_EQ(dossier().captures->front().decode.bits.at(5), "left");
    hunt.takes().type(1, 2, "-");
    settle();
    EXPECT_EQ(dossier().captures->front().moments.size(), 1U);
    trigger("edit.undo");
    EXPECT_EQ(dossier().captures->front().moments.size(), 2U);
}

TEST_F(Waves, ThePictureIsScalableAndHoldsTheNames) {
    open_demo();
    show();
    page().ask_picture = [this] { return path("waves.svg"); };
    waves().setFocus();
    press(Qt::Key_P, Qt::ControlModifier | Qt::ShiftModifier);
    const auto svg = test::read_file(folder / "waves.svg");
    EXPECT_THAT(svg, testing::HasSubstr("<svg"));
    EXPECT_THAT(svg, testing::HasSubstr("HOLD"));
    EXPECT_TRUE(page().write_picture(path("again.svg")));
    EXPECT_FALSE(page().write_picture("/nowhere/at/all.svg"));
}

}  // namespace
}  // namespace grayrelic::app
