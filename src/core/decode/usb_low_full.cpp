// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/usb_low_full.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/decode/settings.hpp"

namespace grayrelic {

std::uint8_t usb_crc5(std::uint32_t value, int bits) {
    std::uint8_t crc = 0x1F;
    for (int i = 0; i < bits; ++i) {
        const bool in = ((value >> static_cast<unsigned>(i)) & 1U) != 0;
        const bool top = (crc & 0x10U) != 0;
        crc = static_cast<std::uint8_t>((crc << 1U) & 0x1FU);
        if (in != top) crc ^= 0x05;
    }
    // Sent most significant first, complemented: as a number read least significant first.
    std::uint8_t out = 0;
    for (unsigned i = 0; i < 5; ++i)
        if ((crc >> (4 - i) & 1U) == 0) out |= static_cast<std::uint8_t>(1U << i);
    return out;
}

std::uint16_t usb_crc16(std::span<const std::uint8_t> data) {
    std::uint16_t crc = 0xFFFF;  // bit-reversed register: least significant first throughout
    for (const auto byte : data) {
        crc ^= byte;
        for (int i = 0; i < 8; ++i)
            crc = static_cast<std::uint16_t>((crc & 1U) != 0 ? (crc >> 1U) ^ 0xA001U : crc >> 1U);
    }
    return static_cast<std::uint16_t>(~crc);
}

std::string_view usb_pid_name(unsigned nibble) {
    static constexpr std::array<std::string_view, 16> names = {
        "reserved", "OUT", "ACK", "DATA0", "reserved", "SOF",   "reserved", "reserved",
        "reserved", "IN",  "NAK", "DATA1", "PRE",      "SETUP", "STALL",    "reserved"};
    return names[nibble & 15U];
}

namespace {

enum class State : std::uint8_t { j, k, se0, se1 };

struct Stay {
    Time from, to;
    State state;
};

/// States of the pair in order; those shorter than `least` are the skew of two edges and belong to the next.
std::vector<Stay> states_of(const DigitalWaveform& plus, const DigitalWaveform& minus, bool full, Span extent,
                            Time least) {
    std::vector<Stay> out;
    const auto ep = plus.edges(), em = minus.edges();
    std::size_t i = 0, j = 0;
    Time from = extent.from;
    const auto state = [&] {
        const bool p = plus.level_after(i), m = minus.level_after(j);
        return p == m ? (p ? State::se1 : State::se0) : p == full ? State::j : State::k;
    };
    const auto add = [&](Time to, State s) {
        if (to <= from) return;
        if (!out.empty() && to - from < least && s >= State::se0) {
            out.back().to = to;  // skew: the old state lasts a little longer
        } else if (!out.empty() && out.back().state == s) {
            out.back().to = to;
        } else {
            out.push_back({from, to, s});
        }
        from = to;
    };
    while (i < ep.size() || j < em.size()) {
        const Time t = j == em.size() || (i < ep.size() && ep[i] <= em[j]) ? ep[i] : em[j];
        const auto s = state();
        if (i < ep.size() && ep[i] == t) ++i;
        if (j < em.size() && em[j] == t) ++j;
        add(t, s);
    }
    add(std::max(extent.to, from), state());
    return out;
}

/// Shortest stay that is not rare, in picoseconds.
double shortest_stay(const std::vector<Stay>& stays) {
    std::vector<double> lengths;
    for (const auto& s : stays)
        if (s.state <= State::k) lengths.push_back(static_cast<double>((s.to - s.from).count()));
    if (lengths.empty()) return 0;
    const auto at = lengths.begin() + static_cast<std::ptrdiff_t>(lengths.size() / 20);
    std::nth_element(lengths.begin(), at, lengths.end());
    return *at;
}

struct Packet {
    Time start, end;
    std::vector<char> bits;  ///< behind SYNC, unstuffed
    std::vector<Time> times;
    bool sync_fine = true, stuffing_fine = true, ended = true;
};

class Reader {
  public:
    Reader(const std::vector<Stay>& stays, double bit_ps) : stays_(stays), bit_(bit_ps) {}

    /// The packet whose first K is stay `at`; moves `at` behind it.
    Packet read(std::size_t& at) const {
        Packet p;
        p.start = stays_[at].from;
        std::vector<char> raw;
        std::vector<Time> when;
        State last = State::j;
        for (; at < stays_.size(); ++at) {
            const auto& s = stays_[at];
            if (s.state >= State::se0) break;
            const auto length = static_cast<double>((s.to - s.from).count());
            const auto n = static_cast<long>(std::lround(length / bit_));
            if (n > 9) {  // the line rests: no end of packet came
                p.ended = false;
                break;
            }
            for (long k = 0; k < n; ++k) {
                raw.push_back(s.state == last ? 1 : 0);
                when.push_back(Time::ps(s.from.count() +
                                        static_cast<std::int64_t>((static_cast<double>(k) + 0.5) * bit_)));
                last = s.state;
            }
        }
        p.end = at < stays_.size() ? (stays_[at].state == State::se0 ? stays_[at].to : stays_[at].from)
                                   : stays_.back().to;
        unstuff(raw, when, p);
        return p;
    }

  private:
    static void unstuff(const std::vector<char>& raw, const std::vector<Time>& when, Packet& p) {
        // SYNC ends in 00000001; hubs may eat its first bits.
        std::size_t i = 0;
        while (i < raw.size() && raw[i] == 0) ++i;
        p.sync_fine = i >= 3 && i <= 8 && i < raw.size();
        int ones = i < raw.size() ? 1 : 0;  // the 1 that ends SYNC counts
        for (++i; i < raw.size(); ++i) {
            if (ones == 6) {
                if (raw[i] != 0) p.stuffing_fine = false;
                ones = 0;
                if (raw[i] == 0) continue;
            }
            p.bits.push_back(raw[i]);
            p.times.push_back(when[i]);
            ones = raw[i] != 0 ? ones + 1 : 0;
        }
    }
    const std::vector<Stay>& stays_;
    double bit_;
};

std::uint32_t number(const std::vector<char>& bits, std::size_t from, std::size_t count) {
    std::uint32_t v = 0;
    for (std::size_t i = 0; i < count && from + i < bits.size(); ++i)
        v |= static_cast<std::uint32_t>(bits[from + i] != 0) << i;
    return v;
}

Frame frame_of(const Packet& p) {
    Frame f;
    f.start = p.start;
    f.end = p.end;
    for (const char b : p.bits) f.levels += b != 0 ? '1' : '0';
    f.bit_times.reserve(p.times.size());
    for (const auto t : p.times) f.bit_times.push_back(t);
    if (!p.sync_fine) f.errors.emplace_back("sync");
    if (!p.stuffing_fine) f.errors.emplace_back("stuffing");
    if (p.bits.size() < 8) {
        f.errors.emplace_back("length");
        f.extra["pid"] = std::string("none");
        return f;
    }
    const auto pid = number(p.bits, 0, 8);
    f.value = pid;
    const auto nibble = pid & 15U;
    f.extra["pid"] = std::string(usb_pid_name(nibble));
    if ((pid >> 4U) != (~nibble & 15U)) {
        f.errors.emplace_back("pid");
        return f;
    }
    const auto payload = p.bits.size() - 8;
    if (nibble == 1 || nibble == 9 || nibble == 13 || nibble == 5) {
        if (payload != 16) f.errors.emplace_back("length");
        if (nibble == 5) {
            f.extra["frame"] = static_cast<long long>(number(p.bits, 8, 11));
        } else {
            f.extra["address"] = static_cast<long long>(number(p.bits, 8, 7));
            f.extra["endpoint"] = static_cast<long long>(number(p.bits, 15, 4));
        }
        if (payload >= 16 && usb_crc5(number(p.bits, 8, 11), 11) != number(p.bits, 19, 5))
            f.errors.emplace_back("crc");
    } else if (nibble == 3 || nibble == 11) {
        if (payload % 8 != 0 || payload < 16) {
            f.errors.emplace_back("length");
        } else {
            std::vector<std::uint8_t> bytes;
            for (std::size_t i = 8; i < p.bits.size(); i += 8)
                bytes.push_back(static_cast<std::uint8_t>(number(p.bits, i, 8)));
            const std::uint16_t sent =
                static_cast<std::uint16_t>(bytes[bytes.size() - 2] | (bytes[bytes.size() - 1] << 8U));
            bytes.resize(bytes.size() - 2);
            if (usb_crc16(bytes) != sent) f.errors.emplace_back("crc");
            std::string text;
            for (const auto b : bytes) text += fmt::format("{}{:02x}", text.empty() ? "" : " ", b);
            f.extra["data"] = text;
        }
    }
    return f;
}

class UsbLowFull final : public Decoder {
  public:
    std::string kind() const override { return "usb-low-full"; }
    std::string about() const override {
        return "The modern side's bus at 1.5 or 12 million bits a second: packets, checks, handshakes, "
               "resets.";
    }
    std::vector<RoleSpec> roles() const override {
        return {{"plus", false, false, "data plus"}, {"minus", false, false, "data minus"}};
    }
    std::vector<SettingSpec> settings() const override {
        return {{"speed", {"low", "full"}, "low rests with minus high, full with plus high"}};
    }

  protected:
    Result<Decoding> run(const Input& input, Progress& progress) const override {
        const auto& plus = input.role("plus");
        const auto& minus = input.role("minus");
        if (plus.edges().empty() && minus.edges().empty()) return Decoding{};
        const auto setting = input.setting("speed");
        const bool full = setting ? *setting == "full" : find_full(plus, minus, input.extent);
        const double nominal = full ? 1e12 / 12e6 : 1e12 / 1.5e6;
        const auto stays =
            states_of(plus, minus, full, input.extent, Time::ps(static_cast<std::int64_t>(nominal * 0.4)));
        Decoding out;
        out.settings["speed"] = std::string(full ? "full" : "low");
        const Reader reader(stays, nominal);
        long keep_alive = 0, resets = 0;
        std::vector<std::size_t> stay_of;
        for (std::size_t i = 0; i < stays.size();) {
            if ((i & 4095U) == 0) {
                progress.report(static_cast<double>(i) / static_cast<double>(stays.size()));
                if (progress.cancelled()) return fail_cancelled();
            }
            const auto& s = stays[i];
            const auto length = static_cast<double>((s.to - s.from).count());
            if (s.state == State::k && (i == 0 || stays[i - 1].state != State::k) && length < 9.5 * nominal) {
                const auto p = reader.read(i);
                if (p.bits.size() < 3 && !p.sync_fine) continue;  // a twitch of the lines, no packet
                out.frames.push_back(frame_of(p));
                if (!p.ended) out.frames.back().errors.emplace_back("length");
                continue;
            }
            if (s.state == State::se0 && length >= 2.5e6) {
                Frame f;
                f.start = s.from;
                f.end = s.to;
                f.extra["pid"] = std::string("RESET");
                out.frames.push_back(std::move(f));
                ++resets;
            } else if (s.state == State::se0 && length > 1.5 * nominal &&
                       (i == 0 ||
                        static_cast<double>((stays[i - 1].to - stays[i - 1].from).count()) > 9.5 * nominal)) {
                ++keep_alive;
            }
            ++i;
        }
        find_silence(out.frames, nominal, input.extent.to);
        out.counts = {{"resets", resets}, {"keep_alive", keep_alive}};
        progress.report(1.0);
        return out;
    }

  private:
    static bool find_full(const DigitalWaveform& plus, const DigitalWaveform& minus, Span extent) {
        const auto stays = states_of(plus, minus, true, extent, Time{});
        Time j, k;
        for (const auto& s : stays)
            if (s.state <= State::k) (s.state == State::j ? j : k) += s.to - s.from;
        // A bus without rest tells by its rate.
        const double shortest = shortest_stay(stays);
        if (shortest > 0 && shortest < 250e3) return true;
        if (shortest > 400e3) return false;
        return j >= k;
    }

    static std::string_view pid(const Frame& f) {
        const auto it = f.extra.find("pid");
        return it == f.extra.end() ? std::string_view() : std::string_view(std::get<std::string>(it->second));
    }

    /// Packets that ask for an answer, and the one that follows.
    static void find_silence(std::vector<Frame>& frames, double bit, Time end) {
        for (std::size_t i = 0; i < frames.size(); ++i) {
            auto& f = frames[i];
            const auto p = pid(f);
            const bool data = p == "DATA0" || p == "DATA1";
            const bool token = p == "IN" || p == "OUT" || p == "SETUP";
            if (!data && !token) continue;
            if (!f.errors.empty()) continue;
            const bool last = i + 1 == frames.size();
            // Nothing is missed yet when the capture ends.
            const auto wait = [&](Time until) { return static_cast<double>((until - f.end).count()) / bit; };
            if (last && wait(end) < 18) continue;
            const auto next = last ? std::string_view() : pid(frames[i + 1]);
            const bool answered =
                !last && wait(frames[i + 1].start) <= 18 &&
                (p == "IN" ? next == "DATA0" || next == "DATA1" || next == "NAK" || next == "STALL"
                 : token   ? next == "DATA0" || next == "DATA1"
                           : next == "ACK" || next == "NAK" || next == "STALL");
            if (!answered) f.errors.emplace_back("no-answer");
        }
    }
};

}  // namespace

std::unique_ptr<Decoder> make_usb_low_full() {
    return std::make_unique<UsbLowFull>();
}

}  // namespace grayrelic
