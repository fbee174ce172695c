// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/statistics.hpp"

#include <algorithm>
#include <bit>
#include <cmath>

namespace grayrelic {
namespace {

/// Order statistics by partial sorting: what lies between the ranks asked for is never put in order, which
/// takes a fifth of a sort's time in millions of values. Ranks must be asked for in rising order.
class Ranks {
  public:
    explicit Ranks(std::vector<double>& values) : values_(values) {}
    double at(double p) {
        const double rank = p * static_cast<double>(values_.size() - 1);
        const auto below = static_cast<std::size_t>(rank);
        const double low = nth(below);
        const auto above = std::min(below + 1, values_.size() - 1);
        const double share = rank - static_cast<double>(below);
        return above == below ? low : low + share * (nth(above) - low);
    }

  private:
    double nth(std::size_t n) {
        if (n >= sorted_to_) {
            const auto from = values_.begin() + static_cast<std::ptrdiff_t>(sorted_to_);
            std::nth_element(from, values_.begin() + static_cast<std::ptrdiff_t>(n), values_.end());
            sorted_to_ = n + 1;  // all that stands before it is at most as large
        }
        return values_[n];
    }

    std::vector<double>& values_;
    std::size_t sorted_to_ = 0;
};

/// Counts of a few thousand different values: linear probing in a table that is never more than a quarter
/// full.
class Counter {
  public:
    /// False when there are too many different ones.
    bool add(double v) {
        const auto bits = std::bit_cast<std::uint64_t>(v == 0.0 ? 0.0 : v);  // one zero
        auto at = (bits * 0x9E3779B97F4A7C15ULL) >> 50U;
        while (slots_[at].count > 0 && std::bit_cast<std::uint64_t>(slots_[at].value) != bits)
            at = (at + 1) % slots_.size();
        if (slots_[at].count == 0) {
            if (used_ == Spread::most_different) return false;
            ++used_;
            slots_[at].value = std::bit_cast<double>(bits);
        }
        ++slots_[at].count;
        return true;
    }
    [[nodiscard]] std::vector<Spread::Item> items() const {
        std::vector<Spread::Item> out;
        for (const auto& s : slots_)
            if (s.count > 0) out.push_back(s);
        std::sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.value < b.value; });
        return out;
    }

  private:
    std::vector<Spread::Item> slots_ = std::vector<Spread::Item>(1U << 14U, {0.0, 0});
    std::size_t used_ = 0;
};

}  // namespace

Statistics summarise(std::vector<double> values) {
    Statistics s;
    s.n = static_cast<long>(values.size());
    if (values.empty()) return s;
    const auto [least, most] = std::minmax_element(values.begin(), values.end());
    s.min = *least;
    s.max = *most;
    double sum = 0.0;
    for (const double v : values) sum += v;
    s.mean = sum / static_cast<double>(values.size());
    double squares = 0.0;
    for (const double v : values) squares += (v - s.mean) * (v - s.mean);
    s.sd = values.size() > 1 ? std::sqrt(squares / static_cast<double>(values.size() - 1)) : 0.0;
    Ranks ranks(values);
    s.p01 = ranks.at(0.01);
    s.median = ranks.at(0.5);
    s.p99 = ranks.at(0.99);
    return s;
}

Statistics summarise(std::span<const Time> values) {
    std::vector<double> seconds;
    seconds.reserve(values.size());
    for (const Time t : values) seconds.push_back(t.seconds());
    return summarise(std::move(seconds));
}

long Spread::n() const {
    long n = 0;
    for (const auto& i : items) n += i.count;
    return n;
}

Spread spread_of(std::span<const double> values) {
    Spread s;
    Counter counter;
    if (std::all_of(values.begin(), values.end(), [&](double v) { return counter.add(v); })) {
        s.items = counter.items();
        return s;
    }
    s.exact = false;
    const auto [least, most] = std::minmax_element(values.begin(), values.end());
    const double low = *least, width = (*most - low) / static_cast<double>(Spread::most_different);
    std::vector<long> bars(Spread::most_different);
    for (const double v : values)
        ++bars[std::min(static_cast<std::size_t>((v - low) / width), Spread::most_different - 1)];
    for (std::size_t i = 0; i < bars.size(); ++i)
        if (bars[i] > 0) s.items.push_back({low + (static_cast<double>(i) + 0.5) * width, bars[i]});
    // The ends are what a person reads off: they stay what they are.
    s.items.front().value = low;
    s.items.back().value = *most;
    return s;
}

}  // namespace grayrelic
