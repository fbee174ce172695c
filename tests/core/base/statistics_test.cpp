// SPDX-License-Identifier: GPL-3.0-or-later
// Figures of many values are found without sorting them; they must be those that sorting finds.
#include <gmock/gmock.h>

#include <algorithm>
#include <cmath>

#include "core/base/random.hpp"
#include "core/base/statistics.hpp"

namespace grayrelic {
namespace {

/// By its definition: rank p·(n−1) among the sorted values, between two of them linearly.
double by_sorting(std::vector<double> v, double p) {
    std::sort(v.begin(), v.end());
    const double rank = p * static_cast<double>(v.size() - 1);
    const double low = std::floor(rank);
    const auto k = static_cast<std::size_t>(low);
    return k + 1 < v.size() ? v[k] + (rank - low) * (v[k + 1] - v[k]) : v[k];
}

TEST(Statistics, OfManyValuesAreThoseThatSortingFinds) {
    Random r(3);
    for (int round = 0; round < 60; ++round) {
        const std::size_t n = 49'990 + r.below(20'000);  // on both sides of where the other way begins
        std::vector<double> v;
        const auto kind = round % 6;
        for (std::size_t i = 0; i < n; ++i) {
            const double u = r.uniform();
            v.push_back(kind == 0   ? u
                        : kind == 1 ? -5 + 1e-9 * u                           // far from 0
                        : kind == 2 ? (i == 7 ? 1e6 : 1e-6 * u)               // one far out: all in one bin
                        : kind == 3 ? static_cast<double>(r.below(3)) * 1e-8  // three values
                        : kind == 4 ? std::exp(40 * u)                        // over many powers
                                    : 2.5);                                   // one value
        }
        const auto s = summarise(std::span<const double>(v));
        EXPECT_DOUBLE_EQ(s.p01, by_sorting(v, 0.01)) << kind;
        EXPECT_DOUBLE_EQ(s.median, by_sorting(v, 0.5)) << kind;
        EXPECT_DOUBLE_EQ(s.p99, by_sorting(v, 0.99)) << kind;
        EXPECT_EQ(s.min, *std::min_element(v.begin(), v.end()));
        EXPECT_EQ(s.max, *std::max_element(v.begin(), v.end()));
        EXPECT_EQ(s.n, static_cast<long>(n));
    }
}

TEST(Spread, IsExactOfFewDifferentValues) {
    const std::vector<double> v{3, 1, 1, 2, 3, 3, -0.0, 0.0};
    const auto s = spread_of(v);
    EXPECT_TRUE(s.exact);
    EXPECT_THAT(s.items, testing::ElementsAre(Spread::Item{0, 2}, Spread::Item{1, 2}, Spread::Item{2, 1},
                                              Spread::Item{3, 3}));
    EXPECT_EQ(s.n(), 8);
    EXPECT_TRUE(spread_of(std::vector<double>{}).empty());
}

TEST(Spread, OfManyKeepsEachWithinItsStep) {
    Random r(4);
    std::vector<double> v;
    for (int i = 0; i < 100'000; ++i) v.push_back(10 + 5 * r.uniform());
    const auto s = spread_of(v);
    EXPECT_FALSE(s.exact);
    EXPECT_LE(s.items.size(), Spread::most_different);
    EXPECT_EQ(s.n(), 100'000);
    EXPECT_EQ(s.items.front().value, *std::min_element(v.begin(), v.end()));
    EXPECT_EQ(s.items.back().value, *std::max_element(v.begin(), v.end()));
    // Below any value, the two counts differ by no more than one step's worth.
    const double step = 5.0 / Spread::most_different;
    for (const double at : {11.0, 12.5, 14.75}) {
        const auto real = std::count_if(v.begin(), v.end(), [&](double x) { return x < at; });
        long low = 0, high = 0;
        for (const auto& i : s.items) {
            low += i.value < at - step ? i.count : 0;
            high += i.value < at + step ? i.count : 0;
        }
        EXPECT_LE(low, real);
        EXPECT_GE(high, real);
    }
}

}  // namespace
}  // namespace grayrelic
