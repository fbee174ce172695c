// SPDX-License-Identifier: GPL-3.0-or-later
// Ailments put into lines on purpose, and healthy lines of every family beside them.
#include "core/signal/line_health.hpp"
#include "core/listen/listen_analysis.hpp"

#include <gmock/gmock.h>

#include <cmath>
#include <numbers>

#include "core/checks/registry.hpp"
#include "standin/spoken.hpp"

namespace grayrelic {
namespace {

using standin::capture_of;
using standin::Wire;

const LineHealth& line(const std::vector<LineHealth>& all, const std::string& name) {
    for (const auto& h : all)
        if (h.signal == name) return h;
    ADD_FAILURE() << "no line " << name;
    static const LineHealth none;
    return none;
}

std::vector<LineHealth> examine(const Capture& c) {
    Progress progress;
    return examine_lines(c, progress);
}

std::vector<Finding> findings(const Capture& c) {
    CaptureAnalysis a;
    a.ref.id = "c";
    a.ref.title = "Recording";
    a.health = examine(c);
    Analysis all;
    ListenAnalysis listen;
    listen.captures.push_back(std::make_shared<const CaptureAnalysis>(std::move(a)));
    all.listen = std::make_shared<const ListenAnalysis>(std::move(listen));
    Findings out;
    check_lines(all, out);
    return out;
}

/// A host's clock of 1 ms, and `line` changing every 5 ms; `ail` adds what ails it at each change.
template <class Ail>
Capture ailing(int changes, Ail ail, double glitch_every = 0) {
    Wire clock("CLK"), data("DATA", false);
    Random random(5);
    Time t = Time::ms(1);
    bool level = false;
    for (int i = 0; i < changes * 5; ++i, t += Time::ms(1)) {
        clock.pulse(t, t + Time::us(500), false);
        if (i % 5 == 4) {
            level = !level;
            data.set(t + Time::us(100), level);
            ail(data, t + Time::us(100), level, random);
        } else if (glitch_every > 0 && random.uniform() < glitch_every) {
            data.set(t + Time::us(1), !level);
            data.set(t + Time::us(3), level);
        }
    }
    return capture_of({clock, data}, t);
}

TEST(LineHealth, ChatterAfterRisesOnly) {
    const auto c = ailing(80, [](Wire& w, Time t, bool level, Random& random) {
        if (!level) return;
        for (int k = 0; k < 1 + static_cast<int>(random.next() % 3); ++k) {
            w.set(t + Time::us(4 * k + 2), false);
            w.set(t + Time::us(4 * k + 4), true);
        }
    });
    const auto all = examine(c);
    const auto& h = line(all, "DATA");
    EXPECT_EQ(h.changes, 80);
    EXPECT_EQ(h.chatter_after_rise, 40);
    EXPECT_EQ(h.chatter_after_fall, 0);
    EXPECT_EQ(h.chatter_longest,
              Time::us(12));  // three times there and back, the last edge 4·2 + 4 µs behind
    EXPECT_EQ(line(all, "CLK").chatter(), 0);
    const auto f = findings(c);
    ASSERT_EQ(f.size(), 1U);
    EXPECT_EQ(f[0].id, "line-chatters");
    EXPECT_THAT(f[0].says, testing::HasSubstr("DATA chatters at its rises"));
    EXPECT_THAT(f[0].todo, testing::HasSubstr("pull-up"));
    // The view without it: 80 changes, where the first edge of each was.
    const auto clean = without_chatter(c, Time::us(10));
    const auto& waveform = **clean.find_digital("DATA");
    ASSERT_EQ(waveform.edges().size(), 80U);
    EXPECT_EQ(waveform.edges()[0], Time::us(1000 + 4000 + 100));
    EXPECT_EQ((**c.find_digital("DATA")).edges().size() % 2, 0U);
    EXPECT_GT((**c.find_digital("DATA")).edges().size(), 150U) << "the data stays as it is";
    EXPECT_EQ((**clean.find_digital("CLK")).edges().size(), (**c.find_digital("CLK")).edges().size());
}

TEST(LineHealth, TwitchesWithTheClockAreCrosstalkOrGround) {
    const auto one = ailing(
        80, [](Wire&, Time, bool, Random&) {}, 0.05);
    const auto all = examine(one);
    const auto& h = line(all, "DATA");
    EXPECT_GT(h.twitches, 8);
    EXPECT_EQ(h.twitches_with_others, h.twitches);
    EXPECT_EQ(h.twitches_with, "CLK");
    EXPECT_EQ(h.changes, 80);
    const auto f = findings(one);
    ASSERT_EQ(f.size(), 1U);
    EXPECT_THAT(f[0].says, testing::HasSubstr("DATA twitches when CLK switches"));
    // Two lines that do so: the ground.
    auto two = one;
    auto second = two.signals[1];
    second.name = "SELECT";
    second.digital = std::make_shared<const DigitalWaveform>(*second.digital);
    two.signals.push_back(second);
    const auto g = findings(two);
    ASSERT_EQ(g.size(), 1U);
    EXPECT_THAT(g[0].says, testing::HasSubstr("2 lines twitch"));
    EXPECT_THAT(g[0].todo, testing::HasSubstr("ground"));
}

TEST(LineHealth, AnOpenInputPicksUpTheMains) {
    Random random(9);
    Wire open("OPEN", false), clock("CLK");
    for (int i = 0; i < 200; ++i) {
        // Each half period of 50 Hz the line crosses the threshold, with some noise around it.
        Time t = Time::ms(10 * (i + 1));
        bool level = i % 2 == 0;
        open.set(t, level);
        for (int k = 0; k < 1 + static_cast<int>(random.next() % 4); ++k) {
            t += Time::us(20 + static_cast<long>(random.next() % 60));
            open.set(t, !level);
            t += Time::us(20 + static_cast<long>(random.next() % 60));
            open.set(t, level);
        }
    }
    for (Time t = Time::us(500); t < Time::s(2); t += Time::ms(3)) clock.pulse(t, t + Time::ms(1), false);
    const auto c = capture_of({open, clock}, Time::ms(2020));
    const auto all = examine(c);
    const auto& h = line(all, "OPEN");
    EXPECT_TRUE(h.perhaps_floating);
    EXPECT_EQ(h.mains_hz, 50);
    const auto f = findings(c);
    ASSERT_EQ(f.size(), 1U);
    EXPECT_THAT(f[0].says, testing::HasSubstr("nobody drives OPEN"));
}

class HealthyFamily : public testing::TestWithParam<std::string> {};
TEST_P(HealthyFamily, HasNothingSaidOfIt) {
    // A trap: latch pulses, start bits and strobes are brief, too.
    for (std::uint64_t seed = 1; seed <= 4; ++seed) {
        const auto spoken =
            standin::speak(GetParam(), {.seed = seed, .words = 120, .jitter = 0.01, .samples = 8});
        const auto f = findings(spoken.capture);
        EXPECT_TRUE(f.empty()) << GetParam() << " seed " << seed << ": " << f[0].says << " " << f[0].why;
    }
}
INSTANTIATE_TEST_SUITE_P(All, HealthyFamily,
                         testing::Values("async-serial", "latch-shift", "select-bank", "pulse-width",
                                         "framed-clock", "clocked", "quadrature", "strobed-bus",
                                         "usb-low-full", "matrix"),
                         [](const auto& p) {
                             auto name = p.param;
                             std::replace(name.begin(), name.end(), '-', '_');
                             return name;
                         });

// --- analogue
// ----------------------------------------------------------------------------------------------------

/// 0 to 5 V each 200 samples of 10 ns; behind each edge a swing that decays: V·e^(−t/τ)·cos(2πft).
Capture ringing(double share, double hz, double threshold_at = 2.5) {
    std::vector<float> samples;
    const double period = 10e-9, tau = 200e-9;
    for (int i = 0; i < 8000; ++i) {
        const int half = i / 200;
        const double t = (i % 200) * period;
        const double target = half % 2 == 0 ? 0.0 : 5.0, before = half % 2 == 0 ? 5.0 : 0.0;
        const double swing = half == 0 ? 0
                                       : (target - before) * share * std::exp(-t / tau) *
                                             std::sin(2 * std::numbers::pi * hz * t);
        samples.push_back(static_cast<float>(target + swing));
    }
    Signal s;
    s.name = "A";
    s.kind = SignalKind::analogue;
    auto a = std::make_shared<const AnalogueWaveform>(Time{}, 10'000.0, std::move(samples));
    s.digital = std::make_shared<const DigitalWaveform>(levels_of(*a, {threshold_at, 0.2, false}));
    s.analogue = a;
    Capture c;
    c.extent = {Time{}, Time::us(80)};
    c.signals.push_back(std::move(s));
    return c;
}

TEST(LineHealth, RingingHasItsFrequencyAndOvershoot) {
    const auto c = ringing(0.6, 5e6);
    const auto all = examine(c);
    const auto& h = *line(all, "A").analogue;
    EXPECT_NEAR(h.low, 0, 0.05);
    EXPECT_NEAR(h.high, 5, 0.05);
    // The first peak of sin at a quarter period, 50 ns: 0.6 · e^(−50/200) = 0.467.
    EXPECT_NEAR(h.overshoot, 0.467, 0.03);
    EXPECT_NEAR(h.ringing_hz, 5e6, 0.5e6);
    const auto f = findings(c);
    ASSERT_EQ(f.size(), 1U);
    EXPECT_EQ(f[0].id, "line-rings");
    EXPECT_THAT(f[0].why, testing::HasSubstr("MHz"));
    EXPECT_TRUE(findings(ringing(0.1, 5e6)).empty()) << "a tenth is no matter";
}

}  // namespace
}  // namespace grayrelic
