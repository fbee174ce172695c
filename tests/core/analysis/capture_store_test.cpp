// SPDX-License-Identifier: GPL-3.0-or-later
// What is read once, what is read again, and what is let go.
#include <gmock/gmock.h>

#include "core/analysis/capture_store.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

namespace fs = std::filesystem;
using test::message;

class KeptCaptures : public testing::Test {
  protected:
    Result<std::shared_ptr<const Capture>> read() {
        Progress progress;
        return store.read(file, progress);
    }
    /// Writes the file and gives it this time of change, so that only its time tells that it changed.
    void write(const std::string& text, int seconds) {
        test::write_file(file, text);
        fs::last_write_time(file, begin + std::chrono::seconds(seconds));
    }
    const std::string good =
        "$timescale 1 ns $end\n$var wire 1 ! a $end\n$enddefinitions $end\n#0\n0!\n#5\n1!\n";
    test::TempFolder folder;
    fs::path file = folder / "c.vcd";
    fs::file_time_type begin = fs::file_time_type::clock::now() - std::chrono::hours(1);
    CaptureStore store;
};

TEST_F(KeptCaptures, AFileIsReadAgainOnlyWhenItChanged) {
    write(good, 0);
    const auto first = read();
    ASSERT_TRUE(first) << message(first);
    EXPECT_EQ(read().value(), *first);
    write(good, 1);
    EXPECT_NE(read().value(), *first);
}

TEST_F(KeptCaptures, ARefusedFileIsNotReadAgainUntilItChanges) {
    write(good + "?\n", 0);
    const auto refused = read();
    ASSERT_FALSE(refused);
    EXPECT_THAT(message(refused), testing::HasSubstr("c.vcd:8: "));
    write(good, 0);  // good now, but its time says that nobody touched it: read, it would be taken
    EXPECT_EQ(message(read()), message(refused));
    write(good, 1);
    EXPECT_TRUE(read());
}

TEST_F(KeptCaptures, AFileThatIsNotThereIsLookedForEachTime) {
    EXPECT_FALSE(read());
    write(good, 0);
    EXPECT_TRUE(read());
    fs::remove(file);
    EXPECT_FALSE(read());
}

TEST_F(KeptCaptures, WhatIsForgottenLeavesMemory) {
    write(good, 0);
    const std::weak_ptr<const Capture> held = read().value();
    EXPECT_FALSE(held.expired()) << "kept for the next analysis";
    store.forget();
    EXPECT_TRUE(held.expired());
    EXPECT_TRUE(read());
}

TEST_F(KeptCaptures, ACancelledReadingIsNotRemembered) {
    std::string long_one = good;
    for (int i = 6; i < 300'000; ++i)
        long_one += "#" + std::to_string(i) + (i % 2 == 0 ? "\n0!\n" : "\n1!\n");
    write(long_one, 0);
    Progress cancelled;
    cancelled.cancel();
    const auto stopped = store.read(file, cancelled);
    ASSERT_FALSE(stopped);
    EXPECT_EQ(stopped.error().kind, Error::Kind::cancelled);
    EXPECT_TRUE(read());
}

}  // namespace
}  // namespace grayrelic
