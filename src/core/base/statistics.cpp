// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/statistics.hpp"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>

namespace grayrelic {
namespace {

double between(double below, double above, double share) {
    return share > 0 ? below + share * (above - below) : below;
}

/// Order statistics of millions of values in two passes: counts in narrow bins over the range, then only the
/// bins that hold a rank asked for are looked into.
class Ranks {
  public:
    Ranks(std::span<const double> values, double least, double most) : n_(values.size()), least_(least) {
        width_ = (most - least) / static_cast<double>(bins);
        std::vector<std::size_t> counts(bins);
        for (const double v : values) ++counts[bin(v)];
        std::size_t before = 0;
        std::array<bool, bins> wanted{};
        for (std::size_t b = 0; b < bins; ++b) {
            for (const double p : asked)
                for (const std::size_t rank : {below(p), std::min(below(p) + 1, n_ - 1)})
                    wanted[b] = wanted[b] || (rank >= before && rank < before + counts[b]);
            if (wanted[b]) held_.push_back({before, {}});
            before += counts[b];
        }
        std::array<std::size_t, bins> place{};
        for (std::size_t b = 0, k = 0; b < bins; ++b)
            if (wanted[b]) place[b] = k++, held_[place[b]].values.reserve(counts[b]);
        for (const double v : values)
            if (const auto b = bin(v); wanted[b]) held_[place[b]].values.push_back(v);
    }
    static constexpr std::array<double, 3> asked{0.01, 0.5, 0.99};
    [[nodiscard]] double at(double p) {
        const double rank = p * static_cast<double>(n_ - 1);
        return between(value(below(p)), value(std::min(below(p) + 1, n_ - 1)),
                       rank - static_cast<double>(below(p)));
    }

  private:
    static constexpr std::size_t bins = 4096;
    struct Held {
        std::size_t first;  ///< rank
        std::vector<double> values;
    };
    [[nodiscard]] std::size_t below(double p) const {
        return static_cast<std::size_t>(p * static_cast<double>(n_ - 1));
    }
    [[nodiscard]] std::size_t bin(double v) const {
        return width_ > 0 ? std::min(static_cast<std::size_t>((v - least_) / width_), bins - 1) : 0;
    }
    [[nodiscard]] double value(std::size_t rank) {
        for (auto& h : held_) {
            if (rank < h.first || rank >= h.first + h.values.size()) continue;
            const auto nth = h.values.begin() + static_cast<std::ptrdiff_t>(rank - h.first);
            std::nth_element(h.values.begin(), nth, h.values.end());
            return *nth;
        }
        return least_;
    }

    std::size_t n_;
    double least_, width_ = 0;
    std::vector<Held> held_;
};
constexpr std::size_t many = 50'000;  // from here on two passes are quicker than a sort

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
    return summarise(std::span<const double>(values));
}

Statistics summarise(std::span<const double> values) {
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
    if (values.size() >= many && std::isfinite(s.max - s.min)) {
        Ranks ranks(values, s.min, s.max);
        s.p01 = ranks.at(0.01);
        s.median = ranks.at(0.5);
        s.p99 = ranks.at(0.99);
        return s;
    }
    std::vector<double> sorted(values.begin(), values.end());
    std::sort(sorted.begin(), sorted.end());
    const auto percentile = [&](double p) {
        const double rank = p * static_cast<double>(sorted.size() - 1);
        const auto below = static_cast<std::size_t>(rank);
        return between(sorted[below], sorted[std::min(below + 1, sorted.size() - 1)],
                       rank - static_cast<double>(below));
    };
    s.p01 = percentile(0.01);
    s.median = percentile(0.5);
    s.p99 = percentile(0.99);
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
