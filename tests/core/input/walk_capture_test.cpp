// SPDX-License-Identifier: GPL-3.0-or-later
// The counter keypad: its committed capture is what the stand-in plays, and a walk in it finds every key
// where it lies.
#include "core/input/walk_capture.hpp"

#include <fmt/format.h>

#include <random>

#include "core/dossier/dossier_json.hpp"
#include "core/input/ghosts.hpp"
#include "standin/counter_keypad.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

Decoding scans_of(const standin::KeypadWalk& walk) {
    const auto capture = test::vcd(standin::record_keypad_walk(walk)).value();
    const auto dossier = standin::counter_keypad_dossier();
    Progress progress;
    return find_decoder("matrix")
        .value()
        ->decode(capture, dossier.captures->front().decode.roles, {{"active", "low"}}, progress)
        .value();
}

std::vector<MarkedMoment> moments_of(const standin::KeypadWalk& walk) {
    std::vector<MarkedMoment> out;
    // Two keys have one legend: each is named apart here.
    std::size_t n = 0;
    for (const auto& p : standin::presses_of(walk))
        out.push_back({p.from, p.to, fmt::format("{} #{}", p.legend, n++), {}});
    return out;
}

TEST(CounterKeypad, TheCommittedDemoIsWhatSeedOnePlays) {
    const auto folder = test::source_folder() / "demos/calder-counter-keypad.relic";
    EXPECT_TRUE(test::read_file(folder / "captures/walk.vcd") == standin::record_keypad_walk({}))
        << "run gray-relic-standin counter-keypad demos/calder-counter-keypad.relic";
    EXPECT_EQ(test::read_file(folder / "dossier.json"), dossier_to_json(standin::counter_keypad_dossier()));
}

TEST(CounterKeypad, HasFortySevenKeysTwoLegendsTwiceAndSevenVacancies) {
    const auto m = matrix_of(*standin::counter_keypad_dossier().map);
    EXPECT_EQ(m.keys.size(), 47U);
    EXPECT_EQ(m.rows.size(), 6U);
    EXPECT_EQ(m.columns.size(), 9U);
    EXPECT_EQ(m.vacancies(), 7U);
    EXPECT_EQ(m.same_legends(), (std::vector<std::string>{"ENTER", "STOP"}));
    EXPECT_TRUE(m.doubles().empty());
}

TEST(WalkCapture, FindsEveryKeyOfTwentyWalks) {
    std::size_t right = 0;
    for (std::uint64_t seed = 1; seed <= 20; ++seed) {
        standin::KeypadWalk walk;
        walk.seed = seed;
        const auto presses = walk_presses(scans_of(walk), moments_of(walk));
        ASSERT_EQ(presses.size(), 47U);
        for (std::size_t i = 0; i < presses.size(); ++i) {
            const auto& key = standin::counter_keypad()[i];
            right += presses[i].closed.size() == 1 &&
                             presses[i].closed[0].first == fmt::format("R{}", key.row) &&
                             presses[i].closed[0].second == fmt::format("C{}", key.column)
                         ? 1
                         : 0;
        }
    }
    EXPECT_EQ(right, 20U * 47U);
}

TEST(WalkCapture, IsTakenIntoTheMap) {
    const auto want = *standin::counter_keypad_dossier().map;
    auto bare = want;
    for (auto& k : bare.keys) k.row = k.column = "";
    bare.matrix.rows.clear();
    bare.matrix.columns.clear();
    std::vector<WalkPress> presses;
    for (const auto& k : want.keys) presses.push_back({k.id, {{k.row, k.column}}});
    const auto taken = take_walk(bare, presses);
    EXPECT_EQ(taken.map, want);
    EXPECT_EQ(taken.placed, 47U);
    EXPECT_TRUE(taken.doubts.empty());
    // From nothing: the keys are made, each beside the last.
    const auto fresh = take_walk(
        {}, {{"7", {{"R0", "C1"}}}, {"8", {{"R0", "C2"}}}, {"9", {}}, {"4", {{"R0", "C1"}, {"R1", "C1"}}}});
    EXPECT_EQ(fresh.placed, 2U);
    EXPECT_EQ(fresh.map.keys.size(), 2U);
    EXPECT_EQ(fresh.doubts.size(), 3U) << "9 closed nothing, 4 closed two, one of them 7's";
}

TEST(WalkCapture, AMomentInWhichNothingWasPressedClosesNothing) {
    standin::KeypadWalk walk;
    const auto first = standin::presses_of(walk).front();
    const auto presses = walk_presses(scans_of(walk), {{Time{}, first.from, "rest", {}}});
    ASSERT_EQ(presses.size(), 1U);
    EXPECT_TRUE(presses[0].closed.empty());
}

TEST(TakeBits, NamesBecomeControlsAndNumbersOnePosition) {
    const auto m =
        take_bits({}, {"a", "b", "", "9", "8", "7", "x"}, {EvidenceKind::measured, "idle", {}, {}, {}});
    std::vector<std::string> codes;
    for (const auto& k : m.keys) codes.push_back(k.code.value);
    EXPECT_EQ(codes, (std::vector<std::string>{"bit a", "bit b", "bits 9..7", "bit x"}));
    EXPECT_EQ(m.keys[2].kind, ControlKind::dial);
    EXPECT_EQ(m.keys[0].sends, KeySends::state);
    EXPECT_EQ(take_bits(m, {"a", "b"}, {}), m) << "each once";
}

}  // namespace
}  // namespace grayrelic
