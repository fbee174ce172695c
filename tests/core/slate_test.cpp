// SPDX-License-Identifier: GPL-3.0-or-later
// The chart slate: its committed capture is what the stand-in plays, and it is understood without being told.
#include <gmock/gmock.h>

#include "core/decode/identify.hpp"
#include "core/decode/packets.hpp"
#include "standin/chart_slate.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

TEST(ChartSlate, TheCommittedDemoIsWhatSeedOnePlays) {
    const auto file = test::source_folder() / "demos/calder-chart-slate.relic/captures/spiral.vcd";
    EXPECT_TRUE(test::read_file(file) == standin::record_chart_slate({}))
        << "run gray-relic-standin chart-slate";
}

TEST(ChartSlate, RatePolarityPacketsAndChecksumAreFound) {
    const auto c = test::vcd(standin::record_chart_slate({})).value();
    Progress progress;
    const auto list = identify(c, {}, progress).value();
    ASSERT_FALSE(list.empty());
    EXPECT_EQ(list[0].kind, "async-serial");
    const auto d = find_decoder("async-serial").value()->decode(c, {{"data", {"RXD"}}}, {}, progress).value();
    // 6 MHz / 448, 0.24 % slow by its own resonator.
    EXPECT_NEAR(std::get<double>(d.settings.at("baud")), 6e6 / 448 * (1 - 0.0024), 3);
    EXPECT_EQ(std::get<std::string>(d.settings.at("invert")), "yes");
    EXPECT_EQ(d.frames.size(), 240U * 6U);
    const auto rule = find_packet_rule(d);
    ASSERT_TRUE(rule);
    EXPECT_EQ(print_packet_rule(*rule), "length:6+xor");
    const auto p = packets_of(d, *rule);
    ASSERT_EQ(p.frames.size(), 240U);
    EXPECT_EQ(p.frames_with_errors(), 1) << "the spoilt answer";
    EXPECT_FALSE(p.frames[150].errors.empty());
    // The first point of the spiral: x = 8192 + 1500, y = 8192, pen down.
    EXPECT_EQ(std::get<std::string>(p.frames[0].extra.at("bytes")).substr(0, 14), "81 5c 4b 00 40");
}

}  // namespace
}  // namespace grayrelic
