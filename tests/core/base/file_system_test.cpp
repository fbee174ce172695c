// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/file_system.hpp"

#include <sys/stat.h>

#include "core/base/byte_source.hpp"
#include "tests/core/failing_disk.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::message;
using test::TempFolder;

TEST(FileSystem, AtomicWriteReplacesTheWholeFile) {
    TempFolder folder;
    ASSERT_TRUE(write_atomically(disk(), folder / "a.json", "old"));
    ASSERT_TRUE(write_atomically(disk(), folder / "a.json", "new"));
    EXPECT_EQ(test::read_file(folder / "a.json"), "new");
    EXPECT_FALSE(std::filesystem::exists(folder / "a.json.part"));
}

TEST(FileSystem, AWriteIntoAMissingFolderSaysSo) {
    TempFolder folder;
    const auto result = write_atomically(disk(), folder / "none" / "a.json", "x");
    ASSERT_FALSE(result);
    EXPECT_EQ(result.error().kind, Error::Kind::system);
    EXPECT_THAT(message(result), testing::HasSubstr("No such file or directory"));
}

TEST(FileSystem, ReadingChecksKindAndSize) {
    TempFolder folder;
    test::write_file(folder / "a", "12345");
    EXPECT_EQ(disk().read(folder / "a", 5).value(), "12345");
    EXPECT_THAT(message(disk().read(folder / "a", 4)),
                testing::HasSubstr("found 5 bytes, expected at most 4 bytes"));
    EXPECT_THAT(message(disk().read(folder.path(), 100)), testing::HasSubstr("expected a regular file"));
    EXPECT_THAT(message(disk().read(folder / "b", 100)), testing::HasSubstr("No such file or directory"));
}

TEST(ByteSource, FilesShowTheirBytesFromAnyPlace) {
    TempFolder folder;
    test::write_file(folder / "a", "bytes\nand more\n");
    const auto a = FileSource::open(folder / "a");
    ASSERT_TRUE(a);
    EXPECT_EQ((*a)->size(), 15U);
    char into[8] = {};
    EXPECT_EQ((*a)->read_at(2, {into, 3}), 3U);
    EXPECT_EQ(std::string(into, 3), "tes");
    EXPECT_EQ((*a)->read_at(11, into), 4U);  // "ore\n", and no more
    EXPECT_EQ((*a)->read_at(99, into), 0U);
    EXPECT_EQ(line_at(**a, 5), 1);
    EXPECT_EQ(line_at(**a, 6), 2);
    EXPECT_FALSE(FileSource::open(folder / "missing"));
    EXPECT_FALSE(FileSource::open(folder.path()));
    ASSERT_EQ(::mkfifo((folder / "pipe").c_str(), 0600), 0);
    EXPECT_FALSE(FileSource::open(folder / "pipe"));  // and does not wait for a writer
}

TEST(ByteSource, AFileThatShrinksIsAShortRead) {
    TempFolder folder;
    test::write_file(folder / "a", std::string(10000, 'x'));
    const auto a = FileSource::open(folder / "a");
    ASSERT_TRUE(a);
    std::filesystem::resize_file(folder / "a", 100);
    std::vector<char> into(10000);
    EXPECT_EQ((*a)->read_at(0, into), 100U);
}

TEST(FileSystem, AFaultAtAnyStepLeavesTheOldFileOrTheNewOneWhole) {
    test::FailingDisk whole(1000);
    TempFolder counting;
    ASSERT_TRUE(write_atomically(whole, counting / "a.json", "the new text"));
    EXPECT_EQ(whole.steps(), 5);  // create, write, flush, rename, flush the folder
    for (int step = 0; step < whole.steps(); ++step) {
        TempFolder folder;
        test::write_file(folder / "a.json", "the old text");
        test::FailingDisk failing(step);
        const auto result = write_atomically(failing, folder / "a.json", "the new text");
        EXPECT_FALSE(result) << step;
        const auto left = test::read_file(folder / "a.json");
        EXPECT_EQ(left, step < 4 ? "the old text" : "the new text") << step;
        EXPECT_EQ(std::filesystem::exists(folder / "a.json.part"), false) << step;
    }
}

TEST(FileSystem, APartThatIsALinkIsNotFollowed) {
    TempFolder folder;
    test::write_file(folder / "victim", "precious");
    std::filesystem::create_symlink(folder / "victim", folder / "a.json.part");
    EXPECT_FALSE(write_atomically(disk(), folder / "a.json", "x", PartName::ours));
    EXPECT_EQ(test::read_file(folder / "victim"), "precious");
    EXPECT_TRUE(write_atomically(disk(), folder / "a.json", "x"));
    EXPECT_EQ(test::read_file(folder / "victim"), "precious");
    EXPECT_EQ(test::read_file(folder / "a.json"), "x");
}

// OUT.part may be a file that somebody keeps.
TEST(FileSystem, SomebodysOwnPartIsLeftAlone) {
    TempFolder folder;
    test::write_file(folder / "report.html.part", "half of my notes");
    test::write_file(folder / "report.html.2.part", "the other half");
    ASSERT_TRUE(write_atomically(disk(), folder / "report.html", "the report"));
    EXPECT_EQ(test::read_file(folder / "report.html"), "the report");
    EXPECT_EQ(test::read_file(folder / "report.html.part"), "half of my notes");
    EXPECT_EQ(test::read_file(folder / "report.html.2.part"), "the other half");
    // What a killed program left in a folder of ours is replaced.
    ASSERT_TRUE(write_atomically(disk(), folder / "report.html", "again", PartName::ours));
    EXPECT_FALSE(std::filesystem::exists(folder / "report.html.part"));
}

TEST(FileSystem, ManyWritersOfOneFileAllEndWell) {
    TempFolder folder;
    std::vector<std::thread> writers;
    std::atomic<int> failed{0};
    for (int w = 0; w < 8; ++w)
        writers.emplace_back([&, w] {
            for (int i = 0; i < 40; ++i)
                if (!write_atomically(disk(), folder / "one", std::string(1000, static_cast<char>('a' + w))))
                    ++failed;
        });
    for (auto& w : writers) w.join();
    EXPECT_EQ(failed, 0);
    const auto text = test::read_file(folder / "one");
    EXPECT_EQ(text, std::string(1000, text.front()));
}

}  // namespace
}  // namespace grayrelic
