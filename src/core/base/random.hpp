// SPDX-License-Identifier: GPL-3.0-or-later
// A small seeded generator whose numbers are the same on every machine (the standard library's distributions
// are not). The generator is SplitMix64: a 64-bit counter stepped by the golden ratio and mixed; see Steele,
// Lea and Flood, "Fast splittable pseudorandom number generators", OOPSLA 2014.
#pragma once

#include <cmath>
#include <cstdint>
#include <numbers>

namespace grayrelic {

class Random {
  public:
    explicit constexpr Random(std::uint64_t seed) : state_(seed) {}

    constexpr std::uint64_t next() {
        std::uint64_t z = (state_ += 0x9E3779B97F4A7C15ULL);
        z = (z ^ (z >> 30U)) * 0xBF58476D1CE4E5B9ULL;
        z = (z ^ (z >> 27U)) * 0x94D049BB133111EBULL;
        return z ^ (z >> 31U);
    }
    /// Uniform in [0, 1), 53 bits.
    constexpr double uniform() { return static_cast<double>(next() >> 11U) * 0x1.0p-53; }
    /// Uniform in [low, high).
    constexpr double uniform(double low, double high) { return low + (high - low) * uniform(); }
    /// A whole number 0 to n − 1; the bias for n below 2^32 is under 2^-32.
    constexpr std::uint64_t below(std::uint64_t n) {
        return n == 0 ? 0 : static_cast<std::uint64_t>(uniform() * static_cast<double>(n));
    }
    /// Normal with mean 0 and deviation 1 (Box and Muller).
    double normal() {
        const double u = 1.0 - uniform();
        return std::sqrt(-2.0 * std::log(u)) * std::cos(2.0 * std::numbers::pi * uniform());
    }
    /// Triangular between low and high with its peak at mode.
    double triangular(double low, double mode, double high) {
        const double u = uniform();
        const double width = high - low;
        if (width <= 0.0) return low;
        const double split = (mode - low) / width;
        return u < split ? low + std::sqrt(u * width * (mode - low))
                         : high - std::sqrt((1.0 - u) * width * (high - mode));
    }

  private:
    std::uint64_t state_;
};

}  // namespace grayrelic
