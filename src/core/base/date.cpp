// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/date.hpp"

#include <fmt/format.h>

#include <charconv>

namespace grayrelic {

std::optional<Day> parse_day(std::string_view text) {
    if (text.size() != 10 || text[4] != '-' || text[7] != '-') return std::nullopt;
    const auto number = [&](std::size_t at, std::size_t length) {
        int value = -1;
        const auto* end = text.data() + at + length;
        const auto [stop, code] = std::from_chars(text.data() + at, end, value);
        return code == std::errc() && stop == end ? value : -1;
    };
    const int y = number(0, 4), m = number(5, 2), d = number(8, 2);
    if (y < 1900 || y > 2999 || m < 1 || d < 1) return std::nullopt;
    const std::chrono::year_month_day day{std::chrono::year(y), std::chrono::month(static_cast<unsigned>(m)),
                                          std::chrono::day(static_cast<unsigned>(d))};
    return day.ok() ? std::optional(Day(day)) : std::nullopt;
}

std::string print(Day day) {
    const std::chrono::year_month_day d(day);
    return fmt::format("{:04}-{:02}-{:02}", static_cast<int>(d.year()), static_cast<unsigned>(d.month()),
                       static_cast<unsigned>(d.day()));
}

}  // namespace grayrelic
