// SPDX-License-Identifier: GPL-3.0-or-later
// Files that end in the middle of a line, as a program leaves them that was stopped: what stands before is
// read, and it is said. The expected edges come from going through the whole lines by hand.
#include <sstream>

#include "core/capture/csv_reader.hpp"
#include "core/capture/growing_capture.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

const std::string cut_header =
    "$timescale 1 ns $end\n$scope module top $end\n$var wire 1 ! a $end\n"
    "$var wire 4 \" v [3:0] $end\n$upscope $end\n$enddefinitions $end\n";

/// A dump whose lines all have ends, and times of seven digits, so that a cut one goes back in time.
std::string cut_dump() {
    std::string out = cut_header + "#1000000\n0!\nb0000 \"\n";
    for (int i = 1; i < 40; ++i)
        out += "#" + std::to_string(1000000 + 137 * i) + "\n" + std::to_string(i % 2) + "!\nb0" +
               (i % 3 == 0 ? "11" : "01") + "0 \"\n";
    return out;
}

/// Edges of `a` by the whole lines of a text.
std::size_t edges_by_hand(const std::string& text) {
    std::istringstream lines(text.substr(0, text.rfind('\n') + 1));
    std::size_t edges = 0;
    char level = '0';
    for (std::string line; std::getline(lines, line);)
        if (line.size() == 2 && line[1] == '!' && line[0] != level) level = line[0], ++edges;
    return edges;
}

TEST(CutFiles, ADumpIsReadUpToItsLastWholeLine) {
    const auto whole = cut_dump();
    long said = 0;
    for (auto cut = cut_header.size() + 40; cut < whole.size(); ++cut) {
        const auto text = whole.substr(0, cut);
        Progress progress;
        const auto c = read_vcd(text, "cut.vcd", progress);
        ASSERT_TRUE(c) << cut << ": " << c.error().message();
        const auto n = (*c->find_digital("a"))->edges().size();
        // A last line without an end may still be whole: "1!" where only the line's end is missing.
        EXPECT_GE(n, edges_by_hand(text)) << cut;
        EXPECT_LE(n, edges_by_hand(text) + 1) << cut;
        if (!c->remarks.empty()) {
            ++said;
            EXPECT_TRUE(c->remarks.front().guessed) << "a doubt, not a note";
            EXPECT_THAT(c->remarks.front().says, testing::HasSubstr("ends in the middle of line"));
            EXPECT_EQ(n, edges_by_hand(text)) << cut;
        }
    }
    EXPECT_GT(said, 100);
}

TEST(CutFiles, ARecordingThatStopsMidLineKeepsWhatCame) {
    const auto whole = cut_dump();
    for (auto cut = whole.size() - 60; cut < whole.size(); ++cut) {
        const auto text = whole.substr(0, cut);
        GrowingCapture growing("cut", 1'000'000);
        Status fed;
        for (std::size_t at = 0; fed && at < text.size(); at += 7) fed = growing.feed(text.substr(at, 7));
        ASSERT_TRUE(fed);
        ASSERT_TRUE(growing.finish()) << cut;
        Progress progress;
        const auto at_once = read_vcd(text, "cut", progress);
        ASSERT_TRUE(at_once);
        const auto c = growing.take();
        EXPECT_EQ((*c.find_digital("a"))->edges().size(), (*at_once->find_digital("a"))->edges().size())
            << cut;
        EXPECT_EQ(c.remarks.size(), at_once->remarks.size()) << cut;
    }
}

TEST(CutFiles, WhatIsWrongBeforeTheEndIsStillRefused) {
    auto text = cut_dump();
    text.insert(text.find("#1000548"), "nonsense\n");
    Progress progress;
    EXPECT_FALSE(read_vcd(text.substr(0, text.size() - 3), "wrong.vcd", progress));
    // A last line that has its end is no half line.
    EXPECT_FALSE(read_vcd(cut_dump() + "nonsense\n", "wrong.vcd", progress));
}

TEST(CutFiles, ATableIsReadUpToItsLastWholeRow) {
    std::string text = "time_us,a,b\n";
    for (int i = 0; i < 30; ++i)
        text += std::to_string(1000 + 3 * i) + "," + std::to_string(i % 2) + "," + std::to_string(i / 2 % 2) +
                "\n";
    long said = 0;
    for (auto cut = text.size() - 60; cut < text.size(); ++cut) {
        Progress progress;
        const auto c = read_csv(text.substr(0, cut), "cut.csv", progress);
        ASSERT_TRUE(c) << cut << ": " << c.error().message();
        const auto rows = std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(cut), '\n') - 1;
        const auto n = static_cast<long>((*c->find_digital("a"))->edges().size());
        EXPECT_GE(n, rows - 1) << cut;
        EXPECT_LE(n, rows) << cut;
        said += c->remarks.empty() ? 0 : 1;
    }
    EXPECT_GT(said, 20);
}

TEST(Tables, ACommaInTheRateAndATabAtTheEndOfTheLine) {
    Progress progress;
    const auto rate = read_csv("Sample rate: 1,5 MHz\nrx;y\n0;1\n1;1\n0;0\n", "rate.csv", progress);
    ASSERT_TRUE(rate) << rate.error().message();
    // 1 / 1.5 MHz = 666,667 ps: the second row.
    EXPECT_EQ((*rate->find_digital("rx"))->edges().front(), Time::ps(666'667));
    const auto tab = read_csv("t/us\trx\t\n0\t0\t\n1\t1\t\n2\t0\t\n", "tab.csv", progress);
    ASSERT_TRUE(tab) << tab.error().message();
    EXPECT_EQ((*tab->find_digital("rx"))->edges().front(), Time::us(1));
    EXPECT_EQ(tab->signals.size(), 1U);
}

}  // namespace
}  // namespace grayrelic
