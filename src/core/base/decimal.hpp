// SPDX-License-Identifier: GPL-3.0-or-later
// Decimal numbers without a detour over floating point: times in picoseconds have more digits than a double.
#pragma once

#include <cstdint>
#include <optional>
#include <string_view>

#include "core/base/time.hpp"

namespace grayrelic {

/// The whole text as a finite number: sign, digits, the decimal mark, an exponent.
[[nodiscard]] std::optional<double> decimal_number(std::string_view text, char mark);
/// A decimal number times 10^power seconds, rounded to the nearest picosecond; `inexact` is set when that
/// loses anything. Nothing for other text and beyond 53 days.
[[nodiscard]] std::optional<Time> decimal_time(std::string_view text, char mark, int power, bool& inexact);

}  // namespace grayrelic
