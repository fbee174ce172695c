// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/decode/word_table.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <array>

#include "core/base/quantity.hpp"
#include "core/base/table.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr std::array control_names{"NUL", "SOH", "STX", "ETX", "EOT", "ENQ", "ACK", "BEL",
                                   "BS",  "HT",  "LF",  "VT",  "FF",  "CR",  "SO",  "SI",
                                   "DLE", "DC1", "DC2", "DC3", "DC4", "NAK", "SYN", "ETB",
                                   "CAN", "EM",  "SUB", "ESC", "FS",  "GS",  "RS",  "US"};

/// ISO 646: the character, or the name of a control character.
std::string character(std::uint64_t value) {
    constexpr std::uint64_t blank = 0x20, last = 0x7F;
    if (value < blank) return control_names[static_cast<std::size_t>(value)];
    if (value == blank) return "SP";
    return value < last ? std::string(1, static_cast<char>(value)) : value == last ? "DEL" : "";
}

template <class T>
const T* extra(const Frame& f, std::string_view key) {
    const auto it = f.extra.find(key);
    return it == f.extra.end() ? nullptr : std::get_if<T>(&it->second);
}

std::string number(const Frame& f, std::string_view key, std::string_view before) {
    const auto* n = extra<long long>(f, key);
    return n == nullptr ? std::string() : fmt::format("{}{}", before, *n);
}

std::string time_after(const Frame& f, std::string_view key, std::string_view before) {
    const auto* s = extra<double>(f, key);
    return s == nullptr ? std::string() : fmt::format("{} {}", before, print_number(*s, Unit::second));
}

std::string packet(const Frame& f) {
    std::string out = *extra<std::string>(f, "pid");
    out += number(f, "address", " address ") + number(f, "endpoint", " endpoint ") +
           number(f, "frame", " frame ");
    if (const auto* data = extra<std::string>(f, "data")) out += " " + *data;
    return out;
}

std::string joined(const std::vector<std::string>& parts) {
    return fmt::format("{}", fmt::join(parts, " "));
}

std::string lower(std::string_view text) {
    std::string out(text);
    for (auto& c : out)
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
    return out;
}

}  // namespace

WordTable::WordTable(std::shared_ptr<const Decoding> decoding) : decoding_(std::move(decoding)) {
    if (decoding_->kind != "quadrature") return;
    long at = 0;
    positions_.reserve(decoding_->frames.size());
    for (const auto& f : decoding_->frames) {
        if (const auto* step = extra<long long>(f, "step")) at += static_cast<long>(*step);
        positions_.push_back(at);
    }
}

std::string WordTable::text_heading() const {
    const auto& kind = decoding_->kind;
    if (kind == "async-serial") return "character";
    if (kind == "quadrature") return "position";
    if (kind == "usb-low-full") return "packet";
    if (kind == "matrix") return "closed";
    if (kind == "select-bank") return "bank";
    if (kind == "pulse-width") return "side";
    if (kind == "strobed-bus") return "around it";
    return !decoding_->frames.empty() && extra<std::string>(decoding_->frames.front(), "bytes") != nullptr
               ? "bytes"
               : "bits";
}

std::string WordTable::text_of(std::size_t i) const {
    const auto& f = decoding_->frames[i];
    if (!positions_.empty()) return std::to_string(positions_[i]);
    if (extra<std::string>(f, "pid") != nullptr) return packet(f);
    if (const auto* bytes = extra<std::string>(f, "bytes")) return *bytes;
    if (const auto* closed = extra<std::vector<std::pair<std::string, std::string>>>(f, "closed")) {
        std::vector<std::string> pairs;
        for (const auto& [strobe, sense] : *closed) pairs.push_back(strobe + "+" + sense);
        return joined(pairs);
    }
    if (decoding_->kind == "async-serial") return f.value ? character(*f.value) : "";
    if (f.extra.count("bank") != 0) return number(f, "bank", "bank ") + " " + f.levels;
    if (const auto* side = extra<long long>(f, "side"))
        return *side == 1 ? "command" : *side == 2 ? "answer" : fmt::format("side {}", *side);
    if (f.extra.count("setup_s") != 0) {
        const auto before = time_after(f, "setup_s", "set up"), after = time_after(f, "hold_s", "held");
        return before.empty() || after.empty() ? before + after : before + ", " + after;
    }
    return f.levels;
}

WordRow WordTable::row(std::size_t i) const {
    const auto& f = decoding_->frames[i];
    return {f.start, f.end, f.value ? fmt::format("0x{:X}", *f.value) : std::string(), text_of(i),
            joined(f.errors)};
}

std::optional<std::size_t> WordTable::find(std::string_view typed, std::size_t from, bool forward,
                                           Progress& progress) const {
    const auto wanted = lower(typed);
    const std::size_t n = size();
    if (wanted.empty() || n == 0) return std::nullopt;
    for (std::size_t k = 0; k < n; ++k) {
        if ((k & 4095U) == 0 && progress.cancelled()) return std::nullopt;
        const std::size_t i = forward ? (from + k) % n : (from + n - k % n) % n;
        const auto r = row(i);
        for (const auto& cell : {r.value, r.text, decoding_->frames[i].levels, r.errors})
            if (lower(cell).find(wanted) != std::string::npos) return i;
    }
    return std::nullopt;
}

std::size_t WordTable::row_at(Time t) const {
    const auto& f = decoding_->frames;
    if (f.empty()) return 0;
    const auto it = std::partition_point(f.begin(), f.end(), [&](const Frame& x) { return x.end < t; });
    return std::min(static_cast<std::size_t>(it - f.begin()), f.size() - 1);
}

std::string WordTable::csv(Progress& progress) const {
    std::string out = "start_s,end_s,value,text,levels,errors\r\n";
    for (std::size_t i = 0; i < size(); ++i) {
        if ((i & 4095U) == 0) {
            progress.report(static_cast<double>(i) / static_cast<double>(size()));
            if (progress.cancelled()) return {};
        }
        const auto r = row(i);
        out += fmt::format("{:.12f},{:.12f},{},{},{},{}\r\n", r.start.seconds(), r.end.seconds(), r.value,
                           table_cell(r.text), decoding_->frames[i].levels, table_cell(r.errors));
    }
    return out;
}

}  // namespace grayrelic
