// SPDX-License-Identifier: GPL-3.0-or-later
// Any family, from a file that nobody rehearsed to the verdict, in the window: dropped, read, asked, judged.
#include <QClipboard>
#include "core/signal/cause.hpp"

#include "core/timing/timing_analysis.hpp"
#include "tests/app/window_fixture.hpp"
#include "tests/unseen/judge.hpp"
#include "tests/unseen/replies.hpp"

namespace grayrelic::app {
namespace {

class AnyCapture : public WindowTest {
  protected:
    [[nodiscard]] ListenPage& page() { return window->page<ListenPage>(); }
    void drop_talk(const unseen::Conversation& c, const std::string& file = "port.vcd") {
        test::write_file(folder / file, dump(unseen::capture_of(c.made)));
        drop({path(file)});
        wait();
    }
    void click(QPushButton& button) {
        ASSERT_TRUE(button.isEnabled() && button.isVisible()) << button.text().toStdString();
        QTest::mouseClick(&button, Qt::LeftButton);
        wait();
    }
};

class EveryFamily : public AnyCapture, public testing::WithParamInterface<std::string> {};

TEST_P(EveryFamily, LeadsFromADropToVerdictsWithThreeClicks) {
    for (const std::uint64_t seed : {31'001, 31'002, 31'003}) {
        const auto talk = unseen::talk(seed, GetParam());
        window->files().ask_save = [] { return FileFlow::Answer::discard; };
        if (window->document().is_open()) window->files().make_new();
        drop_talk(talk);
        ASSERT_EQ(window->stage(), Stage::listen);
        const auto about =
            GetParam() + " " + std::to_string(seed) + ": " + page().found_line().text().toStdString();
        ASSERT_TRUE(page().found_line().read_button().isVisible()) << about;
        click(page().found_line().read_button());
        const auto& read = dossier().captures->front().decode;
        EXPECT_EQ(read.kind, talk.kind) << about;
        const auto words =
            window->document().analysis().find_capture(dossier().captures->front().id)->decoding;
        ASSERT_TRUE(words && !words->frames.empty()) << about;
        click(*page().decoder_bar().contract_button());
        ASSERT_EQ(window->stage(), Stage::timing) << about;
        const auto& question = dossier().timing->reply;
        const auto event = parse_event(question.trigger);
        ASSERT_TRUE(event) << about;
        // The cause that was drawn; on a shifted link perhaps one of two that are not told apart.
        if (GetParam() != "latch-shift") {
            EXPECT_TRUE(std::any_of(talk.replies.begin(), talk.replies.end(),
                                    [&](const auto& r) {
                                        return question.trigger.starts_with(r.cause) &&
                                               question.answer.starts_with(r.answer);
                                    }))
                << about << " asks " << question.trigger << " for " << question.answer;
        }
        const auto& a = window->document().analysis();
        ASSERT_TRUE(a.timing->tasks) << about << " " << a.timing->question_problem;
        EXPECT_EQ(a.timing->options.size(), 6U);
        for (const auto& o : a.timing->options)
            EXPECT_NE(o->verdict, Verdict::unknown) << about << o->problem;
        for (const auto& o : a.timing->options)
            EXPECT_FALSE(window->page<TimingPage>().axis().said_of(to_q(o->option.id)).isEmpty());
    }
}

INSTANTIATE_TEST_SUITE_P(Kinds, EveryFamily,
                         testing::Values("latch-shift", "clocked", "select-bank", "matrix", "one-wire",
                                         "bus-read", "serial-two-lines", "serial-turns"),
                         [](const auto& each) {
                             auto name = each.param;
                             std::erase(name, '-');
                             return name;
                         });

TEST_F(AnyCapture, WhereNobodyAnswersTheWindowSaysWhy) {
    for (const char* kind : {"quadrature", "framed-alone", "serial-alone"}) {
        window->files().ask_save = [] { return FileFlow::Answer::discard; };
        if (window->document().is_open()) window->files().make_new();
        drop_talk(unseen::talk(31'010, kind));
        click(page().found_line().read_button());
        click(*page().decoder_bar().contract_button());
        EXPECT_EQ(window->stage(), Stage::timing) << kind;
        EXPECT_EQ(window->page<TimingPage>().view(), "contract") << kind;
        EXPECT_FALSE(dossier().timing->intervals.empty()) << kind;
        bool said = false;
        for (auto* label : window->page<TimingPage>().contract_editor().findChildren<QLabel*>())
            said = said || label->text().startsWith("No reply is asked for");
        EXPECT_TRUE(said) << kind;
    }
}

TEST_F(AnyCapture, NonsenseIsNotReadAndSaysSo) {
    const auto made = unseen::make(10 + 11 * 4, "nonsense");
    test::write_file(folder / "noise.vcd", dump(unseen::capture_of(made)));
    drop({path("noise.vcd")});
    wait();
    EXPECT_FALSE(page().found_line().isHidden());
    EXPECT_TRUE(page().found_line().read_button().isHidden()) << page().found_line().text().toStdString();
    EXPECT_THAT(page().found_line().text().toStdString(), testing::HasSubstr("No family explains"));
    click(page().found_line().why_button());
    EXPECT_EQ(page().view(), "identify");
}

TEST_F(AnyCapture, ALineInTwoRolesIsRefusedInWords) {
    drop_talk(unseen::talk(31'020, "quadrature"));
    auto& bar = page().decoder_bar();
    bar.kind().setCurrentIndex(bar.kind().findData("quadrature"));
    Q_EMIT bar.kind().activated(bar.kind().currentIndex());
    EXPECT_EQ(bar.role("a")->currentText(), "choose …");
    click(*bar.read_button());
    EXPECT_EQ(bar.complaint(), "a: choose its line.");
    for (const char* role : {"a", "b"}) bar.role(role)->setCurrentIndex(1);
    click(*bar.read_button());
    EXPECT_THAT(bar.complaint().toStdString(), testing::HasSubstr("a and b are the same line"));
    EXPECT_TRUE(dossier().captures->front().decode.kind.empty());
    bar.role("b")->setCurrentIndex(2);
    click(*bar.read_button());
    EXPECT_EQ(bar.complaint(), "");
    EXPECT_EQ(dossier().captures->front().decode.kind, "quadrature");
}

TEST_F(AnyCapture, ACaptureDoesNotInheritRolesWhoseLinesItLacks) {
    drop_talk(unseen::talk(31'030, "framed-alone"), "keyboard.vcd");
    click(page().found_line().read_button());
    drop_talk(unseen::talk(31'031, "serial-alone"), "serial.vcd");
    const auto* serial = dossier().find_capture("serial");
    ASSERT_NE(serial, nullptr);
    EXPECT_TRUE(serial->decode.kind.empty());
    EXPECT_EQ(window->document().analysis().find_capture("serial")->decode_problem, "");
    EXPECT_THAT(page().found_line().text().toStdString(), testing::HasSubstr("async-serial"));
}

TEST_F(AnyCapture, ASecondRecordingUnderOtherNamesIsMappedOnceAndWorksAsASpecimen) {
    auto first = unseen::talk(31'040, "latch-shift"), second = unseen::talk(31'041, "latch-shift");
    for (auto& w : second.made.wires) {
        if (w.name == "latch") w.name = "CH0";
        if (w.name == "clk") w.name = "CH1";
        if (w.name == "q") w.name = "CH2";
    }
    drop_talk(first, "one.vcd");
    click(page().found_line().read_button());
    click(*page().decoder_bar().contract_button());
    drop_talk(second, "two.vcd");
    EXPECT_THAT(page().found_line().text().toStdString(), testing::HasSubstr("The same roles as in “one”"));
    click(page().found_line().read_button());
    const auto* two = dossier().find_capture("two");
    EXPECT_EQ(two->names,
              (std::map<std::string, std::string>{{"clk", "CH1"}, {"latch", "CH0"}, {"q", "CH2"}}));
    // Measured in both from now on: the interval's names are the first one's.
    auto interval = dossier().timing->intervals.front();
    interval.also = {"two"};
    window->document().apply("specimen", put(dossier(), interval));
    wait();
    const auto* f = window->document().analysis().timing->find_figure(interval.id);
    ASSERT_EQ(f->specimens.size(), 2U) << f->problem;
    EXPECT_GT(f->specimens[1].n, 3);
}

TEST_F(AnyCapture, ASecondDerivationKeepsWhatAPersonAdded) {
    drop_talk(unseen::talk(31'045, "latch-shift"), "one.vcd");
    click(page().found_line().read_button());
    click(*page().decoder_bar().contract_button());
    const auto count = dossier().timing->intervals.size();
    auto guarded = dossier().timing->intervals.front();
    guarded.guard = Time::ns(7);
    ContractInterval own = guarded;
    own.id = "interval";
    own.to = "latch:any";
    own.guard.reset();
    window->document().apply("guard", put(put(dossier(), guarded), own));
    window->show_stage(Stage::listen);
    wait();
    click(*page().decoder_bar().contract_button());
    EXPECT_EQ(dossier().timing->intervals.size(), count + 1);
    EXPECT_EQ(dossier().timing->find_interval(guarded.id)->guard, Time::ns(7));
    EXPECT_NE(dossier().timing->find_interval("interval"), nullptr);
    EXPECT_EQ(dossier().timing->options.size(), 6U) << "options are proposed once";
}

TEST_F(AnyCapture, WordsAreAListThatIsFoundCopiedAndSaved) {
    const auto talk = unseen::talk(31'050, "quadrature");
    drop_talk(talk);
    click(page().found_line().read_button());
    click(page().words_button());
    auto& list = page().words().list();
    const auto words = window->document().analysis().find_capture(dossier().captures->front().id)->decoding;
    ASSERT_EQ(list.model()->rowCount(), static_cast<int>(words->frames.size()));
    EXPECT_EQ(list.model()->headerData(2, Qt::Horizontal).toString(), "Position");
    // The position behind the last word is that of the whole capture.
    const auto last = list.model()->rowCount() - 1;
    EXPECT_EQ(list.model()->index(last, 2).data().toString().toLongLong(), words->counts.at("position"));
    list.selectRow(0);
    page().words().copy();
    EXPECT_THAT(QGuiApplication::clipboard()->text().toStdString(), testing::HasSubstr("\t0x"));
    EXPECT_TRUE(page().words().save_to(path("words.csv")));
    const auto csv = test::read_file(folder / "words.csv");
    EXPECT_TRUE(csv.starts_with("start_s,end_s,value,text,levels,errors\r\n"));
    EXPECT_EQ(std::count(csv.begin(), csv.end(), '\n'), last + 2);
    page().words().find_field().setText("0x3");
    QTest::keyClick(&page().words().find_field(), Qt::Key_Return);
    wait();
    EXPECT_EQ(list.model()->index(list.currentIndex().row(), 1).data().toString(), "0x3");
    page().words().find_field().setText("nowhere");
    QTest::keyClick(&page().words().find_field(), Qt::Key_Return);
    wait();
    EXPECT_EQ(page().words().about(), "No word holds “nowhere”.");
}

TEST_F(AnyCapture, TriggerAnswerAndLookAreChosenInTheWindow) {
    drop_talk(unseen::talk(31'060, "quadrature"));
    click(page().found_line().read_button());
    click(*page().decoder_bar().contract_button());
    auto& timing = window->page<TimingPage>();
    timing.show_view("reply");
    auto& bar = timing.question();
    const auto choose = [&](QComboBox& box, const char* what) {
        const int at = box.findData(what);
        ASSERT_GE(at, 0) << what;
        box.setCurrentIndex(at);
        Q_EMIT box.activated(at);
        wait();
    };
    choose(bar.trigger(), "a:rise");
    EXPECT_EQ(dossier().timing->reply.look.value, "next:a:fall")
        << "the usual place, until something is said";
    choose(bar.answer(), "b:any");
    EXPECT_EQ(dossier().timing->reply.answer, "b:any");
    EXPECT_TRUE(window->document().analysis().timing->tasks);
    const auto& intervals = dossier().timing->intervals;
    EXPECT_TRUE(std::any_of(intervals.begin(), intervals.end(), [](const auto& i) {
        return i.from == "a:rise" && i.to == "b:any";
    })) << "the original's reply to it has figures";
    type_into(bar.look().value_field(), "b:any");
    EXPECT_EQ(dossier().timing->reply.look.value, "b:any");
}

}  // namespace
}  // namespace grayrelic::app
