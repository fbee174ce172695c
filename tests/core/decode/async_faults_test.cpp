// SPDX-License-Identifier: GPL-3.0-or-later
// Characters of every shape, and faults put in on purpose: each is reported as what it is, and reading goes
// on behind it.
#include <gmock/gmock.h>

#include "tests/core/decode/decoded.hpp"

namespace grayrelic {
namespace {

using standin::AsyncStyle;
using standin::capture_of;
using standin::Wire;
using test::decoded;
using test::errors;
using test::values;
using testing::ElementsAre;

Decoding async(const Wire& line, const SettingMap& settings = {}) {
    return decoded("async-serial", {line}, {{"data", {"L"}}}, settings, line.last() + Time::ms(5));
}

/// `count` characters of a running pattern in a style, from 1 ms on.
Wire talk(const AsyncStyle& style, int count, std::vector<std::uint64_t>* said = nullptr, int flip_at = -1,
          int flip = -1) {
    Wire line("L", !style.inverted);
    Time t = Time::ms(1);
    for (int i = 0; i < count; ++i) {
        const auto v = static_cast<std::uint64_t>(i * 77 + 29) & ((1ULL << style.bits) - 1);
        if (said != nullptr) said->push_back(v);
        t = standin::say_async(line, t, v, style, i == flip_at ? flip : -1);
    }
    return line;
}

TEST(AsyncSerial, EveryShapeOfCharacterIsFoundByItself) {
    struct Case {
        double baud;
        int bits;
        const char* parity;
        double stop;
        bool inverted;
    };
    for (const auto& c :
         {Case{300, 8, "none", 1, false}, Case{9600, 8, "none", 1, true}, Case{13392.857, 8, "odd", 1, true},
          Case{110, 7, "even", 2, false}, Case{31250, 8, "none", 1, false}, Case{1200, 7, "odd", 1, false},
          Case{62500, 8, "even", 2, true}, Case{4800, 9, "none", 1, false}, Case{2e6, 8, "none", 1, false},
          Case{50, 5, "none", 1.5, false}}) {
        AsyncStyle style;
        style.baud = c.baud;
        style.bits = c.bits;
        style.parity = c.parity;
        style.stop = c.stop;
        style.inverted = c.inverted;
        std::vector<std::uint64_t> said;
        const auto d = async(talk(style, 120, &said));
        const auto what = std::to_string(c.baud) + " " + std::to_string(c.bits) + c.parity;
        EXPECT_NEAR(std::get<double>(d.settings.at("baud")) / c.baud, 1.0, 1e-4) << what;
        EXPECT_EQ(std::get<long long>(d.settings.at("bits")), c.bits) << what;
        EXPECT_EQ(std::get<std::string>(d.settings.at("parity")), c.parity) << what;
        EXPECT_EQ(std::get<std::string>(d.settings.at("invert")), c.inverted ? "yes" : "no") << what;
        EXPECT_DOUBLE_EQ(std::get<double>(d.settings.at("stop")), c.stop) << what;
        EXPECT_EQ(values(d), said) << what;
    }
}

TEST(AsyncSerial, AParityErrorIsOneAndTheRestIsRead) {
    AsyncStyle style;
    style.parity = "even";
    std::vector<std::uint64_t> said;
    const auto d = async(talk(style, 60, &said, 20, 4));  // data bit 3 turned around
    ASSERT_EQ(d.frames.size(), 60U);
    EXPECT_EQ(d.error_counts.at("parity"), 1);
    EXPECT_EQ(d.frames[20].errors, std::vector<std::string>{"parity"});
    EXPECT_EQ(d.frames[20].value, said[20] ^ 8U) << "its value stays in the list";
    EXPECT_EQ(d.frames[21].value, said[21]);
}

TEST(AsyncSerial, AFramingErrorIsReportedAndTheNextCharacterIsRight) {
    AsyncStyle style;
    style.gap = Time::us(300);
    std::vector<std::uint64_t> said;
    const auto d = async(talk(style, 60, &said, 30, 9));  // the stop bit turned around
    EXPECT_EQ(d.error_counts.at("framing"), 1);
    ASSERT_EQ(d.frames.size(), 60U);
    for (std::size_t i = 0; i < 60; ++i)
        if (i != 30) {
            EXPECT_EQ(d.frames[i].value, said[i]) << i;
        }
}

TEST(AsyncSerial, ResynchronisesAfterABreak) {
    AsyncStyle style;
    Wire line("L");
    Time t = Time::ms(1);
    for (int i = 0; i < 20; ++i) t = standin::say_async(line, t, static_cast<std::uint64_t>(40 + i), style);
    line.set(t, false);  // twenty bits of space
    t += Time::us(2083);
    line.set(t, true);
    t += Time::ms(1);
    for (int i = 0; i < 20; ++i) t = standin::say_async(line, t, static_cast<std::uint64_t>(60 + i), style);
    const auto d = async(line);
    ASSERT_EQ(d.frames.size(), 41U);
    EXPECT_EQ(d.frames[20].errors, std::vector<std::string>{"break"});
    EXPECT_EQ(d.frames[40].value, 79U);
    EXPECT_EQ(d.error_counts.size(), 1U);
}

TEST(AsyncSerial, SpikesShorterThanHalfABitStartNothing) {
    AsyncStyle style;
    style.gap = Time::ms(1);
    auto line = talk(style, 30);
    Time t = line.last() + Time::ms(1);
    line.pulse(t, t + Time::us(20), false);
    EXPECT_EQ(async(line).frames.size(), 30U);
}

TEST(AsyncSerial, StatedSettingsAreTakenAndOrderTurnsTheValue) {
    AsyncStyle style;
    style.msb = true;
    std::vector<std::uint64_t> said;
    const auto line = talk(style, 40, &said);
    EXPECT_EQ(values(async(line, {{"order", "msb"}})), said);
    EXPECT_NE(values(async(line)), said);
    const auto d = async(line, {{"baud", "9600"},
                                {"bits", "8"},
                                {"parity", "none"},
                                {"stop", "1"},
                                {"invert", "no"},
                                {"order", "msb"}});
    EXPECT_EQ(values(d), said);
    Progress progress;
    for (const char* bad : {"0", "-1", "nan", "fast", "1e99"})
        EXPECT_FALSE(find_decoder("async-serial")
                         .value()
                         ->decode(capture_of({line}, {}), {{"data", {"L"}}}, {{"baud", bad}}, progress))
            << bad;
}

TEST(AsyncSerial, WhatCannotBeToldApartIsSaid) {
    AsyncStyle style;  // eight bits whose top one never moves: seven bits with a space behind read the same
    Wire line("L");
    Time t = Time::ms(1);
    for (int i = 0; i < 60; ++i) t = standin::say_async(line, t, static_cast<std::uint64_t>(32 + i), style);
    const auto d = async(line);
    ASSERT_FALSE(d.notes.empty());
    EXPECT_THAT(d.notes.front(), testing::HasSubstr("space parity"));
}

}  // namespace
}  // namespace grayrelic
