// SPDX-License-Identifier: GPL-3.0-or-later
// What is done with words once they are read: chains, searches, comparison, takes of one long recording.
#include <gmock/gmock.h>

#include "core/decode/compare_frames.hpp"
#include "core/decode/decode_chain.hpp"
#include "core/decode/find_frames.hpp"
#include "core/decode/hunt.hpp"
#include "standin/spoken.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

Frame word_at(long us, const char* levels, std::vector<std::string> errors = {}) {
    Frame f;
    f.start = Time::us(us);
    f.end = Time::us(us + 5);
    f.levels = levels;
    f.value = value_of(levels, true);
    f.errors = std::move(errors);
    return f;
}
Decoding decoding_of(std::vector<Frame> frames) {
    Decoding d;
    d.kind = "latch-shift";
    d.frames = std::move(frames);
    return d;
}

// --- bit times
// --------------------------------------------------------------------------------------------------

TEST(BitTimes, EvenAndListedReadAlike) {
    const auto even = BitTimes::even(Time::ns(1500), 1'000'000.4, 3);
    // Behind 1.5 µs: 1,000,000.4 ps → 1,000,000; 2,000,000.8 → 2,000,000.
    EXPECT_EQ(even, (BitTimes{Time::ns(1500), Time::ns(2500), Time::ns(3500)}));
    EXPECT_EQ(even.front(), Time::ns(1500));
    EXPECT_EQ(even.back(), Time::ns(3500));
    EXPECT_EQ(even.size(), 3U);
    BitTimes listed;
    EXPECT_TRUE(listed.empty());
    listed.push_back(Time::us(7));
    EXPECT_EQ(listed.back(), Time::us(7));
    EXPECT_FALSE(listed == even);
}

// --- chains
// -------------------------------------------------------------------------------------------------------

TEST(DecodeChain, PacketsStandBehindTheirCharacters) {
    standin::Wire line("rx");
    Time t = Time::ms(1);
    for (int p = 0; p < 6; ++p) {
        for (const int b : {0x10 + p, 0x20, 0x10 ^ p ^ 0x20 ^ 0x00})
            t = standin::say_async(line, t, static_cast<std::uint64_t>(b), {});
        t += Time::ms(20);
    }
    const auto c = standin::capture_of({line}, t);
    Progress progress;
    const auto chain = decode_chain(
        c, "async-serial", {{"data", {"rx"}}},
        {{"baud", "9600"}, {"bits", "8"}, {"parity", "none"}, {"packets", "length:3+xor"}}, progress);
    ASSERT_TRUE(chain) << test::message(chain);
    EXPECT_EQ(chain->decoding.frames.size(), 6U);
    EXPECT_EQ(chain->decoding.frames_with_errors(), 0);  // 0x10 + p and 0x10 ^ p are the same for p under 16
    ASSERT_TRUE(chain->characters);
    EXPECT_EQ(chain->characters->frames.size(), 18U);
    const auto plain = decode_chain(c, "async-serial", {{"data", {"rx"}}}, {{"baud", "9600"}}, progress);
    ASSERT_TRUE(plain);
    EXPECT_FALSE(plain->characters);
    EXPECT_FALSE(decode_chain(c, "async-serial", {{"data", {"rx"}}}, {{"packets", "by feel"}}, progress));
    EXPECT_FALSE(decode_chain(c, "smoke-signals", {{"data", {"rx"}}}, {}, progress));
    EXPECT_FALSE(decode_chain(c, "async-serial", {{"data", {"tx"}}}, {}, progress));
}

// --- searches
// -----------------------------------------------------------------------------------------------------

TEST(FindFrames, ByErrorValueBitsAndLevels) {
    const auto d = decoding_of({word_at(10, "1010"), word_at(20, "1011", {"parity"}),
                                word_at(30, "0010", {"framing", "parity"}), word_at(40, "1010")});
    const auto c = test::capture_of({{"a", test::waveform_ns(false, {25'000})}});
    const auto starts = [&](const char* text, std::vector<LevelWanted> levels = {}) {
        auto q = parse_frame_query(text);
        EXPECT_TRUE(q) << text;
        q->while_levels = std::move(levels);
        std::vector<long> out;
        const auto hits = find_frames(c, d, *q).value();
        for (const auto& s : hits) out.push_back(static_cast<long>(s.from.count() / 1'000'000));
        return out;
    };
    EXPECT_THAT(starts(""), testing::ElementsAre(10, 20, 30, 40));
    EXPECT_THAT(starts("error"), testing::ElementsAre(20, 30));
    EXPECT_THAT(starts("error framing"), testing::ElementsAre(30));
    EXPECT_THAT(starts("0xA"), testing::ElementsAre(10, 40));
    EXPECT_THAT(starts("10"), testing::ElementsAre(10, 40));
    EXPECT_THAT(starts("2"), testing::ElementsAre(30));
    EXPECT_THAT(starts("1..0"), testing::ElementsAre(10, 40));
    EXPECT_THAT(starts("..1."), testing::ElementsAre(10, 20, 30, 40));
    EXPECT_THAT(starts("......"), testing::IsEmpty()) << "longer than the words";
    EXPECT_THAT(starts("", {{"a", true}}), testing::ElementsAre(30, 40));
    for (const char* wrong : {"0x", "0xg", "words", "-1", "99999999999999999999999"})
        EXPECT_FALSE(parse_frame_query(wrong)) << wrong;
    FrameQuery nobody;
    nobody.while_levels = {{"b", true}};
    EXPECT_FALSE(find_frames(c, d, nobody));
}

// --- comparison
// ---------------------------------------------------------------------------------------------------

TEST(CompareFrames, DifferingMissingAndExtraWords) {
    const auto original = decoding_of({word_at(10, "1010"), word_at(20, "1011"), word_at(30, "0010"),
                                       word_at(40, "1111"), word_at(50, "0001")});
    // One microsecond later each; the second says something else, the third is missing, one is extra at 45.
    const auto replica =
        decoding_of({word_at(11, "1010"), word_at(21, "1001"), word_at(41, "1111", {"parity"}),
                     word_at(46, "0000"), word_at(51, "0001")});
    const auto c = compare_frames(original, replica, -Time::us(1), Time::us(2));
    EXPECT_EQ(c.same, 2);
    EXPECT_EQ(c.differ, 2);
    EXPECT_EQ(c.missing, 1);
    EXPECT_EQ(c.extra, 1);
    EXPECT_FALSE(c.all_same());
    ASSERT_EQ(c.differences.size(), 4U);
    EXPECT_EQ(c.differences[0].kind, FrameDifferenceKind::levels);
    EXPECT_EQ(c.differences[0].original, "1011");
    EXPECT_EQ(c.differences[0].replica, "1001");
    EXPECT_EQ(c.differences[1].kind, FrameDifferenceKind::missing);
    EXPECT_EQ(c.differences[1].at, Time::us(30));
    EXPECT_EQ(c.differences[2].kind, FrameDifferenceKind::errors);
    EXPECT_EQ(c.differences[2].replica, "1111 parity");
    EXPECT_EQ(c.differences[3].kind, FrameDifferenceKind::extra);
    EXPECT_EQ(c.differences[3].at, Time::us(45)) << "in the original's time";
    // Without a tolerance: half of the usual 10 µs.
    EXPECT_EQ(compare_frames(original, original, {}).tolerance, Time::us(5));
    EXPECT_TRUE(compare_frames(original, original, {}).all_same());
    EXPECT_EQ(compare_frames(original, decoding_of({}), {}).missing, 5);
    EXPECT_EQ(compare_frames(decoding_of({}), original, {}).extra, 5);
}

TEST(CompareFrames, SettingsFoundInOneReadTheOther) {
    const auto spoken = standin::speak("async-serial", {.seed = 3, .words = 80});
    Progress progress;
    const auto d = find_decoder("async-serial").value()->decode(spoken.capture, spoken.roles, {}, progress);
    ASSERT_TRUE(d);
    const auto settings = settings_of(*d);
    EXPECT_EQ(settings.count("baud_error"), 0U) << "no setting, an estimate";
    const auto again =
        find_decoder("async-serial").value()->decode(spoken.capture, spoken.roles, settings, progress);
    ASSERT_TRUE(again) << test::message(again);
    EXPECT_TRUE(compare_frames(*d, *again, {}).all_same());
}

// --- takes of one recording
// ---------------------------------------------------------------------------------------

TEST(TakesAt, MomentsPartTheWords) {
    const auto d = decoding_of({word_at(10, "11"), word_at(20, "01"), word_at(30, "01"), word_at(38, "11"),
                                word_at(50, "10"), word_at(60, "11"), word_at(70, "01")});
    const std::vector<HuntMoment> moments{{"fire", {Time::us(18), Time::us(40)}},
                                          {"left", {Time::us(49), Time::us(56)}},
                                          {"fire", {Time::us(69), Time::us(80)}}};
    auto takes = takes_at(d, moments);
    ASSERT_EQ(takes.size(), 3U);
    EXPECT_EQ(takes[1].name, "fire");
    EXPECT_EQ(takes[0].frames.size(),
              2U);  // at 10 and 60; the one from 38 to 43 touches the border of the first mark
    EXPECT_EQ(takes[1].frames.size(), 3U);  // at 20, 30 and 70: moments of one name together
    EXPECT_EQ(takes[2].frames.size(), 1U);
    const auto r = hunt(takes);
    ASSERT_EQ(r.answers.size(), 2U);
    EXPECT_THAT(r.answers[0].bits, testing::ElementsAre(0U));
    EXPECT_THAT(r.answers[1].bits, testing::ElementsAre(1U));
    // A moment without a name says when nothing was pressed: then nothing else counts as rest.
    auto with_rest = moments;
    with_rest.push_back({"", {Time::us(5), Time::us(16)}});
    takes = takes_at(d, with_rest);
    EXPECT_EQ(takes[0].frames.size(), 1U);
    EXPECT_EQ(takes_at(d, {}).size(), 1U);
    EXPECT_EQ(takes_at(d, {})[0].frames.size(), 7U);
}

}  // namespace
}  // namespace grayrelic
