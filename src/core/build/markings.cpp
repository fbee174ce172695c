// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/build/markings.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/electrical/series.hpp"

namespace grayrelic {
namespace {

struct Colour {
    std::string_view name, three;
    int digit;                        ///< −1: none
    int power;                        ///< of ten, as multiplier
    std::optional<double> tolerance;  ///< a share
    std::optional<double> ppm;
};
// IEC 60062, tables of colours.
const std::array<Colour, 13>& colour_table() {
    static const std::array<Colour, 13> table{{{"black", "blk", 0, 0, {}, 250},
                                               {"brown", "brn", 1, 1, 0.01, 100},
                                               {"red", "red", 2, 2, 0.02, 50},
                                               {"orange", "org", 3, 3, 0.0005, 15},
                                               {"yellow", "yel", 4, 4, 0.0002, 25},
                                               {"green", "grn", 5, 5, 0.005, 20},
                                               {"blue", "blu", 6, 6, 0.0025, 10},
                                               {"violet", "vio", 7, 7, 0.001, 5},
                                               {"grey", "gry", 8, 8, 0.0001, 1},
                                               {"white", "wht", 9, 9, {}, {}},
                                               {"gold", "gld", -1, -1, 0.05, {}},
                                               {"silver", "sil", -1, -2, 0.1, {}},
                                               {"pink", "pnk", -1, -3, {}, {}}}};
    return table;
}

const Colour* colour_named(std::string_view word) {
    std::string lower(word);
    for (auto& c : lower) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    for (const auto& c : colour_table())
        if (lower == c.name || lower == c.three) return &c;
    // Other spellings of the same.
    if (lower == "gray") return colour_named("grey");
    if (lower == "purple") return colour_named("violet");
    return nullptr;
}

bool is_standard(double value) {
    if (value <= 0) return value == 0;
    for (const auto series : {Series::e24, Series::e96})
        if (std::abs(nearest(value, series) / value - 1) < 1e-6) return true;
    return false;
}

std::vector<std::string> marking_words(std::string_view text) {
    std::string plain;
    for (const char c : text) plain += c == '-' || c == ',' || c == '/' || c == '\t' ? ' ' : c;
    std::vector<std::string> out;
    for (const auto w : split(plain, ' '))
        if (!trim(w).empty()) out.emplace_back(trim(w));
    return out;
}

std::optional<MarkedValue> bands_as(const std::vector<const Colour*>& bands, bool turned) {
    const std::size_t digits = bands.size() >= 5 ? 3 : 2;
    MarkedValue v;
    double number = 0;
    for (std::size_t i = 0; i < digits; ++i) {
        if (bands[i]->digit < 0) return std::nullopt;
        number = number * 10 + bands[i]->digit;
    }
    v.value = number * std::pow(10.0, bands[digits]->power);
    v.tolerance = 0.2;  // no band
    if (bands.size() > digits + 1) {
        if (!bands[digits + 1]->tolerance) return std::nullopt;
        v.tolerance = bands[digits + 1]->tolerance;
    }
    if (bands.size() > digits + 2) {
        if (!bands[digits + 2]->ppm) return std::nullopt;
        v.ppm_per_k = bands[digits + 2]->ppm;
    }
    v.standard = is_standard(v.value);
    v.how = fmt::format("{} bands, {} first{}", bands.size(), bands.front()->name,
                        turned ? ", from the other end" : "");
    return v;
}

}  // namespace

Result<std::vector<MarkedValue>> read_bands(std::string_view colours) {
    std::vector<const Colour*> bands;
    for (const auto& w : marking_words(colours)) {
        const auto* c = colour_named(w);
        if (c == nullptr) return fail_usage(in_quotes(w), "a colour such as brown, or brn");
        bands.push_back(c);
    }
    if (bands.size() == 1 && bands[0]->digit == 0) {
        MarkedValue bridge;
        bridge.how = "one black band: a bridge";
        return std::vector{bridge};
    }
    if (bands.size() < 3 || bands.size() > 6)
        return fail_usage(fmt::format("{} bands", bands.size()), "three to six colours");
    std::vector<MarkedValue> out;
    if (const auto v = bands_as(bands, false)) out.push_back(*v);
    std::reverse(bands.begin(), bands.end());
    if (const auto v = bands_as(bands, true);
        v && (out.empty() || v->value != out[0].value || v->tolerance != out[0].tolerance))
        out.push_back(*v);
    if (out.empty())
        return fail_usage(in_quotes(colours), "digits, a multiplier and a tolerance, from either end");
    // A value that is sold goes before one that is not.
    std::stable_sort(out.begin(), out.end(),
                     [](const auto& a, const auto& b) { return a.standard && !b.standard; });
    return out;
}

namespace {

std::optional<double> letter_tolerance(char c) {
    switch (c) {
        case 'B': return 0.001;
        case 'C': return 0.0025;
        case 'D': return 0.005;
        case 'F': return 0.01;
        case 'G': return 0.02;
        case 'J': return 0.05;
        case 'K': return 0.1;
        case 'M': return 0.2;
        case 'N': return 0.3;
        default: return std::nullopt;
    }
}

bool all_digits(std::string_view s) {
    return !s.empty() && std::all_of(s.begin(), s.end(), [](char c) { return c >= '0' && c <= '9'; });
}

double whole(std::string_view s) {
    double v = 0;
    for (const char c : s) v = v * 10 + (c - '0');
    return v;
}

/// What a letter in the place of the point multiplies by; 0 for none.
double letter_scale(char c, bool farads) {
    if (farads) return c == 'p' || c == 'P' ? 1e-12 : c == 'n' ? 1e-9 : c == 'u' ? 1e-6 : c == 'm' ? 1e-3 : 0;
    return c == 'R' ? 1 : c == 'K' || c == 'k' ? 1e3 : c == 'M' ? 1e6 : c == 'G' ? 1e9 : c == 'L' ? 1e-3 : 0;
}

/// "4k7", "R47", "100n": a letter stands for the point and says the multiplier.
std::optional<double> letter_point(std::string_view s, bool farads) {
    const auto at = s.find_first_not_of("0123456789");
    if (at == std::string_view::npos || s.size() < 2) return std::nullopt;
    const double scale = letter_scale(s[at], farads);
    const auto before = s.substr(0, at), behind = s.substr(at + 1);
    if (scale == 0 || (!behind.empty() && !all_digits(behind))) return std::nullopt;
    return (whole(before) + whole(behind) / std::pow(10.0, static_cast<double>(behind.size()))) * scale;
}

void add_resistor(std::string_view s, std::optional<double> tolerance, std::vector<MarkedValue>& out) {
    MarkedValue v;
    v.tolerance = tolerance;
    if (all_digits(s) && (s.size() == 3 || s.size() == 4)) {
        v.value = whole(s.substr(0, s.size() - 1)) * std::pow(10.0, s.back() - '0');
        v.how = fmt::format("{} digits", s.size());
        if (!tolerance) v.tolerance = s.size() == 3 ? 0.05 : 0.01;
    } else if (s.size() == 3 && all_digits(s.substr(0, 2)) && whole(s.substr(0, 2)) >= 1 &&
               whole(s.substr(0, 2)) <= 96 &&
               std::string_view("ZYRXSABHCDEF").find(s[2]) != std::string_view::npos) {
        // The number of a value of E96, and a letter for the power of ten.
        const double base = decade_of(Series::e96)[static_cast<std::size_t>(whole(s.substr(0, 2))) - 1] * 100;
        const char c = s[2];
        const int power = c == 'Z'               ? -3
                          : c == 'Y' || c == 'R' ? -2
                          : c == 'X' || c == 'S' ? -1
                          : c == 'A'             ? 0
                          : c == 'B' || c == 'H' ? 1
                                                 : c - 'A';
        v.value = base * std::pow(10.0, power);
        v.tolerance = 0.01;
        v.how = "a number of E96 and a letter";
    } else if (const auto value = letter_point(s, false)) {
        v.value = *value;
        v.how = "a letter for the point";
    } else if (s == "0") {
        v.how = "a bridge";
    } else {
        return;
    }
    v.standard = is_standard(v.value);
    out.push_back(std::move(v));
}

void add_capacitor(std::string_view s, std::optional<char> letter, std::vector<MarkedValue>& out) {
    MarkedValue v;
    v.as = MarkedAs::farads;
    if (all_digits(s) && s.size() == 3) {
        const int last = s.back() - '0';
        const int power = last == 8 ? -2 : last == 9 ? -1 : last;
        v.value = whole(s.substr(0, 2)) * std::pow(10.0, power) * 1e-12;
        v.how = "3 digits, picofarads";
    } else if (all_digits(s) && s.size() <= 2 && whole(s) > 0) {
        v.value = whole(s) * 1e-12;
        v.how = "picofarads";
    } else if (const auto value = letter_point(s, true)) {
        v.value = *value;
        v.how = "a letter for the point";
    } else {
        return;
    }
    if (letter) {
        constexpr double small = 10e-12;
        // Below 10 pF the letters are picofarads.
        if (v.value < small && std::string_view("BCDFG").find(*letter) != std::string_view::npos)
            v.tolerance_farad = (*letter == 'B'   ? 0.1
                                 : *letter == 'C' ? 0.25
                                 : *letter == 'D' ? 0.5
                                 : *letter == 'F' ? 1.0
                                                  : 2.0) *
                                1e-12;
        else
            v.tolerance = letter_tolerance(*letter);
    }
    v.standard = is_standard(v.value * 1e12);
    out.push_back(std::move(v));
}

}  // namespace

Result<std::vector<MarkedValue>> read_code(std::string_view code, std::optional<MarkedAs> as) {
    std::string s;
    for (const char c : trim(code))
        if (c != ' ') s += c;
    constexpr std::size_t longest = 12;
    const auto bad = [&] {
        return fail_usage(in_quotes(code), "a marking such as 103, 4702, 4R7, 104K, 4n7, or colours");
    };
    if (s.empty() || s.size() > longest) return bad();
    std::vector<MarkedValue> out;
    // Both with and without a last letter that says the tolerance: "4K7J", "104K", but also "47K".
    const char last = s.back();
    const bool lettered = s.size() > 1 && letter_tolerance(last).has_value() &&
                          (s[s.size() - 2] >= '0' && s[s.size() - 2] <= '9');
    const std::string_view whole_code(s), short_code = whole_code.substr(0, s.size() - 1);
    if (!as || as == MarkedAs::ohms) {
        add_resistor(whole_code, std::nullopt, out);
        if (lettered && short_code.size() != 2) add_resistor(short_code, letter_tolerance(last), out);
    }
    if (!as || as == MarkedAs::farads) {
        auto plain = lettered ? short_code : whole_code;
        // A digit and a letter before the code say the voltage: "2A104".
        if (plain.size() == 5 && plain[0] >= '0' && plain[0] <= '9' && plain[1] >= 'A' && plain[1] <= 'K' &&
            all_digits(plain.substr(2)))
            plain = plain.substr(2);
        add_capacitor(plain, lettered ? std::optional(last) : std::nullopt, out);
    }
    std::vector<MarkedValue> once;
    for (auto& v : out)
        if (std::find(once.begin(), once.end(), v) == once.end()) once.push_back(std::move(v));
    if (once.empty()) return bad();
    std::stable_sort(once.begin(), once.end(),
                     [](const auto& a, const auto& b) { return a.standard && !b.standard; });
    return once;
}

Result<std::vector<MarkedValue>> read_marking(std::string_view text, std::optional<MarkedAs> as) {
    const auto words = marking_words(text);
    const bool colours = !words.empty() && std::all_of(words.begin(), words.end(), [](const std::string& w) {
        return colour_named(w) != nullptr;
    });
    return colours ? read_bands(text) : read_code(text, as);
}

std::string print_marked(const MarkedValue& v) {
    auto out = print_number(v.value, v.as == MarkedAs::ohms ? Unit::ohm : Unit::farad);
    if (v.tolerance) out += " \u00b1 " + print_share(*v.tolerance);
    if (v.tolerance_farad) out += " \u00b1 " + print_number(*v.tolerance_farad, Unit::farad);
    if (v.ppm_per_k) out += fmt::format(", {:g} ppm/K", *v.ppm_per_k);
    return out;
}

}  // namespace grayrelic
