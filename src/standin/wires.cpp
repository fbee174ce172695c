// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/wires.hpp"

#include <algorithm>
#include <bit>
#include <cmath>

namespace grayrelic::standin {

void Wire::set(Time t, bool level) {
    if (level == level_) return;
    if (sd_ > Time{})
        t += Time::ps(
            static_cast<std::int64_t>(std::llround(random_.normal() * static_cast<double>(sd_.count()))));
    if (!edges_.empty() && t <= edges_.back()) t = edges_.back() + Time::ps(1);
    edges_.push_back(t);
    level_ = level;
}

Signal Wire::signal(Time sample) const {
    std::vector<Time> edges = edges_;
    if (sample > Time{}) {
        edges.clear();
        for (const auto t : edges_) {
            const auto n = (t.count() + sample.count() - 1) / sample.count();
            const Time seen = sample * n;
            // Two edges in one sample: the level between them is never seen.
            if (!edges.empty() && edges.back() == seen)
                edges.pop_back();
            else
                edges.push_back(seen);
        }
    }
    Signal s;
    s.name = name_;
    s.digital = std::make_shared<const DigitalWaveform>(first_, edges);
    return s;
}

Capture capture_of(const std::vector<Wire>& wires, Time end, Time sample) {
    Capture c;
    c.format = "vcd";
    c.resolution = sample > Time{} ? sample : Time::ps(1);
    for (const auto& w : wires) {
        c.signals.push_back(w.signal(sample));
        end = std::max(end, w.last() + sample);
    }
    c.extent = {Time{}, end};
    return c;
}

namespace {

Time ps(double v) {
    return Time::ps(static_cast<std::int64_t>(std::llround(v)));
}

bool bit_of(std::uint64_t value, int bits, int place, bool msb) {
    return ((value >> static_cast<unsigned>(msb ? bits - 1 - place : place)) & 1U) != 0;
}

}  // namespace

Time say_async(Wire& line, Time t, std::uint64_t value, const AsyncStyle& s, int flip) {
    const double bit = 1e12 / s.baud;
    std::vector<bool> levels{false};
    int ones = 0;
    for (int k = 0; k < s.bits; ++k) {
        levels.push_back(bit_of(value, s.bits, k, s.msb));
        ones += levels.back() ? 1 : 0;
    }
    if (s.parity == "even") levels.push_back(ones % 2 == 1);
    if (s.parity == "odd") levels.push_back(ones % 2 == 0);
    if (s.parity == "mark") levels.push_back(true);
    if (s.parity == "space") levels.push_back(false);
    levels.push_back(true);
    if (flip >= 0 && flip < static_cast<int>(levels.size()))
        levels[static_cast<std::size_t>(flip)] = !levels[static_cast<std::size_t>(flip)];
    for (std::size_t k = 0; k < levels.size(); ++k)
        line.set(t + ps(static_cast<double>(k) * bit), levels[k] != s.inverted);
    const Time end = t + ps((static_cast<double>(levels.size()) - 1 + s.stop) * bit);
    line.set(end, !s.inverted);
    return end + s.gap;
}

Time say_latch_shift(Wire& latch, Wire& clock, Wire& data, Time t, std::uint64_t value, const ShiftStyle& s) {
    const Time settle = s.half / 8;
    latch.set(t, true);
    data.set(t + settle, bit_of(value, s.bits, 0, s.msb));
    latch.set(t + s.latch, false);
    t += s.latch + s.half;
    for (int k = 0; k < s.bits; ++k) {
        clock.set(t, false);
        clock.set(t + s.half, true);
        data.set(t + s.half + settle, k + 1 < s.bits && bit_of(value, s.bits, k + 1, s.msb));
        t += s.half * 2;
    }
    return t;
}

Time say_pulse_width(Wire& line, Time t, std::uint64_t value, int bits, Time cell, bool short_is_one) {
    for (int k = 0; k < bits; ++k) {
        const bool is_short = bit_of(value, bits, k, true) == short_is_one;
        line.pulse(t, t + (is_short ? cell / 4 : cell * 3 / 4), false);
        t += cell;
    }
    line.pulse(t, t + cell / 4, false);
    return t + cell / 4;
}

Time say_framed_clock(Wire& clock, Wire& data, Time t, std::uint64_t value, int bits, Time half,
                      bool wrong_parity) {
    std::vector<bool> levels{false};
    int ones = 0;
    for (int k = 0; k < bits; ++k) {
        levels.push_back(bit_of(value, bits, k, false));
        ones += levels.back() ? 1 : 0;
    }
    levels.push_back((ones % 2 == 0) != wrong_parity);
    levels.push_back(true);
    for (const bool level : levels) {
        data.set(t, level);
        clock.pulse(t + half / 2, t + half / 2 + half, false);
        t += half * 2;
    }
    data.set(t, true);
    return t;
}

Time say_clocked(Wire& clock, Wire& data, Time t, std::uint64_t value, int bits, int mode, Time half) {
    const bool rests = mode >= 2, late = (mode & 1) != 0;  // late: read at the trailing edge
    for (int k = 0; k < bits; ++k) {
        const bool level = bit_of(value, bits, k, true);
        if (late) {
            clock.set(t, !rests);
            data.set(t + half / 10, level);
            clock.set(t + half, rests);
        } else {
            data.set(t + half / 10, level);
            clock.set(t + half, !rests);
            clock.set(t + half * 2, rests);
        }
        t += half * 2;
    }
    return t;
}

Time say_quadrature(Wire& a, Wire& b, Time t, int steps, Time step) {
    static constexpr int states[] = {0, 2, 3, 1};  // a << 1 | b, forward
    int at = 0;
    for (int k = 0; k < 4; ++k)
        if (states[k] == (a.level() ? 2 : 0) + (b.level() ? 1 : 0)) at = k;
    for (int n = std::abs(steps); n > 0; --n) {
        at = (at + (steps > 0 ? 1 : 3)) % 4;
        a.set(t, (states[at] & 2) != 0);
        b.set(t, (states[at] & 1) != 0);
        t += step;
    }
    return t;
}

Time say_strobed(Wire& strobe, std::vector<Wire>& lines, Time t, std::uint64_t value, Time setup, Time width,
                 Time hold) {
    const int n = static_cast<int>(lines.size());
    for (int k = 0; k < n; ++k) lines[static_cast<std::size_t>(k)].set(t, bit_of(value, n, k, true));
    strobe.set(t + setup - width, false);
    strobe.set(t + setup, true);
    return t + setup + hold;
}

Time say_select_bank(Wire& select, Wire& enable, std::vector<Wire>& lines, Time t, std::uint64_t bank0,
                     std::uint64_t bank1, Time dwell) {
    const int n = static_cast<int>(lines.size());
    const Time settle = dwell / 20;
    const auto show = [&](Time at, std::uint64_t value) {
        for (int k = 0; k < n; ++k) lines[static_cast<std::size_t>(k)].set(at, bit_of(value, n, k, true));
    };
    const std::uint64_t forced = (std::uint64_t{1} << static_cast<unsigned>(n)) - 1;
    select.set(t, false);
    enable.set(t, false);
    show(t + settle, bank0);
    select.set(t + dwell, true);
    show(t + dwell + settle, bank1);
    enable.set(t + dwell * 2, true);
    show(t + dwell * 2 + settle, forced);
    select.set(t + dwell * 3, false);
    return t + dwell * 3;
}

Time say_matrix(std::vector<Wire>& strobes, std::vector<Wire>& senses, Time t,
                const std::vector<std::uint64_t>& closed, Time dwell) {
    for (std::size_t s = 0; s < strobes.size(); ++s) {
        strobes[s].set(t, false);
        for (std::size_t k = 0; k < senses.size(); ++k)
            senses[k].set(t + dwell / 20, (closed[s] >> k & 1U) == 0);
        strobes[s].set(t + dwell, true);
        for (auto& line : senses) line.set(t + dwell + dwell / 20, true);
        t += dwell + dwell / 4;
    }
    return t;
}

Time say_usb(Wire& plus, Wire& minus, Time t, const std::vector<std::uint8_t>& bytes, bool full) {
    const double bit = full ? 1e12 / 12e6 : 1e12 / 1.5e6;
    std::vector<bool> bits;
    for (int k = 0; k < 8; ++k) bits.push_back(k == 7);
    int ones = 1;
    for (const auto b : bytes)
        for (unsigned k = 0; k < 8; ++k) {
            bits.push_back((b >> k & 1U) != 0);
            ones = bits.back() ? ones + 1 : 0;
            if (ones == 6) bits.push_back(false), ones = 0;
        }
    bool j = true;
    double at = static_cast<double>(t.count());
    const auto lines = [&](bool p, bool m) {
        plus.set(ps(at), p);
        minus.set(ps(at), m);
    };
    for (const bool one : bits) {
        if (!one) j = !j;
        lines(j == full, j != full);
        at += bit;
    }
    lines(false, false);
    at += 2 * bit;
    lines(full, !full);
    at += bit;
    return ps(at);
}

}  // namespace grayrelic::standin
