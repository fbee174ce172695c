// SPDX-License-Identifier: GPL-3.0-or-later
// Work by hand: steps that are no part of the circuit, and a circuit wired wire by wire.
#include <map>
#include <set>

#include "core/base/unions.hpp"
#include "core/build/assembly.hpp"
#include "core/build/hand_wires.hpp"
#include "tests/core/diagnose/bench_helpers.hpp"

namespace grayrelic {
namespace {

TEST(HandSteps, StandBeforeThePartThatIsInTheWay) {
    BuildBoard b;
    for (const auto& [ref, height] : {std::pair("R1", 2.5), {"U1", 4.0}, {"J1", 9.0}}) {
        BuildPart p;
        p.ref = p.part = ref;
        p.height_mm = height;
        b.parts.push_back(p);
    }
    b.hand = {{HandStepKind::glue, "glue the feet", "J1"},
              {HandStepKind::cut, "cut the opening", ""},
              {HandStepKind::insert, "insert M3", "X9"}};
    const auto plan = plan_assembly(b);
    std::vector<std::string> order;
    for (const auto& s : plan.steps) {
        EXPECT_EQ(s.n, static_cast<int>(order.size()) + 1);
        order.push_back(s.refs.front());
    }
    EXPECT_EQ(order,
              (std::vector<std::string>{"R1", "U1", "glue the feet", "J1", "cut the opening", "insert M3"}));
    EXPECT_EQ(plan.steps[2].technique, Technique::by_hand);
    EXPECT_FALSE(plan.steps[2].how.empty());
    ASSERT_EQ(plan.problems.size(), 1U);
    EXPECT_THAT(plan.problems[0], testing::HasSubstr("there is no part X9"));
}

/// The wires of a whole demo, walked by an oracle of its own: they join each net, no two nets, with no wire
/// too many.
TEST(HandWires, MakeEachNetAndNoOther) {
    const auto pad = test::demo_board("calder-dial-pad.relic", "");
    const auto board = build_board(*pad.analysis, "");
    ASSERT_TRUE(board.has_value());
    const auto wires = hand_wires(*pad.analysis, *board);
    std::map<std::string, int> number;
    std::size_t least = 0, leads = 0;
    for (const auto& n : board->nets) {
        for (const auto& p : n.points) number.emplace(p, static_cast<int>(number.size()));
        leads += n.points.size();
        least += n.points.empty() ? 0 : n.points.size() - 1;
    }
    Unions joined(number.size());
    for (const auto& w : wires) {
        EXPECT_TRUE(joined.unite(number.at(w.from), number.at(w.to)))
            << w.from << " to " << w.to << " is too much";
        EXPECT_FALSE(w.colour.empty());
    }
    EXPECT_EQ(wires.size(), least);
    std::set<int> nets;
    for (const auto& n : board->nets) {
        if (n.points.empty()) continue;
        for (const auto& p : n.points)
            EXPECT_TRUE(joined.same(number.at(p), number.at(n.points.front()))) << p;
        EXPECT_TRUE(nets.insert(joined.find(number.at(n.points.front()))).second)
            << n.name << " meets another net";
    }
    // Ground is black, the supply red, and the hunt's names stand beside the lines of the register.
    std::map<std::string, HandWire> of;
    for (const auto& w : wires) of.emplace(w.net, w);
    EXPECT_EQ(of.at("GND").colour, "black");
    EXPECT_EQ(of.at("V5F").colour, "red");
    EXPECT_FALSE(of.at("a").label.empty());
    EXPECT_TRUE(of.at("/LOAD").label.empty());
    EXPECT_GT(leads, 100U);
}

}  // namespace
}  // namespace grayrelic
