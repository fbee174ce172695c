// SPDX-License-Identifier: GPL-3.0-or-later
// Waveforms and compressed captures dropped on the window, words of every kind painted, views on an empty
// dossier.
#include <gmock/gmock.h>
#include <zlib.h>

#include "app/stages/listen/listen_page.hpp"
#include "core/capture/capture_file.hpp"
#include "core/capture/vcd_writer.hpp"
#include "core/listen/listen_analysis.hpp"
#include "standin/spoken.hpp"
#include "tests/app/text_recorder.hpp"
#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {
namespace {

class ListenFiles : public WindowTest {
  protected:
    ListenPage& page() { return window->page<ListenPage>(); }
    void open(const char* name) {
        answer = FileFlow::Answer::discard;  // what the last one left
        window->files().make_new();
        window->files().drop({path(name)});
        settle();
        window->show_stage(Stage::listen);
        settle();
    }
};

TEST_F(ListenFiles, AWaveformIsDrawnAndMeasured) {
    Capture c;
    standin::Wire w("tone", false);
    for (int i = 0; i < 400; ++i) w.set(Time::us(50 * (i + 1)), i % 2 == 0);
    Progress progress;
    ASSERT_TRUE(write_capture_file(standin::capture_of({w}, Time::ms(21), Time::us(5)), folder / "tone.wav",
                                   progress));
    open("tone.wav");
    const auto& a = *window->document().analysis().listen->captures.at(0);
    ASSERT_TRUE(a.capture) << a.problem;
    ASSERT_EQ(a.capture->signals.size(), 1U);
    EXPECT_TRUE(a.capture->signals[0].analogue);
    EXPECT_EQ(page().waves().row_count(), 1);
    // The wave is on the sheet: some ink in its row.
    const auto image = page().waves().grab().toImage();
    const auto lane = page().waves().row_box(0).toRect();
    int inked = 0;
    for (int x = lane.left(); x < lane.right(); ++x)
        for (int y = lane.top(); y < lane.bottom(); ++y)
            if (image.pixelColor(x, y) != QColor(theme().sheet)) {
                ++inked;
                break;
            }
    EXPECT_GT(inked, lane.width() / 2);
    EXPECT_THAT(finding_titles().join("; ").toStdString(), testing::HasSubstr("tone"))
        << "the threshold was guessed, which is a Doubt";
}

TEST_F(ListenFiles, ACompressedDumpIsOpenedLikeAnyOther) {
    const auto text = dump(standin::speak("strobed-bus", {}).capture);
    const auto name = path("bus.vcd.gz").toStdString();
    gzFile file = gzopen(name.c_str(), "wb");
    ASSERT_NE(file, nullptr);
    gzwrite(file, text.data(), static_cast<unsigned>(text.size()));
    gzclose(file);
    open("bus.vcd.gz");
    const auto& a = *window->document().analysis().listen->captures.at(0);
    ASSERT_TRUE(a.capture) << a.problem;
    EXPECT_EQ(a.capture->signals.size(), 9U);
}

TEST_F(ListenFiles, ABrokenOneSaysWhatWasExpected) {
    test::write_file(folder / "cut.vcd.gz", std::string("\x1F\x8B\x08\x00\x00", 5));
    window->files().make_new();
    window->files().drop({path("cut.vcd.gz")});
    settle();
    const auto& list = window->document().analysis().listen->captures;
    ASSERT_EQ(list.size(), 1U);
    EXPECT_FALSE(list[0]->capture);
    EXPECT_THAT(list[0]->problem, testing::HasSubstr("gzip"));
}

TEST_F(ListenFiles, WordsOfEveryFamilyArePainted) {
    for (const char* kind : {"async-serial", "select-bank", "pulse-width", "framed-clock", "clocked",
                             "quadrature", "strobed-bus", "usb-low-full", "matrix"}) {
        const auto s = standin::speak(kind, {});
        test::write_file(folder / "spoken.vcd", dump(s.capture));
        open("spoken.vcd");
        auto& bar = page().decoder_bar();
        bar.kind().setCurrentIndex(bar.kind().findText(kind));
        Q_EMIT bar.kind().activated(bar.kind().currentIndex());
        for (const auto& [role, names] : s.roles) {
            if (auto* line = bar.list_role(to_q(role))) {
                QStringList list;
                for (const auto& n : names) list << to_q(n);
                line->setText(list.join(' '));
            } else {
                bar.role(to_q(role))->setCurrentText(to_q(names.front()));
            }
        }
        QTest::mouseClick(bar.read_button(), Qt::LeftButton);
        wait();
        const auto& a = *window->document().analysis().listen->captures.at(0);
        ASSERT_TRUE(a.decoding) << kind << ": " << a.decode_problem;
        EXPECT_EQ(a.decoding->frames.size(), s.values.size()) << kind;
        // Near enough to read: the third word's value, name or bits stand in the drawing.
        const auto& f = a.decoding->frames.at(2);
        page().waves().center_on(f.start + (f.end - f.start) / 2, std::max(f.end - f.start, Time::us(4)) * 3);
        settle();
        QStringList drawn;
        for (const auto& t : texts_of(page().waves())) drawn << t.text;
        EXPECT_TRUE(drawn.contains(QLatin1String(kind))) << kind << " in " << drawn.join(", ").toStdString();
        EXPECT_GT(drawn.size(), 6) << kind;
    }
}

TEST_F(ListenFiles, ViewsWithoutACaptureSayWhatToBring) {
    window->files().make_new();
    window->show_stage(Stage::listen);
    for (const auto view : {"identify", "shapes", "buttons", "compare", "file", "live"}) {
        page().show_view(view);
        wait();
    }
    EXPECT_THAT(page().comparison().verdict().toStdString(), testing::HasSubstr("Bring two recordings"));
    EXPECT_THAT(page().button_hunt().verdict().toStdString(),
                testing::HasSubstr("Bring a recording at rest"));
    EXPECT_EQ(page().shapes().shapes(), nullptr);
}

}  // namespace
}  // namespace grayrelic::app
