// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/journal.hpp"

#include "core/base/folder_lock.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "tests/core/failing_disk.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::message;
using test::TempFolder;

Dossier demo() {
    return load_dossier(test::source_folder() / "demos/calder-dial-pad.relic").value();
}

Dossier renamed(const Dossier& d, const std::string& name) {
    About about = *d.about;
    about.name = name;
    return put(d, about);
}

std::optional<LeftEdits> left(const std::filesystem::path& path, const Dossier& base) {
    auto result = read_journal(path, base);
    EXPECT_TRUE(result) << message(result);
    return result ? std::move(*result) : std::nullopt;
}

class Journal : public testing::Test {
  protected:
    /// A journal with the names "one", "two", "three" and a capture from outside.
    void write_three() {
        JournalWriter writer(path, base);
        for (const char* name : {"one", "two", "three"}) ASSERT_TRUE(writer.record(renamed(base, name)));
    }
    TempFolder folder;
    std::filesystem::path path = folder / journal_file;
    Dossier base = demo();
};

TEST_F(Journal, GivesBackEveryEdit) {
    EXPECT_FALSE(left(path, base));
    JournalWriter writer(path, base);
    EXPECT_FALSE(std::filesystem::exists(path));  // nothing before the first edit
    ASSERT_TRUE(writer.record(renamed(base, "one")));
    CaptureRef extra;
    extra.id = "fresh";
    extra.title = "fresh";
    extra.outside = "/somewhere/fresh.vcd";
    const auto last = put(renamed(base, "two"), extra);
    ASSERT_TRUE(writer.record(last));
    const auto found = left(path, base);
    ASSERT_TRUE(found);
    EXPECT_EQ(found->edits, 2);
    EXPECT_EQ(found->dossier, last);
    EXPECT_EQ(found->outside, std::vector<std::string>{"/somewhere/fresh.vcd"});
    EXPECT_EQ(found->trouble, "");
}

TEST_F(Journal, ADossierNeverSavedIsAllInTheJournal) {
    JournalWriter writer(path, Dossier{});
    ASSERT_TRUE(writer.record(base));
    EXPECT_EQ(left(path, Dossier{}).value().dossier, base);
}

TEST_F(Journal, CutAnywhereItGivesBackWhatIsWhole) {
    write_three();
    const auto text = test::read_file(path);
    std::vector<std::size_t> ends;  // behind each line end
    for (std::size_t i = 0; i < text.size(); ++i)
        if (text[i] == '\n') ends.push_back(i + 1);
    ASSERT_EQ(ends.size(), 4U);
    const char* names[] = {"one", "two", "three"};
    for (std::size_t cut = ends[0]; cut <= text.size(); ++cut) {
        test::write_file(path, text.substr(0, cut));
        const auto whole = std::count_if(ends.begin(), ends.end(), [&](auto e) { return e <= cut; }) - 1;
        const auto found = left(path, base);
        ASSERT_EQ(found.has_value(), whole > 0) << cut;
        if (!found) continue;
        EXPECT_EQ(found->edits, whole) << cut;
        EXPECT_EQ(found->dossier.about->name, names[whole - 1]) << cut;
        EXPECT_EQ(found->trouble.empty(), std::ranges::find(ends, cut) != ends.end()) << cut;
    }
}

TEST_F(Journal, AChangedByteEndsItThere) {
    write_three();
    const auto text = test::read_file(path);
    for (std::size_t i = text.find('\n') + 1; i < text.size(); i += 7) {
        auto broken = text;
        broken[i] = static_cast<char>(broken[i] ^ 4);
        test::write_file(path, broken);
        const auto result = read_journal(path, base);  // whatever it says, no name that was never given
        if (!result || !*result) continue;
        EXPECT_THAT((*result)->dossier.about->name, testing::AnyOf("one", "two", "three")) << i;
    }
}

TEST_F(Journal, AfterASaveOnlyLaterEditsAreLeft) {
    write_three();
    EXPECT_EQ(left(path, renamed(base, "one")).value().edits, 2);  // saved after the first edit, then killed
    EXPECT_FALSE(left(path, renamed(base, "three")));              // saved after the last one
    const auto other = read_journal(path, renamed(base, "never seen"));
    ASSERT_FALSE(other);
    EXPECT_THAT(message(other), testing::HasSubstr("found edits of another state of the dossier"));
}

TEST_F(Journal, UndoneEditsAreNoEdits) {
    JournalWriter writer(path, base);
    ASSERT_TRUE(writer.record(renamed(base, "one")));
    ASSERT_TRUE(writer.record(base));
    EXPECT_FALSE(left(path, base));
}

TEST_F(Journal, RemoveTakesItAway) {
    JournalWriter writer(path, base);
    ASSERT_TRUE(writer.record(renamed(base, "one")));
    writer.remove();
    EXPECT_FALSE(std::filesystem::exists(path));
    ASSERT_TRUE(writer.record(renamed(base, "two")));
    EXPECT_EQ(left(path, base).value().dossier.about->name, "two");
}

TEST_F(Journal, AFaultAtAnyStepLosesNothingThatWasRecorded) {
    for (int step = 0;; ++step) {
        std::filesystem::remove(path);
        test::FailingDisk failing(step);
        JournalWriter writer(path, base, failing);
        std::string recorded;
        int faults = 0;
        for (const char* name : {"one", "two", "three"}) {
            if (writer.record(renamed(base, name)))
                recorded = name;
            else
                ++faults;
            const auto found = left(path, base);
            if (!recorded.empty()) {
                ASSERT_TRUE(found) << step;
                // The last one that was reported as kept, or one that got through in spite of a fault.
                EXPECT_THAT(found->dossier.about->name, testing::AnyOf(recorded, std::string(name))) << step;
            }
        }
        if (faults == 0) {
            EXPECT_GE(step, 8);  // create, write, flush, rename, flush folder; write, flush; …
            break;
        }
        // One fault costs at most the edit it fell on; the next one catches up.
        EXPECT_EQ(faults, 1) << step;
        EXPECT_FALSE(std::filesystem::exists(folder / "dossier.journal.part")) << step;
    }
}

TEST_F(Journal, OnAFullDiskItSaysSoAndCatchesUpLater) {
    test::FailingDisk full(5, 3);  // the second and third edit find no room
    JournalWriter writer(path, base, full);
    ASSERT_TRUE(writer.record(renamed(base, "one")));
    const auto refused = writer.record(renamed(base, "two"));
    ASSERT_FALSE(refused);
    EXPECT_THAT(message(refused), testing::HasSubstr("No space left on device"));
    EXPECT_EQ(left(path, base).value().dossier.about->name, "one");
    EXPECT_FALSE(writer.record(renamed(base, "three")));
    while (!writer.record(renamed(base, "four"))) {
    }
    EXPECT_EQ(left(path, base).value().dossier.about->name, "four");
}

TEST_F(Journal, AVanishedFolderIsSaidAndNotMadeAgain) {
    const auto home = folder / "home";
    std::filesystem::create_directory(home);
    JournalWriter writer(home / journal_file, base);
    ASSERT_TRUE(writer.record(renamed(base, "one")));
    std::filesystem::remove_all(home);
    const auto gone = writer.record(renamed(base, "two"));
    ASSERT_FALSE(gone);
    EXPECT_THAT(message(gone), testing::HasSubstr("No such file or directory"));
    EXPECT_FALSE(std::filesystem::exists(home));
    std::filesystem::create_directory(home);  // a stick that was pulled and put back
    ASSERT_TRUE(writer.record(renamed(base, "three")));
    EXPECT_EQ(left(home / journal_file, base).value().dossier.about->name, "three");
}

TEST_F(Journal, HostileOnesAreRefused) {
    const std::string deep(100'000, '[');
    for (const std::string& text :
         {std::string(), std::string("\n"), std::string("[]\n"), deep, deep + "\n" + deep + "\n",
          std::string(R"({"journal":2,"state":"x"})") + "\n",
          std::string(R"({"journal":"one","state":"x"})") + "\n", std::string(3000, '\xFF')}) {
        test::write_file(path, text);
        EXPECT_FALSE(read_journal(path, base));
    }
    // Steps that would blow up the state, or leave it.
    write_three();
    const auto header = test::read_file(path).substr(0, test::read_file(path).find('\n') + 1);
    for (const char* step :
         {R"({"patch":[{"op":"copy","from":"","path":"/dossier/x"}],"sum":"0"})",
          R"({"patch":[{"op":"add","path":"/dossier/ports/999999999999","value":1}],"sum":"0"})",
          R"({"patch":7,"sum":"0"})", R"({"patch":[{"op":"remove","path":"/nothing"}],"sum":"0"})"}) {
        test::write_file(path, header + step + "\n");
        EXPECT_FALSE(left(path, base)) << step;
    }
}

TEST(FolderLock, OneHoldsIt) {
    TempFolder folder;
    const auto file = folder / lock_file;
    {
        const FolderLock first(file);
        EXPECT_EQ(first.state(), FolderLock::State::held);
        EXPECT_EQ(FolderLock(file).state(), FolderLock::State::busy);
        EXPECT_TRUE(std::filesystem::exists(file));  // the second one's end left it alone
    }
    EXPECT_FALSE(std::filesystem::exists(file));
    EXPECT_EQ(FolderLock(file).state(), FolderLock::State::held);
    EXPECT_EQ(FolderLock(folder / "none" / "x").state(), FolderLock::State::not_writable);
}

// --- saving

TEST(Save, AFaultAtAnyStepLeavesTheOldDossierOrTheNewOne) {
    for (int step = 0;; ++step) {
        TempFolder folder;
        const auto home = folder / "pad.relic";
        std::filesystem::copy(test::source_folder() / "demos/calder-dial-pad.relic", home,
                              std::filesystem::copy_options::recursive);
        const auto base = load_dossier(home).value();
        CaptureRef fresh;
        fresh.id = "fresh";
        fresh.title = "fresh";
        fresh.outside = (home / base.captures->front().file).string();
        const auto next = put(renamed(base, "changed"), fresh);
        test::FailingDisk failing(step);
        const auto saved = save_dossier(next, home, home, failing);
        const auto there = load_dossier(home);
        ASSERT_TRUE(there) << step << message(there);
        EXPECT_TRUE(*there == base || there->about->name == "changed") << step;
        for (const auto& c : *there->captures) EXPECT_TRUE(capture_path(c, home)) << step << " " << c.id;
        for (const auto& entry : std::filesystem::recursive_directory_iterator(home))
            EXPECT_NE(entry.path().extension(), ".part") << step;
        if (saved) break;
        ASSERT_LT(step, 100);
    }
}

TEST(Save, AFolderThatVanishedIsSaidAndTheRestCanBeSavedElsewhere) {
    TempFolder folder;
    const auto home = folder / "pad.relic";
    std::filesystem::copy(test::source_folder() / "demos/calder-dial-pad.relic", home,
                          std::filesystem::copy_options::recursive);
    const auto base = load_dossier(home).value();
    std::filesystem::remove_all(home);
    const auto there = save_dossier(renamed(base, "kept"), home, home);
    ASSERT_FALSE(there);
    EXPECT_THAT(message(there), testing::HasSubstr("found no such folder any more"));
    EXPECT_FALSE(std::filesystem::exists(home));
    const auto elsewhere = save_dossier(renamed(base, "kept"), folder / "other.relic", home);
    ASSERT_TRUE(elsewhere) << message(elsewhere);
    EXPECT_EQ(load_dossier(folder / "other.relic")->about->name, "kept");
}

TEST(Save, CancellingLeavesTheOldDossier) {
    TempFolder folder;
    const auto home = folder / "pad.relic";
    std::filesystem::copy(test::source_folder() / "demos/calder-dial-pad.relic", home,
                          std::filesystem::copy_options::recursive);
    const auto base = load_dossier(home).value();
    CaptureRef fresh;
    fresh.id = "fresh";
    fresh.outside = (home / base.captures->front().file).string();
    Progress progress;
    progress.cancel();
    const auto saved = save_dossier(put(base, fresh), home, home, disk(), progress);
    ASSERT_FALSE(saved);
    EXPECT_EQ(saved.error().kind, Error::Kind::cancelled);
    EXPECT_EQ(load_dossier(home).value(), base);
}

}  // namespace
}  // namespace grayrelic
