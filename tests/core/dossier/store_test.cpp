// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/store.hpp"

#include "core/dossier/edits.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

namespace fs = std::filesystem;
using test::message;
using test::TempFolder;

TEST(Store, NewDossiersAreEmptyAndReadable) {
    TempFolder folder;
    const auto made = new_dossier(folder / "a.relic", "My job");
    ASSERT_TRUE(made) << message(made);
    const auto d = load_dossier(folder / "a.relic");
    ASSERT_TRUE(d) << message(d);
    EXPECT_EQ(d->about->name, "My job");
    EXPECT_TRUE(d->ports->empty());
    EXPECT_THAT(message(new_dossier(folder / "a.relic", "Again")),
                testing::HasSubstr("expected a new or empty folder"));
    EXPECT_THAT(message(new_dossier(folder / "b.relic", "  ")), testing::HasSubstr("a name for the dossier"));
    EXPECT_FALSE(fs::exists(folder / "b.relic"));
}

TEST(Store, FolderOrFileNamesTheDossier) {
    EXPECT_EQ(dossier_folder("x/a.relic"), "x/a.relic");
    EXPECT_EQ(dossier_folder("x/a.relic/"), "x/a.relic");
    EXPECT_EQ(dossier_folder("x/a.relic/dossier.json"), "x/a.relic");
    EXPECT_EQ(dossier_folder("dossier.json"), ".");
}

CaptureRef outside(const fs::path& file, const std::string& id) {
    CaptureRef c;
    c.id = c.title = id;
    c.outside = file.string();
    return c;
}

TEST(Store, SavingBringsCapturesInAndNeverOverwrites) {
    TempFolder folder;
    test::write_file(folder / "one.vcd", "first");
    fs::create_directories(folder / "other");
    test::write_file(folder / "other" / "one.vcd", "second");
    auto d = put({}, {"n", "", 1, ""});
    d = put(d, outside(folder / "one.vcd", "a"));
    auto saved = save_dossier(d, folder / "a.relic", {});
    ASSERT_TRUE(saved) << message(saved);
    EXPECT_EQ(saved->find_capture("a")->file, "captures/one.vcd");
    EXPECT_EQ(saved->find_capture("a")->outside, "");
    saved = save_dossier(put(*saved, outside(folder / "other" / "one.vcd", "b")), folder / "a.relic",
                         folder / "a.relic");
    ASSERT_TRUE(saved) << message(saved);
    EXPECT_EQ(saved->find_capture("b")->file, "captures/one-2.vcd");
    EXPECT_EQ(test::read_file(folder / "a.relic/captures/one.vcd"), "first");
    EXPECT_EQ(test::read_file(folder / "a.relic/captures/one-2.vcd"), "second");
    EXPECT_EQ(*load_dossier(folder / "a.relic"), *saved);
}

TEST(Store, SaveAsCarriesTheCapturesAlong) {
    TempFolder folder;
    test::write_file(folder / "one.vcd", "bytes");
    auto saved = save_dossier(put(put({}, {"n", "", 1, ""}), outside(folder / "one.vcd", "a")),
                              folder / "a.relic", {});
    ASSERT_TRUE(saved);
    const auto copy = save_dossier(*saved, folder / "b.relic", folder / "a.relic");
    ASSERT_TRUE(copy) << message(copy);
    EXPECT_EQ(test::read_file(folder / "b.relic/captures/one.vcd"), "bytes");
    EXPECT_EQ(test::read_file(folder / "a.relic/captures/one.vcd"), "bytes");
}

TEST(Store, AMissingCaptureStopsTheSaveBeforeAnythingIsReplaced) {
    TempFolder folder;
    ASSERT_TRUE(new_dossier(folder / "a.relic", "old"));
    const auto before = test::read_file(folder / "a.relic/dossier.json");
    const auto d = put(put({}, {"new", "", 1, ""}), outside(folder / "gone.vcd", "a"));
    const auto saved = save_dossier(d, folder / "a.relic", folder / "a.relic");
    ASSERT_FALSE(saved);
    EXPECT_EQ(test::read_file(folder / "a.relic/dossier.json"), before);
}

TEST(Store, LinksThatLeadOutAreNotFollowed) {
    TempFolder folder;
    test::write_file(folder / "secret.vcd", "secret");
    fs::create_directories(folder / "a.relic/captures");
    fs::create_symlink(folder / "secret.vcd", folder / "a.relic/captures/x.vcd");
    CaptureRef c;
    c.id = c.title = "x";
    c.file = "captures/x.vcd";
    EXPECT_THAT(message(capture_path(c, folder / "a.relic")),
                testing::HasSubstr("a link that leads out of the dossier"));
    c.file = "captures/none.vcd";
    EXPECT_THAT(message(capture_path(c, folder / "a.relic")), testing::HasSubstr("no such file"));
}

TEST(Store, AMissingDossierIsASystemError) {
    const auto d = load_dossier("/nonexistent.relic");
    ASSERT_FALSE(d);
    EXPECT_EQ(message(d),
              "/nonexistent.relic/dossier.json: found No such file or directory, expected a readable file");
}

}  // namespace
}  // namespace grayrelic
