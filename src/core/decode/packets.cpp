// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/packets.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <set>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr std::array<std::pair<std::string_view, Checksum>, 6> checksum_words = {
    {{"none", Checksum::none},
     {"sum", Checksum::sum},
     {"neg-sum", Checksum::sum_complement},
     {"xor", Checksum::exclusive_or},
     {"crc8", Checksum::crc8},
     {"crc16", Checksum::crc16}}};
constexpr std::size_t most_bytes = 4096;

std::optional<std::uint8_t> hex_byte(std::string_view text) {
    unsigned v = 0;
    const auto [p, code] = std::from_chars(text.data(), text.data() + text.size(), v, 16);
    if (code != std::errc{} || p != text.data() + text.size() || v > 255) return std::nullopt;
    return static_cast<std::uint8_t>(v);
}

Time pause_of(const Decoding& bytes, const PacketRule& rule) {
    if (rule.gap) return *rule.gap;
    std::vector<Time> lengths;
    for (std::size_t i = 0; i < std::min<std::size_t>(bytes.frames.size(), 2000); ++i)
        lengths.push_back(bytes.frames[i].end - bytes.frames[i].start);
    if (lengths.empty()) return Time::ms(1);
    const auto middle = lengths.begin() + static_cast<std::ptrdiff_t>(lengths.size() / 2);
    std::nth_element(lengths.begin(), middle, lengths.end());
    return *middle * 3;
}

/// The packet that frames [from, to) make.
Frame packet(const Decoding& bytes, std::size_t from, std::size_t to, const PacketRule& rule,
             long long number) {
    Frame f;
    f.start = bytes.frames[from].start;
    f.end = bytes.frames[to - 1].end;
    std::vector<std::uint8_t> values;
    bool broken = false;
    std::string text;
    for (auto i = from; i < to; ++i) {
        const auto& b = bytes.frames[i];
        broken = broken || !b.errors.empty() || !b.value;
        const auto v = static_cast<std::uint8_t>(b.value.value_or(0));
        values.push_back(v);
        text += fmt::format("{}{:02x}", text.empty() ? "" : " ", v);
        for (unsigned k = 8; k-- > 0;) f.levels += (v >> k & 1U) != 0 ? '1' : '0';
        for (int k = 0; k < 8; ++k) f.bit_times.push_back(b.start + (b.end - b.start) * (2 * k + 3) / 20);
    }
    f.value = value_of(f.levels, true);
    f.extra["bytes"] = text;
    f.extra["number"] = number;
    if (broken) f.errors.emplace_back("character");
    if (rule.cut == PacketRule::Cut::length && to - from < rule.length) f.errors.emplace_back("short");
    if (rule.checksum != Checksum::none && !broken) {
        const std::size_t width = rule.checksum == Checksum::crc16 ? 2 : 1;
        if (values.size() <= width) {
            if (f.errors.empty()) f.errors.emplace_back("short");
        } else {
            const auto body = std::span(values).first(values.size() - width);
            if (!std::ranges::equal(checksum_bytes(rule.checksum, body), std::span(values).last(width)))
                f.errors.emplace_back("checksum");
        }
    }
    return f;
}

}  // namespace

std::string_view word(Checksum c) {
    for (const auto& [name, kind] : checksum_words)
        if (kind == c) return name;
    return "none";
}

std::optional<Checksum> checksum_of(std::string_view text) {
    for (const auto& [name, kind] : checksum_words)
        if (name == text) return kind;
    return std::nullopt;
}

std::vector<std::uint8_t> checksum_bytes(Checksum kind, std::span<const std::uint8_t> bytes) {
    std::uint8_t sum = 0, both = 0, crc8 = 0;
    std::uint16_t crc16 = 0xFFFF;
    for (const auto b : bytes) {
        sum = static_cast<std::uint8_t>(sum + b);
        both ^= b;
        crc8 ^= b;
        crc16 ^= b;
        for (int k = 0; k < 8; ++k) {
            crc8 = static_cast<std::uint8_t>((crc8 & 0x80U) != 0 ? (crc8 << 1U) ^ 0x07U : crc8 << 1U);
            crc16 = static_cast<std::uint16_t>((crc16 & 1U) != 0 ? (crc16 >> 1U) ^ 0xA001U : crc16 >> 1U);
        }
    }
    switch (kind) {
        case Checksum::none: return {};
        case Checksum::sum: return {sum};
        case Checksum::sum_complement: return {static_cast<std::uint8_t>(-sum)};
        case Checksum::exclusive_or: return {both};
        case Checksum::crc8: return {crc8};
        case Checksum::crc16:
            return {static_cast<std::uint8_t>(crc16 & 255U), static_cast<std::uint8_t>(crc16 >> 8U)};
    }
    return {};
}

Result<PacketRule> parse_packet_rule(std::string_view text) {
    const std::string expected =
        "pause, length:6, delimiter:0D or sync:80/80, with +sum, +neg-sum, +xor, +crc8 or +crc16, and @2ms "
        "for the pause";
    const auto wrong = [&] { return fail_usage("packets " + in_quotes(text), expected); };
    PacketRule r;
    auto rest = text;
    if (const auto at = rest.find('@'); at != std::string_view::npos) {
        const auto t = parse_time(rest.substr(at + 1));
        if (!t || *t <= Time{}) return wrong();
        r.gap = *t;
        rest = rest.substr(0, at);
    }
    if (const auto plus = rest.find('+'); plus != std::string_view::npos) {
        const auto c = checksum_of(rest.substr(plus + 1));
        if (!c) return wrong();
        r.checksum = *c;
        rest = rest.substr(0, plus);
    }
    const auto colon = rest.find(':');
    const auto kind = rest.substr(0, colon),
               value = colon == std::string_view::npos ? std::string_view() : rest.substr(colon + 1);
    if (kind == "pause" && value.empty()) return r;
    if (kind == "length") {
        const auto [p, code] = std::from_chars(value.data(), value.data() + value.size(), r.length);
        if (code != std::errc{} || p != value.data() + value.size() || r.length == 0 || r.length > most_bytes)
            return wrong();
        r.cut = PacketRule::Cut::length;
        return r;
    }
    if (kind == "delimiter") {
        const auto b = hex_byte(value);
        if (!b) return wrong();
        r.cut = PacketRule::Cut::delimiter;
        r.delimiter = *b;
        return r;
    }
    if (kind == "sync") {
        const auto slash = value.find('/');
        const auto bits = hex_byte(value.substr(0, slash)),
                   mask = slash == std::string_view::npos ? bits : hex_byte(value.substr(slash + 1));
        if (!bits || !mask || *mask == 0 || (*bits & ~*mask) != 0) return wrong();
        r.cut = PacketRule::Cut::sync;
        r.sync_bits = *bits;
        r.sync_mask = *mask;
        return r;
    }
    return wrong();
}

std::string print_packet_rule(const PacketRule& r) {
    std::string out;
    switch (r.cut) {
        case PacketRule::Cut::pause: out = "pause"; break;
        case PacketRule::Cut::length: out = fmt::format("length:{}", r.length); break;
        case PacketRule::Cut::delimiter: out = fmt::format("delimiter:{:02X}", r.delimiter); break;
        case PacketRule::Cut::sync: out = fmt::format("sync:{:02X}/{:02X}", r.sync_bits, r.sync_mask); break;
    }
    if (r.checksum != Checksum::none) out += "+" + std::string(word(r.checksum));
    if (r.gap) {
        auto gap = print_exact(*r.gap);
        std::erase(gap, ' ');
        out += "@" + gap;
    }
    return out;
}

Decoding packets_of(const Decoding& bytes, const PacketRule& rule) {
    Decoding out;
    out.kind = "packets";
    out.settings["rule"] = print_packet_rule(rule);
    const Time pause = pause_of(bytes, rule);
    const auto& f = bytes.frames;
    long long number = 0;
    for (std::size_t i = 0; i < f.size();) {
        auto end = i + 1;
        const auto ends = [&](std::size_t next) {
            if (next - i >= most_bytes || f[next].start - f[next - 1].end > pause) return true;
            switch (rule.cut) {
                case PacketRule::Cut::pause: return false;
                case PacketRule::Cut::length: return next - i >= rule.length;
                case PacketRule::Cut::delimiter: return f[next - 1].value == rule.delimiter;
                case PacketRule::Cut::sync:
                    return f[next].value && (*f[next].value & rule.sync_mask) == rule.sync_bits;
            }
            return false;
        };
        while (end < f.size() && !ends(end)) ++end;
        out.frames.push_back(packet(bytes, i, end, rule, ++number));
        i = end;
    }
    for (const auto& p : out.frames)
        for (const auto& e : p.errors) ++out.error_counts[e];
    return out;
}

std::optional<PacketRule> find_packet_rule(const Decoding& bytes) {
    const auto bad = [](const Decoding& d) {
        return static_cast<double>(d.frames_with_errors()) /
               static_cast<double>(std::max<std::size_t>(1, d.frames.size()));
    };
    PacketRule rule;
    auto packets = packets_of(bytes, rule);
    if (packets.frames.size() < 3) {
        // No pauses: a byte whose top bit alone is set at equal distances begins each.
        for (const std::uint8_t mask : {std::uint8_t{0x80}, std::uint8_t{0x40}, std::uint8_t{0xC0}}) {
            PacketRule sync;
            sync.cut = PacketRule::Cut::sync;
            sync.sync_mask = sync.sync_bits = mask;
            const auto p = packets_of(bytes, sync);
            std::set<std::size_t> lengths;
            for (std::size_t i = 1; i + 1 < p.frames.size(); ++i) lengths.insert(p.frames[i].levels.size());
            if (lengths.size() == 1 && *lengths.begin() > 8) rule = sync, packets = p;
        }
        if (packets.frames.size() < 3) return std::nullopt;
    } else {
        std::set<std::size_t> lengths;
        std::set<std::string> tails;
        for (const auto& p : packets.frames) {
            lengths.insert(p.levels.size() / 8);
            tails.insert(p.levels.substr(p.levels.size() - 8));
        }
        if (lengths.size() == 1) {
            rule.cut = PacketRule::Cut::length;
            rule.length = *lengths.begin();
        } else if (tails.size() == 1) {
            rule.cut = PacketRule::Cut::delimiter;
            rule.delimiter = static_cast<std::uint8_t>(value_of(*tails.begin(), true).value_or(0));
        }
    }
    const auto plain = bad(packets);
    std::set<std::string> different;
    for (const auto& p : packets.frames) different.insert(p.levels);
    // By chance a checksum byte fits one packet in 256; three different ones do not fit by chance.
    if (different.size() >= 3)
        for (const auto kind : {Checksum::exclusive_or, Checksum::sum, Checksum::sum_complement,
                                Checksum::crc8, Checksum::crc16}) {
            auto with = rule;
            with.checksum = kind;
            const auto p = packets_of(bytes, with);
            const auto misses = p.error_counts.count("checksum") == 0 ? 0 : p.error_counts.at("checksum");
            if (bad(p) <= plain + 0.02 ||
                static_cast<double>(misses) <= 0.05 * static_cast<double>(p.frames.size()))
                return with;
        }
    return rule;
}

}  // namespace grayrelic
