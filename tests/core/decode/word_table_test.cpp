// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/word_table.hpp"

#include "core/decode/turns.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

Frame word(long at_us, std::optional<std::uint64_t> value, const char* levels = "") {
    Frame f;
    f.start = Time::us(at_us);
    f.end = Time::us(at_us + 5);
    f.value = value;
    f.levels = levels;
    return f;
}

std::shared_ptr<Decoding> decoding(const char* kind, std::vector<Frame> frames) {
    auto d = std::make_shared<Decoding>();
    d->kind = kind;
    d->frames = std::move(frames);
    return d;
}

TEST(WordTable, CharactersAreReadableAndControlsHaveNames) {
    auto d = decoding("async-serial", {word(0, 'H'), word(10, 0x0D), word(20, 0x20), word(30, 0x7F),
                                       word(40, 0x80), word(50, {})});
    d->frames[5].errors = {"framing", "unknown"};
    const WordTable t(d);
    EXPECT_EQ(t.text_heading(), "character");
    std::vector<std::string> texts;
    for (std::size_t i = 0; i < t.size(); ++i) texts.push_back(t.row(i).text);
    // ISO 646: 0x0D is CR, 0x7F DEL; above it there is none.
    EXPECT_THAT(texts, testing::ElementsAre("H", "CR", "SP", "DEL", "", ""));
    EXPECT_EQ(t.row(0).value, "0x48");
    EXPECT_EQ(t.row(5).value, "");
    EXPECT_EQ(t.row(5).errors, "framing unknown");
}

TEST(WordTable, AWheelsWordsArePositions) {
    std::vector<Frame> frames;
    for (const long long step : {1, 1, -1, 0, 1}) {
        frames.push_back(word(static_cast<long>(frames.size()), 0));
        frames.back().extra["step"] = step;
    }
    const WordTable t(decoding("quadrature", frames));
    std::vector<std::string> at;
    for (std::size_t i = 0; i < t.size(); ++i) at.push_back(t.row(i).text);
    EXPECT_THAT(at, testing::ElementsAre("1", "2", "1", "1", "2"));
}

TEST(WordTable, OtherFamiliesSayWhatTheyAdd) {
    auto d = decoding("matrix", {word(0, 1)});
    d->frames[0].extra["closed"] =
        std::vector<std::pair<std::string, std::string>>{{"R1", "C2"}, {"R3", "C0"}};
    EXPECT_EQ(WordTable(d).row(0).text, "R1+C2 R3+C0");
    d = decoding("pulse-width", {word(0, 1)});
    d->frames[0].extra["side"] = 2LL;
    EXPECT_EQ(WordTable(d).row(0).text, "answer");
    d = decoding("usb-low-full", {word(0, 1)});
    d->frames[0].extra["pid"] = std::string("IN");
    d->frames[0].extra["address"] = 5LL;
    d->frames[0].extra["endpoint"] = 1LL;
    EXPECT_EQ(WordTable(d).row(0).text, "IN address 5 endpoint 1");
    d = decoding("strobed-bus", {word(0, 1)});
    d->frames[0].extra["setup_s"] = 30e-9;
    d->frames[0].extra["hold_s"] = 20e-9;
    EXPECT_EQ(WordTable(d).row(0).text, "set up 30.0 ns, held 20.0 ns");
    EXPECT_EQ(WordTable(decoding("latch-shift", {word(0, 5, "0101")})).row(0).text, "0101");
}

TEST(WordTable, FindsForwardAndBackAndRound) {
    const WordTable t(decoding("latch-shift", {word(0, 0xA5, "10100101"), word(10, 0x3C, "00111100"),
                                               word(20, 0xA5, "10100101"), word(30, 0, "00000000")}));
    Progress progress;
    EXPECT_EQ(t.find("0xa5", 0, true, progress), 0U);
    EXPECT_EQ(t.find("0xA5", 1, true, progress), 2U);
    EXPECT_EQ(t.find("0xa5", 3, true, progress), 0U) << "round";
    EXPECT_EQ(t.find("0xa5", 1, false, progress), 0U);
    EXPECT_EQ(t.find("00111", 0, true, progress), 1U);
    EXPECT_EQ(t.find("parity", 0, true, progress), std::nullopt);
    EXPECT_EQ(t.find("", 0, true, progress), std::nullopt);
    EXPECT_EQ(t.row_at(Time::us(12)), 1U);
    EXPECT_EQ(t.row_at(Time::us(900)), 3U);
}

TEST(WordTable, IsWrittenAsCsv) {
    auto d = decoding("async-serial", {word(1, ','), word(20, '"')});
    d->frames[1].errors = {"parity"};
    Progress progress;
    EXPECT_EQ(WordTable(d).csv(progress),
              "start_s,end_s,value,text,levels,errors\r\n"
              "0.000001000000,0.000006000000,0x2C,\",\",,\r\n"
              "0.000020000000,0.000025000000,0x22,\"\"\"\",,parity\r\n");
    progress.cancel();
    EXPECT_EQ(WordTable(d).csv(progress), "");
}

TEST(Turns, AlternateByTheirPauses) {
    // Characters of 5 µs; a poll of two, 20 µs, an answer of three, then 200 µs.
    std::vector<Frame> frames;
    long at = 0;
    for (int round = 0; round < 6; ++round) {
        for (const long gap : {0, 20, 0, 0, 200}) {
            frames.push_back(word(at, 0x55));
            at += 5 + gap;
        }
    }
    const auto turns = turns_of(*decoding("async-serial", frames));
    ASSERT_EQ(turns.size(), 12U);
    for (std::size_t i = 0; i < turns.size(); ++i) EXPECT_EQ(turns[i].answer, i % 2 == 1) << i;
    EXPECT_EQ(turns[1].start - turns[0].end, Time::us(20));
    // One side only: messages, all of them polls.
    std::vector<Frame> alone;
    for (long k = 0; k < 20; ++k) alone.push_back(word(k * 50, 0x55));
    EXPECT_TRUE(turns_of(*decoding("async-serial", alone)).empty());
    EXPECT_EQ(talk_of(*decoding("async-serial", alone)).size(), 20U);
}

}  // namespace
}  // namespace grayrelic
