// SPDX-License-Identifier: GPL-3.0-or-later
// The best order of tests that tells things apart, found by trying all that can be better: the least expected
// effort over all trees of tests. Sets that can be left are solved once; a test is dropped as soon as what it
// would cost at least (each test has only so many outcomes, so that a set's entropy bounds what it needs) is
// no less than the best so far.
#pragma once

#include <cstdint>
#include <optional>
#include <vector>

namespace grayrelic {

struct OrderTest {
    double effort = 1;
    std::vector<std::uint16_t> shows;  ///< of each thing
};
struct BestOrder {
    double effort = 0;                 ///< expected until one thing, or ones that no test parts, is left
    std::optional<std::size_t> first;  ///< the test to begin with; nothing: none is needed or of use
    std::vector<double> tests;         ///< how many are taken for each thing
};
inline constexpr std::size_t most_in_order = 32;
/// `chances` of each thing; nothing for more than `most_in_order` things, or when more than `most_sets` sets
/// would have to be solved.
[[nodiscard]] std::optional<BestOrder> best_order(const std::vector<double>& chances,
                                                  const std::vector<OrderTest>& tests, std::size_t most_sets);

}  // namespace grayrelic
