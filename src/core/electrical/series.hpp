// SPDX-License-Identifier: GPL-3.0-or-later
// Standard values (IEC 60063): so many to a decade, each a rounded geometric step.
#pragma once

#include <optional>
#include <string_view>
#include <vector>

#include "core/base/words.hpp"

namespace grayrelic {

enum class Series { e3, e6, e12, e24, e48, e96 };
template <>
inline constexpr std::array words_of<Series>{"e3", "e6", "e12", "e24", "e48", "e96"};

/// The values of one decade, from 1 to below 10, rising.
[[nodiscard]] const std::vector<double>& decade_of(Series series);
/// The one that is nearest by ratio; of two equally near ones the higher. The value must be above 0.
[[nodiscard]] double nearest(double value, Series series);
/// The highest that is not above it, the lowest that is not below it.
[[nodiscard]] double at_most(double value, Series series);
[[nodiscard]] double at_least(double value, Series series);
/// The neighbours of a standard value: the next lower and the next higher one.
[[nodiscard]] double next_below(double value, Series series);
[[nodiscard]] double next_above(double value, Series series);

}  // namespace grayrelic
