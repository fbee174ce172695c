// SPDX-License-Identifier: GPL-3.0-or-later
// What is likely before anybody probes, what buses teach, and which reading is blamed: the order only, never
// what is proven.
#include "core/trace/likelihood.hpp"

#include <gmock/gmock.h>

#include <algorithm>
#include <cmath>

#include "core/base/random.hpp"
#include "core/dossier/edits.hpp"
#include "core/trace/suspects.hpp"
#include "tests/core/trace/shipped_parts.hpp"

namespace grayrelic {
namespace {

using test::shipped_parts;

/// Two bus transceivers, a capacitor and a resistor.
BoardModel board() {
    Trace t;
    for (const auto& [ref, type, x] : {std::tuple{"U1", "74x245", 10.0},
                                       {"U2", "74x245", 60.0},
                                       {"C1", "capacitor", 10.0},
                                       {"R1", "resistor", 60.0}}) {
        BoardPart p;
        p.ref = ref;
        p.type = type;
        p.x_mm = x;
        p.y_mm = 20.0;
        t.parts.push_back(std::move(p));
    }
    return BoardModel::build(put({}, t), shipped_parts());
}

class Odds : public testing::Test {
  protected:
    BoardModel model = board();
    Likelihood prior{model};
    int at(const char* point) {
        const int p = model.table.find(point);
        EXPECT_GE(p, 0) << point;
        return p;
    }
    double odds(const char* a, const char* b) { return prior.odds(at(a), at(b)); }
    Link join(const char* a, const char* b, int row) { return {at(a), at(b), Says::joined, row}; }
    Link apart(const char* a, const char* b, int row) { return {at(a), at(b), Says::apart, row}; }
    NetState nets(std::vector<Link> links) {
        return derive_nets(static_cast<int>(model.points.size()), std::move(links));
    }
};

TEST_F(Odds, RailsGoTogetherAndNeverAcross) {
    // Pin 20 is the supply, pin 10 ground, of either transceiver.
    EXPECT_GT(odds("U1.10", "U2.10"), 10);
    EXPECT_GT(odds("U1.20", "U2.20"), 10);
    EXPECT_LT(odds("U1.10", "U2.20"), 1e-3);
    EXPECT_GT(odds("C1.1", "U1.10"), odds("U1.2", "U1.10"))
        << "a capacitor stands at a rail sooner than a data line";
    EXPECT_GT(odds("C1.1", "U1.10"), odds("R1.1", "U1.10"));
    EXPECT_LT(odds("C1.1", "C1.2"), 0.01) << "nobody shorts a part";
}

TEST_F(Odds, AreTheSameEitherWay) {
    for (std::size_t a = 0; a < model.points.size(); ++a)
        for (std::size_t b = 0; b < a; ++b)
            EXPECT_DOUBLE_EQ(prior.odds(static_cast<int>(a), static_cast<int>(b)),
                             prior.odds(static_cast<int>(b), static_cast<int>(a)))
                << model.table.name(static_cast<int>(a)) << " " << model.table.name(static_cast<int>(b));
}

TEST_F(Odds, TheSameBitOfTwoBusesComesBeforeAnother) {
    // Pins 2 to 9 are A0 to A7.
    EXPECT_GT(odds("U1.2", "U2.2"), 1);
    EXPECT_LT(odds("U1.2", "U2.3"), 0.1);
    EXPECT_LT(odds("U1.2", "U1.3"), 0.01) << "two bits of one bus";
    EXPECT_EQ(prior.why(at("U1.2"), at("U2.2")), "the same bit of two buses");
    EXPECT_EQ(prior.why(at("U1.10"), at("U2.10")), "both are ground");
    EXPECT_EQ(prior.why(at("U1.10"), at("U2.20")), "supply against ground");
    const auto& partners = prior.partners()[static_cast<std::size_t>(at("U1.2"))];
    EXPECT_THAT(partners, testing::Contains(at("U2.2")));
}

TEST_F(Odds, ABusThatRunsCrossedIsLearnt) {
    // Bits 0 to 3 of A meet bits 7 to 4 of the other: reversed.
    const auto state = nets({join("U1.2", "U2.9", 0), join("U1.3", "U2.8", 1), join("U1.4", "U2.7", 2),
                             join("U1.5", "U2.6", 3), apart("U1.6", "U2.6", 4)});
    const BusLore lore(prior, state);
    const auto factor = [&](const char* a, const char* b) {
        return lore.factor(prior.feature(at(a)), prior.feature(at(b)));
    };
    EXPECT_GT(factor("U1.6", "U2.5"), 5 * factor("U1.6", "U2.6")) << "bit 4 meets bit 3, as the others run";
    EXPECT_DOUBLE_EQ(factor("U1.2", "U1.3"), 1.0) << "of one bus nothing is learnt";
    EXPECT_DOUBLE_EQ(factor("U1.10", "U2.2"), 1.0) << "a rail is no bus";
}

TEST_F(Odds, NetsInContradictionTeachNothing) {
    const auto clean = nets({join("U1.2", "U2.9", 0), join("U1.3", "U2.8", 1)});
    const auto doubtful = nets({join("U1.2", "U2.9", 0), join("U1.3", "U2.8", 1), apart("U1.2", "U2.9", 2),
                                apart("U1.3", "U2.8", 3)});
    const auto factor = [&](const NetState& s) {
        return BusLore(prior, s).factor(prior.feature(at("U1.4")), prior.feature(at("U2.7")));
    };
    EXPECT_GT(factor(clean), factor(doubtful));
}

TEST_F(Odds, TheJoinThatPutsStrangersTogetherIsBlamed) {
    // The two grounds joined, the two supplies joined, and one beep between the rails; probed again it is
    // open.
    const auto state = nets({join("U1.10", "U2.10", 0), join("U1.20", "U2.20", 1), join("U1.20", "U1.10", 2),
                             apart("U2.20", "U2.10", 3)});
    ASSERT_EQ(state.contradictions.size(), 1U);
    const auto list = suspects(state, prior);
    ASSERT_FALSE(list.empty());
    EXPECT_EQ(list.front().row, 2);
    EXPECT_EQ(list.front().said, Says::joined);
    EXPECT_EQ(list.front().why,
              "without it the contradiction goes and the net falls into two that have nothing in common");
}

TEST_F(Odds, AnOpenBetweenLikelyPointsWithManyWaysAroundIsBlamed) {
    const auto state = nets({join("U1.10", "U2.10", 0), join("U1.10", "C1.1", 1), join("C1.1", "U2.10", 2),
                             apart("U1.10", "U2.10", 3)});
    const auto list = suspects(state, prior);
    ASSERT_FALSE(list.empty());
    EXPECT_EQ(list.front().row, 3);
    EXPECT_EQ(list.front().said, Says::apart);
}

TEST_F(Odds, OneSlipThatExplainsSeveralComesFirst) {
    // Two buses joined in bit 0 and bit 1 each, and one beep across; two opens contradict it.
    const auto state = nets({join("U1.2", "U2.2", 0), join("U1.3", "U2.3", 1), join("U1.2", "U1.3", 2),
                             apart("U2.2", "U2.3", 3), apart("U1.2", "U2.3", 4)});
    EXPECT_EQ(state.contradictions.size(), 2U);
    const auto list = suspects(state, prior);
    ASSERT_FALSE(list.empty());
    EXPECT_EQ(list.front().row, 2);
    EXPECT_EQ(list.front().explains, 2);
    EXPECT_EQ(list.front().of, 2);
    EXPECT_THAT(list.front().why, testing::HasSubstr("all 2 contradictions go"));
    EXPECT_LE(suspects(state, prior, 1).size(), 1U);
}

// Of grounds the eight nearest are worth trying, of equally near ones the first; held against going through
// them all.
TEST(Partners, AreTheNearestOfTheirKind) {
    for (std::uint64_t seed = 1; seed <= 60; ++seed) {
        Random random(seed);
        Trace t;
        for (std::uint64_t i = 0, parts = 2 + random.below(40); i < parts; ++i) {
            BoardPart p;
            p.ref = "U" + std::to_string(i);
            p.type = "74x245";
            // In rows as on a board, several at one place, and some without a package whose pins lie
            // anywhere.
            p.x_mm = static_cast<double>(random.below(6)) * 12.7;
            p.y_mm = random.below(2) == 0 ? 20.0 : random.uniform(0, 90);
            if (random.below(5) == 0) p.package = "nobody-knows";
            t.parts.push_back(std::move(p));
        }
        const auto model = BoardModel::build(put({}, t), shipped_parts());
        const Likelihood prior(model);
        for (int p = 0; p < prior.points(); ++p) {
            const auto& f = prior.feature(p);
            if (f.kind != PinKind::ground) continue;
            std::vector<std::pair<float, int>> all;
            for (int q = 0; q < prior.points(); ++q) {
                const auto& g = prior.feature(q);
                if (g.kind != PinKind::ground) continue;
                all.emplace_back(f.placed && g.placed ? std::hypot(f.x - g.x, f.y - g.y) : 1e3F, q);
            }
            std::sort(all.begin(), all.end());
            if (all.size() > 8) all.resize(8);
            std::vector<int> expected;
            for (const auto& [distance, q] : all)
                if (q != p) expected.push_back(q);
            std::sort(expected.begin(), expected.end());
            EXPECT_EQ(prior.partners()[static_cast<std::size_t>(p)], expected)
                << "seed " << seed << ", point " << p;
        }
    }
}

}  // namespace
}  // namespace grayrelic
