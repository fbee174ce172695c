// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.hpp"

#include <fmt/format.h>

#include <cstdint>

#include "core/base/quantity.hpp"

namespace grayrelic {

std::string_view trim(std::string_view text) {
    const auto space = [](char c) {
        return c == ' ' || c == '\t' || c == '\r' || c == '\n' || c == '\f' || c == '\v';
    };
    while (!text.empty() && space(text.front())) text.remove_prefix(1);
    while (!text.empty() && space(text.back())) text.remove_suffix(1);
    return text;
}

std::vector<std::string_view> split(std::string_view text, char separator) {
    std::vector<std::string_view> parts;
    std::size_t from = 0;
    for (;;) {
        const auto to = text.find(separator, from);
        parts.push_back(text.substr(from, to == std::string_view::npos ? to : to - from));
        if (to == std::string_view::npos) return parts;
        from = to + 1;
    }
}

namespace {

/// Control characters, those of two bytes too, and bytes that are no text as \xNN; at most so many
/// characters.
std::string shown(std::string_view text, std::size_t most) {
    std::string out;
    const bool plain = is_utf8(text);
    std::size_t characters = 0;
    for (std::size_t i = 0; i < text.size(); ++i) {
        auto c = static_cast<unsigned char>(text[i]);
        const bool continuation = plain && (c & 0xC0U) == 0x80U;
        if (!continuation && characters++ == most) return out + "…";
        const auto next = i + 1 < text.size() ? static_cast<unsigned char>(text[i + 1]) : 0U;
        const bool two_bytes = plain && c == 0xC2 && next >= 0x80 && next < 0xA0;
        if (two_bytes) c = static_cast<unsigned char>(next), ++i;
        if (c < 0x20 || c == 0x7F || two_bytes || (c >= 0x80 && !plain))
            out += fmt::format("\\x{:02X}", c);
        else
            out += static_cast<char>(c);
    }
    return out;
}

}  // namespace

std::string in_quotes(std::string_view text) {
    return '"' + shown(text, 40) + '"';
}

std::string printable(std::string_view text) {
    return shown(text, text.size());
}

std::string escape_markup(std::string_view text) {
    std::string out;
    out.reserve(text.size() + 16);
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        // U+FFFE and U+FFFF are in no XML document.
        if (const auto three = text.substr(i, 3); three == "\xEF\xBF\xBE" || three == "\xEF\xBF\xBF") {
            out += "\xEF\xBF\xBD";
            i += 2;
            continue;
        }
        switch (c) {
            case '&': out += "&amp;"; break;
            case '<': out += "&lt;"; break;
            case '>': out += "&gt;"; break;
            case '"': out += "&quot;"; break;
            case '\'': out += "&#39;"; break;
            default:
                if (static_cast<unsigned char>(c) < 0x20 && c != '\n' && c != '\t')
                    out += "\xEF\xBF\xBD";
                else
                    out += c;
        }
    }
    return out;
}

bool is_utf8(std::string_view text) {
    std::size_t i = 0;
    const auto byte = [&](std::size_t k) { return static_cast<unsigned char>(text[k]); };
    while (i < text.size()) {
        const auto c = byte(i);
        std::size_t more = 0;
        unsigned low = 0x80;
        unsigned high = 0xBF;
        if (c < 0x80) {
            ++i;
            continue;
        }
        if (c >= 0xC2 && c <= 0xDF) {
            more = 1;
        } else if (c >= 0xE0 && c <= 0xEF) {
            more = 2;
            if (c == 0xE0) low = 0xA0;
            if (c == 0xED) high = 0x9F;
        } else if (c >= 0xF0 && c <= 0xF4) {
            more = 3;
            if (c == 0xF0) low = 0x90;
            if (c == 0xF4) high = 0x8F;
        } else {
            return false;
        }
        if (i + more >= text.size()) return false;
        if (byte(i + 1) < low || byte(i + 1) > high) return false;
        for (std::size_t k = 2; k <= more; ++k)
            if ((byte(i + k) & 0xC0U) != 0x80U) return false;
        i += more + 1;
    }
    return true;
}

std::string shortened(std::string_view text, std::size_t most) {
    if (text.size() <= most) return std::string(text);
    auto end = most;
    while (end > 0 && (static_cast<unsigned char>(text[end]) & 0xC0U) == 0x80U) --end;
    return std::string(text.substr(0, end)) + "…";
}

std::string plural(long long n, std::string_view one, std::string_view many) {
    return fmt::format("{} {}", print_count(n), n == 1 ? one : many);
}

std::string to_base64(std::string_view bytes) {
    constexpr std::string_view signs = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    std::string out;
    out.reserve((bytes.size() + 2) / 3 * 4);
    for (std::size_t i = 0; i < bytes.size(); i += 3) {
        const auto part = bytes.substr(i, 3);
        std::uint32_t three = 0;
        for (std::size_t k = 0; k < 3; ++k)
            three = three << 8 | (k < part.size() ? static_cast<unsigned char>(part[k]) : 0U);
        for (std::size_t k = 0; k < 4; ++k)
            out += k <= part.size() ? signs[three >> (18 - 6 * k) & 63U] : '=';
    }
    return out;
}

}  // namespace grayrelic
