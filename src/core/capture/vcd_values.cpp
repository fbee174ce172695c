// SPDX-License-Identifier: GPL-3.0-or-later
// Value changes in the body of a dump (IEEE 1364, 18.2.2): scalars, vectors, reals.
#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>

#include "core/base/text.hpp"
#include "core/capture/vcd_piece_reader.hpp"

namespace grayrelic::vcd_reading {

const VcdVariable* PieceReader::variable(const char* item, std::string_view id) {
    const auto slot = header_.ids.find(id);
    if (slot == VcdNames::none) {
        wrong(id.empty() ? item : id.data(), "an identifier that a $var declared");
        return nullptr;
    }
    return &header_.variables[slot];
}

const char* PieceReader::read_scalar(const char* p, char value) {
    const auto t = text_.token_at(p);
    const auto* v = variable(p, t.substr(1));
    if (v == nullptr) return nullptr;
    if (v->kind == SignalKind::event) {
        add_real(v->first, 1.0);
    } else if (v->kind != SignalKind::digital || v->width != 1) {
        wrong(p, v->kind == SignalKind::digital ? "a vector value like b01x0 for this identifier"
                                                : "a real value like r0.5 for this identifier");
        return nullptr;
    } else {
        change(v->first, value);
    }
    return p + t.size();
}

bool PieceReader::second_token(const char* p, std::string_view first, std::string_view& id) {
    const char* q = p + first.size();
    while (q < text_.limit() && is_vcd_blank(*q)) ++q;
    id = text_.token_at(std::min(q, text_.limit()));
    if (!id.empty()) return true;
    if (text_.last())
        wrong(p, "an identifier that a $var declared");
    else
        starved_ = true;
    return false;
}

const char* PieceReader::read_vector(const char* p) {
    const auto t = text_.token_at(p);
    std::string_view id;
    if (!second_token(p, t, id)) return starved_ ? p : nullptr;
    const auto digits = t.substr(1);
    const auto* v = variable(p, id);
    if (v == nullptr) return nullptr;
    const auto width = v->width;
    const char* expected = nullptr;
    if (v->kind != SignalKind::digital) expected = "a real value like r0.5 for this identifier";
    if (expected == nullptr && (digits.empty() || digits.size() > width)) {
        wrong(p, fmt::format("1 to {} bits for this identifier", width));
        return nullptr;
    }
    if (expected == nullptr && digits.find_first_not_of("01xXzZ") != std::string_view::npos)
        expected = "bits 0, 1, x or z";
    if (expected != nullptr) {
        wrong(p, expected);
        return nullptr;
    }
    const auto plain = [](char c) { return c == 'X' ? 'x' : c == 'Z' ? 'z' : c; };
    // 18.2.1: a short value is extended on the left with 0 after 0 or 1, else with its own first digit.
    const char extension = digits.front() == '1' ? '0' : plain(digits.front());
    const auto missing = width - digits.size();
    for (std::size_t i = 0; i < width; ++i)
        change(v->first + i, i < missing ? extension : plain(digits[i - missing]));
    return id.data() + id.size();
}

const char* PieceReader::read_real(const char* p) {
    const auto t = text_.token_at(p);
    std::string_view id;
    if (!second_token(p, t, id)) return starved_ ? p : nullptr;
    const auto* v = variable(p, id);
    if (v == nullptr) return nullptr;
    double value = 0.0;
    const char* from = p + 1 + (t.size() > 1 && t[1] == '+' ? 1 : 0);
    const auto [q, ec] = std::from_chars(from, p + t.size(), value);
    if (v->kind != SignalKind::real)
        wrong(p, "a digital value for this identifier");
    else if (ec != std::errc{} || q != p + t.size() || !std::isfinite(value))
        wrong(p, "a real value like r0.5");
    else
        add_real(v->first, value);
    return out_.fault ? nullptr : id.data() + id.size();
}

const char* PieceReader::read_string(const char* p) {
    const auto t = text_.token_at(p);
    std::string_view id;
    if (!second_token(p, t, id)) return starved_ ? p : nullptr;
    return id.data() + id.size();
}

void PieceReader::add_real(std::size_t index, double value) {
    if (!out_.has_time) out_.values_before_time = true;
    out_.reals.push_back({index, now_, value});
}

}  // namespace grayrelic::vcd_reading
