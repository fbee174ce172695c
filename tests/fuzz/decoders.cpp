// SPDX-License-Identifier: GPL-3.0-or-later
// Every decoder, identification and the examination of lines on random edges: all of it ends, and words are
// in order.
#include <array>
#include <cstdint>
#include <cstdlib>

#include "core/decode/hunt.hpp"
#include "core/decode/identify.hpp"
#include "core/decode/packets.hpp"
#include "core/signal/line_health.hpp"

namespace {

using namespace grayrelic;

/// Four lines: each byte is a line and a distance, short ones mostly.
Capture random_lines(const std::uint8_t* data, std::size_t size) {
    constexpr std::size_t lines = 4;
    std::vector<std::vector<Time>> edges(lines);
    Time t = Time::us(1);
    for (std::size_t i = 0; i < size; ++i) {
        const unsigned step = data[i] >> 2U;
        t += step > 60 ? Time::ms(step) : Time::ns(50) * (1 + static_cast<std::int64_t>(step));
        auto& line = edges[data[i] & 3U];
        if (line.empty() || line.back() < t) line.push_back(t);
    }
    Capture c;
    c.resolution = Time::ns(10);
    c.extent = {Time{}, t + Time::us(5)};
    for (std::size_t i = 0; i < lines; ++i) {
        std::vector<Span> unknown;
        if (size > 8 && data[i] % 7 == 0) unknown.push_back({Time::us(2), Time::us(4)});
        c.signals.push_back({std::string(1, static_cast<char>('a' + i)), "", SignalKind::digital,
                             std::make_shared<const DigitalWaveform>(data[0] >> i & 1U, edges[i], unknown),
                             nullptr});
    }
    return c;
}

/// A few of the family's settings, each with one of its words, a number, or what is none: every second input
/// has none.
SettingMap settings_from(const Decoder& decoder, const std::uint8_t* data, std::size_t size) {
    SettingMap out;
    if (size % 2 == 0) return out;
    std::size_t at = size / 2;
    for (const auto& s : decoder.settings()) {
        const auto b = data[at++ % size];
        if (b % 3 == 0) continue;
        if (!s.choices.empty() && b % 16 != 1)
            out[s.name] = s.choices[b % s.choices.size()];
        else
            out[s.name] = std::array<const char*, 6>{"8", "3.5us", "9600", "-1", "", "1e9"}[b % 6];
    }
    return out;
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size < 4 || size > 4096) return 0;
    const auto c = random_lines(data + 1, size - 1);
    Progress progress;
    const auto& all = decoders();
    const auto pick = data[0] % (all.size() + 2);
    if (pick == all.size()) {
        const auto list = identify(c, {}, progress);
        if (!list) std::abort();
        for (const auto& x : *list)
            if (!(x.score >= 0 && x.score <= 1)) std::abort();
        return 0;
    }
    if (pick > all.size()) {
        for (const auto& h : examine_lines(c, progress))
            if (h.changes < 0 || h.twitches < 0) std::abort();
        return 0;
    }
    RoleMap roles;
    std::size_t next = 0;
    for (const auto& r : all[pick]->roles()) {
        roles[r.name] = {c.signals[next++ % 4].name};
        if (r.repeated) roles[r.name].push_back(c.signals[next++ % 4].name);
    }
    const auto d = all[pick]->decode(c, roles, settings_from(*all[pick], data, size), progress);
    if (!d) return 0;
    for (std::size_t i = 0; i < d->frames.size(); ++i) {
        const auto& f = d->frames[i];
        if (f.end < f.start || (i > 0 && f.start < d->frames[i - 1].start)) std::abort();
    }
    (void)packets_of(*d, find_packet_rule(*d).value_or(PacketRule{}));
    (void)hunt(takes_at(*d, {{"x", {Time::us(3), Time::us(50)}}}));
    return 0;
}
