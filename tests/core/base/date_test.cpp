// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/date.hpp"

#include <gmock/gmock.h>

namespace grayrelic {
namespace {

TEST(Date, DaysAreReadAndWritten) {
    // 1970-01-01 is day 0; 2000-03-01 is day 11,017 (30 years of 365 days, 7 leap days, 31 + 29 days).
    EXPECT_EQ(parse_day("1970-01-01")->time_since_epoch().count(), 0);
    EXPECT_EQ(parse_day("2000-03-01")->time_since_epoch().count(), 30 * 365 + 7 + 31 + 29);
    EXPECT_EQ(print(*parse_day("2026-11-29") + std::chrono::days(3)), "2026-12-02");
    EXPECT_EQ(print(*parse_day("2028-02-28") + std::chrono::days(1)), "2028-02-29");
}

TEST(Date, WhatIsNoDayIsNone) {
    for (const auto* text :
         {"", "2026-2-3", "2026-02-30", "2027-02-29", "2026-13-01", "2026-00-10", "2026-01-00", "1899-12-31",
          "3000-01-01", "2026/01/01", "26-01-01", "2026-01-01T00", "2026-+1-01", " 2026-01-01", "tomorrow"})
        EXPECT_FALSE(parse_day(text)) << text;
}

}  // namespace
}  // namespace grayrelic
