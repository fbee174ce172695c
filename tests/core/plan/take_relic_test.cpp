// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/plan/take_relic.hpp"

#include <gmock/gmock.h>

#include "core/dossier/edits.hpp"
#include "core/dossier/store.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

const std::filesystem::path pad = test::source_folder() / "demos/calder-dial-pad.relic";

TEST(TakeSide, APortComesWithAllThatRestsOnIt) {
    const auto from = *load_dossier(pad);
    const auto taken = take_side(from, pad, "J1", Dossier{});
    ASSERT_TRUE(taken) << taken.error().message();
    const auto& d = taken->dossier;
    EXPECT_EQ(taken->port, "J1");
    EXPECT_EQ(*d.find_port("J1"), *from.find_port("J1")) << "with every pin's evidence";
    EXPECT_EQ(taken->captures, static_cast<int>(from.captures->size()));
    for (const auto& c : *d.captures) {
        EXPECT_TRUE(std::filesystem::exists(c.outside)) << c.outside;
        EXPECT_TRUE(c.file.empty());
        EXPECT_NE(d.find_unit(c.unit), nullptr);
        EXPECT_EQ(c.ties, from.find_capture(c.id)->ties);
    }
    EXPECT_EQ(taken->units, 2) << "those that a capture names, no others";
    EXPECT_EQ(d.timing->intervals, from.timing->intervals);
    EXPECT_TRUE(d.timing->options.empty()) << "the bridge stays there";
    EXPECT_TRUE(d.supply->parts.empty());
}

TEST(TakeSide, NamesThatAreTakenAreGivenAnewAndFollowed) {
    const auto from = *load_dossier(pad);
    Port other;
    other.id = "J1";
    JobUnit mine;
    mine.id = "borrowed-pad";
    mine.name = "mine";
    CaptureRef capture;
    capture.id = "minute";
    capture.title = "mine";
    const auto taken = take_side(from, pad, "J1", put(put(put(Dossier{}, other), mine), capture));
    ASSERT_TRUE(taken);
    const auto& d = taken->dossier;
    EXPECT_EQ(taken->port, "J2");
    EXPECT_EQ(d.find_capture("minute")->title, "mine");
    const auto* here = d.find_capture("minute-2");
    ASSERT_NE(here, nullptr);
    EXPECT_EQ(here->port, "J2");
    EXPECT_EQ(here->unit, "borrowed-pad-2");
    EXPECT_EQ(d.find_unit("borrowed-pad")->name, "mine");
    for (const auto& i : d.timing->intervals) EXPECT_NE(i.capture, "minute");
    // Taken twice, the same machine is one unit.
    const auto twice = take_side(from, pad, "J1", take_side(from, pad, "J1", Dossier{})->dossier);
    EXPECT_EQ(twice->units, 0);
    EXPECT_EQ(twice->dossier.units->size(), 2U);
}

TEST(TakeSide, AnIntervalTypedByHandComesWithItsLines) {
    auto from = *load_dossier(pad);
    ContractInterval ours, theirs;
    ours.id = "by-hand";
    ours.from = "HOLD:rise";
    ours.to = "STEP:fall";
    theirs = ours;
    theirs.id = "elsewhere";
    theirs.to = "NOWHERE:fall";
    from = put(put(from, ours), theirs);
    const auto taken = take_side(from, pad, "J1", Dossier{});
    EXPECT_NE(taken->dossier.timing->find_interval("by-hand"), nullptr);
    EXPECT_EQ(taken->dossier.timing->find_interval("elsewhere"), nullptr);
    EXPECT_THAT(take_side(from, pad, "J9", Dossier{}).error().found, testing::HasSubstr("J9"));
}

}  // namespace
}  // namespace grayrelic
