// SPDX-License-Identifier: GPL-3.0-or-later
#include <QCloseEvent>

#include "core/dossier/dossier_json.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/timing/timing_analysis.hpp"
#include "standin/dial_pad.hpp"
#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {
namespace {

std::string recorded(const standin::DialPadSession& how) {
    const OffTheRecord off;
    return standin::record_dial_pad(how);
}

class Files : public WindowTest {
  protected:
    void edit() {
        auto about = *dossier().about;
        about.purpose += " Edited.";
        window->document().apply("purpose", put(dossier(), about));
        settle();
    }
};

TEST_F(Files, SaveWritesAndReopeningGivesTheSame) {
    open_demo();
    edit();
    EXPECT_TRUE(window->document().is_modified());
    trigger("file.save");
    EXPECT_FALSE(window->document().is_modified());
    const auto saved = dossier();
    EXPECT_EQ(*load_dossier((folder / "demo/calder-dial-pad.relic")), saved);
    ASSERT_TRUE(window->files().open(window->demo_path()));
    settle();
    EXPECT_EQ(dossier(), saved);
    EXPECT_TRUE(told.isEmpty());
}

TEST_F(Files, SaveAsMakesACompleteCopyAndGoesOnThere) {
    open_demo();
    edit();
    window->files().ask_save_folder = [this] { return path("copy"); };
    trigger("file.save-as");
    EXPECT_EQ(window->document().folder(), folder / "copy.relic");
    EXPECT_TRUE(std::filesystem::exists(folder / "copy.relic/captures/minute.vcd"));
    EXPECT_FALSE(window->document().is_modified());
    EXPECT_EQ(window->document().analysis().find_capture("minute")->problem, "");
}

TEST_F(Files, SaveAsDoesNotOverwriteAnotherDossier) {
    open_demo();
    ASSERT_TRUE(new_dossier(folder / "other.relic", "other"));
    window->files().ask_save_folder = [this] { return path("other.relic"); };
    trigger("file.save-as");
    ASSERT_EQ(told.size(), 1);
    EXPECT_THAT(told[0].toStdString(), testing::HasSubstr("found another dossier"));
    EXPECT_EQ(load_dossier(folder / "other.relic")->about->name, "other");
}

TEST_F(Files, ANewDossierAsksWhereToSave) {
    trigger("file.new");
    EXPECT_TRUE(window->document().is_modified());
    window->files().ask_save_folder = [this] { return path("mine"); };
    trigger("file.save");
    EXPECT_TRUE(std::filesystem::exists(folder / "mine.relic/dossier.json"));
}

TEST_F(Files, UnsavedChangesAreAskedAbout) {
    open_demo();
    edit();
    answer = FileFlow::Answer::cancel;
    trigger("file.new");
    EXPECT_EQ(asked_to_save, 1);
    EXPECT_EQ(dossier().about->name, "Calder dial pad") << "cancel keeps the dossier";
    QCloseEvent close;
    QApplication::sendEvent(window.get(), &close);
    EXPECT_FALSE(close.isAccepted());
    answer = FileFlow::Answer::save;
    trigger("file.new");
    EXPECT_THAT(load_dossier(folder / "demo/calder-dial-pad.relic")->about->purpose,
                testing::HasSubstr("Edited."));
    EXPECT_EQ(dossier().about->name, "Untitled dossier");
}

TEST_F(Files, AnUnreadableDossierIsToldOnceAndChangesNothing) {
    open_demo();
    std::filesystem::create_directories(folder / "bad.relic");
    test::write_file(folder / "bad.relic/dossier.json", "{\n\"format\": \"x\"}");
    EXPECT_FALSE(window->files().open(path("bad.relic")));
    ASSERT_EQ(told.size(), 1);
    EXPECT_EQ(told[0], path("bad.relic") + "/dossier.json:2: found \"x\", expected \"gray-relic-dossier\"");
    EXPECT_EQ(dossier().about->name, "Calder dial pad");
}

TEST_F(Files, RecentDossiersAreListedNewestFirst) {
    open_demo();
    ASSERT_TRUE(new_dossier(folder / "b.relic", "b"));
    ASSERT_TRUE(window->files().open(path("b.relic")));
    settle();
    EXPECT_EQ(window->files().recent(), (QStringList{path("b.relic"), path("demo/calder-dial-pad.relic")}));
    std::filesystem::remove_all(folder / "b.relic");
    EXPECT_EQ(window->files().recent().size(), 1) << "what is gone is not offered";
}

TEST_F(Files, DroppingADossierOpensIt) {
    drop({window->demo_path()});
    EXPECT_EQ(dossier().about->name, "Calder dial pad");
    ASSERT_TRUE(new_dossier(folder / "b.relic", "b"));
    drop({path("b.relic/dossier.json")});
    EXPECT_EQ(dossier().about->name, "b");
}

TEST_F(Files, DroppingACaptureOfTheSamePortReadsItLikeTheOthers) {
    open_demo();
    test::write_file(folder / "later.vcd", recorded({99, 1.0, 3, false, 24e6}));
    drop({path("later.vcd")});
    EXPECT_EQ(window->stage(), Stage::listen);
    EXPECT_EQ(window->page<ListenPage>().choice().currentText(), "later");
    const auto* c = window->document().analysis().find_capture("later");
    ASSERT_NE(c, nullptr);
    ASSERT_TRUE(c->decoding);
    EXPECT_EQ(c->decoding->frames.size(), 24U);  // polls 2 to 25 of one second
    ASSERT_TRUE(c->sample_period);
    EXPECT_TRUE(c->sample_period_found);
    EXPECT_NEAR(c->sample_period->seconds(), 1 / 24e6, 1e-11);
    trigger("file.save");
    EXPECT_TRUE(std::filesystem::exists(folder / "demo/calder-dial-pad.relic/captures/later.vcd"));
    EXPECT_EQ(dossier().find_capture("later")->outside, "");
}

TEST_F(Files, AFreshCaptureGoesFromDropToVerdict) {
    // No dossier at all: drop, read as it was found, derive the contract, see the usual options' verdicts.
    test::write_file(folder / "unknown.vcd", recorded({5, 3.0, std::nullopt, true, 100e6}));
    drop({path("unknown.vcd")});
    auto& listen = window->page<ListenPage>();
    EXPECT_THAT(listen.found_line().text().toStdString(), testing::HasSubstr("It reads as latch-shift"));
    EXPECT_EQ(listen.decoder_bar().kind().currentText(), "nothing") << "nothing is guessed into the bar";
    EXPECT_FALSE(listen.decoder_bar().contract_button()->isEnabled());
    QTest::mouseClick(&listen.found_line().read_button(), Qt::LeftButton);
    wait();
    EXPECT_TRUE(listen.found_line().isHidden());
    EXPECT_EQ(listen.decoder_bar().role("latch")->currentText(), "HOLD");
    EXPECT_EQ(listen.decoder_bar().role("clock")->currentText(), "STEP");
    EXPECT_EQ(listen.decoder_bar().role("data")->currentText(), "REPLY");
    EXPECT_EQ(listen.waves().name_of(0), "HOLD") << "the link's lines on top, in the order of their roles";
    EXPECT_EQ(listen.waves().name_of(1), "STEP");
    EXPECT_EQ(listen.waves().name_of(2), "REPLY");
    EXPECT_LT(listen.waves().window().length(), Time::ms(1)) << "on the first transaction";
    EXPECT_FALSE(listen.histogram().histogram().bars.empty())
        << "how fast it answers shows before anything is entered";
    QTest::mouseClick(listen.decoder_bar().contract_button(), Qt::LeftButton);
    wait();
    EXPECT_EQ(window->stage(), Stage::timing);
    EXPECT_EQ(dossier().timing->intervals.size(), 12U);
    const auto& a = window->document().analysis();
    ASSERT_EQ(a.timing->options.size(), 6U);
    EXPECT_EQ(a.find_option("usual-poll")->verdict, Verdict::stop);  // a 5 µs loop against about 3 µs
    EXPECT_EQ(a.find_option("usual-logic")->verdict, Verdict::holds);
    for (const auto& o : a.timing->options)
        EXPECT_FALSE(o->confidence.assumed.empty()) << o->option.name << " stands with usual figures";
    EXPECT_EQ(window->rail().stage(Stage::timing).line(), "no option chosen");
    QTest::mouseClick(window->page<TimingPage>().card("usual-poll")->choose_button(), Qt::LeftButton);
    settle();
    EXPECT_EQ(window->rail().stage(Stage::timing).line(), "chosen option is late");
    EXPECT_EQ(window->rail().stage(Stage::timing).verdict(), Verdict::stop);
}

TEST_F(Files, ABrokenCaptureIsSaidInItsPlace) {
    open_demo();
    test::write_file(folder / "broken.vcd", "$var wire 1 ! a $end\n$enddefinitions $end\n#5\n1?\n");
    drop({path("broken.vcd")});
    const auto* c = window->document().analysis().find_capture("broken");
    ASSERT_NE(c, nullptr);
    EXPECT_EQ(QString::fromStdString(c->problem),
              path("broken.vcd") + ":4: found \"?\", expected an identifier that a $var declared");
    EXPECT_TRUE(finding_titles().contains("broken can't be read"));
    drop({path("nowhere.vcd")});
    ASSERT_EQ(told.size(), 1);
    EXPECT_THAT(told[0].toStdString(), testing::HasSubstr("found no readable file, expected a capture"));
}

TEST_F(Files, TheReportIsWritten) {
    open_demo();
    window->files().ask_report = [this] { return path("r"); };
    trigger("file.report");
    EXPECT_THAT(test::read_file(folder / "r.html"), testing::HasSubstr("Calder dial pad"));
    window->files().ask_report = [this] { return path("none/r.html"); };
    trigger("file.report");
    EXPECT_EQ(told.size(), 1);
}

TEST_F(Files, ASaveThatCannotBeMadeIsSaidAndNothingIsLost) {
    open_demo();
    edit();
    std::filesystem::rename(folder / "demo/calder-dial-pad.relic", folder / "demo/elsewhere.relic");
    test::write_file(folder / "demo/calder-dial-pad.relic", "a file in its place");
    trigger("file.save");
    EXPECT_EQ(told.size(), 1);
    EXPECT_TRUE(window->document().is_modified());
    EXPECT_EQ(test::read_file(folder / "demo/calder-dial-pad.relic"), "a file in its place");
}

}  // namespace
}  // namespace grayrelic::app
