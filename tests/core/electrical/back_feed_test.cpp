// SPDX-License-Identifier: GPL-3.0-or-later
// What flows backwards, enumerated by hand from the rule: a drop and a switcher block it, a switch and a
// linear regulator do not; a source that is out or lower takes it.
#include <gtest/gtest.h>

#include "core/electrical/rails_study.hpp"

namespace grayrelic {
namespace {

struct Fed {
    std::string when, from, to, through;
    auto operator<=>(const Fed&) const = default;
};

std::vector<Fed> fed(const std::string& text) {
    auto tree = rails_from_text(text, "t.rails");
    EXPECT_TRUE(tree) << (tree ? "" : tree.error().message());
    std::vector<Fed> out;
    if (tree)
        for (const auto& b : back_feed(*tree)) out.push_back({b.when, b.from, b.to, b.through});
    std::sort(out.begin(), out.end());
    return out;
}

struct FeedCase {
    const char* why;
    std::string text;
    std::vector<Fed> want;
};

TEST(BackFeed, OfEveryCombinationByHand) {
    const std::string load = "load L V 100mA\n";
    const std::vector<FeedCase> cases{
        {"one source, nothing to feed", "source A 5V\nswitch S A -> V ron 1Ω\n" + load, {}},
        {"two diodes block both ways",
         "source A 5V ±5%\nsource B 9V ±10%\ndrop D1 A -> V 0.4V\ndrop D2 B -> V 0.4V\n" + load,
         {}},
        // Equal and exact: nothing flows while both are in; each feeds the other when that one is out.
        {"two switches of equal sources",
         "source A 5V\nsource B 5V\nswitch S A -> V ron 1Ω\nswitch T B -> V ron 1Ω\n" + load,
         {{"A in, B out", "V", "B", "T"}, {"A out, B in", "V", "A", "S"}}},
        // 5 V ± 5 %: 0.5 V between them at the corners, 0.25 A through 2 Ω, more than the load of 0.1 A
        // takes.
        {"two switches of sources that differ at their corners",
         "source A 5V ±5%\nsource B 5V ±5%\nswitch S A -> V ron 1Ω\nswitch T B -> V ron 1Ω\n" + load,
         {{"A in, B in", "V", "A", "S"},
          {"A in, B in", "V", "B", "T"},
          {"A in, B out", "V", "B", "T"},
          {"A out, B in", "V", "A", "S"}}},
        {"the higher through a switch, the lower through a diode",
         "source A 5V\nsource B 9V\ndrop D A -> V 0.4V\nswitch T B -> V ron 1Ω\n" + load,
         {{"A in, B out", "V", "B", "T"}}},
        {"the lower through a switch, the higher through a diode",
         "source A 5V\nsource B 9V\nswitch S A -> V ron 1Ω\ndrop D B -> V 0.4V\n" + load,
         {{"A in, B in", "V", "A", "S"}, {"A out, B in", "V", "A", "S"}}},
        // A linear regulator does not block: with B out its output is above its input.
        {"a linear regulator beside a diode",
         "source A 5V\nsource B 9V\ndrop D A -> V 0.3V\nlinear U B -> V 3.3V dropout 1V max 1A\n" + load,
         {{"A in, B out", "V", "B", "U"}}},
        {"a switcher blocks",
         "source A 5V\nsource B 9V\ndrop D A -> V 0.3V\nswitcher U B -> V 3.3V eff 85% max 1A\n" + load,
         {}},
        // The diode before the regulator blocks the source, but the regulator's input is lifted.
        {"a diode before the regulator",
         "source A 5V\nsource B 9V\ndrop D A -> V 0.3V\ndrop E B -> W 0.4V\nlinear U W -> V 3.3V dropout 1V "
         "max 1A\n" +
             load,
         {{"A in, B out", "V", "W", "U"}}},
        // Through two switches one after the other, back to the source.
        {"two switches in a row",
         "source A 5V\nsource B 9V\ndrop D A -> V 0.3V\nswitch S B -> W ron 1Ω\nswitch T W -> V ron 1Ω\n" +
             load,
         {{"A in, B out", "V", "W", "T"}, {"A in, B out", "W", "B", "S"}}},
        // Forward into a rail that has a source of its own: out, or lower.
        {"a switch onto a source",
         "source A 5V\nsource B 9V\nswitch S B -> A ron 1Ω\nload L A 100mA\n",
         {{"A in, B in", "B", "A", "S"}, {"A in, B out", "A", "B", "S"}, {"A out, B in", "B", "A", "S"}}},
        {"a diode onto a source",
         "source A 5V\nsource B 9V\ndrop D B -> A 0.3V\nload L A 100mA\n",
         {{"A in, B in", "B", "A", "D"}, {"A out, B in", "B", "A", "D"}}},
        // 5.4 V through a diode of 0.4 V is 5.0 V: it gives nothing to a source of 5 V that is in.
        {"a diode onto a source that is as high",
         "source A 5V\nsource B 5.4V\ndrop D B -> A 0.4V\nload L A 100mA\n",
         {{"A out, B in", "B", "A", "D"}}},
    };
    for (const auto& c : cases) {
        SCOPED_TRACE(c.why);
        auto want = c.want;
        std::sort(want.begin(), want.end());
        const auto got = fed(c.text);
        ASSERT_EQ(got.size(), want.size());
        for (std::size_t i = 0; i < want.size(); ++i) {
            EXPECT_EQ(got[i].when, want[i].when);
            EXPECT_EQ(got[i].from, want[i].from);
            EXPECT_EQ(got[i].to, want[i].to);
            EXPECT_EQ(got[i].through, want[i].through);
        }
    }
}

TEST(BackFeed, WhatNothingTakesIsADoubt) {
    const auto tree = rails_from_text(
        "source A 5V\nsource B 9V\ndrop D A -> V 0.3V\ndrop E B -> W 0.4V\nlinear U W -> V 3.3V dropout 1V "
        "max 1A\n"
        "load L V 10mA\n",
        "t");
    const auto alone = back_feed(*tree);
    ASSERT_EQ(alone.size(), 1U);
    EXPECT_EQ(alone[0].verdict, Verdict::doubt);
    // With a load on the lifted rail it is fed for real.
    auto loaded = *tree;
    loaded.loads.push_back({"M", "W", {RailAmount::Kind::amperes, 0.02}, {}, {}, {}, {}, {}});
    const auto fed_now = back_feed(loaded);
    ASSERT_EQ(fed_now.size(), 1U);
    EXPECT_EQ(fed_now[0].verdict, Verdict::stop);
}

TEST(BackFeed, TheLimitIsThatOfWhatFeeds) {
    const auto tree = rails_from_text(
        "source A 5V limit 500mA\nsource B 9V limit 1A\nswitch S A -> V ron 1Ω\ndrop D B -> V 0.4V\nload L V "
        "10mA\n",
        "t");
    for (const auto& b : back_feed(*tree)) EXPECT_EQ(b.most_a, 1.0) << b.when;
}

/// Three sources behind diodes: seven combinations, none feeds back; one diode replaced by a switch: in the
/// three combinations with another source in and that one out, at least.
TEST(BackFeed, ThreeSources) {
    const std::string safe =
        "source A 5V\nsource B 9V\nsource C 12V\ndrop D A -> V 0.4V\ndrop E B -> V 0.4V\n";
    EXPECT_TRUE(fed(safe + "drop F C -> V 0.4V\nload L V 1mA\n").empty());
    // C is the highest: while it is in, nothing flows into it.
    EXPECT_EQ(fed(safe + "switch F C -> V ron 1Ω\nload L V 1mA\n").size(), 3U);
    // A as a switch: whenever B or C is in, both with A in (lower) and out: 2 · 3 combinations.
    EXPECT_EQ(fed("source A 5V\nsource B 9V\nsource C 12V\nswitch D A -> V ron 1Ω\ndrop E B -> V 0.4V\n"
                  "drop F C -> V 0.4V\nload L V 1mA\n")
                  .size(),
              6U);
}

}  // namespace
}  // namespace grayrelic
