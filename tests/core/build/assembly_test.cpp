// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/build/assembly.hpp"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <random>
#include <set>

#include "core/build/joint_sheet.hpp"
#include "core/checks/analyse.hpp"
#include "core/dossier/store.hpp"
#include "core/library/data_library.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

using ::testing::HasSubstr;

BuildPart part(const std::string& ref, double height, bool surface = false, double pitch = 2.54,
               int pins = 8) {
    BuildPart p;
    p.ref = ref;
    p.part = "part " + ref.substr(0, 1);
    p.package = surface ? "tssop" : "dip";
    p.height_mm = height;
    p.surface = surface;
    p.pitch_mm = pitch;
    for (int i = 1; i <= pins; ++i) p.pins.push_back(std::to_string(i));
    return p;
}

std::vector<std::string> order_of(const AssemblyPlan& plan) {
    std::vector<std::string> out;
    for (const auto& s : plan.steps) out.insert(out.end(), s.refs.begin(), s.refs.end());
    return out;
}

TEST(AssemblyPlans, FineBeforeCoarseAndLowBeforeHigh) {
    BuildBoard b;
    b.parts = {part("C1", 11), part("U1", 1.2, true, 0.65), part("R1", 3, false, 0, 2),
               part("U2", 0.9, true, 0.5), part("D1", 1.75, true, 1.27)};
    b.parts[3].belly = true;
    b.parts[3].how = SolderClass::hot_air;
    const auto plan = plan_assembly(b);
    EXPECT_EQ(order_of(plan), (std::vector<std::string>{"U2", "U1", "D1", "R1", "C1"}));
    EXPECT_EQ(plan.steps[0].technique, Technique::hot_air);
    EXPECT_EQ(plan.steps[1].technique, Technique::drag);
    EXPECT_EQ(plan.steps[2].technique, Technique::tack);
    EXPECT_EQ(plan.steps[3].technique, Technique::through);
    EXPECT_THAT(plan.steps[4].why, HasSubstr("11 mm high"));
    EXPECT_THAT(plan.steps[1].checks[0].says, HasSubstr("two corners"));
}

TEST(AssemblyPlans, SayWhatToReadAndWhichWayRound) {
    BuildBoard b;
    b.parts = {part("D1", 3, false, 0, 2), part("R1", 4, false, 0, 2), part("R2", 4, false, 0, 2)};
    b.parts[0].way_round = "a band marks the cathode";
    b.values = {{"R1", {4700, false, 0.05}}, {"R2", {4700, false, 0.05}}};
    const auto plan = plan_assembly(b);
    ASSERT_EQ(plan.steps.size(), 2U);
    ASSERT_EQ(plan.steps[0].checks.size(), 1U);
    EXPECT_THAT(plan.steps[0].checks[0].says,
                HasSubstr("Mind which way round it lies; pin 1: a band marks the cathode"));
    ASSERT_EQ(plan.steps[1].checks.size(), 1U);
    EXPECT_THAT(plan.steps[1].checks[0].says,
                HasSubstr("Read or measure each value before they are fitted: part R"));
}

TEST(AssemblyPlans, WhatIsCoveredComesFirst) {
    BuildBoard b;
    b.parts = {part("C9", 12), part("U1", 2)};
    CoveredJoint c;
    c.ref = "C9";
    c.pin = "1";
    c.by = "U1";
    b.covered = {c};
    auto plan = plan_assembly(b);
    EXPECT_EQ(order_of(plan), (std::vector<std::string>{"C9", "U1"}));
    EXPECT_THAT(plan.steps[0].why, HasSubstr("Before U1, which covers its joints"));
    EXPECT_THAT(plan.steps[1].checks.back().says, HasSubstr("joints of C9"));
    std::swap(c.ref, c.by);
    b.covered.push_back(c);
    plan = plan_assembly(b);
    ASSERT_EQ(plan.problems.size(), 1U);
    EXPECT_THAT(plan.problems[0], HasSubstr("in no order can both be soldered"));
    EXPECT_EQ(order_of(plan).size(), 2U);
}

TEST(AssemblyPlans, NeverPlaceAPartOverAnOpenJoint) {
    int steps = 0;
    for (unsigned seed = 1; seed <= 500; ++seed) {
        std::mt19937 chance(seed);
        BuildBoard b;
        const int count = 3 + static_cast<int>(chance() % 20);
        for (int i = 0; i < count; ++i) {
            auto p = part("P" + std::to_string(i), 0.5 + static_cast<double>(chance() % 200) / 10,
                          chance() % 2 == 0, chance() % 2 == 0 ? 0.65 : 2.54);
            p.back = chance() % 5 == 0;
            p.belly = chance() % 6 == 0;
            if (chance() % 5 == 0) p.height_mm.reset();
            b.parts.push_back(std::move(p));
        }
        // Without a circle: only earlier ones are covered by later ones, in an order that nobody told the
        // plan.
        std::vector<int> hidden(static_cast<std::size_t>(count));
        for (int i = 0; i < count; ++i) hidden[static_cast<std::size_t>(i)] = i;
        std::shuffle(hidden.begin(), hidden.end(), chance);
        for (int n = 0; n < count; ++n) {
            const auto i = chance() % static_cast<unsigned>(count),
                       k = chance() % static_cast<unsigned>(count);
            if (i >= k) continue;
            CoveredJoint c;
            c.ref = "P" + std::to_string(hidden[i]);
            c.pin = "1";
            c.by = "P" + std::to_string(hidden[k]);
            b.covered.push_back(c);
        }
        const auto plan = plan_assembly(b);
        EXPECT_TRUE(plan.problems.empty());
        const auto order = order_of(plan);
        EXPECT_EQ(order.size(), b.parts.size());
        EXPECT_EQ(std::set<std::string>(order.begin(), order.end()).size(), order.size());
        for (const auto& c : b.covered) {
            const auto under = std::find(order.begin(), order.end(), c.ref),
                       over = std::find(order.begin(), order.end(), c.by);
            EXPECT_LT(under, over) << "seed " << seed << ": " << c.by << " over " << c.ref;
            ++steps;
        }
    }
    EXPECT_GT(steps, 2000);
}

TEST(AssemblyPlans, TheDemosBoardsCanBePlannedAndProven) {
    for (const auto& [name, board, parts] :
         {std::tuple("calder-dial-pad", "adapter", 21U), {"calder-sound-tile", "ladder", 9U}}) {
        const auto folder = test::source_folder() / "demos" / (std::string(name) + ".relic");
        CaptureStore store;
        Progress progress;
        const auto a =
            analyse(*load_dossier(folder), folder, store, progress, nullptr, DataLibrary::load_installed());
        ASSERT_TRUE(a);
        const auto b = build_board(**a, board);
        ASSERT_TRUE(b) << name;
        EXPECT_GE(b->parts.size(), parts);
        const auto plan = plan_assembly(*b);
        EXPECT_EQ(order_of(plan).size(), b->parts.size());
        const auto sheet = joint_sheet(*b, plan);
        // Each dual-row chip with n pins has at most n − 2 neighbours, fewer where they are one net.
        for (const auto& p : b->parts) {
            if (!p.package.starts_with("dip-")) continue;
            const auto n = std::count_if(
                b->neighbours.begin(), b->neighbours.end(),
                [&](const PadNeighbours& x) { return ref_in(x.a) == p.ref && ref_in(x.b) == p.ref; });
            EXPECT_LE(n, static_cast<long>(p.pins.size()) - 2) << p.ref;
            EXPECT_GT(n, 0) << p.ref;
        }
        for (const auto& l : sheet.lines) {
            EXPECT_TRUE(l.before == 0 || l.after < l.before) << l.a << " " << l.b;
        }
        EXPECT_FALSE(build_board(**a, "attic"));
    }
}

}  // namespace
}  // namespace grayrelic
