// SPDX-License-Identifier: GPL-3.0-or-later
// Characters with start and stop bits, one-wire pulse widths, USB low and full speed.
#include <array>
#include <cmath>

#include "tests/unseen/links.hpp"

namespace grayrelic::unseen {
namespace {

struct Shape {
    double bit = 0;
    int bits = 8;
    char parity = 'N';  ///< N E O M S
    double stop = 1;
    bool inverted = false;
};

struct Sent {
    unsigned value = 0;
    double start = 0;
    bool bad_parity = false, bad_stop = false, is_break = false;
};

bool parity_bit(const Shape& s, unsigned value) {
    int ones = 0;
    for (int k = 0; k < s.bits; ++k) ones += static_cast<int>(value >> k & 1U);
    switch (s.parity) {
        case 'E': return ones % 2 != 0;
        case 'O': return ones % 2 == 0;
        case 'M': return true;
        default: return false;
    }
}

/// Reads a line the way a receiver of that shape does: waits for a start, looks in the middle of each bit, is
/// ready again in the middle of the stop bit. Gives the number of characters that are not as they should be.
struct Received {
    long characters = 0, errors = 0;
};
Received receive(const Wire& w, const Shape& s, std::int64_t end) {
    Received r;
    const auto mark = [&](double t) { return w.level_at(static_cast<std::int64_t>(t)) != s.inverted; };
    std::size_t i = 0;
    double ready = 0;
    while (i < w.edges.size()) {
        const auto t = static_cast<double>(w.edges[i]);
        const bool falls = (w.first != (i % 2 != 0)) != s.inverted;  // from mark to space
        ++i;
        if (t < ready || !falls) continue;
        const int positions = s.bits + (s.parity == 'N' ? 0 : 1);
        const double stop_at = t + (positions + 1.5) * s.bit;
        if (stop_at > static_cast<double>(end)) break;
        ++r.characters;
        unsigned value = 0;
        for (int k = 0; k < s.bits; ++k) value |= mark(t + (k + 1.5) * s.bit) ? 1U << k : 0U;
        const bool stop = mark(stop_at), start = mark(t + 0.5 * s.bit);
        const bool parity = s.parity == 'N' || mark(t + (s.bits + 1.5) * s.bit) == parity_bit(s, value);
        r.errors += !stop || start || !parity ? 1 : 0;
        ready = stop_at - 0.25 * s.bit;
        if (!stop) {  // until the line rests at mark again
            while (i < w.edges.size() && !((w.first != (i % 2 != 0)) == s.inverted)) ++i;
            if (i < w.edges.size()) ready = static_cast<double>(w.edges[i]);
        }
    }
    return r;
}

/// Settings of which another value reads this line with no more errors than the true one.
std::set<std::string> undecided(const Wire& w, const Shape& truth, std::int64_t end) {
    std::set<std::string> open = {"order"};
    const auto right = receive(w, truth, end);
    for (const double factor : {1.0, 0.5, 2.0, 1.0 / 3, 3.0})
        for (const bool inverted : {false, true})
            for (int bits = 5; bits <= 9; ++bits)
                for (const char parity : {'N', 'E', 'O', 'M', 'S'}) {
                    Shape s = truth;
                    s.bit = truth.bit * factor;
                    s.inverted = inverted;
                    s.bits = bits;
                    s.parity = parity;
                    const auto other = receive(w, s, end);
                    if (other.characters == 0 || other.errors > right.errors) continue;
                    if (2 * other.characters < right.characters && right.characters > 3) continue;
                    if (factor != 1.0) open.insert("baud");
                    if (inverted != truth.inverted) open.insert("invert");
                    if (bits != truth.bits) open.insert("bits");
                    if (parity != truth.parity) open.insert("parity");
                }
    return open;
}

}  // namespace

void async_serial(Draft& d) {
    auto& dice = d.dice;
    Shape s;
    s.bit = 1e12 / dice.log(45, 1e6);
    s.bits = static_cast<int>(dice.chance(0.5) ? 8 : dice.whole(5, 9));
    s.parity = dice.chance(0.5) ? 'N' : dice.one_of<char>({'E', 'O', 'E', 'O', 'M', 'S'});
    s.stop = dice.chance(0.6) ? 1 : dice.chance(0.3) ? 1.5 : 2;
    s.inverted = dice.chance(0.4);
    const bool msb = dice.chance(0.2);
    d.jitter = s.bit * dice.real(0, 0.03);
    const long count = static_cast<long>(dice.log(20, 400));
    const int content = static_cast<int>(dice.whole(0, 2));  // random, text, counting
    const int rhythm = static_cast<int>(dice.whole(0, 2));   // back to back, random gaps, bursts
    const double parity_errors = s.parity != 'N' && dice.chance(0.2) ? dice.real(0.005, 0.03) : 0;
    const double breaks = dice.chance(0.12) ? dice.real(0.005, 0.04) : 0;
    const double bad_stops = dice.chance(0.12) ? dice.real(0.005, 0.03) : 0;
    auto& w = d.wire("rx", !s.inverted);
    const std::string text = "The quick brown fox jumps over the lazy dog. 0123456789\r\n";
    double t = d.now + s.bit * dice.real(12, 60);
    const auto mask = (1U << s.bits) - 1;
    std::vector<Sent> sent;
    const auto put = [&](double at, bool mark) { w.set(d.shaken(at), mark != s.inverted); };
    for (long n = 0; n < count; ++n) {
        Sent c;
        c.start = t;
        c.value = content == 0 ? static_cast<unsigned>(dice.whole(0, 511)) & mask
                  : content == 1
                      ? static_cast<unsigned char>(text[static_cast<std::size_t>(n) % text.size()]) & mask
                      : static_cast<unsigned>(n * 7) & mask;
        c.is_break = dice.chance(breaks);
        c.bad_parity = !c.is_break && dice.chance(parity_errors);
        c.bad_stop = !c.is_break && !c.bad_parity && dice.chance(bad_stops);
        const int positions = s.bits + (s.parity == 'N' ? 0 : 1);
        put(t, false);
        if (c.is_break) {
            c.value = 0;
            t += s.bit * (positions + 1 + s.stop + dice.real(1, 12));
        } else {
            for (int k = 0; k < s.bits; ++k) put(t + (k + 1) * s.bit, (c.value >> k & 1U) != 0);
            if (s.parity != 'N') put(t + (s.bits + 1) * s.bit, parity_bit(s, c.value) != c.bad_parity);
            // A bad stop: the line stays at space until the next character may begin.
            if (c.bad_stop && !(positions > 0 && c.value == 0))
                put(t + (positions + 1) * s.bit, false);
            else
                c.bad_stop = false, put(t + (positions + 1) * s.bit, true);
            t += s.bit * (positions + 1 + s.stop);
        }
        if (c.is_break || c.bad_stop) {
            put(t, true);
            t += s.bit * dice.real(2, 6);
        }
        sent.push_back(c);
        if (rhythm == 1) t += s.bit * dice.real(0, 8);
        if (rhythm == 2 && dice.chance(0.08)) t += s.bit * dice.real(10, 200);
    }
    d.now = t + s.bit * dice.real(12, 40);
    d.made.end = static_cast<std::int64_t>(d.now);
    d.made.shortest = s.bit * 0.9;
    Link link;
    link.kind = "async-serial";
    link.roles = {{"data", {"rx"}}};
    static const std::map<char, std::string> names = {
        {'N', "none"}, {'E', "even"}, {'O', "odd"}, {'M', "mark"}, {'S', "space"}};
    link.settings = {
        {"bits", std::to_string(s.bits)},      {"parity", names.at(s.parity)},
        {"invert", s.inverted ? "yes" : "no"}, {"stop", s.stop == 1 ? "1" : s.stop == 2 ? "2" : "1.5"},
        {"order", msb ? "msb" : "lsb"},        {"baud", std::to_string(1e12 / s.bit)}};
    link.open = undecided(w, s, d.made.end);
    link.open.insert("stop");  // a pause may be longer than the stop bits; a receiver does not care
    for (const auto& c : sent) {
        Word word;
        for (int k = 0; k < s.bits; ++k) word.levels += (c.value >> k & 1U) != 0 ? '1' : '0';
        word.error = c.is_break ? "break" : c.bad_stop ? "framing" : c.bad_parity ? "parity" : "";
        link.words.push_back(std::move(word));
    }
    d.made.about = std::to_string(1e12 / s.bit) + " baud " + std::to_string(s.bits) + s.parity +
                   (s.stop == 1   ? "1"
                    : s.stop == 2 ? "2"
                                  : "1.5") +
                   (s.inverted ? " inverted" : "") +
                   (rhythm == 0   ? " back to back"
                    : rhythm == 1 ? " gaps"
                                  : " bursts") +
                   (breaks > 0 ? " breaks" : "") + (parity_errors > 0 ? " parity errors" : "") +
                   (bad_stops > 0 ? " bad stops" : "") + " of " + std::to_string(count);
    d.made.links.push_back(std::move(link));
}

/// Open drain: a low and a high time make a bit; the sum is about the same. A stop bit ends a burst.
void pulse_width(Draft& d) {
    auto& dice = d.dice;
    const bool idle_high = dice.chance(0.8), one_short = dice.chance(0.7);
    const double cell = dice.log(0.5e6, 200e6);        // ps
    const double small = cell * dice.real(0.2, 0.33);  // the short part
    d.jitter = cell * dice.real(0, 0.02);
    auto& w = d.wire("wire", idle_high);
    const long command_bits = 8 * dice.whole(1, 3), reply_bits = 8 * dice.whole(1, 8);
    const bool replies = dice.chance(0.8);
    const double turn = cell * dice.real(2, 6), rest = cell * dice.real(30, 300);
    const long polls = dice.whole(15, 60);
    Link link;
    link.kind = "pulse-width";
    link.roles = {{"data", {"wire"}}};
    double t = d.now + cell * dice.real(5, 40);
    const auto bit = [&](bool one) {
        // The active part first: low where the line rests high.
        const double active = one == one_short ? small : cell - small;
        w.set(d.shaken(t), !idle_high);
        w.set(d.shaken(t + active), idle_high);
        t += cell;
    };
    std::vector<std::string> commands;
    for (int k = 0; k < 3; ++k) {
        std::string c;
        for (long b = 0; b < command_bits; ++b) c += dice.chance(0.5) ? '1' : '0';
        commands.push_back(c);
    }
    for (long p = 0; p < polls; ++p) {
        for (int half = 0; half < (replies ? 2 : 1); ++half) {
            Word word;
            if (half == 0) {
                word.levels = dice.one_of(commands);
            } else {
                for (long b = 0; b < reply_bits; ++b) word.levels += dice.chance(0.4) ? '1' : '0';
            }
            for (const char c : word.levels) bit(c == '1');
            bit(true);  // the stop bit, left out of the word
            link.words.push_back(word);
            t += half == 0 && replies ? turn : rest * dice.real(0.7, 1.3);
        }
    }
    d.now = t;
    link.settings = {{"one", one_short ? "short" : "long"}, {"idle", idle_high ? "high" : "low"}};
    link.open = {"one", "gap"};  // which of both widths is called one is a convention
    d.made.about = "cell " + std::to_string(cell / 1e6) + " us, " + std::to_string(command_bits) + " and " +
                   std::to_string(replies ? reply_bits : 0) + " bits";
    d.made.links.push_back(std::move(link));
}

namespace {

unsigned crc(const std::string& bits, unsigned polynomial, int width) {
    // USB 2.0 8.3.5: all ones at first, shifted left, what is left is inverted and sent most significant
    // first.
    const unsigned top = 1U << (width - 1), mask = (top << 1) - 1;
    unsigned r = mask;
    for (const char c : bits) {
        const bool out = (r & top) != 0;
        r = (r << 1) & mask;
        if (out != (c == '1')) r ^= polynomial;
    }
    return ~r & mask;
}

std::string lsb_first(unsigned value, int bits) {
    std::string s;
    for (int k = 0; k < bits; ++k) s += (value >> k & 1U) != 0 ? '1' : '0';
    return s;
}

std::string msb_first(unsigned value, int bits) {
    std::string s;
    for (int k = bits - 1; k >= 0; --k) s += (value >> k & 1U) != 0 ? '1' : '0';
    return s;
}

}  // namespace

void usb_low_full(Draft& d) {
    auto& dice = d.dice;
    const bool low = dice.chance(0.6);
    const double bit = low ? 1e12 / 1.5e6 : 1e12 / 12e6;
    d.jitter = bit * dice.real(0, 0.02);
    // J is D− high at low speed, D+ high at full speed (7.1.7.1); SE0 is both low.
    d.made.wires.reserve(24);
    auto& plus = d.wire("dp", !low);
    auto& minus = d.wire("dm", low);
    Link link;
    link.kind = "usb-low-full";
    link.roles = {{"plus", {"dp"}}, {"minus", {"dm"}}};
    link.settings = {{"speed", low ? "low" : "full"}};
    double t = d.now + bit * dice.real(20, 100);
    const auto state = [&](int s) {  // 0 SE0, 1 J, 2 K
        const double at = d.shaken(t);
        plus.set(at, s == 1 ? !low : s == 2 ? low : false);
        minus.set(at, s == 1 ? low : s == 2 ? !low : false);
        t += bit;
    };
    const auto packet = [&](unsigned pid, const std::string& body) {
        std::string bits = "00000001" + lsb_first(pid, 4) + lsb_first(~pid & 15U, 4) + body;
        bool j = true;
        int ones = 0;
        for (std::size_t i = 0; i < bits.size(); ++i) {
            if (bits[i] == '1') {
                state(j ? 1 : 2);
                if (++ones == 6) j = !j, state(j ? 1 : 2), ones = 0;  // a stuffed zero
            } else {
                j = !j;
                state(j ? 1 : 2);
                ones = 0;
            }
        }
        state(0);
        state(0);
        state(1);
        link.words.push_back({std::to_string(pid), ""});
    };
    const unsigned address = static_cast<unsigned>(dice.whole(1, 127)),
                   endpoint = static_cast<unsigned>(dice.whole(0, 2));
    const std::string token = lsb_first(address, 7) + lsb_first(endpoint, 4);
    const std::string full = token + msb_first(crc(token, 0x05, 5), 5);
    bool toggle = false;
    for (long n = dice.whole(20, 60); n > 0; --n) {
        packet(9, full);  // IN
        t += bit * dice.real(2, 6);
        if (dice.chance(0.4)) {
            packet(10, "");  // NAK
        } else {
            std::string data;
            for (long k = low ? 8 : dice.whole(1, 32); k > 0; --k)
                data += lsb_first(static_cast<unsigned>(dice.chance(0.5) ? 0 : dice.whole(0, 255)), 8);
            packet(toggle ? 11 : 3, data + msb_first(crc(data, 0x8005, 16), 16));
            toggle = !toggle;
            t += bit * dice.real(2, 6);
            packet(2, "");  // ACK
        }
        t += bit * dice.real(50, 600);
    }
    d.now = t;
    d.made.shortest = bit * 0.9;
    d.made.about = low ? "low speed" : "full speed";
    d.made.links.push_back(std::move(link));
}

}  // namespace grayrelic::unseen
