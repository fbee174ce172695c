// SPDX-License-Identifier: GPL-3.0-or-later
// The stand-in plays the same conversation for the same seed, and the committed demo is what it plays.
#include "core/decode/decoder.hpp"
#include "core/signal/measure.hpp"
#include "core/signal/sampling.hpp"
#include "standin/dial_pad.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using standin::DialPadSession;
using standin::record_dial_pad;

Capture record(const DialPadSession& s) {
    auto c = test::vcd(record_dial_pad(s));
    EXPECT_TRUE(c) << test::message(c);
    return std::move(*c);
}

Decoding decode(const Capture& c) {
    Progress progress;
    return *(*find_decoder("latch-shift"))
                ->decode(c, {{"latch", {"HOLD"}}, {"clock", {"STEP"}}, {"data", {"REPLY"}}}, {}, progress);
}

TEST(DialPad, SameSeedSameBytesOtherSeedOthers) {
    const DialPadSession s{5, 1.0, 2, false, 24e6};
    EXPECT_EQ(record_dial_pad(s), record_dial_pad(s));
    auto other = s;
    other.seed = 6;
    EXPECT_NE(record_dial_pad(s), record_dial_pad(other));
}

TEST(DialPad, TheCommittedDemoIsWhatSeedSevenPlays) {
    const auto folder = test::source_folder() / "demos/calder-dial-pad.relic/captures";
    for (const auto& c : standin::dial_pad_captures(7))
        EXPECT_TRUE(test::read_file(folder / c.file) == record_dial_pad(c.session)) << c.file;
}

TEST(DialPad, TimesFollowFromTheMasterClock) {
    const auto c = record({1, 3.0, std::nullopt, false, 100e6});
    const double tick = 14.0 / 17'734'475.0;  // scenario: master ÷ 14, about 789.4 ns
    EXPECT_NEAR(tick, 789.4e-9, 0.1e-9);
    const auto step = measure_pulses(**c.find_digital("STEP"), {Time::min(), Time::max()});
    EXPECT_NEAR(step.high.min, 4 * tick, 60e-9);
    EXPECT_NEAR(step.low.median, 7 * tick, 60e-9);
    const auto hold = measure_pulses(**c.find_digital("HOLD"), {Time::min(), Time::max()});
    EXPECT_NEAR(hold.period.median, 0.040, 1e-6);  // every second frame of 50
    EXPECT_NEAR(hold.high.median, 16 * tick, 60e-9);
}

TEST(DialPad, WordsAreButtonsIdentityAndDial) {
    const auto d = decode(record({1, 3.0, 2, false, 100e6}));
    EXPECT_EQ(d.frames_with_errors(), 0);
    ASSERT_GT(d.frames.size(), 60U);
    long pressed = 0;
    for (const auto& f : d.frames) {
        ASSERT_EQ(f.levels.size(), 20U);
        EXPECT_EQ(f.levels.substr(7, 3), "101");
        const bool c_low = f.levels[2] == '0';
        pressed += c_low ? 1 : 0;
        const double at = f.start.seconds();
        EXPECT_EQ(c_low, at > 1.0 && at < 2.0) << at;
        EXPECT_EQ(f.levels.substr(0, 2) + f.levels.substr(3, 4), "111111");
    }
    EXPECT_EQ(pressed, 25);  // one second of polls every 40 ms
    // the first poll only asks whether a pad is there: it has no clocks
    EXPECT_EQ(d.frames.front().poll, 2U);
}

TEST(DialPad, RepliesFallFasterThanTheyRise) {
    const auto c = record({3, 3.0, 1, false, 100e6});
    const auto& step = **c.find_digital("STEP");
    const auto& reply = **c.find_digital("REPLY");
    const auto rise = measure_delay(step, Direction::rise, reply, Direction::rise, Time::us(3)).statistics();
    const auto fall = measure_delay(step, Direction::rise, reply, Direction::fall, Time::us(3)).statistics();
    EXPECT_NEAR(rise.median, 236e-9, 15e-9);
    EXPECT_NEAR(fall.median, 152e-9, 15e-9);
}

TEST(DialPad, TheSampleRateShowsInTheEdges) {
    const auto found = find_sample_period(record({1, 3.0, 0, false, 24e6}));
    ASSERT_TRUE(found);
    EXPECT_NEAR(found->seconds(), 1.0 / 24e6, 0.02e-9);
    const auto slow = find_sample_period(record({1, 3.0, 4, false, 0.5e6}));
    ASSERT_TRUE(slow);
    EXPECT_EQ(*slow, Time::us(2));
}

TEST(DialPad, ButtonEWasRecordedTooSlowly) {
    for (const auto& c : standin::dial_pad_captures(7))
        EXPECT_EQ(c.session.sample_hz, c.file == "button-e.vcd" ? 0.5e6 : 100e6) << c.file;
}

}  // namespace
}  // namespace grayrelic
