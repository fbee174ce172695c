// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/capture/signal_names.hpp"

#include "core/capture/capture_file.hpp"
#include "core/signal/compare_captures.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::waveform_ns;

TEST(SignalNames, AreThoseThatTheReaderGives) {
    test::TempFolder folder;
    const auto c = test::capture_of(
        {{"port.LATCH", waveform_ns(false, {100, 200})}, {"port.DATA", waveform_ns(true, {150})}});
    for (const char* name : {"a.vcd", "a.csv"}) {
        Progress progress;
        ASSERT_TRUE(write_capture_file(c, folder / name, progress));
        const auto read = read_capture_file(folder / name, progress);
        ASSERT_TRUE(read) << test::message(read);
        std::vector<std::string> known;
        for (const auto& s : read->signals) known.push_back(s.name);
        EXPECT_EQ(signal_names(folder / name), known) << name;
    }
    test::write_file(folder / "broken", "$var wire");
    EXPECT_TRUE(signal_names(folder / "broken").empty());
    EXPECT_TRUE(signal_names(folder / "nowhere").empty());
    test::write_file(folder / "empty", "");
    EXPECT_TRUE(signal_names(folder / "empty").empty());
}

TEST(SignalNames, AreFoundByTheirOnlyEnding) {
    const std::vector<std::string> names{"a.CLK", "b.CLK", "a.DATA"};
    EXPECT_TRUE(has_signal(names, "DATA"));
    EXPECT_TRUE(has_signal(names, "a.CLK"));
    EXPECT_FALSE(has_signal(names, "CLK")) << "two end so";
    EXPECT_FALSE(has_signal(names, "ATA"));
}

TEST(SignalNames, UniqueEndingsAreShown) {
    const auto c = test::capture_of({{"top.a.CLK", waveform_ns(false, {1})},
                                     {"top.b.CLK", waveform_ns(false, {1})},
                                     {"top.b.DATA", waveform_ns(false, {1})},
                                     {"X", waveform_ns(false, {1})}});
    EXPECT_EQ(unique_ending(c, "top.a.CLK"), "a.CLK");
    EXPECT_EQ(unique_ending(c, "top.b.DATA"), "DATA");
    EXPECT_EQ(unique_ending(c, "X"), "X");
}

TEST(SignalNames, ASignalAlsoGoesByItsPinsName) {
    auto one = test::capture_of({{"CH0", waveform_ns(false, {10})}, {"CH1", waveform_ns(false, {20})}});
    auto two = test::capture_of({{"STEP", waveform_ns(false, {10})}, {"OTHER", waveform_ns(false, {20})}});
    one.also_called = {{"STEP", "CH1"}};
    ASSERT_TRUE(one.find_digital("STEP"));
    EXPECT_EQ(one.find_digital("STEP").value(), one.find_digital("CH1").value());
    EXPECT_FALSE(one.find("HOLD"));
    one.also_called.emplace_back("LOOP", "LOOP");
    EXPECT_FALSE(one.find("LOOP")) << "a name of itself is none";
    // Compared by it, whichever of the two is called so.
    using Pairs = std::vector<std::pair<std::string, std::string>>;
    EXPECT_EQ(same_names(one, two), (Pairs{{"CH1", "STEP"}}));
    EXPECT_EQ(same_names(two, one), (Pairs{{"STEP", "CH1"}}));
}

}  // namespace
}  // namespace grayrelic
