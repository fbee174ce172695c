// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/quantity.hpp"

#include <fmt/format.h>

#include <array>
#include <charconv>
#include <cmath>
#include <cstdlib>

#include "core/base/decimal.hpp"
#include "core/base/text.hpp"

namespace grayrelic {
namespace {

struct Prefix {
    std::string_view text;
    int exponent;
};
// Longer spellings first: "µ" and "μ" are the micro sign and the Greek letter, two bytes each.
constexpr std::array<Prefix, 12> prefixes{{{"µ", -6},
                                           {"μ", -6},
                                           {"f", -15},
                                           {"p", -12},
                                           {"n", -9},
                                           {"u", -6},
                                           {"m", -3},
                                           {"k", 3},
                                           {"K", 3},
                                           {"M", 6},
                                           {"G", 9},
                                           {"T", 12}}};

struct Spelling {
    std::string_view text;
    Unit unit;
};
constexpr std::array<Spelling, 20> spellings{
    {{"seconds", Unit::second}, {"second", Unit::second}, {"sec", Unit::second}, {"s", Unit::second},
     {"Hz", Unit::hertz},       {"hz", Unit::hertz},      {"HZ", Unit::hertz},   {"V", Unit::volt},
     {"v", Unit::volt},         {"A", Unit::ampere},      {"Ω", Unit::ohm},      {"Ω", Unit::ohm},
     {"ohms", Unit::ohm},       {"ohm", Unit::ohm},       {"R", Unit::ohm},      {"F", Unit::farad},
     {"W", Unit::watt},         {"m", Unit::metre},       {"Bd", Unit::baud},    {"baud", Unit::baud}}};

struct Suffix {
    int exponent = 0;
    std::optional<Unit> unit;
};

std::optional<Suffix> parse_suffix(std::string_view text, Unit wanted) {
    if (text.empty()) return Suffix{};
    const auto unit_named = [](std::string_view rest) -> std::optional<Unit> {
        for (const auto& s : spellings)
            if (s.text == rest) return s.unit;
        return std::nullopt;
    };
    // A bare "m" is metres only where metres are wanted; elsewhere it is milli.
    if (const auto unit = unit_named(text); unit && (*unit != Unit::metre || wanted == Unit::metre))
        return Suffix{0, unit};
    for (const auto& p : prefixes) {
        if (!text.starts_with(p.text)) continue;
        const auto rest = text.substr(p.text.size());
        if (rest.empty()) return Suffix{p.exponent, std::nullopt};
        if (const auto unit = unit_named(rest)) return Suffix{p.exponent, unit};
    }
    return std::nullopt;
}

bool is_digit(char c) {
    return c >= '0' && c <= '9';
}

/// The length of a leading decimal number: digits, at most one point, an exponent only where digits follow
/// it.
std::size_t number_length(std::string_view t) {
    std::size_t i = 0;
    if (i < t.size() && (t[i] == '-' || t[i] == '+')) ++i;
    const auto digits_from = i;
    while (i < t.size() && is_digit(t[i])) ++i;
    if (i < t.size() && t[i] == '.') {
        ++i;
        while (i < t.size() && is_digit(t[i])) ++i;
    }
    if (i == digits_from || (i == digits_from + 1 && t[digits_from] == '.')) return 0;
    if (i < t.size() && (t[i] == 'e' || t[i] == 'E')) {
        std::size_t j = i + 1;
        if (j < t.size() && (t[j] == '-' || t[j] == '+')) ++j;
        if (j < t.size() && is_digit(t[j])) {
            while (j < t.size() && is_digit(t[j])) ++j;
            i = j;
        }
    }
    return i;
}

std::string_view example_of(Unit unit) {
    switch (unit) {
        case Unit::second: return "a time like 2.2us";
        case Unit::hertz: return "a frequency like 11.5 kHz";
        case Unit::volt: return "a voltage like 3V3";
        case Unit::ampere: return "a current like 120 mA";
        case Unit::ohm: return "a resistance like 4k7";
        case Unit::farad: return "a capacitance like 100n";
        case Unit::watt: return "a power like 250 mW";
        case Unit::metre: return "a length like 2.5 mm";
        case Unit::baud: return "a rate like 9600";
        case Unit::none: return "a number";
    }
    return "a number";
}

}  // namespace

std::string_view symbol(Unit unit) {
    switch (unit) {
        case Unit::none: return "";
        case Unit::second: return "s";
        case Unit::hertz: return "Hz";
        case Unit::volt: return "V";
        case Unit::ampere: return "A";
        case Unit::ohm: return "Ω";
        case Unit::farad: return "F";
        case Unit::watt: return "W";
        case Unit::metre: return "m";
        case Unit::baud: return "Bd";
    }
    return "";
}

namespace {

/// "4k7" as "4.7" and 3: a plain decimal and the power of ten of its prefix.
struct PlainDecimal {
    std::string digits;
    int exponent = 0;
};

std::optional<PlainDecimal> plain_decimal(std::string_view text, Unit unit) {
    std::string_view t = trim(text);
    std::string signed_text;
    constexpr std::string_view minus = "−";  // as we print it
    if (t.starts_with(minus)) {
        signed_text = "-" + std::string(t.substr(minus.size()));
        t = signed_text;
    }
    const auto length = number_length(t);
    if (length == 0 || t.size() > 64) return {};
    std::string digits(t.substr(0, length));
    std::string_view rest = trim(t.substr(length));
    std::string fraction;
    // "4k7" and "3V3": digits after the letters are the fraction, unless the number already has one.
    if (!rest.empty() && is_digit(rest.back()) && digits.find_first_of(".eE") == std::string::npos) {
        std::size_t i = rest.size();
        while (i > 0 && is_digit(rest[i - 1])) --i;
        fraction = std::string(rest.substr(i));
        rest = rest.substr(0, i);
        if (rest.empty()) return {};
    }
    const auto suffix = parse_suffix(rest, unit);
    if (!suffix) return {};
    if (suffix->unit && *suffix->unit != unit) return {};
    if (!fraction.empty()) digits += "." + fraction;
    if (digits.front() == '+') digits.erase(0, 1);
    // The prefix becomes a decimal exponent in the text, so that 4.7 k is exactly what 4700 is.
    int exponent = suffix->exponent;
    if (const auto e = digits.find_first_of("eE"); e != std::string::npos) {
        int own = 0;
        const char* from = digits.data() + e + 1 + (digits[e + 1] == '+' ? 1 : 0);
        if (std::from_chars(from, digits.data() + digits.size(), own).ec != std::errc{}) return {};
        if (std::abs(own) > 400) return {};
        exponent += own;
        digits.erase(e);
    }
    return PlainDecimal{std::move(digits), exponent};
}

}  // namespace

Result<double> parse_number(std::string_view text, Unit unit) {
    const auto wrong = [&] { return fail_usage(in_quotes(text), std::string(example_of(unit))); };
    const auto plain = plain_decimal(text, unit);
    if (!plain) return wrong();
    const auto digits = fmt::format("{}e{}", plain->digits, plain->exponent);
    double value = 0.0;
    const auto [end, ec] = std::from_chars(digits.data(), digits.data() + digits.size(), value);
    if (ec != std::errc{} || end != digits.data() + digits.size() || !std::isfinite(value)) return wrong();
    return value;
}

Result<Time> parse_time(std::string_view text) {
    const auto plain = plain_decimal(text, Unit::second);
    if (!plain) return fail_usage(in_quotes(text), std::string(example_of(Unit::second)));
    bool inexact = false;
    const auto t = decimal_time(plain->digits, '.', plain->exponent, inexact);
    if (!t) return fail_usage(in_quotes(text), "a time below 53 days");
    return *t;
}

namespace {

struct Scaled {
    double mantissa;
    int exponent;  // a multiple of three
};

Scaled scale(double value) {
    const int e = static_cast<int>(std::floor(std::log10(std::abs(value)) + 1e-12));
    int e3 = static_cast<int>(std::floor(e / 3.0)) * 3;
    e3 = std::max(-15, std::min(12, e3));
    return {value / std::pow(10.0, e3), e3};
}

std::string_view prefix_for(int exponent) {
    switch (exponent) {
        case -15: return "f";
        case -12: return "p";
        case -9: return "n";
        case -6: return "µ";
        case -3: return "m";
        case 3: return "k";
        case 6: return "M";
        case 9: return "G";
        case 12: return "T";
        default: return "";
    }
}

std::string with_unit(std::string number, int exponent, Unit unit) {
    const auto suffix = std::string(prefix_for(exponent)) + std::string(symbol(unit));
    // A true minus sign, as wide as the digits.
    if (!number.empty() && number.front() == '-') number.replace(0, 1, "−");
    return suffix.empty() ? number : number + " " + suffix;
}

}  // namespace

std::string print_number(double value, Unit unit, int digits) {
    if (!std::isfinite(value)) return "unknown";
    if (value == 0.0) return with_unit("0", 0, unit);
    auto [mantissa, exponent] = scale(value);
    const auto decimals = [&](double m) {
        const int before = std::abs(m) >= 99.9999999 ? 3 : std::abs(m) >= 9.99999999 ? 2 : 1;
        return std::max(0, digits - before);
    };
    auto text = fmt::format("{:.{}f}", mantissa, decimals(mantissa));
    // Rounding may add a digit before the point: 99.96 is 100, not 100.0.
    text = fmt::format("{:.{}f}", mantissa, decimals(std::strtod(text.c_str(), nullptr)));
    if (std::abs(std::strtod(text.c_str(), nullptr)) >= 1000.0 && exponent < 12) {
        mantissa /= 1000.0;
        exponent += 3;
        text = fmt::format("{:.{}f}", mantissa, decimals(mantissa));
    }
    return with_unit(text, exponent, unit);
}

std::string print(Time t, int digits) {
    return print_number(t.seconds(), Unit::second, digits);
}

std::string print_exact(double value, Unit unit) {
    if (!std::isfinite(value)) return "unknown";
    if (value == 0.0) return with_unit("0", 0, unit);
    const auto [mantissa, exponent] = scale(value);
    for (int digits = 3; digits <= 17; ++digits) {
        auto text = fmt::format("{:.{}g}", mantissa, digits);
        if (text.find('e') != std::string::npos) continue;
        auto whole = with_unit(text, exponent, unit);
        auto plain = text + std::string(prefix_for(exponent)) + std::string(symbol(unit));
        if (const auto back = parse_number(plain, unit); back && *back == value) return whole;
    }
    return with_unit(fmt::format("{}", value), 0,
                     unit);  // the shortest that reads back the same, without a prefix
}

std::string print_exact(Time t) {
    // Integer arithmetic: picoseconds as a decimal fraction of the fitting unit, without trailing zeros.
    const auto n = t.count();
    if (n == 0) return "0 s";
    const auto magnitude =
        n < 0 ? 0 - static_cast<unsigned long long>(n) : static_cast<unsigned long long>(n);
    int exponent = -12;
    unsigned long long unit = 1;
    while (exponent < 0 && magnitude / unit >= 1000) {
        unit *= 1000;
        exponent += 3;
    }
    auto text = fmt::format("{}", magnitude / unit);
    if (magnitude % unit != 0) {
        text += fmt::format(".{:0{}}", magnitude % unit, exponent + 12);
        text.erase(text.find_last_not_of('0') + 1);
    }
    return with_unit((n < 0 ? "-" : "") + text, exponent, Unit::second);
}

std::string print_count(long long n) {
    auto text = fmt::format("{}", n);
    const std::size_t first = text.front() == '-' ? 1 : 0;
    for (auto i = static_cast<long>(text.size()) - 3; i > static_cast<long>(first); i -= 3)
        text.insert(static_cast<std::size_t>(i), ",");
    return text;
}

std::string print_share(double share) {
    const double percent = share * 100.0;
    if (!std::isfinite(share)) return "unknown";
    if (percent == 0.0) return "0 %";
    if (percent == 100.0) return "100 %";
    if (percent < 0.01) return "under 0.01 %";
    if (percent > 99.99) return "over 99.99 %";
    if (percent < 1.0 || percent > 99.0) return fmt::format("{:.2f} %", percent);
    return percent < 10.0 || percent > 90.0 ? fmt::format("{:.1f} %", percent)
                                            : fmt::format("{:.0f} %", percent);
}

}  // namespace grayrelic
