// SPDX-License-Identifier: GPL-3.0-or-later
// What the whole analysis says of boards over one another and of units on the bench; how both stand in
// dossier.json.
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include "core/checks/analyse.hpp"
#include "core/dossier/dossier_json.hpp"
#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "core/fit/stack_analysis.hpp"
#include "core/library/data_library.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using testing::HasSubstr;

const std::filesystem::path& tile_folder() {
    static const auto folder = test::source_folder() / "demos/calder-sound-tile.relic";
    return folder;
}

Dossier tile() {
    return *load_dossier(tile_folder());
}

std::shared_ptr<const Analysis> analysed(const Dossier& d) {
    static const auto data = DataLibrary::load(disk(), {test::source_folder() / "data"});
    CaptureStore store;
    Progress progress;
    return *analyse(d, tile_folder(), store, progress, nullptr, data);
}

const Finding* found(const Analysis& a, const std::string& id, const std::string& says = {}) {
    for (const auto& f : a.findings)
        if (f.id == id && f.says.find(says) != std::string::npos) return &f;
    return nullptr;
}

TEST(StackChecks, AGapThatIsTooLowIsAStop) {
    const auto a = analysed(edit<Dimension>(tile(), "header-gap", [](Dimension& d) { d.mm.value = 2.0; }));
    const auto* meets = found(*a, "boards-meet");
    ASSERT_NE(meets, nullptr);
    EXPECT_EQ(meets->severity, Severity::stop);
    // The module stands 3.5 mm high; 2.0 − 0.2 mm are there.
    EXPECT_NE(found(*a, "boards-meet", "tile/M1 meets the board test"), nullptr);
    EXPECT_THAT(meets->why, HasSubstr("1.8 mm are there"));
}

TEST(StackChecks, AnUnknownGapNamesTheMeasurement) {
    const auto a = analysed(edit<Dimension>(tile(), "header-gap", [](Dimension& d) { d.mm.value.reset(); }));
    const auto* gap = found(*a, "stack-unknown", "Nobody knows how far test is");
    ASSERT_NE(gap, nullptr);
    EXPECT_THAT(gap->todo, HasSubstr("caliper"));
    EXPECT_EQ(found(*a, "boards-meet"), nullptr);
    EXPECT_NE(found(*a, "stack-unknown", "Nobody knows whether"), nullptr);
}

TEST(StackChecks, LevelsThatDoNotLieOverEachOtherAreNoStack) {
    auto d = edit<BoardStack>(tile(), "test", [](BoardStack& s) { s.levels[1].x_mm += 5; });
    EXPECT_NE(found(*analysed(d), "stack-contacts", "does not meet"), nullptr);
    const auto a = analysed(tile());
    const auto before = stack_of(*a, a->dossier.stacks->front());
    d = edit<BoardStack>(tile(), "test", [](BoardStack& s) {
        s.levels[1].over = true;
        s.joins[0].kind = JoinKind::cable;
    });
    EXPECT_EQ(found(*analysed(d), "stack-contacts"), nullptr) << "a cable leads from number to number";
    EXPECT_EQ(before.verdict, Verdict::doubt);
    ASSERT_TRUE(before.height_mm);
    d = edit<BoardStack>(tile(), "test", [](BoardStack& s) {
        s.levels[1].board = "attic";
        s.levels[0].variant = "gilded";
    });
    const auto lost = analysed(d);
    EXPECT_NE(found(*lost, "stack-unknown", "the board \"attic\", which the dossier does not have"), nullptr);
    EXPECT_NE(found(*lost, "stack-unknown", "fitted as \"gilded\""), nullptr);
}

TEST(StackChecks, AStripIsSoldered) {
    // Through both boards, with nothing over its upper end.
    auto d = edit<BoardStack>(tile(), "test", [](BoardStack& s) { s.joins[0].kind = JoinKind::soldered; });
    EXPECT_EQ(found(*analysed(d), "joints-covered", "can't be soldered"), nullptr);
    const auto a = analysed(d);
    const auto r = stack_of(*a, a->dossier.stacks->front());
    ASSERT_EQ(r.nets.joins.size(), 1U);
    EXPECT_EQ(r.nets.joins[0].strip.verdict, Verdict::holds);
    EXPECT_EQ(pin_budget(r.nets.joins[0]), "10 of 10 contacts used, 2 grounds, 1 supply, 0 free");
}

TEST(StacksInADossier, AreWrittenAndReadAgainAndBadOnesSayWhere) {
    auto d = tile();
    BoardStack s;
    s.id = "more";
    StackLevel low, up;
    low.name = "a";
    low.board = "tile";
    up.name = "b";
    up.board = "ladder";
    up.variant = "alone";
    up.x_mm = -3.5;
    up.turn_deg = 270;
    up.over = true;
    up.gap.value = 11;
    up.gap.uncertainty = 0.25;
    up.gap.evidence.kind = EvidenceKind::measured;
    s.levels = {low, up};
    s.joins = {{"a/J2", "b/J1", JoinKind::soldered, {}}, {"a/J2", "b/J9", JoinKind::cable, {}}};
    s.note = "n";
    d = put(d, s);
    const auto text = dossier_to_json(d);
    const auto again = dossier_from_json(text, "d.json");
    ASSERT_TRUE(again) << again.error().message();
    EXPECT_EQ(*again->stacks, *d.stacks);
    EXPECT_EQ(*again->builds, *d.builds);
    EXPECT_EQ(*again->boards, *d.boards);
    for (const auto& [was, is, want] : std::vector<std::tuple<std::string, std::string, std::string>>{
             {"\"turn_deg\": 270", "\"turn_deg\": 45", "0, 90, 180 or 270"},
             {"\"kind\": \"soldered\"", "\"kind\": \"glued\"", "plugged"},
             {"\"x_mm\": -3.5", "\"x_mm\": 1e9", "d.json:"},
             {"\"name\": \"b\"", "\"name\": \"a\"", "a second time"},
             {"\"ref\": \"JP1\"", "\"ref\": \"\"", "an empty text"},
             {"\"measured\": 9980.0", "\"measured\": -1", "d.json:"},
             {"\"day\": \"2026-11-28\"", "\"day\": \"yesterday\"", "a day such as"}}) {
        auto bad = text;
        const auto at = bad.find(was);
        ASSERT_NE(at, std::string::npos) << was;
        bad.replace(at, was.size(), is);
        const auto read = dossier_from_json(bad, "d.json");
        ASSERT_FALSE(read) << is;
        EXPECT_THAT(read.error().message(), HasSubstr(want)) << is;
    }
}

TEST(BuildChecks, AUnitWithoutACircuitIsSaid) {
    auto d = edit<UnitBuild>(tile(), "tile-1", [](UnitBuild& b) { b.board = "attic"; });
    EXPECT_NE(found(*analysed(d), "build-unknown", "First tile"), nullptr);
    // What the meter said of another unit is nothing to this one.
    MeterReading r;
    r.a = "M1.1";
    r.b = "M1.2";
    r.kind = MeterReadingKind::beep;
    r.unit = "tile-2";
    const auto a = analysed(add_reading(tile(), r));
    const auto* bridge = found(*a, "solder-bridge", "M1.1 and M1.2 are bridged on Second tile");
    ASSERT_NE(bridge, nullptr);
    EXPECT_EQ(bridge->severity, Severity::stop);
    EXPECT_EQ(found(*a, "solder-bridge", "First tile"), nullptr);
    r.set_aside = "slipped";
    EXPECT_EQ(found(*analysed(add_reading(tile(), r)), "solder-bridge"), nullptr);
}

TEST(BuildChecks, WhatWireComputesIsSaidOfItsOwnBoardOnly) {
    // R1 of the ladder is not R1 of the tile: 75 ohms, read as 750.
    auto d = edit<UnitBuild>(tile(), "tile-1", [](UnitBuild& b) {
        b.board = "ladder";
        b.fitted.clear();
        FittedPart f;
        f.ref = "R1";
        f.marking = "751";
        b.fitted.push_back(f);
    });
    const auto a = analysed(d);
    const auto* wrong = found(*a, "wrong-value", "R1 on First tile: ten times");
    ASSERT_NE(wrong, nullptr);
    EXPECT_EQ(wrong->why, "750 Ω.");
    const auto* own = found(*a, "wrong-value", "R8 on Second tile");
    ASSERT_NE(own, nullptr);
    EXPECT_THAT(own->why, HasSubstr("corner becomes"));
}

}  // namespace
}  // namespace grayrelic
