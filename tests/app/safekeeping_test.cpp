// SPDX-License-Identifier: GPL-3.0-or-later
// What the window does for the safety of edits: a crash is played by copying what is on the disk while it
// runs.
#include <unistd.h>

#include "core/base/folder_lock.hpp"
#include "core/dossier/journal.hpp"
#include "core/listen/listen_analysis.hpp"
#include "tests/app/window_fixture.hpp"

namespace grayrelic::app {
namespace {

namespace fs = std::filesystem;

class Safe : public WindowTest {
  protected:
    void TearDown() override {
        if (window) window->files().leave();
        WindowTest::TearDown();
        std::error_code ignored;
        fs::remove_all(unsaved_folder(), ignored);
    }
    void purpose(const std::string& text) {
        auto about = *dossier().about;
        about.purpose = text;
        window->document().apply("purpose", put(dossier(), about));
        settle();
    }
    /// The dossier as a crash would leave it, under another name.
    QString crash() {
        window->files().safekeeping().settle();
        fs::copy(window->document().folder(), folder / "crashed.relic", fs::copy_options::recursive);
        fs::remove(folder / "crashed.relic" / lock_file);
        return path("crashed.relic");
    }
    [[nodiscard]] QString notice() {
        auto* label = window->findChild<QLabel*>(QStringLiteral("notice"));
        return label->isVisible() ? label->text() : QString();
    }
};

TEST_F(Safe, EditsLeftByACrashAreOfferedAndTakenUp) {
    open_demo();
    purpose("first");
    purpose("second");
    const auto crashed = crash();
    answer = FileFlow::Answer::discard;
    recover = FileFlow::Recover::take_up;
    ASSERT_TRUE(window->files().open(crashed));
    settle();
    ASSERT_EQ(asked_to_recover.size(), 1);
    EXPECT_TRUE(asked_to_recover[0].contains(QStringLiteral("edit")));
    EXPECT_EQ(dossier().about->purpose, "second");
    EXPECT_TRUE(window->document().is_modified());
    trigger("edit.undo");  // back to what was saved
    EXPECT_NE(dossier().about->purpose, "second");
    trigger("edit.redo");
    trigger("file.save");
    EXPECT_FALSE(fs::exists(folder / "crashed.relic" / journal_file));
    EXPECT_EQ(load_dossier(folder / "crashed.relic")->about->purpose, "second");
}

TEST_F(Safe, DecidingLaterLeavesThemAndThrowingAwayRemovesThem) {
    open_demo();
    purpose("first");
    const auto crashed = crash();
    answer = FileFlow::Answer::discard;
    recover = FileFlow::Recover::later;
    EXPECT_FALSE(window->files().open(crashed));
    EXPECT_TRUE(fs::exists(folder / "crashed.relic" / journal_file));
    recover = FileFlow::Recover::throw_away;
    ASSERT_TRUE(window->files().open(crashed));
    settle();
    EXPECT_NE(dossier().about->purpose, "first");
    EXPECT_FALSE(fs::exists(folder / "crashed.relic" / journal_file));
}

TEST_F(Safe, TheNextStartOffersThemByItself) {
    open_demo();
    purpose("first");
    const auto crashed = crash();
    QSettings().setValue(QStringLiteral("recent"), QStringList{crashed});
    recover = FileFlow::Recover::take_up;
    answer = FileFlow::Answer::discard;
    EXPECT_TRUE(window->files().offer_left_behind());
    settle();
    EXPECT_EQ(dossier().about->purpose, "first");
}

TEST_F(Safe, ADossierNeverSavedIsOfferedToo) {
    trigger("file.new");
    purpose("never saved");
    window->files().safekeeping().settle();
    // The crash: its journal without the lock that this program holds.
    fs::path journal;
    for (const auto& e : fs::directory_iterator(unsaved_folder()))
        if (e.path().extension() == ".journal") journal = e.path();
    ASSERT_FALSE(journal.empty());
    fs::copy(journal, unsaved_folder() / "left.journal");
    recover = FileFlow::Recover::take_up;
    answer = FileFlow::Answer::discard;
    ASSERT_TRUE(window->files().offer_left_behind());
    settle();
    EXPECT_EQ(dossier().about->purpose, "never saved");
    EXPECT_TRUE(window->document().folder().empty());
    EXPECT_TRUE(window->document().is_modified());
    window->files().ask_save_folder = [this] { return path("kept"); };
    trigger("file.save");
    EXPECT_FALSE(fs::exists(unsaved_folder() / "left.journal"));
    EXPECT_EQ(load_dossier(folder / "kept.relic")->about->purpose, "never saved");
}

TEST_F(Safe, AnEditIsOnTheDiskWithinASecond) {
    open_demo();
    purpose("quickly");
    const auto journal = window->document().folder() / journal_file;
    EXPECT_TRUE(QTest::qWaitFor([&] { return fs::exists(journal); }, 1000));
}

TEST_F(Safe, ASecondWindowIsReadOnlyAndSaysSo) {
    const FolderLock other(folder / "demo/calder-dial-pad.relic" / lock_file);
    open_demo();
    EXPECT_TRUE(notice().contains(QStringLiteral("open in another window"))) << notice().toStdString();
    const auto before = dossier();
    purpose("refused");
    EXPECT_EQ(dossier(), before);
    EXPECT_FALSE(window->document().is_modified());
    // A copy can be changed.
    window->files().ask_save_folder = [this] { return path("copy"); };
    trigger("file.save-as");
    EXPECT_EQ(notice(), QString());
    purpose("allowed");
    EXPECT_EQ(dossier().about->purpose, "allowed");
}

TEST_F(Safe, FieldsOfAReadOnlyDossierTakeNothing) {
    const FolderLock other(folder / "demo/calder-dial-pad.relic" / lock_file);
    open_demo();
    trigger("view.timing");
    auto* field = window->page<TimingPage>().findChild<QLineEdit*>();
    ASSERT_NE(field, nullptr);
    const auto shown = field->text();
    type_into(field, "77 us");
    EXPECT_EQ(window->page<TimingPage>().findChild<QLineEdit*>()->text(), shown);
}

TEST_F(Safe, AJournalOfAnotherStateIsPutAsideNotOverwritten) {
    open_demo();
    purpose("first");
    const auto crashed = crash();
    auto d = load_dossier(folder / "crashed.relic").value();
    auto about = *d.about;
    about.name = "changed elsewhere";
    {
        const OffTheRecord off;
        ASSERT_TRUE(save_dossier(put(d, about), folder / "crashed.relic", folder / "crashed.relic"));
    }
    answer = FileFlow::Answer::discard;
    ASSERT_TRUE(window->files().open(crashed));
    settle();
    ASSERT_EQ(told.size(), 1);
    EXPECT_TRUE(told[0].contains(QStringLiteral("another state"))) << told[0].toStdString();
    EXPECT_EQ(dossier().about->name, "changed elsewhere");
    EXPECT_TRUE(fs::exists(folder / "crashed.relic" / "dossier.journal.aside"));
}

TEST_F(Safe, ADossierChangedByAnotherProgramIsNotReplacedUnasked) {
    open_demo();
    purpose("mine");
    const auto home = window->document().folder();
    auto text = test::read_file(home / dossier_file);
    text.replace(text.find("\"name\": \""), 9, "\"name\": \"Other ");
    test::write_file(home / dossier_file, text);
    overwrite = false;
    EXPECT_FALSE(window->files().save());
    EXPECT_EQ(asked_to_overwrite, 1);
    EXPECT_EQ(test::read_file(home / dossier_file), text);
    overwrite = true;
    EXPECT_TRUE(window->files().save());
    EXPECT_EQ(load_dossier(home)->about->purpose, "mine");
}

TEST_F(Safe, AFolderThatVanishedIsSaidAndSaveAsKeepsTheEdits) {
    open_demo();
    purpose("kept");
    window->files().safekeeping().settle();
    fs::remove_all(window->document().folder());
    EXPECT_FALSE(window->files().save());
    EXPECT_FALSE(fs::exists(window->document().folder()));
    ASSERT_EQ(told.size(), 1);
    EXPECT_TRUE(told[0].contains(QStringLiteral("no such folder any more"))) << told[0].toStdString();
    window->files().ask_save_folder = [this] { return path("elsewhere"); };
    trigger("file.save-as");
    EXPECT_EQ(load_dossier(folder / "elsewhere.relic")->about->purpose, "kept");
}

// The journal beside the old folder must not name files as they would lie in the new one.
TEST_F(Safe, ASaveElsewhereThatFailsLeavesAJournalThatFitsTheOldFolder) {
    open_demo();
    test::write_file(folder / "extra.vcd",
                     "$timescale 1us $end $var wire 1 ! a $end $enddefinitions $end #0 0! #5 1!\n");
    ASSERT_TRUE(window->files().add_capture(path("extra.vcd")));
    settle();
    fs::create_directories(folder / "elsewhere.relic/dossier.json.part");  // dossier.json can't be made there
    ASSERT_FALSE(window->files().save_to(path("elsewhere.relic")));
    told.clear();
    window->files().safekeeping().settle();
    const auto on_disk = load_dossier(window->document().folder());
    const auto left = [&] {
        const OffTheRecord off;
        return read_journal(window->document().folder() / journal_file, on_disk.value());
    }();
    ASSERT_TRUE(left && *left);
    EXPECT_EQ((*left)->outside, std::vector<std::string>{(folder / "extra.vcd").string()});
    (void)crash();
    recover = FileFlow::Recover::take_up;
    answer = FileFlow::Answer::discard;
    ASSERT_TRUE(window->files().open(path("crashed.relic")));
    settle();
    const auto& captures = *dossier().captures;
    EXPECT_TRUE(capture_path(captures.back(), window->document().folder()))
        << "the capture is found where it was";
}

TEST_F(Safe, TheExampleOpensAsACopyWhereItCannotBeWritten) {
    if (::geteuid() == 0) {
        // Permissions do not bind root: a lock file that can't be opened does.
        fs::create_directory(folder / "demo/calder-dial-pad.relic" / lock_file);
    } else {
        fs::permissions(folder / "demo/calder-dial-pad.relic", fs::perms::owner_read | fs::perms::owner_exec);
    }
    ASSERT_TRUE(window->files().open_example(window->demo_path()));
    settle();
    EXPECT_TRUE(window->document().folder().empty());
    EXPECT_EQ(window->document().analysis().find_capture("minute")->problem, "");
    purpose("changed");
    EXPECT_EQ(dossier().about->purpose, "changed");
    window->files().ask_save_folder = [this] { return path("mine"); };
    trigger("file.save");
    EXPECT_TRUE(fs::exists(folder / "mine.relic/captures/minute.vcd"));
}

}  // namespace
}  // namespace grayrelic::app
