// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/dossier/reading_text.hpp"

#include <cmath>
#include <limits>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr const char* expected_reading =
    "beep, open, an ohm value such as 4k7, or a diode drop such as 0.62V";
constexpr double most_ohm = 1e12;
constexpr double most_drop_v = 10.0;
constexpr double over = std::numeric_limits<double>::infinity();

std::string lower(std::string_view text) {
    std::string out(trim(text));
    for (auto& c : out)
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
    return out;
}

bool is_over(const std::string& word) {
    return word == "ol" || word == "o.l" || word == "o.l." || word == "over" || word == "inf";
}

/// A drop ends in V or has one as its decimal point; an ohm value never does.
bool is_drop(const std::string& word) {
    return word.find('v') != std::string::npos;
}

Result<double> drop(std::string_view text) {
    const auto word = lower(text);
    if (is_over(word)) return over;
    const auto v = parse_number(trim(text), Unit::volt);
    if (!v) return fail_at({}, 0, in_quotes(text), expected_reading);
    if (!(std::abs(*v) <= most_drop_v))
        return fail_at({}, 0, in_quotes(text), "a diode drop of at most 10 V");
    return *v;
}

std::string ascii_number(double value, Unit unit) {
    auto text = print_exact(value, unit);
    const auto replace = [&](std::string_view from, std::string_view to) {
        for (auto at = text.find(from); at != std::string::npos; at = text.find(from, at + to.size()))
            text.replace(at, from.size(), to);
    };
    replace("µ", "u");
    replace("Ω", "ohm");
    replace("−", "-");
    return text;
}

std::string text_of(const MeterReading& r, std::string (*number)(double, Unit), const char* slash) {
    const auto drop_text = [&](double v) {
        return std::isinf(v) ? std::string("OL") : number(v, Unit::volt);
    };
    switch (r.kind) {
        case MeterReadingKind::beep: return "beep";
        case MeterReadingKind::open: return "open";
        case MeterReadingKind::ohms:
            return !r.ohm || std::isinf(*r.ohm) ? std::string("OL") : number(*r.ohm, Unit::ohm);
        case MeterReadingKind::diode: break;
    }
    return drop_text(r.forward_v.value_or(over)) + (r.backward_v ? slash + drop_text(*r.backward_v) : "");
}

}  // namespace

Result<MeterReading> parse_reading(std::string_view text) {
    MeterReading r;
    const auto word = lower(text);
    if (word.empty()) return fail_at({}, 0, "no reading", expected_reading);
    if (word == "beep" || word == "b") return r;
    r.kind = MeterReadingKind::open;
    if (word == "open" || word == "o") return r;
    if (const auto slash = word.find('/'); slash != std::string::npos) {
        const auto one = drop(word.substr(0, slash)), two = drop(word.substr(slash + 1));
        if (!one) return fail(one.error());
        if (!two) return fail(two.error());
        r.kind = MeterReadingKind::diode;
        r.forward_v = *one;
        r.backward_v = *two;
        return r;
    }
    if (is_over(word)) {
        r.kind = MeterReadingKind::ohms;
        r.ohm = over;
        return r;
    }
    if (is_drop(word)) {
        const auto v = drop(text);
        if (!v) return fail(v.error());
        r.kind = MeterReadingKind::diode;
        r.forward_v = *v;
        return r;
    }
    const auto ohm = parse_number(trim(text), Unit::ohm);
    if (!ohm) return fail_at({}, 0, in_quotes(text), expected_reading);
    if (*ohm < 0.0) return fail_at({}, 0, in_quotes(text), "an ohm value of 0 or more");
    if (*ohm > most_ohm) return fail_at({}, 0, in_quotes(text), "an ohm value of at most 1 T\u03a9, or OL");
    r.kind = MeterReadingKind::ohms;
    r.ohm = *ohm;
    return r;
}

std::string show_reading(const MeterReading& r) {
    return text_of(r, print_exact, " / ");
}

std::string write_reading(const MeterReading& r) {
    return text_of(r, ascii_number, "/");
}

}  // namespace grayrelic
