// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/decimal.hpp"

#include <charconv>
#include <cmath>

namespace grayrelic {
namespace {

__extension__ using Wide = __int128;  // 10^12 times nineteen digits

/// Digits, point and exponent of a decimal number: mantissa · 10^exponent.
struct Decimal {
    bool negative = false;
    std::uint64_t mantissa = 0;
    long exponent = 0;
    bool cut = false;  ///< digits beyond the nineteenth were dropped
};

std::optional<Decimal> parse_decimal(std::string_view t, char mark) {
    Decimal d;
    std::size_t i = 0;
    if (i < t.size() && (t[i] == '-' || t[i] == '+')) d.negative = t[i++] == '-';
    bool digits = false;
    bool fraction = false;
    for (; i < t.size(); ++i) {
        if (t[i] == mark && !fraction) {
            fraction = true;
            continue;
        }
        if (t[i] < '0' || t[i] > '9') break;
        digits = true;
        if (d.mantissa < 900'000'000'000'000'000ULL) {
            d.mantissa = d.mantissa * 10 + static_cast<std::uint64_t>(t[i] - '0');
            if (fraction) --d.exponent;
        } else {
            d.cut = d.cut || t[i] != '0';
            if (!fraction) ++d.exponent;
        }
    }
    if (!digits) return {};
    if (i < t.size() && (t[i] == 'e' || t[i] == 'E')) {
        ++i;
        if (i < t.size() && t[i] == '+') ++i;
        long e = 0;
        const auto [p, ec] = std::from_chars(t.data() + i, t.data() + t.size(), e);
        if (ec != std::errc{} || std::abs(e) > 400) return {};
        d.exponent += e;
        i = static_cast<std::size_t>(p - t.data());
    }
    if (i != t.size()) return {};
    return d;
}

}  // namespace

std::optional<double> decimal_number(std::string_view text, char mark) {
    const auto d = parse_decimal(text, mark);
    if (!d) return {};
    const double v = static_cast<double>(d->mantissa) * std::pow(10.0, static_cast<double>(d->exponent));
    if (!std::isfinite(v)) return {};
    return d->negative ? -v : v;
}

std::optional<Time> decimal_time(std::string_view text, char mark, int power, bool& inexact) {
    const auto d = parse_decimal(text, mark);
    if (!d) return {};
    auto exponent = d->exponent + power + 12;  // in picoseconds
    auto m = static_cast<Wide>(d->mantissa);
    if (m == 0) return Time{};
    constexpr auto most = static_cast<Wide>(1) << 62;  // 53 days
    for (; exponent > 0; --exponent) {
        m *= 10;
        if (m > most) return {};
    }
    if (d->cut) inexact = true;
    if (exponent < -20) {
        inexact = true;
        return Time{};
    }
    if (exponent < 0) {
        Wide divide = 1;
        for (; exponent < 0; ++exponent) divide *= 10;
        if (m % divide != 0) inexact = true;
        m = (m + divide / 2) / divide;
    }
    if (m > most) return {};
    const auto ps = static_cast<std::int64_t>(m);
    return Time::ps(d->negative ? -ps : ps);
}

}  // namespace grayrelic
