// SPDX-License-Identifier: GPL-3.0-or-later
// The best order of tests that tells things apart, found by trying all: the least expected effort over all
// trees of tests (dynamic programming over the sets that can be left).
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
inline constexpr std::size_t most_in_order = 10;
/// `chances` of each thing; at most `most_in_order` things, else nothing.
[[nodiscard]] std::optional<BestOrder> best_order(const std::vector<double>& chances,
                                                  const std::vector<OrderTest>& tests);

}  // namespace grayrelic
