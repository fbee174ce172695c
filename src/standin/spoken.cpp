// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/spoken.hpp"

#include <cmath>

#include "core/decode/usb_low_full.hpp"

namespace grayrelic::standin {
namespace {

class Talk {
  public:
    explicit Talk(const SpeakOptions& options) : o_(options), random_(options.seed * 977 + 5) {}

    Spoken run(std::string_view kind) {
        if (kind == "async-serial")
            async();
        else if (kind == "latch-shift")
            latch_shift();
        else if (kind == "select-bank")
            select_bank();
        else if (kind == "pulse-width")
            pulse_width();
        else if (kind == "framed-clock")
            framed_clock();
        else if (kind == "clocked")
            clocked();
        else if (kind == "quadrature")
            quadrature();
        else if (kind == "strobed-bus")
            strobed_bus();
        else if (kind == "usb-low-full")
            usb();
        else if (kind == "matrix")
            matrix();
        else
            return {};
        const Time end = t_ + shortest_ * 40;
        for (int i = 0; i < o_.unrelated; ++i)
            wires_.push_back(chatter("other" + std::to_string(i),
                                     o_.seed * 31 + static_cast<std::uint64_t>(i), end,
                                     shortest_ * (5 + 4 * i)));
        const Time sample =
            o_.samples > 0
                ? Time::ps(static_cast<std::int64_t>(static_cast<double>(shortest_.count()) / o_.samples))
                : Time{};
        s_.capture = capture_of(wires_, end, sample);
        return std::move(s_);
    }

  private:
    std::uint64_t word(int bits) { return random_.next() >> static_cast<unsigned>(64 - bits); }
    Time between(Time low, Time high) {
        return low + Time::ps(static_cast<std::int64_t>(random_.uniform() *
                                                        static_cast<double>((high - low).count())));
    }
    /// Lines of the conversation, with jitter.
    void lines(std::vector<Wire> list, Time shortest) {
        wires_ = std::move(list);
        shortest_ = shortest;
        t_ = shortest * 20;
        std::uint64_t n = 0;
        if (o_.jitter > 0)
            for (auto& w : wires_)
                w.jitter(
                    Time::ps(static_cast<std::int64_t>(o_.jitter * static_cast<double>(shortest.count()))),
                    o_.seed * 7919 + ++n);
    }
    std::vector<Wire> take(std::size_t from, std::size_t count) {
        return {wires_.begin() + static_cast<std::ptrdiff_t>(from),
                wires_.begin() + static_cast<std::ptrdiff_t>(from + count)};
    }
    void give_back(std::size_t from, const std::vector<Wire>& list) {
        std::copy(list.begin(), list.end(), wires_.begin() + static_cast<std::ptrdiff_t>(from));
    }

    void async() {
        AsyncStyle style;
        style.baud = 6e6 / 448;  // a 6 MHz resonator divided by 448
        style.inverted = o_.seed % 2 == 0;
        lines({Wire("LINE", !style.inverted)}, Time::from_seconds(1 / style.baud));
        s_.roles = {{"data", {"LINE"}}};
        for (int i = 0; i < o_.words; ++i) {
            s_.values.push_back(word(8));
            style.gap = i % 6 == 5 ? between(Time::us(400), Time::ms(3)) : Time{};
            t_ = say_async(wires_[0], t_, s_.values.back(), style);
        }
    }
    void latch_shift() {
        ShiftStyle style;
        style.bits = 16;
        lines({Wire("LATCH", false), Wire("CLOCK"), Wire("DATA", false)}, style.half);
        s_.roles = {{"latch", {"LATCH"}}, {"clock", {"CLOCK"}}, {"data", {"DATA"}}};
        for (int i = 0; i < o_.words; ++i) {
            s_.values.push_back(word(16));
            t_ = say_latch_shift(wires_[0], wires_[1], wires_[2], t_, s_.values.back(), style) +
                 between(Time::us(900), Time::ms(2));
        }
    }
    void select_bank() {
        const Time dwell = Time::us(20);
        lines({Wire("SELECT", false), Wire("ENABLE"), Wire("D3"), Wire("D2"), Wire("D1"), Wire("D0")}, dwell);
        s_.roles = {{"select", {"SELECT"}}, {"enable", {"ENABLE"}}, {"data", {"D3", "D2", "D1", "D0"}}};
        for (int i = 0; i < o_.words; ++i) {
            const auto low = word(4), high = word(4);
            auto data = take(2, 4);
            t_ = say_select_bank(wires_[0], wires_[1], data, t_, low, high, dwell) +
                 between(Time::us(300), Time::us(900));
            give_back(2, data);
            s_.values.push_back(low);
            s_.values.push_back(high);
        }
    }
    void pulse_width() {
        const Time cell = Time::us(4);
        lines({Wire("WIRE")}, cell / 4);
        s_.roles = {{"data", {"WIRE"}}};
        for (int i = 0; i < o_.words; ++i) {
            const bool ask = i % 2 == 0;
            const int bits = ask ? 9 : 33;
            s_.values.push_back(word(bits));
            t_ = say_pulse_width(wires_[0], t_, s_.values.back(), bits, cell) +
                 (ask ? Time::us(9) : between(Time::us(900), Time::us(1500)));
        }
    }
    void framed_clock() {
        lines({Wire("CLOCK"), Wire("DATA")}, Time::us(40));
        s_.roles = {{"clock", {"CLOCK"}}, {"data", {"DATA"}}};
        for (int i = 0; i < o_.words; ++i) {
            s_.values.push_back(word(8));
            t_ = say_framed_clock(wires_[0], wires_[1], t_, s_.values.back(), 8, Time::us(40)) +
                 between(Time::us(400), Time::ms(2));
        }
    }
    void clocked() {
        const int mode = static_cast<int>(o_.seed % 4);
        const Time half = Time::us(2);
        lines({Wire("SELECT"), Wire("CLOCK", mode >= 2), Wire("DATA", false)}, half);
        s_.roles = {{"select", {"SELECT"}}, {"clock", {"CLOCK"}}, {"data", {"DATA"}}};
        for (int i = 0; i < o_.words;) {
            wires_[0].set(t_, false);
            t_ += half * 2;
            for (int k = 1 + static_cast<int>(word(2)); k > 0 && i < o_.words; --k, ++i) {
                s_.values.push_back(word(8));
                t_ = say_clocked(wires_[1], wires_[2], t_, s_.values.back(), 8, mode, half) + half;
            }
            t_ += half;
            wires_[0].set(t_, true);
            t_ += between(Time::us(60), Time::us(300));
        }
    }
    void quadrature() {
        lines({Wire("A", false), Wire("B", false)}, Time::us(500));
        s_.roles = {{"a", {"A"}}, {"b", {"B"}}};
        int at = 0;
        static constexpr std::uint64_t states[] = {0, 2, 3, 1};
        for (int i = 0; i < std::max(4, o_.words / 12); ++i) {
            const int steps = static_cast<int>(word(5)) + 2;
            const bool forward = random_.uniform() < 0.6;
            for (int k = 0; k < steps; ++k) {
                at = (at + (forward ? 1 : 3)) % 4;
                s_.values.push_back(states[at]);
            }
            t_ = say_quadrature(wires_[0], wires_[1], t_, forward ? steps : -steps,
                                between(Time::us(500), Time::us(900)));
        }
    }
    void strobed_bus() {
        lines({Wire("STROBE"), Wire("D7"), Wire("D6"), Wire("D5"), Wire("D4"), Wire("D3"), Wire("D2"),
               Wire("D1"), Wire("D0")},
              Time::us(2));
        s_.roles = {{"strobe", {"STROBE"}}, {"data", {"D7", "D6", "D5", "D4", "D3", "D2", "D1", "D0"}}};
        for (int i = 0; i < o_.words; ++i) {
            s_.values.push_back(word(8));
            auto data = take(1, 8);
            t_ = say_strobed(wires_[0], data, t_, s_.values.back(), Time::us(5), Time::us(2), Time::us(4)) +
                 between(Time::us(2), Time::us(4));
            give_back(1, data);
        }
    }
    void usb() {
        const bool full = o_.seed % 2 == 1;
        lines({Wire("DP", full), Wire("DM", !full)}, Time::from_seconds(full ? 1 / 12e6 : 1 / 1.5e6));
        s_.roles = {{"plus", {"DP"}}, {"minus", {"DM"}}};
        const Time bit = shortest_;
        const auto say = [&](const std::vector<std::uint8_t>& bytes, int pause) {
            s_.values.push_back(bytes.front());
            t_ = say_usb(wires_[0], wires_[1], t_, bytes, full) + bit * pause;
        };
        const auto token = [&](std::uint8_t pid, unsigned address, unsigned endpoint) {
            const auto low = static_cast<std::uint32_t>(address | (endpoint << 7U));
            const auto all = low | (static_cast<std::uint32_t>(usb_crc5(low, 11)) << 11U);
            say({pid, static_cast<std::uint8_t>(all & 255U), static_cast<std::uint8_t>(all >> 8U)}, 3);
        };
        for (int i = 0; i + 2 < o_.words; i += 3) {
            token(0x69, 5, 1);  // IN
            std::vector<std::uint8_t> report{static_cast<std::uint8_t>(i % 2 == 0 ? 0xC3 : 0x4B)};
            for (int k = 0; k < 4; ++k) report.push_back(static_cast<std::uint8_t>(word(8)));
            const auto crc = usb_crc16(std::span(report).subspan(1));
            report.push_back(static_cast<std::uint8_t>(crc & 255U));
            report.push_back(static_cast<std::uint8_t>(crc >> 8U));
            say(report, 3);
            say({0xD2}, 600);  // ACK
        }
    }
    void matrix() {
        const Time dwell = Time::us(100);
        lines({Wire("S0"), Wire("S1"), Wire("S2"), Wire("S3"), Wire("K0"), Wire("K1"), Wire("K2")}, dwell);
        s_.roles = {{"strobe", {"S0", "S1", "S2", "S3"}}, {"sense", {"K0", "K1", "K2"}}};
        for (int i = 0; i < o_.words; ++i) {
            std::vector<std::uint64_t> closed(4, 0);
            for (int k = static_cast<int>(word(2)); k > 0; --k) closed[word(2)] |= 1ULL << random_.below(3);
            auto strobes = take(0, 4), senses = take(4, 3);
            t_ = say_matrix(strobes, senses, t_, closed, dwell) + Time::us(600);
            give_back(0, strobes);
            give_back(4, senses);
            std::uint64_t value = 0;  // sense levels in order of arrival: low where closed
            for (const auto row : closed)
                for (int k = 0; k < 3; ++k)
                    value = value << 1U | ((row >> static_cast<unsigned>(k) & 1U) == 0 ? 1U : 0U);
            s_.values.push_back(value);
        }
    }

    const SpeakOptions& o_;
    Random random_;
    Spoken s_;
    std::vector<Wire> wires_;
    Time t_, shortest_;
};

}  // namespace

Spoken speak(std::string_view kind, const SpeakOptions& options) {
    return Talk(options).run(kind);
}

Wire chatter(const std::string& name, std::uint64_t seed, Time end, Time mean) {
    Wire w(name, seed % 2 == 0);
    Random random(seed);
    Time t;
    bool level = seed % 2 == 0;
    for (;;) {
        // Pauses at random, as arrivals are.
        t += Time::ps(1 + static_cast<std::int64_t>(-std::log(1 - random.uniform()) *
                                                    static_cast<double>(mean.count())));
        if (t >= end) return w;
        w.set(t, level = !level);
    }
}

}  // namespace grayrelic::standin
