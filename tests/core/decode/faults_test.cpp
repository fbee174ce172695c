// SPDX-License-Identifier: GPL-3.0-or-later
// Faults put in on purpose, family by family: each is reported as what it is, and reading goes on behind it.
#include <gmock/gmock.h>

#include "core/decode/decoder.hpp"
#include "core/decode/usb_low_full.hpp"
#include "standin/wires.hpp"
#include "tests/core/decode/decoded.hpp"

namespace grayrelic {
namespace {

using standin::Wire;
using test::decoded;
using test::errors;
using test::values;
using testing::ElementsAre;

TEST(PulseWidth, OddPulsesLoneStopsAndSides) {
    Wire w("W");
    Time t = Time::ms(1);
    for (int i = 0; i < 6; ++i) {
        t = standin::say_pulse_width(w, t, 0x2A, 8, Time::us(4)) + Time::us(9);
        t = standin::say_pulse_width(w, t, 0x155, 9, Time::us(4)) + Time::ms(1);
    }
    w.pulse(t, t + Time::us(1), false);  // a stop bit with nothing before it
    t += Time::ms(1);
    w.pulse(t, t + Time::us(2), false);  // neither short nor long
    w.pulse(t + Time::us(4), t + Time::us(5), false);
    const auto d = decoded("pulse-width", {w}, {{"data", {"W"}}});
    ASSERT_EQ(d.frames.size(), 14U);
    for (std::size_t i = 0; i < 12; ++i) {
        EXPECT_EQ(d.frames[i].value, i % 2 == 0 ? 0x2AU : 0x155U) << i;
        EXPECT_EQ(std::get<long long>(d.frames[i].extra.at("side")), i % 2 == 0 ? 1 : 2) << i;
    }
    EXPECT_EQ(d.frames[12].errors, std::vector<std::string>{"stop"});
    EXPECT_EQ(d.frames[13].errors, std::vector<std::string>{"width"});
    // Read the other way each bit turns around.
    EXPECT_EQ(decoded("pulse-width", {w}, {{"data", {"W"}}}, {{"one", "long"}}).frames[0].value, 0xD5U);
    // A stated gap parts or joins.
    EXPECT_EQ(decoded("pulse-width", {w}, {{"data", {"W"}}}, {{"gap", "20us"}}).frames.size(), 8U);
}

TEST(FramedClock, ParityBrokenFramesAndTheWayBack) {
    Wire c("C"), d("D");
    Time t = Time::ms(1);
    for (int i = 0; i < 12; ++i) {
        if (i == 4) {  // the host holds the clock after five bits: the frame breaks off
            for (int k = 0; k < 5; ++k) {
                d.set(t, k % 2 == 1);
                c.pulse(t + Time::us(20), t + Time::us(60), false);
                t += Time::us(80);
            }
            d.set(t, true);
            t += Time::ms(2);
        }
        t = standin::say_framed_clock(c, d, t, static_cast<std::uint64_t>(0x10 + i), 8, Time::us(40),
                                      i == 8) +
            Time::ms(1);
    }
    const auto r = decoded("framed-clock", {c, d}, {{"clock", {"C"}}, {"data", {"D"}}});
    ASSERT_EQ(r.frames.size(), 13U);
    EXPECT_EQ(r.frames[4].errors, std::vector<std::string>{"framing"});
    EXPECT_EQ(r.frames[9].errors, std::vector<std::string>{"parity"});
    EXPECT_EQ(r.error_counts.at("framing"), 1);
    EXPECT_EQ(r.error_counts.at("parity"), 1);
    for (std::size_t i = 5; i < 13; ++i) EXPECT_EQ(r.frames[i].value, 0x10 + i - 1) << i;
}

TEST(Clocked, AWordThatBreaksOffIsShort) {
    Wire s("S"), c("C", false), d("D", false);
    Time t = Time::ms(1);
    for (int i = 0; i < 10; ++i) {
        s.set(t, false);
        t = standin::say_clocked(c, d, t + Time::us(4), 0x9C, 8, 0, Time::us(2));
        if (i == 6) t = standin::say_clocked(c, d, t + Time::us(2), 0x5, 3, 0, Time::us(2));
        s.set(t + Time::us(4), true);
        t += Time::us(100);
    }
    const RoleMap roles{{"clock", {"C"}}, {"data", {"D"}}, {"select", {"S"}}};
    const auto r = decoded("clocked", {s, c, d}, roles);
    ASSERT_EQ(r.frames.size(), 11U);
    EXPECT_EQ(r.frames[7].errors, std::vector<std::string>{"short"});
    EXPECT_EQ(r.frames[7].value, 5U);
    EXPECT_EQ(r.frames[8].value, 0x9CU);
    EXPECT_EQ(std::get<long long>(r.settings.at("mode")), 0);
    EXPECT_EQ(decoded("clocked", {s, c, d}, roles, {{"order", "lsb"}}).frames[0].value, 0x39U)
        << "0x9C turned around";
}

TEST(Quadrature, TwoLinesAtOnceAreIllegalAndMoveNothing) {
    Wire a("A", false), b("B", false);
    Time t = Time::ms(1);
    t = standin::say_quadrature(a, b, t, 8, Time::us(100));  // two turns forward
    a.set(t, true);                                          // 00 to 11 at once
    b.set(t, true);
    t = standin::say_quadrature(a, b, t + Time::us(100), -3, Time::us(100));
    const auto r = decoded("quadrature", {a, b}, {{"a", {"A"}}, {"b", {"B"}}}, {{"detent", "4"}});
    EXPECT_EQ(r.counts.at("forward"), 8);
    EXPECT_EQ(r.counts.at("backward"), 3);
    EXPECT_EQ(r.counts.at("illegal"), 1);
    EXPECT_EQ(r.counts.at("position"), 5);
    EXPECT_EQ(r.counts.at("detents"), 1);
    EXPECT_EQ(r.error_counts.at("illegal"), 1);
    EXPECT_EQ(r.frames.size(), 12U);
    // The lines exchanged turn the other way.
    EXPECT_EQ(decoded("quadrature", {a, b}, {{"a", {"B"}}, {"b", {"A"}}}).counts.at("position"), -5);
}

TEST(StrobedBus, SetupAndHoldAreMeasured) {
    Wire s("S");
    std::vector<Wire> lines{Wire("D1", false), Wire("D0", false)};
    Time t = Time::us(100);
    for (const std::uint64_t v : {1U, 2U, 3U, 0U})
        t = standin::say_strobed(s, lines, t, v, Time::us(5), Time::us(2), Time::us(7));
    const auto r =
        decoded("strobed-bus", {s, lines[0], lines[1]}, {{"strobe", {"S"}}, {"data", {"D1", "D0"}}});
    EXPECT_THAT(values(r), ElementsAre(1, 2, 3, 0));
    EXPECT_EQ(std::get<std::string>(r.settings.at("edge")), "rise");
    EXPECT_NEAR(std::get<double>(r.frames[1].extra.at("setup_s")), 5e-6, 1e-12);
    EXPECT_NEAR(std::get<double>(r.frames[1].extra.at("hold_s")), 7e-6, 1e-12);
    EXPECT_TRUE(std::holds_alternative<std::monostate>(r.frames[3].extra.at("hold_s")))
        << "nothing moves after the last";
    // Read at the other edge: 3 µs after the lines moved.
    EXPECT_NEAR(std::get<double>(decoded("strobed-bus", {s, lines[0], lines[1]},
                                         {{"strobe", {"S"}}, {"data", {"D1", "D0"}}}, {{"edge", "fall"}})
                                     .frames[1]
                                     .extra.at("setup_s")),
                3e-6, 1e-12);
}

TEST(SelectBank, WithoutEnableEveryIntervalIsAFrame) {
    Wire s("S", false), d("D", false);
    s.set(Time::us(10), true);
    d.set(Time::us(12), true);
    s.set(Time::us(20), false);
    d.set(Time::us(22), false);
    s.set(Time::us(30), true);
    const auto r = decoded("select-bank", {s, d}, {{"select", {"S"}}, {"data", {"D"}}}, {}, Time::us(40));
    EXPECT_THAT(values(r), ElementsAre(0, 1, 0, 0));
    EXPECT_EQ(r.frames[1].start, Time::us(10));
    EXPECT_EQ(r.frames[1].end, Time::us(20));
    EXPECT_EQ(std::get<long long>(r.frames[1].extra.at("bank")), 1);
    EXPECT_EQ(r.frames[3].end, Time::us(40)) << "read at the capture's end";
}

TEST(Matrix, GhostsAndOverlappingStrobes) {
    std::vector<Wire> strobes{Wire("S0"), Wire("S1")}, senses{Wire("K0"), Wire("K1")};
    Time t = Time::us(50);
    t = standin::say_matrix(strobes, senses, t, {0b11, 0b11}, Time::us(10)) +
        Time::us(200);  // a full rectangle
    t = standin::say_matrix(strobes, senses, t, {0b01, 0b10}, Time::us(10)) + Time::us(200);
    strobes[0].set(t, false);  // both at once
    strobes[1].set(t + Time::us(5), false);
    strobes[0].set(t + Time::us(10), true);
    strobes[1].set(t + Time::us(15), true);
    const auto r = decoded("matrix", {strobes[0], strobes[1], senses[0], senses[1]},
                           {{"strobe", {"S0", "S1"}}, {"sense", {"K0", "K1"}}});
    ASSERT_EQ(r.frames.size(), 3U);
    EXPECT_TRUE(std::get<bool>(r.frames[0].extra.at("ghost_possible")));
    EXPECT_FALSE(std::get<bool>(r.frames[1].extra.at("ghost_possible")));
    using Pairs = std::vector<std::pair<std::string, std::string>>;
    EXPECT_EQ(std::get<Pairs>(r.frames[1].extra.at("closed")), (Pairs{{"S0", "K0"}, {"S1", "K1"}}));
    EXPECT_EQ(r.frames[2].errors, std::vector<std::string>{"overlap"});
}

class Usb : public testing::Test {
  protected:
    void say(std::vector<std::uint8_t> bytes, int pause = 3) {
        t = standin::say_usb(plus, minus, t, bytes, true) + Time::ns(83 * pause);
    }
    void token(std::uint8_t pid, unsigned address, unsigned endpoint, unsigned spoil = 0) {
        const auto low = address | endpoint << 7U;
        const auto all = low | static_cast<unsigned>(usb_crc5(low, 11) ^ spoil) << 11U;
        say({pid, static_cast<std::uint8_t>(all & 255U), static_cast<std::uint8_t>(all >> 8U)});
    }
    void data(std::uint8_t pid, std::vector<std::uint8_t> bytes, unsigned spoil = 0) {
        const auto crc = static_cast<unsigned>(usb_crc16(bytes)) ^ spoil;
        bytes.insert(bytes.begin(), pid);
        bytes.push_back(static_cast<std::uint8_t>(crc & 255U));
        bytes.push_back(static_cast<std::uint8_t>(crc >> 8U));
        say(bytes);
    }
    Decoding read() {
        return decoded("usb-low-full", {plus, minus}, {{"plus", {"P"}}, {"minus", {"M"}}}, {},
                       t + Time::us(20));
    }
    Wire plus{"P", true}, minus{"M", false};
    Time t = Time::us(50);
};

TEST_F(Usb, ATransactionOfEachKind) {
    token(0x2D, 5, 0);  // SETUP
    data(0xC3, {0x80, 6, 0, 1, 0, 0, 18, 0});
    say({0xD2}, 40);                                                          // ACK
    token(0x69, 5, 1);                                                        // IN
    say({0x5A}, 40);                                                          // NAK
    token(0xE1, 5, 2);                                                        // OUT
    data(0x4B, {0xFF, 0xFF, 0xFF, 0xFF});                                     // bits that need stuffing
    say({0x1E}, 40);                                                          // STALL
    say({0xA5, 0x00, static_cast<std::uint8_t>(usb_crc5(0, 11) << 3U)}, 40);  // SOF, frame 0
    const auto r = read();
    std::vector<std::string> pids;
    for (const auto& f : r.frames) pids.push_back(std::get<std::string>(f.extra.at("pid")));
    EXPECT_THAT(pids, ElementsAre("SETUP", "DATA0", "ACK", "IN", "NAK", "OUT", "DATA1", "STALL", "SOF"));
    EXPECT_EQ(r.frames_with_errors(), 0) << testing::PrintToString(errors(r));
    EXPECT_EQ(std::get<std::string>(r.frames[6].extra.at("data")), "ff ff ff ff");
    EXPECT_EQ(std::get<long long>(r.frames[0].extra.at("address")), 5);
    EXPECT_EQ(std::get<std::string>(r.settings.at("speed")), "full");
}

TEST_F(Usb, ChecksSilenceAndResets) {
    token(0x69, 5, 1, 1);  // a wrong CRC5
    t += Time::us(30);
    token(0x69, 5, 1);
    data(0xC3, {1, 2, 3}, 0x100);  // a wrong CRC16
    t += Time::us(30);
    token(0x69, 5, 1);  // nobody answers
    t += Time::us(30);
    say({0x68}, 0);  // an identifier whose check nibble is wrong
    t += Time::us(30);
    plus.set(t, false);  // reset
    t += Time::us(10);
    plus.set(t, true);
    t += Time::us(30);
    const auto r = read();
    EXPECT_THAT(errors(r), ElementsAre("crc", "", "crc", "no-answer", "pid", ""));
    EXPECT_EQ(std::get<std::string>(r.frames.back().extra.at("pid")), "RESET");
    EXPECT_EQ(r.counts.at("resets"), 1);
}

TEST_F(Usb, SevenOnesInARowAreAStuffingError) {
    // SYNC, DATA1, then seven ones without the stuffed zero: the line is left alone for longer than may be.
    const double bit = 1e6 / 12.0;
    double at = 50e6;
    bool j = true;
    const auto lines = [&](bool p, bool m) {
        plus.set(Time::ps(static_cast<std::int64_t>(at)), p);
        minus.set(Time::ps(static_cast<std::int64_t>(at)), m);
        at += bit;
    };
    for (const char b : std::string("00000001"
                                    "11010010"
                                    "11111110")) {
        if (b == '0') j = !j;
        lines(j, !j);
    }
    lines(false, false);
    at += bit;
    lines(true, false);
    t = Time::ps(static_cast<std::int64_t>(at));
    const auto r = read();
    ASSERT_EQ(r.frames.size(), 1U);
    EXPECT_THAT(r.frames[0].errors, testing::Contains("stuffing"));
}

}  // namespace
}  // namespace grayrelic
