// SPDX-License-Identifier: GPL-3.0-or-later
// Rates explained, and what a clock makes of them. The receiver's margin is held against a receiver simulated
// bit by bit.
#include "core/timing/clock_explain.hpp"

#include <gmock/gmock.h>

#include <cmath>

#include "core/base/random.hpp"
#include "core/timing/serial_clocking.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using test::message;
using testing::HasSubstr;

const std::vector<ClockSource>& shipped() {
    static const auto library = ClockLibrary::load(disk(), {GRAY_RELIC_SOURCE "/data"});
    EXPECT_TRUE(library.problems.empty());
    return library.sources;
}

TEST(Clock, SubcarriersAreThoseOfTheColourSystems) {
    // 315/88 MHz, and 4.43361875 MHz.
    const auto hz = [](const char* name) {
        for (const auto& s : shipped())
            if (s.name == name) return s.hz;
        return 0.0;
    };
    EXPECT_NEAR(hz("NTSC colour subcarrier"), 315e6 / 88, 0.001);
    EXPECT_NEAR(hz("4 × NTSC colour subcarrier"), 315e6 / 22, 0.001);
    EXPECT_DOUBLE_EQ(hz("4 × PAL colour subcarrier"), 17'734'475.0);
    EXPECT_DOUBLE_EQ(hz("32.768 kHz watch crystal"), 32'768.0);
}

struct Machine {
    const char* what;
    double source_hz;
    long long divide;
    double measured_off_ppm;  ///< what the part's tolerance and the meter made of it
    double within_ppm;
};

/// Made-up machines: a clock and a divider that a designer of the time would have drawn, measured with a
/// usual error. None of them gives the very rate that a simpler one gives too; for those see below.
const Machine machines[] = {
    {"system tick of a computer with a PAL master", 17'734'475, 14, 12, 100},
    {"processor clock from four subcarriers", 315e6 / 22, 8, -20, 100},
    {"serial line of a terminal, 1200 Bd × 16 from a baud crystal", 2'457'600, 128, 18, 200},
    {"9600 Bd of a plotter from 2.4576 MHz", 2'457'600, 256, -25, 200},
    {"seconds of a recorder's clock", 32'768, 32'768, 6, 50},
    {"a keyboard's bit clock", 4e6, 256, -14, 150},
    {"tone chip at half of four PAL subcarriers' tenth", 17'734'475, 10, 8, 100},
    {"a joystick reader's counter from the NTSC subcarrier", 315e6 / 88, 3, 22, 100},
    {"sound sampling from 11.0592 MHz", 11'059'200, 1024, 16, 100},
    {"a printer's motor from 1.8432 MHz", 1'843'200, 128, 9, 60},
    {"subcarrier itself", 4'433'618.75, 1, 10, 100},
};

TEST(Clock, FindsTheTrueChainFirst) {
    for (const auto& m : machines) {
        const double measured = m.source_hz / static_cast<double>(m.divide) * (1 + m.measured_off_ppm * 1e-6);
        const auto e = explain_clock(measured, m.within_ppm, shipped());
        ASSERT_TRUE(e) << m.what;
        ASSERT_FALSE(e->candidates.empty()) << m.what;
        const auto& best = e->candidates.front();
        EXPECT_NEAR(best.source_hz, m.source_hz, 0.01) << m.what << ": " << best.source << " " << best.chain;
        EXPECT_EQ(best.divide, m.divide) << m.what << ": " << best.source << " " << best.chain;
    }
}

TEST(Clock, WhatGivesTheVerySameRateIsListedAsAlike) {
    // 1 MHz is 1 MHz undivided as well as 8 MHz ÷ 8; 500 kHz is 4 MHz ÷ 8 and 16 MHz ÷ 32: no measurement can
    // tell.
    for (const Machine& m : {Machine{"a bus of 1 MHz from 8 MHz", 8e6, 8, 30, 100},
                             {"disk data clock", 16e6, 32, 22, 100},
                             {"a 12 MHz part's 2400 Bd timer", 12e6, 4992, 9, 60}}) {
        const auto e =
            explain_clock(m.source_hz / static_cast<double>(m.divide) * (1 + m.measured_off_ppm * 1e-6),
                          m.within_ppm, shipped());
        ASSERT_TRUE(e);
        const auto it =
            std::find_if(e->candidates.begin(), e->candidates.end(), [&](const ClockCandidate& c) {
                return std::abs(c.source_hz - m.source_hz) < 0.01 && c.divide == m.divide;
            });
        ASSERT_NE(it, e->candidates.end()) << m.what;
        EXPECT_LT(static_cast<std::size_t>(it - e->candidates.begin()), e->alike) << m.what;
        EXPECT_FALSE(e->advice.empty());
    }
}

TEST(Clock, AWellMeasuredRateLeavesOnlyWhatMayBeThatFarOff) {
    // The slate's line: 6 MHz ceramic ÷ 448 would be 13392.86; measured 13360.7 ± 0.2 Hz it is 0.24 % off,
    // which a ceramic resonator may be and a crystal may not.
    const auto e = explain_clock(13'360.7, 5000, shipped(), 16.0);
    ASSERT_TRUE(e);
    for (std::size_t i = 0; i < std::min<std::size_t>(40, e->candidates.size()); ++i)
        EXPECT_TRUE(e->candidates[i].source.find("ceramic") != std::string::npos ||
                    std::abs(e->candidates[i].error_ppm) < 200)
            << e->candidates[i].source;
    const auto it = std::find_if(e->candidates.begin(), e->candidates.end(), [](const ClockCandidate& c) {
        return c.source == "6 MHz ceramic resonator" && c.divide == 448;
    });
    ASSERT_NE(it, e->candidates.end());
    EXPECT_LT(it - e->candidates.begin(), 3);
}

TEST(Clock, EveryCandidateIsWhatItSays) {
    const auto e = explain_clock(13'392.9, 500, shipped());
    ASSERT_TRUE(e);
    double sum = 0, last = 1;
    for (const auto& c : e->candidates) {
        EXPECT_DOUBLE_EQ(c.hz, c.source_hz / static_cast<double>(c.divide));
        EXPECT_NEAR(c.error_ppm, (c.hz / 13'392.9 - 1) * 1e6, 1e-6);
        EXPECT_LE(std::abs(c.error_ppm), 500);
        EXPECT_LE(c.score, last);
        last = c.score;
        sum += c.score;
    }
    EXPECT_LE(sum, 1.0);
    // 6 MHz ÷ 448 and 12 MHz ÷ 896 are the same rate: never one answer when several fit.
    EXPECT_GE(e->alike, 2U);
    EXPECT_FALSE(e->advice.empty());
    const auto has = [&](double hz, long long d) {
        return std::any_of(e->candidates.begin(), e->candidates.end(),
                           [&](const ClockCandidate& c) { return c.source_hz == hz && c.divide == d; });
    };
    EXPECT_TRUE(has(6e6, 448));
    EXPECT_TRUE(has(12e6, 896));
}

TEST(Clock, AWiderRangeOnlyAddsCandidates) {
    Random random(3);
    for (int i = 0; i < 20; ++i) {
        const double rate = std::exp(random.uniform(std::log(50.0), std::log(5e6)));
        const auto narrow = explain_clock(rate, 50, shipped()), wide = explain_clock(rate, 400, shipped());
        for (const auto& c : narrow->candidates) {
            const bool there = std::any_of(
                wide->candidates.begin(), wide->candidates.end(),
                [&](const ClockCandidate& w) { return w.source == c.source && w.divide == c.divide; });
            EXPECT_TRUE(there || wide->candidates.size() == 200) << rate;
        }
    }
}

TEST(Clock, ChainsMultiplyToTheDivisor) {
    for (const long long d : {1LL, 2LL, 14LL, 16LL, 100LL, 448LL, 1000LL, 4096LL, 50'000LL, 65'536LL}) {
        const auto chain = divider_chain(d);
        ASSERT_FALSE(chain.text.empty()) << d;
        long long product = 1;
        std::string text = chain.text;
        for (auto at = text.find("÷ "); at != std::string::npos; at = text.find("÷ ", at + 1))
            product *= std::stoll(text.substr(at + std::string("÷ ").size()));
        EXPECT_EQ(product, d) << chain.text;
    }
    EXPECT_LT(divider_chain(4096).bits, divider_chain(4095).bits);
    EXPECT_LT(divider_chain(1000).bits, divider_chain(999).bits);
    EXPECT_TRUE(divider_chain(65'537LL * 3).text.empty());
    EXPECT_TRUE(divider_chain(0).text.empty());
}

TEST(Clock, RefusesNonsense) {
    EXPECT_FALSE(explain_clock(0, 100, shipped()));
    EXPECT_FALSE(explain_clock(1000, 0, shipped()));
    EXPECT_FALSE(explain_clock(1000, 60'000, shipped()));
    EXPECT_FALSE(explain_clock(std::nan(""), 100, shipped()));
    EXPECT_TRUE(explain_clock(3.0e9, 10, shipped())->candidates.empty());
    EXPECT_THAT(message(clocks_from_json("{", "c.json")), HasSubstr("c.json:1"));
    EXPECT_THAT(message(clocks_from_json(
                    R"({"id":"c","name":"c","source":"s","sources":[{"name":"x","hz":-1}]})", "c.json")),
                HasSubstr("1 Hz to 10 GHz"));
}

TEST(Serial, DivisorErrorAndMarginsByHand) {
    // 16 MHz to 115200 Bd × 16: 8.68 → 9 in whole numbers: 111111.1 Bd, −35494.0 ppm; bit 9's margin:
    // 0.5 − (0.0354938·9.5 + 0.0625) = 0.1003.
    const auto s = clock_serial({115'200, 16e6, DividerKind::integer, 16, 10, {}});
    ASSERT_TRUE(s);
    EXPECT_DOUBLE_EQ(s->divisor, 9);
    EXPECT_NEAR(s->achieved_hz, 111'111.111, 0.01);
    EXPECT_NEAR(s->error_ppm, -35'493.8, 0.1);
    ASSERT_EQ(s->margin_bit.size(), 10U);
    EXPECT_NEAR(s->margin_bit[9], 0.5 - (0.03549383 * 9.5 + 0.0625), 1e-6);
    EXPECT_NEAR(s->margin_bit[0], 0.5 - (0.03549383 * 0.5 + 0.0625), 1e-6);
    EXPECT_EQ(s->worst_margin_bit, s->margin_bit[9]);
    EXPECT_EQ(s->verdict, Verdict::holds);
    // With 64ths: 8.680555 → 8 44/64 = 8.6875: −799.4 ppm.
    const auto f = clock_serial({115'200, 16e6, DividerKind::fraction64, 16, 10, {}});
    EXPECT_DOUBLE_EQ(f->divisor, 8.6875);
    EXPECT_NEAR(f->error_ppm, (16e6 / (16 * 8.6875) / 115'200 - 1) * 1e6, 1e-6);
    const auto g = clock_serial({115'200, 16e6, DividerKind::fraction256, 16, 10, {}});
    EXPECT_LE(std::abs(g->error_ppm), std::abs(f->error_ppm));
    // Jitter of a tenth of a bit costs a tenth of a bit.
    const auto j =
        clock_serial({115'200, 16e6, DividerKind::integer, 16, 10, Time::from_seconds(0.1 / 115'200)});
    EXPECT_NEAR(s->worst_margin_bit - j->worst_margin_bit, 0.1, 1e-5);
    EXPECT_EQ(j->verdict, Verdict::doubt);
    EXPECT_NEAR(most_error_ppm({115'200, 16e6, DividerKind::integer, 16, 10, {}}), (0.5 - 0.0625) / 9.5 * 1e6,
                1e-6);
    for (const SerialQuestion& wrong : {SerialQuestion{0, 16e6, DividerKind::integer, 16, 10, {}},
                                        {9600, 0, DividerKind::integer, 16, 10, {}},
                                        {9600, 1000, DividerKind::integer, 16, 10, {}},
                                        {9600, 16e6, DividerKind::integer, 0, 10, {}},
                                        {9600, 16e6, DividerKind::integer, 16, 2, {}},
                                        {9600, 16e6, DividerKind::integer, 16, 10, Time::ns(-1)}})
        EXPECT_FALSE(clock_serial(wrong));
}

/// A receiver as it is built: its oversampling clock runs freely at the sender's rate × (1 + e) × M; it sees
/// the start edge at its next tick, and reads bit N half a bit and N bits of ticks later. True when every bit
/// is read inside itself for this phase of its clock.
bool receives(double e, int oversample, int bits, double jitter_bit, double phase, double wobble) {
    const double tick = 1.0 / (oversample * (1.0 + e));  // in bits of the sender
    const double edge = jitter_bit * wobble;             // where the start edge really came
    const double first = (std::ceil(edge / tick - phase) + phase) * tick;
    for (int n = 0; n < bits; ++n) {
        const double at = first + (n + 0.5) * oversample * tick;
        if (at < n || at > n + 1) return false;
    }
    return true;
}

TEST(Serial, TheMarginIsThatOfABitTrueReceiver) {
    Random random(11);
    int safe = 0, broken = 0;
    for (int i = 0; i < 400; ++i) {
        const double e = random.uniform(-0.06, 0.06),
                     jitter = random.uniform() < 0.5 ? 0 : random.uniform(0, 0.15);
        const int oversample = 1 << (2 + random.below(4)), bits = 8 + static_cast<int>(random.below(5));
        double margin = 1;
        for (int n = 0; n < bits; ++n)
            margin = std::min(margin, 0.5 - (std::abs(e) * (n + 0.5) + 1.0 / oversample + jitter));
        bool always = true;
        for (int phase = 0; phase < 64 && always; ++phase)
            for (const double wobble : {-1.0, 0.0, 1.0})
                always = always && receives(e, oversample, bits, jitter, phase / 64.0, wobble);
        // A positive margin is a promise. A negative one by more than what the formula leaves to the sign of
        // the error (a late tick helps a fast receiver: up to 1/M, and 1/(1+e) against 1−e) breaks for some
        // phase. A receiver that is slow by e is slow by e + e² in the sender's bits: that is left out of the
        // formula.
        if (margin > 0.01 + e * e * bits) {
            EXPECT_TRUE(always) << "e " << e << " M " << oversample << " bits " << bits << " jitter "
                                << jitter;
            ++safe;
        } else if (margin < -(1.0 / oversample + 0.05)) {
            EXPECT_FALSE(always) << "e " << e << " M " << oversample << " bits " << bits << " jitter "
                                 << jitter;
            ++broken;
        }
    }
    EXPECT_GT(safe, 50);
    EXPECT_GT(broken, 30);
}

TEST(Loop, CountsToRateAndBack) {
    // 7 + 10 + 12 = 29 cycles at 1.266748 MHz: 22.893 µs a round, toggling once: 21.841 kHz.
    const auto r = loop_rate(1'266'748, {7, 10, 12}, 1);
    ASSERT_TRUE(r);
    EXPECT_EQ(r->cycles, 29);
    EXPECT_NEAR(r->loop_s, 29 / 1'266'748.0, 1e-15);
    EXPECT_NEAR(r->toggle_hz, 1'266'748 / 58.0, 1e-6);
    EXPECT_NEAR(loop_rate(1'266'748, {29}, 2)->toggle_hz, 1'266'748 / 29.0, 1e-6);
    const auto c = loop_cycles(1'266'748, 1'266'748 / 58.0, 1);
    EXPECT_NEAR(c->cycles, 29, 1e-9);
    EXPECT_EQ(c->below, 29);
    EXPECT_EQ(c->above, 29);
    const auto between = loop_cycles(1e6, 17'000, 1);  // 29.4118 cycles
    EXPECT_EQ(between->below, 29);
    EXPECT_EQ(between->above, 30);
    EXPECT_NEAR(between->error_above_ppm, (29.4117647 / 30 - 1) * 1e6, 0.1);
    EXPECT_FALSE(loop_rate(0, {1}, 1));
    EXPECT_FALSE(loop_rate(1e6, {}, 1));
    EXPECT_FALSE(loop_rate(1e6, {-3}, 1));
    EXPECT_FALSE(loop_cycles(1e6, 0, 1));
}

}  // namespace
}  // namespace grayrelic
