// SPDX-License-Identifier: GPL-3.0-or-later
// Days of the calendar, as ISO 8601 writes them: "2026-11-29". There is no clock in the core: who asks says
// what day it is.
#pragma once

#include <chrono>
#include <optional>
#include <string>
#include <string_view>

namespace grayrelic {

using Day = std::chrono::sys_days;

/// Nothing for what is no day of the years 1900 to 2999.
[[nodiscard]] std::optional<Day> parse_day(std::string_view text);
[[nodiscard]] std::string print(Day day);

}  // namespace grayrelic
