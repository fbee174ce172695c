// SPDX-License-Identifier: GPL-3.0-or-later
// What a file says of its sampling, and that nothing is made of what it does not say.
#include "core/capture/csv_reader.hpp"
#include "core/signal/sampling.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

Capture table(const std::string& text) {
    Progress progress;
    auto c = read_csv(text, "t.csv", progress);
    EXPECT_TRUE(c) << c.error().message();
    return std::move(*c);
}

TEST(SamplePeriod, AStatedRateIsTakenWithAndWithoutTimes) {
    std::string rows;
    for (int i = 0; i < 40; ++i) rows += std::to_string(i / 3 % 2) + "\n";
    // 1 / 19200 Hz = 52.083 µs
    EXPECT_EQ(table("# Sample rate: 19200 Hz\nrx\n" + rows).sample_period, Time::ps(52'083'333));
    std::string timed;
    for (int i = 0; i < 40; ++i) timed += std::to_string(i * 500) + "," + std::to_string(i / 3 % 2) + "\n";
    EXPECT_EQ(table("# Sample rate: 4 MHz\ntime_ns,rx\n" + timed).sample_period, Time::ns(250))
        << "rows may be fewer than samples";
}

TEST(SamplePeriod, RowsThatMostlyRepeatAreSamples) {
    std::string samples = "time_us,rx\n", changes = "time_us,rx\n", clock = "time_us,clk\n";
    for (int i = 0; i < 60; ++i) {
        samples += std::to_string(10 * i) + "," + std::to_string(i * i / 7 % 2) + "\n";
        changes += std::to_string(10 * i + i * i % 13) + "," + std::to_string(i % 2) + "\n";
        clock += std::to_string(10 * i) + "," + std::to_string(i % 2) + "\n";
    }
    EXPECT_EQ(table(samples).sample_period, Time::us(10));
    EXPECT_FALSE(table(changes).sample_period) << "a row for each change";
    EXPECT_FALSE(table(clock).sample_period) << "a row for each edge of a clock";
}

}  // namespace
}  // namespace grayrelic
