// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/unseen/talk.hpp"

namespace grayrelic::unseen {

/// Bits as pulses on an open-drain wire: the command, a pause, the answer.
void one_wire(Talk& t) {
    auto& dice = t.dice;
    const bool idle_high = dice.chance(0.8);
    const double cell = dice.log(1e6, 50e6), small = cell * dice.real(0.2, 0.35);
    const double turn = cell * dice.real(2, 8), spread = turn * dice.real(0, 0.3),
                 rest = turn * dice.real(8, 40);
    t.draft.jitter = cell * dice.real(0, 0.01);
    auto& w = t.wire("w", idle_high);
    t.reply("poll:end", "w");
    const long command = dice.whole(4, 10), reply = dice.whole(8, 32);
    double at = cell * 10;
    const auto bit = [&](bool one) {
        w.set(t.draft.shaken(at), !idle_high);
        w.set(t.draft.shaken(at + (one ? small : cell - small)), idle_high);
        at += cell;
    };
    for (long n = dice.whole(30, 120); n > 0; --n) {
        for (long k = 0; k < command; ++k) bit(dice.chance(0.5));
        bit(true);
        const auto end = static_cast<double>(w.edges.back());
        at = end + turn + spread * dice.unit();
        bit(dice.chance(0.5));
        // The first edge of the answer is the last but one of the wire now.
        t.reply("poll:end", "w").delays.push_back(static_cast<double>(w.edges[w.edges.size() - 2]) - end);
        for (long k = 1; k < reply; ++k) bit(dice.chance(0.5));
        bit(true);
        at += rest * dice.real(0.8, 1.2);
    }
    t.draft.now = at;
    t.c.kind = "pulse-width";
    t.c.roles = {{"data", {"w"}}};
}

/// Eight bits, no parity, one stop bit: a message on one line, the answer on another or on the same.
void serial(Talk& t, bool same_line) {
    auto& dice = t.dice;
    const double bit = 1e12 / dice.log(1200, 250000);
    const bool inverted = dice.chance(0.3);
    const double turn = bit * dice.real(15, 60), spread = turn * dice.real(0, 0.3),
                 rest = turn * dice.real(8, 30);
    t.draft.jitter = bit * dice.real(0, 0.02);
    t.wire("host", !inverted);
    if (!same_line) t.wire("dev", !inverted);
    const std::string answers = same_line ? "host" : "dev";
    t.reply("poll:end", answers);
    double at = bit * 40;
    const auto character = [&](const std::string& line) {
        auto& w = t.find(line);
        const auto value = static_cast<unsigned>(dice.whole(0, 255));
        const double start = at;
        for (int k = -1; k < 9; ++k) {
            const bool mark = k == 8 || (k >= 0 && (value >> k & 1U) != 0);
            w.set(k < 0 ? at : t.draft.shaken(at), mark != inverted);
            at += bit;
        }
        (void)start;
    };
    const long question = dice.whole(1, 6), reply = dice.whole(1, 8);
    for (long n = dice.whole(30, 80); n > 0; --n) {
        for (long k = 0; k < question; ++k) character("host");
        const double end = at;
        at += turn + spread * dice.unit();
        t.reply("poll:end", answers).delays.push_back(at - end);
        for (long k = 0; k < reply; ++k) character(answers);
        at += rest * dice.real(0.8, 1.2);
    }
    t.draft.now = at;
    t.c.slack = bit * 10 / 1000;
    t.c.kind = "async-serial";
    t.c.roles = {{"data", {"host"}}};
    t.c.settings = {{"stop", "1"}, {"bits", "8"}, {"parity", "none"}};
}

/// Only one side talks.
void serial_alone(Talk& t) {
    auto& dice = t.dice;
    const double bit = 1e12 / dice.log(1200, 250000);
    auto& w = t.wire("tx", true);
    double at = bit * 40;
    for (long n = dice.whole(60, 200); n > 0; --n) {
        const auto value = static_cast<unsigned>(dice.whole(0, 255));
        for (int k = -1; k < 9; ++k) {
            w.set(at, k == 8 || (k >= 0 && (value >> k & 1U) != 0));
            at += bit;
        }
        at += bit * dice.real(0, 30);
    }
    t.draft.now = at;
    t.c.kind = "async-serial";
    t.c.roles = {{"data", {"tx"}}};
    t.c.settings = {{"stop", "1"}, {"bits", "8"}, {"parity", "none"}};
}

/// The device clocks frames; the host holds the clock now and then, and the device goes on when let go.
void framed(Talk& t, bool holds) {
    auto& dice = t.dice;
    const double period = dice.log(20e6, 120e6);
    const bool rests = dice.chance(0.85);
    t.draft.jitter = period * dice.real(0, 0.02);
    auto& clock = t.wire("kc", rests);
    auto& data = t.wire("kd", true);
    const std::string released = edge("kc", rests);
    if (holds) t.reply(released, "kc");
    double at = period * 20;
    const double resume = period * dice.real(1, 6), spread = resume * dice.real(0, 0.3);
    for (long n = dice.whole(50, 150); n > 0; --n) {
        const auto value = static_cast<unsigned>(dice.whole(0, 255));
        int ones = 0;
        std::string frame = "0";
        for (int k = 0; k < 8; ++k) {
            const bool one = (value >> k & 1U) != 0;
            ones += one ? 1 : 0;
            frame += one ? '1' : '0';
        }
        frame += ones % 2 == 0 ? "11" : "01";
        for (const char c : frame) {
            data.set(t.draft.shaken(at - period * 0.2), c == '1');
            clock.set(t.draft.shaken(at), !rests);
            clock.set(t.draft.shaken(at + period * 0.5), rests);
            at += period;
        }
        at += period * dice.real(3, 40);
        if (holds && dice.chance(0.3)) {
            clock.set(at, !rests);
            at += period * dice.real(3, 10);
            clock.set(at, rests);
            const auto end = static_cast<double>(clock.edges.back());
            // Set-up of the first bit lies before its clock.
            at = end + resume + spread * dice.unit();
            t.reply(released, "kc").delays.push_back(-end);
            // Completed by the next frame's first clock edge.
        }
    }
    // The last hold may be the last thing that happens.
    if (holds) {
        std::vector<double> whole;
        for (const double d : t.reply(released, "kc").delays) {
            const auto next =
                std::upper_bound(clock.edges.begin(), clock.edges.end(), static_cast<std::int64_t>(-d));
            if (next != clock.edges.end()) whole.push_back(static_cast<double>(*next) + d);
        }
        t.reply(released, "kc").delays = whole;
        if (whole.empty()) t.c.replies.clear();
    }
    t.draft.now = at;
    t.c.kind = "framed-clock";
    t.c.roles = {{"clock", {"kc"}}, {"data", {"kd"}}};
}

void quadrature(Talk& t) {
    auto& dice = t.dice;
    const double step = dice.log(50e6, 2000e6);
    auto& a = t.wire("a", false);
    auto& b = t.wire("b", false);
    double at = step * 5;
    int place = 0;
    bool forward = true;
    for (long n = dice.whole(200, 800); n > 0; --n) {
        if (dice.chance(0.1)) forward = !forward;
        place = (place + (forward ? 1 : 3)) % 4;
        at += step * dice.real(0.5, 3);
        a.set(at, place == 1 || place == 2);
        b.set(at, place == 2 || place == 3);
    }
    t.draft.now = at;
    t.c.kind = "quadrature";
    t.c.roles = {{"a", {"a"}}, {"b", {"b"}}};
}

}  // namespace grayrelic::unseen
