// SPDX-License-Identifier: GPL-3.0-or-later
// What the stand-in puts on the wires, edge for edge against times worked out by hand.
#include "standin/wires.hpp"

#include <gmock/gmock.h>

#include "standin/spoken.hpp"

namespace grayrelic {
namespace {

using namespace standin;
using testing::ElementsAre;

std::vector<Time> edges(const Wire& w) {
    const auto s = w.signal();
    return {s.digital->edges().begin(), s.digital->edges().end()};
}

TEST(Wire, SetsPulsesAndSampling) {
    Wire w("w", false);
    w.set(Time::ns(10), false);  // it is low already
    w.set(Time::ns(25), true);
    w.pulse(Time::ns(40), Time::ns(41), false);
    EXPECT_THAT(edges(w), ElementsAre(Time::ns(25), Time::ns(40), Time::ns(41)));
    // A capture at 10 ns sees the first at 30, and never the pulse between 40 and 50… which starts on a
    // sample.
    const auto seen = w.signal(Time::ns(10)).digital;
    EXPECT_THAT(std::vector<Time>(seen->edges().begin(), seen->edges().end()),
                ElementsAre(Time::ns(30), Time::ns(40), Time::ns(50)));
    Wire quick("q", false);
    quick.pulse(Time::ns(11), Time::ns(14), true);
    EXPECT_TRUE(quick.signal(Time::ns(10)).digital->edges().empty()) << "between two samples";
}

TEST(Wire, JitterKeepsTheOrder) {
    Wire w("w", false);
    w.jitter(Time::ns(50), 3);
    for (int i = 0; i < 1000; ++i) w.set(Time::ns(100 + 10 * i), i % 2 == 0);
    const auto e = edges(w);
    ASSERT_EQ(e.size(), 1000U);
    for (std::size_t i = 1; i < e.size(); ++i) EXPECT_LT(e[i - 1], e[i]);
}

TEST(Says, AnAsynchronousCharacter) {
    // 0x05 at 1 Mbit/s, even parity: start 0, data 1 0 1 0 0 0 0 0, parity 0, stop 1. Edges at the changes.
    Wire w("w");
    AsyncStyle s;
    s.baud = 1e6;
    s.parity = "even";
    const Time end = say_async(w, Time::us(10), 0x05, s);
    EXPECT_THAT(edges(w), ElementsAre(Time::us(10), Time::us(11), Time::us(12), Time::us(13), Time::us(14),
                                      Time::us(20)));
    EXPECT_EQ(end, Time::us(21));
    // Odd parity sets the bit: 5 has two ones. Inverted and most significant first: 0x80 is 1 in the first
    // place.
    Wire o("o", false);
    s.parity = "odd";
    s.inverted = true;
    s.msb = true;
    (void)say_async(o, Time::us(10), 0x80, s);
    // start high 10, data mark low 11, space high 12 … parity of one 1 is 0: space, stop mark low 20.
    EXPECT_THAT(edges(o), ElementsAre(Time::us(10), Time::us(11), Time::us(12), Time::us(20)));
}

TEST(Says, PulsesOfTwoWidths) {
    Wire w("w");
    const Time end = say_pulse_width(w, Time::us(0) + Time::us(4), 0b10, 2, Time::us(4));
    // 1 short: low 4 to 5; 0 long: low 8 to 11; stop short: 12 to 13.
    EXPECT_THAT(edges(w),
                ElementsAre(Time::us(4), Time::us(5), Time::us(8), Time::us(11), Time::us(12), Time::us(13)));
    EXPECT_EQ(end, Time::us(13));
    Wire other("o");
    (void)say_pulse_width(other, Time::us(4), 0b10, 2, Time::us(4), false);
    EXPECT_EQ(edges(other)[1], Time::us(7)) << "a long pulse is a 1 here";
}

TEST(Says, TheFourModesOfAClock) {
    for (int mode = 0; mode < 4; ++mode) {
        Wire clock("c", mode >= 2), data("d", false);
        (void)say_clocked(clock, data, Time::us(10), 0b10, 2, mode, Time::us(1));
        const auto c = edges(clock);
        ASSERT_EQ(c.size(), 4U) << mode;
        EXPECT_EQ(clock.level(), mode >= 2) << "back at rest";
        // Data is high while the first reading edge comes: rises in modes 0 and 3, falls in 1 and 2.
        const auto signal = clock.signal();
        const bool reads_rise = mode == 0 || mode == 3;
        const auto first = signal.digital->is_rise(0) == reads_rise ? 0U : 1U;
        EXPECT_TRUE(data.signal().digital->level_before(c[first])) << mode;
        EXPECT_FALSE(data.signal().digital->level_before(c[first + 2])) << mode;
    }
}

TEST(Says, StuffingAndTheEndOfAPacket) {
    // ACK at full speed from 10 µs on: SYNC KJKJKJKK, identifier 0xD2 least significant first: 0 1 0 0 1 0
    // 1 1.
    Wire plus("p", true), minus("m", false);
    const Time end = say_usb(plus, minus, Time::us(10), {0xD2}, true);
    // 8 + 8 bits, two of single-ended zero and one of J: 19 bits of 83.33 ns.
    EXPECT_NEAR(end.seconds(), 10e-6 + 19 / 12e6, 1e-12);
    // Six ones in a row bring one more bit: 0xFF 0xFF has two places, so 8 + 16 + 2 + 3 bits.
    Wire p("p", true), m("m", false);
    EXPECT_NEAR(say_usb(p, m, Time::us(10), {0xFF, 0xFF}, true).seconds(), 10e-6 + (8 + 16 + 2 + 3) / 12e6,
                1e-12);
}

TEST(Speak, SameSeedSameEdgesAndUnknownKindsSayNothing) {
    for (const char* kind : {"async-serial", "latch-shift", "select-bank", "pulse-width", "framed-clock",
                             "clocked", "quadrature", "strobed-bus", "usb-low-full", "matrix"}) {
        SpeakOptions o;
        o.seed = 4;
        o.jitter = 0.02;
        o.unrelated = 2;
        const auto a = speak(kind, o), b = speak(kind, o);
        o.seed = 5;
        const auto other = speak(kind, o);
        ASSERT_EQ(a.capture.signals.size(), b.capture.signals.size());
        std::size_t roles = 0;
        for (const auto& [role, names] : a.roles) roles += names.size();
        EXPECT_EQ(a.capture.signals.size(), roles + 2) << kind;
        for (std::size_t i = 0; i < a.capture.signals.size(); ++i)
            EXPECT_TRUE(std::ranges::equal(a.capture.signals[i].digital->edges(),
                                           b.capture.signals[i].digital->edges()))
                << kind;
        EXPECT_EQ(a.values, b.values);
        EXPECT_FALSE(std::ranges::equal(a.capture.signals.back().digital->edges(),
                                        other.capture.signals.back().digital->edges()))
            << kind;
    }
    EXPECT_TRUE(speak("telepathy", {}).capture.signals.empty());
}

}  // namespace
}  // namespace grayrelic
