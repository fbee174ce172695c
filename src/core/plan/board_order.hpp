// SPDX-License-Identifier: GPL-3.0-or-later
// How many boards to order: what each tier of a house costs, how many of them will work, and how likely that
// is as many as are wanted.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.hpp"

namespace grayrelic {

struct BoardTier {
    int quantity = 0;
    double price = 0;  ///< of all of them
    double shipping = 0;
    long line = 0;
    double width_mm = 0, height_mm = 0;  ///< boards up to this size, either way round; 0: of any
};
/// Columns quantity, price, shipping and, where the price hangs on the size, width_mm and height_mm. Refused
/// with its line: quantities that do not rise, amounts below zero.
[[nodiscard]] Result<std::vector<BoardTier>> read_tiers(std::string_view text, const std::string& name);

struct OrderRow {
    int quantity = 0;
    double cost = 0;  ///< price and shipping, times 1 + the chance of ordering again
    double expected_working = 0;
    double chance_of_want = 0;  ///< that at least as many as wanted work
    double per_working = 0;
};
struct BoardOrder {
    std::vector<OrderRow> rows;       ///< as the tiers
    std::optional<std::size_t> best;  ///< the cheapest that gives enough with a chance of 0.9; of equal ones
                                      ///< the one with more boards
};
/// `want` 1 or more, `yield` above 0 and at most 1, `respin` 0 to 1.
[[nodiscard]] BoardOrder order_boards(const std::vector<BoardTier>& tiers, int want, double yield,
                                      double respin);

}  // namespace grayrelic
