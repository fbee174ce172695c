// SPDX-License-Identifier: GPL-3.0-or-later
// Time as an integer: signed 64-bit picoseconds (about ±106 days). Finer input is rounded by whoever reads
// it. Conversions from floating point saturate at the ends of the range; NaN becomes zero.
#pragma once

#include <cmath>
#include <compare>
#include <cstdint>
#include <limits>

namespace grayrelic {

class Time {
  public:
    constexpr Time() = default;
    static constexpr Time ps(std::int64_t n) { return Time(n); }
    static constexpr Time ns(std::int64_t n) { return Time(n * 1'000); }
    static constexpr Time us(std::int64_t n) { return Time(n * 1'000'000); }
    static constexpr Time ms(std::int64_t n) { return Time(n * 1'000'000'000); }
    static constexpr Time s(std::int64_t n) { return Time(n * 1'000'000'000'000); }
    static constexpr Time max() { return Time(std::numeric_limits<std::int64_t>::max()); }
    static constexpr Time min() { return Time(std::numeric_limits<std::int64_t>::min()); }
    static Time from_seconds(double seconds) {
        const double scaled = seconds * 1e12;
        if (std::isnan(scaled)) return Time{};
        if (scaled >= 9.2e18) return max();
        if (scaled <= -9.2e18) return min();
        return Time(std::llround(scaled));
    }
    [[nodiscard]] constexpr std::int64_t count() const { return ps_; }
    [[nodiscard]] constexpr double seconds() const { return static_cast<double>(ps_) / 1e12; }

    constexpr auto operator<=>(const Time&) const = default;
    constexpr Time operator-() const { return Time(-ps_); }
    constexpr Time& operator+=(Time o) {
        ps_ += o.ps_;
        return *this;
    }
    constexpr Time& operator-=(Time o) {
        ps_ -= o.ps_;
        return *this;
    }
    friend constexpr Time operator+(Time a, Time b) { return Time(a.ps_ + b.ps_); }
    friend constexpr Time operator-(Time a, Time b) { return Time(a.ps_ - b.ps_); }
    friend constexpr Time operator*(Time a, std::int64_t n) { return Time(a.ps_ * n); }
    friend constexpr Time operator/(Time a, std::int64_t n) { return Time(a.ps_ / n); }

  private:
    explicit constexpr Time(std::int64_t n) : ps_(n) {}
    std::int64_t ps_ = 0;
};

/// A half-open span of time [from, to).
struct Span {
    Time from;
    Time to;
    [[nodiscard]] constexpr Time length() const { return to - from; }
    [[nodiscard]] constexpr bool contains(Time t) const { return from <= t && t < to; }
    constexpr bool operator==(const Span&) const = default;
};

}  // namespace grayrelic
