// SPDX-License-Identifier: GPL-3.0-or-later
// Lines with a clock: shift registers behind a latch, framed keyboards, plain clocked serial.
#include <algorithm>

#include "tests/unseen/links.hpp"

namespace grayrelic::unseen {

/// A pulse of the latch loads the register: its first bit stands before the first clock; each shifting edge
/// brings the next. The host looks at the other edge, or right before the shifting one.
void latch_shift(Draft& d) {
    auto& dice = d.dice;
    d.made.wires.reserve(24);
    const int bits = static_cast<int>(dice.chance(0.5) ? 8 * dice.whole(1, 3) : dice.whole(5, 24));
    const double period = dice.log(0.2e6, 60e6);  // ps
    const double share = dice.real(0.3, 0.7);  // of the period, from the first edge of a pulse to its second
    const bool latch_high = dice.chance(0.6), clock_rests = dice.chance(0.5);
    const bool shift_on_first = dice.chance(0.5);  // edge of a clock pulse at which the register shifts
    const bool looks_at_shift = dice.chance(0.5);  // right before it, else at the other edge
    const double delay = period * dice.real(0.01, 0.15), spread = delay * dice.real(0, 0.3);
    d.jitter = period * dice.real(0, 0.01);
    auto& latch = d.wire("latch", !latch_high);
    auto& clock = d.wire("clk", clock_rests);
    auto& data = d.wire("q", dice.chance(0.7));
    const long polls = dice.whole(30, 200);
    const double rest = period * dice.log(bits, 60.0 * bits);
    Link link;
    link.kind = "latch-shift";
    link.roles = {{"latch", {"latch"}}, {"clock", {"clk"}}, {"data", {"q"}}};
    // The pressed buttons change now and then; those that are not wired stay high.
    std::vector<bool> word(static_cast<std::size_t>(bits), true);
    const auto wired = static_cast<std::size_t>(std::max(3L, dice.whole(bits / 2, bits)));
    const bool fill = dice.chance(0.5);  // what follows the last bit
    double t = d.now + period * dice.real(3, 20);
    // Sampling at the shifting edge reads every bit; at the other edge the first bit is only seen when that
    // edge comes first.
    const bool other_first = !shift_on_first;
    for (long p = 0; p < polls; ++p) {
        for (std::size_t k = 0; k < wired; ++k)
            if (dice.chance(0.15)) word[k] = !word[k];
        latch.pulse(d.shaken(t), d.shaken(t + period * 0.8), latch_high);
        const double loads = t + delay + spread * dice.unit();
        data.set(loads, word[0]);
        t += period * dice.real(1.4, 1.8);
        Word w;
        std::size_t at = 0;
        const auto bit_at = [&](std::size_t k) {
            return k < word.size() ? static_cast<bool>(word[k]) : fill;
        };
        for (int k = 0; k < bits; ++k) {
            const double first = d.shaken(t), second = d.shaken(t + period * share);
            const double shifts = shift_on_first ? first : second;
            clock.set(first, !clock_rests);
            clock.set(second, clock_rests);
            const bool before_shift = looks_at_shift || other_first;
            if (before_shift) w.levels += bit_at(at) ? '1' : '0';
            ++at;
            if (!before_shift) w.levels += bit_at(at) ? '1' : '0';
            data.set(shifts + delay + spread * dice.unit(), bit_at(at));
            t += period;
        }
        link.words.push_back(w);
        t += rest * dice.real(0.9, 1.1);
    }
    d.now = t;
    // First edge of a clock pulse: away from the resting level.
    const bool sample_first = looks_at_shift == shift_on_first;
    const bool rises = sample_first != clock_rests;
    link.settings = {{"edge", rises ? "rise" : "fall"},
                     {"latch", latch_high ? "high" : "low"},
                     {"bits", std::to_string(bits)}};
    link.open = {"order", "edge"};  // both edges read without an error; only the host knows
    d.made.about = std::to_string(bits) + " bits, " + std::to_string(period / 1e6) + " us" +
                   (shift_on_first ? ", shifts at the first edge" : ", shifts at the second") +
                   (looks_at_shift ? ", looked at before it" : ", looked at the other");
    d.made.links.push_back(std::move(link));
}

/// The device clocks: start (0), eight bits least significant first, parity, stop (1). The host may pull the
/// clock low to inhibit.
void framed_clock(Draft& d) {
    auto& dice = d.dice;
    d.made.wires.reserve(24);
    const double period = dice.log(20e6, 120e6);
    const bool falls = dice.chance(0.8);  // the edge at which the host looks
    const char parity = dice.chance(0.7) ? 'O' : dice.chance(0.5) ? 'E' : 'N';
    d.jitter = period * dice.real(0, 0.03);
    const bool inhibits = dice.chance(0.35);
    auto& clock = d.wire("kclk", falls);
    auto& data = d.wire("kdat", true);
    Link link;
    link.kind = "framed-clock";
    link.roles = {{"clock", {"kclk"}}, {"data", {"kdat"}}};
    double t = d.now + period * dice.real(10, 50);
    const double setup = period * dice.real(0.1, 0.3);
    for (long n = dice.whole(40, 150); n > 0; --n) {
        const auto value = static_cast<unsigned>(dice.whole(0, 255));
        std::string frame = "0";
        int ones = 0;
        Word w;
        for (int k = 0; k < 8; ++k) {
            const bool one = (value >> k & 1U) != 0;
            ones += one ? 1 : 0;
            w.levels += one ? '1' : '0';
        }
        frame += w.levels;
        if (parity != 'N') frame += (ones % 2 == 0) == (parity == 'O') ? '1' : '0';
        frame += '1';
        for (const char c : frame) {
            data.set(d.shaken(t - setup), c == '1');
            clock.set(d.shaken(t), !falls);
            clock.set(d.shaken(t + period / 2), falls);
            t += period;
        }
        link.words.push_back(w);
        t += period * dice.real(2, 60);
        if (inhibits && dice.chance(0.2)) {
            clock.pulse(t, t + period * dice.real(2, 8), !falls);
            t += period * dice.real(12, 30);
        }
    }
    d.now = t;
    link.settings = {{"edge", falls ? "fall" : "rise"},
                     {"parity", parity == 'O'   ? "odd"
                                : parity == 'E' ? "even"
                                                : "none"},
                     {"bits", "8"}};
    d.made.about = std::to_string(period / 1e6) + " us a bit" + (inhibits ? ", inhibited" : "") +
                   (falls ? ", falls" : ", rises") + ", parity " + parity;
    d.made.links.push_back(std::move(link));
}

/// Four modes: the clock rests low (0, 1) or high (2, 3); sampled at the first edge (0, 2) or the second.
void clocked(Draft& d) {
    auto& dice = d.dice;
    d.made.wires.reserve(24);
    const int mode = static_cast<int>(dice.whole(0, 3));
    const bool rests = mode >= 2, second = mode % 2 != 0;
    const int bits = static_cast<int>(dice.chance(0.6) ? 8 : dice.whole(4, 16));
    const double period = dice.log(0.1e6, 50e6);
    d.jitter = period * dice.real(0, 0.03);
    const bool selected = dice.chance(0.7), active_low = dice.chance(0.85);
    const bool shared = selected && dice.chance(0.35), shared_data = dice.chance(0.4);
    const double word_pause = dice.chance(0.35) ? period * dice.real(1, 5) : 0;
    const double data_delay = period * dice.real(0.02, 0.12);
    const int most_words = static_cast<int>(dice.whole(1, 4));
    auto& clock = d.wire("sck", rests);
    auto& data = d.wire("sdo", dice.chance(0.5));
    Wire* select = selected ? &d.wire("cs", active_low) : nullptr;
    Link link;
    link.kind = "clocked";
    link.roles = {{"clock", {"sck"}}, {"data", {"sdo"}}};
    if (selected) link.roles["select"] = {"cs"};
    double t = d.now + period * dice.real(5, 20);
    const auto shift = [&](bool one, bool own) {
        // The sender puts the bit out half a period before it is sampled.
        const double first = d.shaken(t + period * 0.5), last = d.shaken(t + period);
        if (own && !second) data.set(std::max(t - period * 0.02 + data_delay, t + data_delay), one);
        clock.set(first, !rests);
        if (own && second) data.set(first + data_delay, one);
        clock.set(last, rests);
        t += period;
    };
    double last_gap = 0;
    const auto gap = [&] { t += last_gap = period * dice.real(2 * bits, 30.0 * bits); };
    const bool foreign_close = dice.chance(0.4);
    bool several = false;
    for (long n = dice.whole(30, 120); n > 0; --n) {
        if (shared && dice.chance(0.5)) {
            // For others, who may answer on the same line; right behind, or much later.
            if (foreign_close) t += period * dice.real(0.5, 3) - last_gap, last_gap = 0;
            for (long k = dice.whole(1, 20); k > 0; --k) shift(dice.chance(0.5), shared_data);
            gap();
        }
        if (select != nullptr) select->set(t - period * 0.3, !active_low);
        const long words = dice.whole(1, most_words);
        several = several || words > 1;
        for (long k = 0; k < words; ++k) {
            Word w;
            for (int b = 0; b < bits; ++b) w.levels += dice.chance(0.5) ? '1' : '0';
            for (const char c : w.levels) shift(c == '1', true);
            link.words.push_back(w);
            if (k + 1 < words) t += word_pause;
        }
        t += period * 0.6;
        if (select != nullptr) select->set(t, active_low);
        gap();
    }
    d.now = t;
    link.settings = {{"mode", std::to_string(mode)}, {"bits", std::to_string(bits)}};
    link.open = {"order"};
    // Several words without a pause: the transactions tell a multiple of the word's length at best.
    if (several && word_pause == 0) link.open.insert("bits");
    if (bits % 2 == 0 || most_words > 1) link.open.insert("bits");
    d.made.about = "mode " + std::to_string(mode) + ", " + std::to_string(bits) + " bits, up to " +
                   std::to_string(most_words) + " words" + (selected ? ", selected" : "") +
                   (shared ? ", shared clock" : "") + (word_pause > 0 ? ", pauses" : "");
    d.made.links.push_back(std::move(link));
}

}  // namespace grayrelic::unseen
