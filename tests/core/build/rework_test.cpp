// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/build/rework.hpp"

#include <fmt/format.h>

#include <cmath>

#include "core/dossier/edits.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

BuildBoard two_chips() {
    BuildBoard b;
    b.id = "main";
    b.title = "a board";
    for (const auto* ref : {"U1", "U2"}) {
        BuildPart p;
        p.ref = ref;
        p.part = "74x04 hct";
        for (int i = 1; i <= 14; ++i) {
            p.pins.push_back(std::to_string(i));
            b.nets.push_back({fmt::format("{}.{}", ref, i), {fmt::format("{}.{}", ref, i)}});
        }
        b.parts.push_back(p);
    }
    return b;
}

TEST(Rework, IsHeldAgainstStartingOver) {
    const auto board = two_chips();
    const Analysis a;
    const auto ways = rework_ways(a, board, "U1", 0);
    ASSERT_TRUE(ways);
    ASSERT_EQ(ways->ways.size(), 3U);
    const auto &repair = ways->ways[0], &over = ways->ways[2];
    // 14 joints to lift at 2 % each, 14 new ones at 0.2 %.
    EXPECT_NEAR(repair.chance, std::pow(0.98, 14) * std::pow(0.998, 14), 1e-12);
    // 15 min to set up, 14 at 1.5 min off and at 1 min on.
    EXPECT_NEAR(repair.minutes, 15 + 14 * 2.5, 1e-9);
    EXPECT_NEAR(over.minutes, 28, 1e-9) << "28 joints at 1 min";
    EXPECT_NEAR(over.expected_minutes, 28 / std::pow(0.998, 28), 1e-9);
    EXPECT_NEAR(repair.expected_minutes, repair.minutes + (1 - repair.chance) * over.expected_minutes, 1e-9);
    // One joint is heated again: nobody starts over for that.
    const auto joint = rework_ways(a, board, "U1.3", 0);
    ASSERT_TRUE(joint);
    EXPECT_EQ(joint->ways[joint->best].kind, ReworkKind::repair);
    EXPECT_FALSE(rework_ways(a, board, "X7", 0));
    EXPECT_FALSE(ways->rests_on.empty());
}

TEST(Rework, TimesAreThePersonsOwnWhereTheyWereWrittenDown) {
    Dossier d;
    UnitBuild u;
    u.id = "one";
    EXPECT_FALSE(work_record(put(d, u)).minutes_per_joint.has_value());
    u.work = {{WorkKind::solder, 45, 90.0, {}, "2026-12-01", {}},
              {WorkKind::solder, 15, 30.0, {}, "2026-12-02", {}},
              {WorkKind::solder, 10, {}, {}, "2026-12-02", "not counted"},
              {WorkKind::etch, 9, {}, 40.0, "2026-12-01", {}},
              {WorkKind::etch, 14, {}, 22.0, "2026-12-02", {}}};
    const auto record = work_record(put(d, u));
    EXPECT_NEAR(*record.minutes_per_joint, 0.5, 1e-12) << "60 min, 120 joints";
    EXPECT_EQ(record.baths, 2);
    EXPECT_NEAR(*record.etch_least, 9, 1e-12);
    EXPECT_NEAR(*record.etch_most, 14, 1e-12);
    EXPECT_NEAR(*minutes_for(two_chips(), record), 14, 1e-12) << "28 joints";
}

}  // namespace
}  // namespace grayrelic
