// SPDX-License-Identifier: GPL-3.0-or-later
// How many more to buy than are needed, when not every one will be good.
#pragma once

namespace grayrelic {

/// With this chance there are enough good ones.
inline constexpr double enough_chance = 0.9;

/// Chance that at least `need` of `bought` are good, when each is with the chance `yield`, whatever the
/// others: the binomial distribution. 1 for a need of 0.
[[nodiscard]] double chance_of_enough(int need, int bought, double yield);

/// The least number of spares that gives enough_chance. `yield` above 0, at most 1; 0 when it is 1 or nothing
/// is needed. Never more than a million.
[[nodiscard]] int spares(int need, double yield);

}  // namespace grayrelic
