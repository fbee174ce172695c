// SPDX-License-Identifier: GPL-3.0-or-later
// Two triggers close together against a simulation step by step, written from decision 3 without the
// program's own: a flag, a hold that comes and goes or a loop that looks, work that takes its time.
#include <cmath>
#include <random>

#include "core/timing/reply.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

struct Setting {
    bool polls = false;
    double entry = 0, held = 0, every = 0, period = 0, work = 0;  // µs
    double apart = 0;                                             // of the two triggers
    double allowed = 0;                                           // from trigger to look
    bool second_is_lost = false;
};

struct Counted {
    long missed = 0, lost = 0;
};

/// Steps of 10 ns. Each pair finds the hold, or the loop, anywhere.
Counted by_steps(const Setting& s, int pairs, unsigned seed) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> unit(0, 1);
    Counted c;
    constexpr double dt = 0.01;
    for (int n = 0; n < pairs; ++n) {
        const double phase = unit(random) * (s.polls ? s.period : s.every);
        int flag = -1;     // the trigger that waits
        double ready = 0;  // when the waiting one may begin, for interrupts
        double busy_until = -1;
        double answered[2] = {-1, -1};
        double next_look = phase;
        bool look_due = false;
        int raised = 0;
        for (double t = 0; t < 2 * (s.period + s.every) + 3 * s.work + s.apart + s.entry + 1; t += dt) {
            while (raised < 2 && t >= raised * s.apart) {
                const bool waits = flag >= 0, serving = t < busy_until;
                if (!(s.second_is_lost && (waits || serving))) {
                    if (!waits) {
                        const double in_hold = std::fmod(phase + t, std::max(1e-9, s.every));
                        ready = t + s.entry + (s.held > 0 && in_hold < s.held ? s.held - in_hold : 0.0);
                    }
                    flag = raised;
                }
                ++raised;
            }
            if (s.polls && t >= next_look) look_due = true, next_look += s.period;
            const bool may = s.polls ? look_due : t >= ready;
            if (t >= busy_until && s.polls && look_due && flag < 0) look_due = false;
            if (flag >= 0 && may && t >= busy_until) {
                answered[flag] = t + s.work;
                busy_until = t + s.work;
                flag = -1;
                look_due = false;
            }
        }
        for (int k = 0; k < 2; ++k) {
            c.lost += answered[k] < 0 ? 1 : 0;
            c.missed += answered[k] < 0 || answered[k] > k * s.apart + s.allowed ? 1 : 0;
        }
    }
    return c;
}

Counted by_program(const Setting& s, int pairs, unsigned seed) {
    const auto us = [](double v) { return Time::from_seconds(v * 1e-6); };
    ReplyModel m;
    m.kind = s.polls ? OptionKind::poll : OptionKind::irq;
    m.period = us(s.period);
    m.latency_min = m.latency_max = us(s.entry);
    m.held = us(s.held);
    m.held_every = us(s.every);
    m.work = us(s.work);
    m.busy = s.second_is_lost ? WhenBusy::lost : WhenBusy::late;
    std::vector<ReplyTask> tasks;
    for (int n = 0; n < pairs; ++n)
        for (int k = 0; k < 2; ++k) {
            const Time t = Time::ms(20) * n + us(k * s.apart);
            tasks.push_back({t, t + us(s.allowed)});
        }
    Progress progress;
    const auto r = simulate_replies(tasks, m, seed, progress);
    EXPECT_TRUE(r);
    return {r->missed, r->lost};
}

TEST(Bursts, SharesAgreeWithAStepByStepSimulationOverFortySettings) {
    std::mt19937 random(2026);
    const auto real = [&](double a, double b) {
        return std::uniform_real_distribution<double>(a, b)(random);
    };
    constexpr int pairs = 2500;
    for (int round = 0; round < 40; ++round) {
        Setting s;
        s.polls = round % 2 == 1;
        s.second_is_lost = round % 4 >= 2;
        s.work = real(1, 20);
        s.apart = real(1, 60);
        s.allowed = real(5, 100);
        if (s.polls) {
            s.period = real(s.work + 5, 100);
        } else {
            s.entry = real(0, 3);
            s.every = real(60, 120);
            s.held = real(5, 55);
            // A hold that begins between a trigger and its handler is another matter.
            s.entry = std::min(s.entry, 0.5);
        }
        const auto a = by_steps(s, pairs, 100 + static_cast<unsigned>(round)),
                   b = by_program(s, pairs, 500 + static_cast<unsigned>(round));
        const double n = 2.0 * pairs;
        const auto close = [&](long x, long y, const char* what) {
            // Both shares are drawn. Steps take up to 1 % of a setting's shortest time.
            const double p = std::clamp((static_cast<double>(x + y)) / (2 * n), 1.0 / n, 1.0);
            const double error = 3.0 * std::sqrt(2 * p * (1 - p) / n) * std::sqrt(2.0) + 0.004;
            EXPECT_NEAR(static_cast<double>(x) / n, static_cast<double>(y) / n, error)
                << what << ", round " << round << (s.polls ? ": polls every " : ": held ")
                << (s.polls ? s.period : s.held) << " of " << s.every << ", work " << s.work << ", apart "
                << s.apart << ", allowed " << s.allowed << (s.second_is_lost ? ", lost" : ", late");
        };
        close(a.missed, b.missed, "missed");
        close(a.lost, b.lost, "lost");
    }
}

/// Held 50 of 100 µs, two triggers 10 µs apart, work 20 µs, entry 1 µs, 60 µs allowed. A pair meets in one
/// hold when at least 10 µs of it are left: 40 of 100; then one flag is served once and the first is lost.
TEST(Bursts, TwoInOneHoldAreServedOnce) {
    Setting s;
    s.entry = 1, s.held = 50, s.every = 100, s.work = 20, s.apart = 10, s.allowed = 1000;
    const auto c = by_program(s, 20'000, 4);
    EXPECT_NEAR(static_cast<double>(c.lost) / 20'000, 0.4, 3 * std::sqrt(0.4 * 0.6 / 20'000) + 0.011)
        << "and those whose second comes within the entry of the first";
    s.second_is_lost = true;
    EXPECT_GT(by_program(s, 20'000, 4).lost, c.lost) << "then also those that come while the first is served";
}

/// A loop of 100 µs, triggers 10 µs apart: 90 of 100 pairs fall between two looks.
TEST(Bursts, TwoBetweenTwoLooksAreSeenAtOne) {
    Setting s;
    s.polls = true, s.period = 100, s.work = 1, s.apart = 10, s.allowed = 1000;
    const auto c = by_program(s, 20'000, 4);
    EXPECT_NEAR(static_cast<double>(c.lost) / 20'000, 0.9, 3 * std::sqrt(0.9 * 0.1 / 20'000));
}

}  // namespace
}  // namespace grayrelic
