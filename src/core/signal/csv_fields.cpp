// SPDX-License-Identifier: GPL-3.0-or-later
// Rows, fields and values of a table of samples: the part of csv_dialect.hpp that works on single lines.
#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

#include "core/base/text.hpp"
#include "core/signal/csv_dialect.hpp"

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

bool split_csv_row(std::string_view line, char delimiter, std::size_t most,
                   std::vector<std::string_view>& fields) {
    fields.clear();
    std::size_t at = 0;
    for (;;) {
        if (fields.size() == most) return false;
        std::size_t end = 0;
        std::size_t from = at;
        while (from < line.size() && line[from] == ' ')
            ++from;
        if (from < line.size() && line[from] == '"') {
            auto close = from + 1;
            for (;; close += 2) {
                close = line.find('"', close);
                if (close == std::string_view::npos) close = line.size();
                if (close + 1 >= line.size() || line[close + 1] != '"') break;
            }
            fields.push_back(trim(line.substr(from + 1, close - from - 1)));
            end = std::min(line.find(delimiter, std::min(close, line.size())), line.size());
        } else {
            end = std::min(line.find(delimiter, at), line.size());
            fields.push_back(trim(line.substr(at, end - at)));
        }
        if (end >= line.size()) return true;
        at = end + 1;
    }
}

char digital_csv_value(std::string_view field) {
    if (field.size() == 1) {
        switch (field[0]) {
            case '0':
            case 'L':
            case 'l':
                return '0';
            case '1':
            case 'H':
            case 'h':
                return '1';
            case 'z':
            case 'Z':
                return 'z';
            case 'x':
            case 'X':
            case '-':
            case '?':
                return 'x';
            default:
                return 0;
        }
    }
    if (field.empty()) return 'x';
    constexpr std::array<std::pair<std::string_view, char>, 10> words{{{"high", '1'},
                                                                       {"High", '1'},
                                                                       {"HIGH", '1'},
                                                                       {"low", '0'},
                                                                       {"Low", '0'},
                                                                       {"LOW", '0'},
                                                                       {"true", '1'},
                                                                       {"false", '0'},
                                                                       {"TRUE", '1'},
                                                                       {"FALSE", '0'}}};
    for (const auto& [word, value] : words)
        if (field == word) return value;
    return 0;
}

std::optional<double> csv_number(std::string_view field, char decimal) {
    const auto d = parse_decimal(field, decimal);
    if (!d) return {};
    const double v = static_cast<double>(d->mantissa) * std::pow(10.0, static_cast<double>(d->exponent));
    if (!std::isfinite(v)) return {};
    return d->negative ? -v : v;
}

std::optional<Time> csv_time(std::string_view field, char decimal, int power, bool& inexact) {
    const auto d = parse_decimal(field, decimal);
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
        for (; exponent < 0; ++exponent)
            divide *= 10;
        if (m % divide != 0) inexact = true;
        m = (m + divide / 2) / divide;
    }
    if (m > most) return {};
    const auto ps = static_cast<std::int64_t>(m);
    return Time::ps(d->negative ? -ps : ps);
}

bool is_csv_comment(std::string_view line) {
    const auto t = trim(line);
    return t.empty() || t.front() == '#' || t.front() == '%' || t.starts_with("//");
}

}  // namespace grayrelic
