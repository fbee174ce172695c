// SPDX-License-Identifier: GPL-3.0-or-later
// Joints below other parts, against looking at every pair.
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>

#include "core/fit/reach.hpp"
#include "core/library/data_library.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

TEST(CoveredJoints, AreThoseThatLieBelowABodyOnTheirSide) {
    for (unsigned seed = 1; seed <= 50; ++seed) {
        std::mt19937 chance(seed);
        std::uniform_real_distribution<double> where(0, 60), size(2, 15);
        std::vector<PartBody> bodies;
        BoardPads pads;
        struct Truth {
            double left, bottom, right, top;
            bool back;
        };
        std::vector<Truth> truth;
        for (int i = 0; i < 8; ++i) {
            const Truth t{where(chance), where(chance), 0, 0, chance() % 3 == 0};
            truth.push_back({t.left, t.bottom, t.left + size(chance), t.bottom + size(chance), t.back});
            const auto& b = truth.back();
            bodies.push_back({"P" + std::to_string(i),
                              {from_mm(b.left), from_mm(b.bottom), from_mm(b.right), from_mm(b.top)},
                              b.back,
                              3});
            for (int k = 0; k < 6; ++k) {
                const bool hole = chance() % 2 == 0;
                pads.push_back({"P" + std::to_string(i),
                                std::to_string(k + 1),
                                {from_mm(where(chance)), from_mm(where(chance))},
                                hole     ? PadSide::both
                                : b.back ? PadSide::bottom
                                         : PadSide::top});
            }
        }
        std::set<std::string> expected, found;
        for (std::size_t i = 0; i < pads.size(); ++i) {
            const auto own = i / 6;
            // In a hole the joint is made behind the part, on a surface beside it.
            const bool behind = pads[i].side == PadSide::both ? !truth[own].back : truth[own].back;
            const double x = to_mm(pads[i].at.x), y = to_mm(pads[i].at.y);
            for (std::size_t k = 0; k < truth.size(); ++k)
                if (k != own && truth[k].back == behind && x >= truth[k].left - 0.5 &&
                    x <= truth[k].right + 0.5 && y >= truth[k].bottom - 0.5 && y <= truth[k].top + 0.5)
                    expected.insert(pads[i].point() + " below P" + std::to_string(k));
        }
        for (const auto& c : covered_joints(pads, bodies))
            found.insert(c.ref + "." + c.pin + " below " + c.by);
        EXPECT_EQ(found, expected) << seed;
    }
}

TEST(CoveredJoints, BodiesLieAsTheirContactsDo) {
    const auto data = DataLibrary::load(disk(), {test::source_folder() / "data"});
    const auto package = data->packages.find("dip-16");
    ASSERT_TRUE(package);
    for (const bool turned : {false, true}) {
        BoardPads pads;
        for (const auto& p : pads_of(*package))
            pads.push_back(
                {"U1", p.number, {from_mm(turned ? p.y : p.x), from_mm(turned ? p.x : p.y)}, PadSide::both});
        const auto bodies = bodies_of(pads, {{"U1", "dip-16"}}, data->packages);
        ASSERT_EQ(bodies.size(), 1U);
        EXPECT_FALSE(bodies[0].back);
        EXPECT_NEAR(to_mm(turned ? bodies[0].box.width() : bodies[0].box.height()), package->size.length,
                    0.01);
        EXPECT_NEAR(to_mm(turned ? bodies[0].box.height() : bodies[0].box.width()), package->size.width,
                    0.01);
        EXPECT_TRUE(bodies_of(pads, {{"U1", "dip-16"}}, data->packages, {"U1"})[0].back);
    }
    EXPECT_TRUE(bodies_of({{"X", "1", {}, PadSide::top}}, {}, data->packages).empty());
}

}  // namespace
}  // namespace grayrelic
