// SPDX-License-Identifier: GPL-3.0-or-later
// Bytes into packets, checksums, and the button hunt.
#include <gmock/gmock.h>

#include "core/decode/hunt.hpp"
#include "core/decode/packets.hpp"
#include "core/decode/usb_low_full.hpp"

namespace grayrelic {
namespace {

/// Bytes 1 ms each, groups parted by 10 ms.
Decoding bytes_of(const std::vector<std::vector<int>>& groups) {
    Decoding d;
    Time t;
    for (const auto& g : groups) {
        for (const int b : g) {
            Frame f;
            f.start = t;
            f.end = t + Time::us(900);
            f.value = static_cast<std::uint64_t>(b);
            d.frames.push_back(std::move(f));
            t += Time::ms(1);
        }
        t += Time::ms(10);
    }
    return d;
}

std::vector<std::string> texts(const Decoding& d) {
    std::vector<std::string> out;
    for (const auto& f : d.frames) out.push_back(std::get<std::string>(f.extra.at("bytes")));
    return out;
}

TEST(Packets, CutByPauseLengthDelimiterAndSync) {
    const auto d = bytes_of({{1, 2, 3}, {4, 13, 5, 13}, {0x81, 2, 0x83, 4}});
    EXPECT_THAT(texts(packets_of(d, parse_packet_rule("pause").value())),
                testing::ElementsAre("01 02 03", "04 0d 05 0d", "81 02 83 04"));
    EXPECT_THAT(texts(packets_of(d, parse_packet_rule("length:2").value())),
                testing::ElementsAre("01 02", "03", "04 0d", "05 0d", "81 02", "83 04"));
    EXPECT_THAT(texts(packets_of(d, parse_packet_rule("delimiter:0D").value())),
                testing::ElementsAre("01 02 03", "04 0d", "05 0d", "81 02 83 04"));
    EXPECT_THAT(texts(packets_of(d, parse_packet_rule("sync:80/80").value())),
                testing::ElementsAre("01 02 03", "04 0d 05 0d", "81 02", "83 04"));
    const auto p = packets_of(d, parse_packet_rule("length:2").value());
    EXPECT_EQ(p.frames[1].errors, std::vector<std::string>{"short"});
    EXPECT_EQ(p.frames[0].levels, "0000000100000010");
    EXPECT_EQ(p.frames[0].value, 0x0102U);
    EXPECT_EQ(p.frames[0].bit_times.size(), 16U);
}

TEST(Packets, ChecksumsByTheirPublishedCheckValues) {
    // The check value of each CRC over the digits "123456789": CRC-8 (x⁸ + x² + x + 1) 0xF4; the reflected
    // CRC-16 from 0xFFFF without complement 0x4B37. Sum and exclusive or by arithmetic: 0x31 + … + 0x39 = 477
    // = 0x1DD.
    const std::string digits = "123456789";
    const std::vector<std::uint8_t> bytes(digits.begin(), digits.end());
    EXPECT_THAT(checksum_bytes(Checksum::crc8, bytes), testing::ElementsAre(0xF4));
    EXPECT_THAT(checksum_bytes(Checksum::crc16, bytes), testing::ElementsAre(0x37, 0x4B));
    EXPECT_THAT(checksum_bytes(Checksum::sum, bytes), testing::ElementsAre(0xDD));
    EXPECT_THAT(checksum_bytes(Checksum::sum_complement, bytes), testing::ElementsAre(0x23));
    EXPECT_THAT(checksum_bytes(Checksum::exclusive_or, bytes), testing::ElementsAre(0x31));
    // USB: the complemented reflected CRC-16 over the same digits is 0xB4C8. CRC5 by the published examples,
    // as sent: address 15, endpoint E: 10111; 3A, A: 11100; 70, 4: 01110; read here least significant bit
    // first.
    EXPECT_EQ(usb_crc16(bytes), 0xB4C8);
    EXPECT_EQ(usb_crc5(0x15 | 0xEU << 7U, 11), 0b11101);
    EXPECT_EQ(usb_crc5(0x3A | 0xAU << 7U, 11), 0b00111);
    EXPECT_EQ(usb_crc5(0x70 | 0x4U << 7U, 11), 0b01110);
    EXPECT_EQ(usb_pid_name(0xD), "SETUP");
}

TEST(Packets, RulesAreReadAndWritten) {
    for (const char* text : {"pause", "length:6", "delimiter:0D", "sync:80/C0", "length:6+xor",
                             "pause+crc16@2ms", "sync:40/40+neg-sum"})
        EXPECT_EQ(print_packet_rule(parse_packet_rule(text).value()), text);
    for (const char* bad : {"", "length", "length:0", "length:x", "delimiter:1FF", "sync:81/80", "sync:00/00",
                            "pause+md5", "pause@", "pause@-1ms", "pause:3", "length:99999"})
        EXPECT_FALSE(parse_packet_rule(bad)) << bad;
}

TEST(Packets, TheRuleIsFoundWithItsChecksum) {
    std::vector<std::vector<int>> groups;
    for (int i = 0; i < 12; ++i) {
        std::vector<int> g{0x80 + i % 3, (i * 37) % 128, (i * 11) % 128, 5};
        int all = 0;
        for (const int b : g) all ^= b;
        g.push_back(all);
        groups.push_back(g);
    }
    auto rule = find_packet_rule(bytes_of(groups));
    ASSERT_TRUE(rule);
    EXPECT_EQ(print_packet_rule(*rule), "length:5+xor");
    groups[4][4] ^= 1;
    const auto p = packets_of(bytes_of(groups), *rule);
    EXPECT_EQ(p.error_counts.at("checksum"), 1);
    EXPECT_EQ(p.frames[4].errors, std::vector<std::string>{"checksum"});
    EXPECT_FALSE(find_packet_rule(bytes_of({{1, 2}})));
    EXPECT_FALSE(find_packet_rule({}));
}

std::vector<Frame> frames_of(const std::vector<std::string>& levels) {
    std::vector<Frame> out;
    for (const auto& l : levels) {
        Frame f;
        f.levels = l;
        out.push_back(std::move(f));
    }
    return out;
}

HuntTake take(const std::string& name, const std::vector<Frame>& frames) {
    HuntTake t{name, {}};
    for (const auto& f : frames) t.frames.push_back(&f);
    return t;
}

TEST(Hunt, EachPressNamesItsBit) {
    // Eight bits: 0 fire (active low), 1 and 2 moved by left, 2 also by right, 4 restless, the rest never
    // moves.
    std::vector<std::string> idle, fire, left, right;
    for (int i = 0; i < 10; ++i) {
        const std::string r = i % 2 == 0 ? "1" : "0";
        idle.push_back("1110" + r + "001");
        fire.push_back("0110" + r + "001");
        left.push_back("1000" + r + "001");
        right.push_back("1100" + r + "001");
    }
    const auto f0 = frames_of(idle), f1 = frames_of(fire), f2 = frames_of(left), f3 = frames_of(right);
    const auto r =
        hunt({take("idle", f0), take("fire", f1), take("left", f2), take("right", f3), take("broken", f0)});
    EXPECT_TRUE(r.problem.empty());
    EXPECT_EQ(r.width, 8U);
    ASSERT_EQ(r.answers.size(), 4U);
    EXPECT_THAT(r.answers[0].bits, testing::ElementsAre(0U));
    EXPECT_TRUE(r.bits[0].active_low);
    EXPECT_THAT(r.answers[1].bits, testing::ElementsAre(1U, 2U)) << "its own bit first";
    EXPECT_FALSE(r.answers[1].shared);
    EXPECT_THAT(r.answers[2].bits, testing::ElementsAre(2U));
    EXPECT_TRUE(r.answers[2].shared) << "left moves it too";
    EXPECT_TRUE(r.answers[3].bits.empty()) << "a press that moved nothing";
    EXPECT_THAT(r.restless, testing::ElementsAre(4U));
    EXPECT_THAT(r.never_moved, testing::ElementsAre(3U, 5U, 6U, 7U));
}

TEST(Hunt, SlipsAndOtherWidthsDoNotCount) {
    std::vector<std::string> idle(100, "1100"), press(100, "0100");
    idle[7] = "1000";     // one frame in a hundred
    press[3] = "110011";  // another width
    const auto f0 = frames_of(idle), f1 = frames_of(press);
    const auto r = hunt({take("idle", f0), take("press", f1)});
    EXPECT_THAT(r.answers[0].bits, testing::ElementsAre(0U));
    EXPECT_EQ(r.left_out, 1U);
    EXPECT_FALSE(hunt({}).problem.empty());
    EXPECT_FALSE(hunt({take("idle", {})}).problem.empty());
}

TEST(Hunt, CountersAndChecksumsAreSuggested) {
    std::vector<std::string> levels;
    const auto byte = [](int v) {
        std::string out;
        for (int k = 7; k >= 0; --k) out += (v >> k & 1) != 0 ? '1' : '0';
        return out;
    };
    for (int i = 0; i < 40; ++i) {
        const int a = (i * 29 + 3) % 251, n = i % 256;
        levels.push_back(byte(a) + byte(n) + byte((a + n) % 256));
    }
    const auto f = frames_of(levels);
    std::vector<const Frame*> all;
    for (const auto& x : f) all.push_back(&x);
    const auto hints = find_hints(all);
    ASSERT_EQ(hints.size(), 2U);
    EXPECT_EQ(hints[0].from, 8U);
    EXPECT_EQ(hints[0].says, "counts up by 1");
    EXPECT_EQ(hints[1].from, 16U);
    EXPECT_EQ(hints[1].says, "the sum of the bytes before it");
}

}  // namespace
}  // namespace grayrelic
