// SPDX-License-Identifier: GPL-3.0-or-later
// Physical quantities: typed values, read from what people write and printed the way they read.
//
// A Quantity<Unit::volt> is not a Quantity<Unit::ohm>. Values are in the unit's SI base. Reading takes a
// number with an SI prefix and the unit, both optional ("4k7", "2.2us", "2u2", "3V3", "11.5 kHz", "-12 V",
// "1e-6"); a letter of the prefix or unit may stand for the decimal point (IEC 60062). Printing gives
// engineering notation: a mantissa from 1 to below 1000 with the prefix between.
#pragma once

#include <compare>
#include <optional>
#include <string>
#include <string_view>

#include "core/base/result.hpp"
#include "core/base/time.hpp"

namespace grayrelic {

enum class Unit { none, second, hertz, volt, ampere, ohm, farad, watt, metre, baud };

/// The unit's symbol as printed: "s", "Hz", "V", "A", "Ω", "F", "W", "m", "Bd", "".
[[nodiscard]] std::string_view symbol(Unit unit);

template <Unit U>
class Quantity {
  public:
    static constexpr Unit unit = U;
    constexpr Quantity() = default;
    explicit constexpr Quantity(double base) : value_(base) {}
    [[nodiscard]] constexpr double value() const { return value_; }
    constexpr auto operator<=>(const Quantity&) const = default;
    friend constexpr Quantity operator+(Quantity a, Quantity b) { return Quantity(a.value_ + b.value_); }
    friend constexpr Quantity operator-(Quantity a, Quantity b) { return Quantity(a.value_ - b.value_); }
    friend constexpr Quantity operator*(Quantity a, double k) { return Quantity(a.value_ * k); }

  private:
    double value_ = 0.0;
};

using Volts = Quantity<Unit::volt>;
using Amperes = Quantity<Unit::ampere>;
using Ohms = Quantity<Unit::ohm>;
using Farads = Quantity<Unit::farad>;
using Hertz = Quantity<Unit::hertz>;

/// Reads a number in the given unit; a different unit in the text is an error. Not finite is an error.
[[nodiscard]] Result<double> parse_number(std::string_view text, Unit unit);
[[nodiscard]] Result<Time> parse_time(std::string_view text);
template <Unit U>
[[nodiscard]] Result<Quantity<U>> parse_quantity(std::string_view text) {
    return parse_number(text, U).map([](double v) { return Quantity<U>(v); });
}

/// Engineering notation with this many significant digits; trailing zeros of the fraction are kept, so that
/// columns of figures line up. Zero prints as "0 s". Not-a-number prints as "unknown".
[[nodiscard]] std::string print_number(double value, Unit unit, int digits = 3);
template <Unit U>
[[nodiscard]] std::string print(Quantity<U> q, int digits = 3) {
    return print_number(q.value(), U, digits);
}
[[nodiscard]] std::string print(Time t, int digits = 3);

/// The shortest text that reads back to the same value: for fields that a person edits.
[[nodiscard]] std::string print_exact(double value, Unit unit);
[[nodiscard]] std::string print_exact(Time t);

/// "8,214": a count with a separator every three digits.
[[nodiscard]] std::string print_count(long long n);
/// "8.3 %": a share of 0 to 1. Tiny and almost-whole shares are not rounded to 0 or 100.
[[nodiscard]] std::string print_share(double share);

}  // namespace grayrelic
