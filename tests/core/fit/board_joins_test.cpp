// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/board_joins.hpp"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <random>
#include <set>

#include "core/fit/stack_text.hpp"

namespace grayrelic {
namespace {

using ::testing::HasSubstr;

BoardCircuit circuit(std::vector<Net> nets, std::map<std::string, PinAction> pins,
                     std::map<std::string, double> volts = {}) {
    BoardCircuit c;
    c.name = "a netlist";
    c.nets = std::move(nets);
    c.pins = std::move(pins);
    c.volts = std::move(volts);
    return c;
}

Net net(const char* name, std::vector<std::string> points) {
    return {name, std::move(points), {}};
}

BoardStack two_levels(JoinKind kind = JoinKind::plugged) {
    BoardStack s;
    s.levels.resize(2);
    s.levels[0].name = "low";
    s.levels[1].name = "up";
    s.joins = {{"low/J1", "up/J1", kind, {}}};
    return s;
}

StackNets joined(const BoardStack& s, const BoardCircuit& low, const BoardCircuit& up,
                 const BoardVariant* variant = nullptr, std::vector<StackBoard> boards = {}) {
    std::vector<std::string> problems;
    std::vector<LevelNets> levels{fitted_nets(low, nullptr, problems), fitted_nets(up, variant, problems)};
    levels[0].name = "low";
    levels[1].name = "up";
    boards.resize(2);
    boards[0].joins = boards[1].joins = {"J1"};
    return join_levels(s, levels, boards);
}

bool has(const StackNets& n, StackFault kind, Verdict verdict, const std::string& says) {
    return std::any_of(n.faults.begin(), n.faults.end(), [&](const StackNetFault& f) {
        return f.kind == kind && f.verdict == verdict && f.says.find(says) != std::string::npos;
    });
}

const auto tone = circuit({net("V5", {"J1.1", "U1.20"}), net("GND", {"J1.2", "U1.10"}),
                           net("DATA", {"J1.3", "U1.2"}), net("CLK", {"J1.4", "U1.5"})},
                          {{"U1.20", PinAction::takes},
                           {"U1.10", PinAction::ground},
                           {"U1.2", PinAction::drives},
                           {"U1.5", PinAction::drives}},
                          {{"V5", 5.0}, {"GND", 0.0}});
const auto ladder = circuit({net("V5", {"J1.1", "U2.16"}), net("GND", {"J1.2", "U2.8"}),
                             net("DATA", {"J1.3", "U3.1"}), net("CLK", {"J1.4", "U2.1"})},
                            {{"U2.16", PinAction::takes},
                             {"U2.8", PinAction::ground},
                             {"U3.1", PinAction::reads},
                             {"U2.1", PinAction::reads}},
                            {{"V5", 5.0}, {"GND", 0.0}});

TEST(BoardJoins, CountTheirContacts) {
    const auto n = joined(two_levels(), tone, ladder);
    EXPECT_TRUE(n.faults.empty()) << n.faults.front().says;
    ASSERT_EQ(n.joins.size(), 1U);
    EXPECT_EQ(n.joins[0].used, 4);
    EXPECT_EQ(n.joins[0].grounds, 1);
    EXPECT_EQ(n.joins[0].supplies, 1);
    EXPECT_EQ(n.joins[0].free, 0);
    EXPECT_EQ(n.nets.size(), 4U);
    EXPECT_THAT(n.nets[0].points, ::testing::Contains("up/J1.1"));
}

TEST(BoardJoins, TwoThatDriveAreAStopAndMayBeADoubt) {
    auto both = ladder;
    both.pins["U3.1"] = PinAction::drives;
    EXPECT_TRUE(
        has(joined(two_levels(), tone, both), StackFault::conflict, Verdict::stop, "both drive DATA"));
    both.pins["U3.1"] = PinAction::may_rest;
    EXPECT_TRUE(has(joined(two_levels(), tone, both), StackFault::may_conflict, Verdict::doubt,
                    "can both drive DATA"));
    both.pins["U3.1"] = PinAction::firmware;
    EXPECT_TRUE(has(joined(two_levels(), tone, both), StackFault::may_conflict, Verdict::doubt, "DATA"));
    both.pins.erase("U3.1");
    EXPECT_TRUE(has(joined(two_levels(), tone, both), StackFault::may_conflict, Verdict::unknown,
                    "nobody knows what up/U3.1 does"));
    // Open collectors share a line by design, and so do three-state outputs.
    auto low = tone;
    low.pins["U1.2"] = both.pins["U3.1"] = PinAction::pulls_low;
    EXPECT_TRUE(joined(two_levels(), low, both).faults.empty());
    low.pins["U1.2"] = both.pins["U3.1"] = PinAction::may_rest;
    EXPECT_TRUE(joined(two_levels(), low, both).faults.empty());
    low.pins["U1.20"] = both.pins["U2.16"] = PinAction::gives;
    EXPECT_TRUE(
        has(joined(two_levels(), low, both), StackFault::may_conflict, Verdict::doubt, "both feed V5"));
}

TEST(BoardJoins, ARoleThatLeavesTheDriverOut) {
    auto up = ladder;
    up.nets.push_back(net("PICK", {"U3.2", "U2.3", "JP1.1"}));
    up.nets.push_back(net("OWN", {"JP1.2", "U4.1"}));
    up.pins["U3.2"] = PinAction::drives;
    up.pins["U2.3"] = PinAction::reads;
    up.pins["U4.1"] = PinAction::drives;
    up.pins["JP1.1"] = up.pins["JP1.2"] = PinAction::passive;
    BoardVariant bare;
    bare.name = "bare";
    bare.omit = {"U3"};
    EXPECT_TRUE(has(joined(two_levels(), tone, up, &bare), StackFault::undriven, Verdict::doubt,
                    "up/U3.2 is left out"));
    // The jumper leads its own driver there.
    bare.jumpers = {{"JP1", "1-2"}};
    EXPECT_TRUE(joined(two_levels(), tone, up, &bare).faults.empty());
    std::vector<std::string> problems;
    bare.omit = {"U77"};
    bare.jumpers = {{"JP1", "1-9"}, {"JP2", "x"}};
    (void)fitted_nets(up, &bare, problems);
    ASSERT_EQ(problems.size(), 3U);
    EXPECT_THAT(problems[0], HasSubstr("U77, which is not in the circuit"));
    EXPECT_THAT(problems[1], HasSubstr("JP1.9, which are on no net"));
    EXPECT_THAT(problems[2], HasSubstr("pins are joined as 1-2"));
    BoardVariant only;
    only.only = {"J1", "U2"};
    for (const auto& n : fitted_nets(up, &only, problems).nets)
        for (const auto& p : n.points) EXPECT_TRUE(p.starts_with("J1.") || p.starts_with("U2.")) << p;
}

TEST(BoardJoins, WrongTablesOfContacts) {
    auto up = ladder;
    std::swap(up.nets[0].points[0], up.nets[2].points[0]);  // V5 on 3, DATA on 1
    auto n = joined(two_levels(), tone, up);
    EXPECT_TRUE(has(n, StackFault::supplies, Verdict::stop, "a supply on a signal"));
    up = ladder;
    std::swap(up.nets[2].points[0], up.nets[3].points[0]);
    n = joined(two_levels(), tone, up);
    EXPECT_TRUE(
        has(n, StackFault::crossed, Verdict::stop, "low/J1.3 is DATA and meets up/J1.3, which is CLK"));
    up = ladder;
    up.volts["V5"] = 3.3;
    EXPECT_TRUE(has(joined(two_levels(), tone, up), StackFault::supplies, Verdict::stop, "5 V on 3.3 V"));
    up = ladder;
    up.nets[2].name = "BITS";  // another name of the same signal
    EXPECT_TRUE(joined(two_levels(), tone, up).faults.empty());
    up = ladder;
    up.nets[1].points[0] = "J1.7";
    n = joined(two_levels(), tone, up);
    EXPECT_TRUE(has(n, StackFault::no_ground, Verdict::stop, "no contact carries ground from low to up"));
    EXPECT_TRUE(has(n, StackFault::unmet, Verdict::doubt, "up/J1.7 carries GND and meets no contact"));
    up = ladder;
    up.nets[3].points.erase(up.nets[3].points.begin());
    up.nets[3].points.push_back("U9.1");
    EXPECT_TRUE(has(joined(two_levels(), tone, up), StackFault::not_joined, Verdict::doubt,
                    "CLK is on low and on up"));
}

TEST(BoardJoins, WherePadsLieGoesBeforeTheirNumbers) {
    std::vector<StackBoard> boards(2);
    for (int i = 0; i < 4; ++i)
        for (auto& b : boards)
            b.pads.push_back({"J1", std::to_string(i + 1), {from_mm(2.54 * i), 0}, PadSide::both, {}, {}, 0});
    auto n = joined(two_levels(), tone, ladder, nullptr, boards);
    EXPECT_TRUE(n.joins[0].by_place);
    EXPECT_TRUE(n.faults.empty());
    // The upper board lies with its front down: contact 1 meets contact 4.
    boards[1].over = true;
    boards[1].x_mm = 3 * 2.54;
    n = joined(two_levels(), tone, ladder, nullptr, boards);
    EXPECT_EQ(n.joins[0].contacts[0].upper_pin, "4");
    EXPECT_TRUE(has(n, StackFault::crossed, Verdict::stop, "4 of 4 contacts meet one of another number"));
    boards[1].x_mm = 30;
    EXPECT_THAT(joined(two_levels(), tone, ladder, nullptr, boards).joins[0].problem,
                HasSubstr("do not lie over each other"));
    EXPECT_FALSE(joined(two_levels(JoinKind::cable), tone, ladder, nullptr, boards).joins[0].by_place);
    auto s = two_levels();
    s.joins[0].upper = "attic/J1";
    EXPECT_THAT(joined(s, tone, ladder).joins[0].problem, HasSubstr("not on two levels"));
    s.joins[0].upper = "up/J9";
    EXPECT_THAT(joined(s, tone, ladder).joins[0].problem, HasSubstr("is on no net and has no pads"));
}

/// By walking from net to net over the contacts, for any number of levels.
TEST(BoardJoins, ConflictsAreThoseOfWalkingOnRandomStacks) {
    int conflicts = 0, none = 0;
    for (unsigned seed = 1; seed <= 300; ++seed) {
        std::mt19937 chance(seed);
        const int count = 2 + static_cast<int>(chance() % 3);
        const int nets = 3 + static_cast<int>(chance() % 5);
        BoardStack s;
        std::vector<LevelNets> levels;
        std::vector<std::vector<int>> contact_of;  // net of each contact of the level's only strip
        std::vector<std::vector<int>> drivers;     // how many firm drivers each net has
        for (int l = 0; l < count; ++l) {
            StackLevel level;
            level.name = "L" + std::to_string(l);
            s.levels.push_back(level);
            LevelNets n;
            n.name = level.name;
            contact_of.emplace_back();
            drivers.emplace_back(static_cast<std::size_t>(nets), 0);
            for (int i = 0; i < nets; ++i) {
                Net one;
                one.name = level.name + "n" + std::to_string(i);
                const int contact = static_cast<int>(chance() % 3) > 0 ? i : -1;
                contact_of.back().push_back(contact);
                if (contact >= 0) one.points.push_back("J1." + std::to_string(contact + 1));
                for (int k = 0; k < 2; ++k) {
                    const auto pin = "U" + std::to_string(i) + "." + std::to_string(k + 1);
                    one.points.push_back(pin);
                    const bool drive = k == 0 && chance() % 4 == 0;
                    n.pins[pin] = drive ? PinAction::drives : PinAction::reads;
                    drivers.back()[static_cast<std::size_t>(i)] += drive ? 1 : 0;
                }
                n.nets.push_back(std::move(one));
            }
            levels.push_back(std::move(n));
            if (l > 0)
                s.joins.push_back(
                    {"L" + std::to_string(l - 1) + "/J1", level.name + "/J1", JoinKind::cable, {}});
        }
        std::vector<StackBoard> boards(static_cast<std::size_t>(count));
        for (auto& b : boards) b.joins = {"J1"};
        // Walk: contact i of level l is one with contact i of level l + 1 where both have a net there.
        std::set<int> want;  // nets by number with two drivers on different levels in one run of levels
        for (int i = 0; i < nets; ++i) {
            int run = 0;
            for (int l = 0; l < count; ++l) {
                const auto at = static_cast<std::size_t>(l), n = static_cast<std::size_t>(i);
                const bool on = contact_of[at][n] >= 0;
                const bool tied = l > 0 && on && contact_of[at - 1][n] >= 0;
                if (!tied) run = 0;
                run += drivers[at][n];
                if (tied && run > 1) want.insert(i);
            }
        }
        std::set<int> found;
        for (const auto& f : join_levels(s, levels, boards).faults)
            if (f.kind == StackFault::conflict)
                for (int i = 0; i < nets; ++i)
                    if ((", " + f.thing + ",").find("n" + std::to_string(i) + ",") != std::string::npos)
                        found.insert(i);
        EXPECT_EQ(found, want) << "seed " << seed;
        ++(want.empty() ? none : conflicts);
    }
    EXPECT_GT(conflicts, 60);
    EXPECT_GT(none, 60);
}

TEST(StackLines, AreTypedInOneLine) {
    const auto l = parse_level(
        "level test board ladder as driven at 10 -5.5 turn 90 over gap 11 ±0.2 measured caliper, unit 2");
    ASSERT_TRUE(l) << l.error().message();
    EXPECT_EQ(l->name, "test");
    EXPECT_EQ(l->board, "ladder");
    EXPECT_EQ(l->variant, "driven");
    EXPECT_EQ(l->x_mm, 10);
    EXPECT_EQ(l->y_mm, -5.5);
    EXPECT_EQ(l->turn_deg, 90);
    EXPECT_TRUE(l->over);
    EXPECT_EQ(l->gap.value, 11.0);
    EXPECT_EQ(l->gap.uncertainty, 0.2);
    EXPECT_EQ(l->gap.evidence.kind, EvidenceKind::measured);
    EXPECT_EQ(parse_level(level_text(*l)).value(), *l) << level_text(*l);
    EXPECT_EQ(parse_level("level main")->board, "main");
    EXPECT_EQ(parse_level("level main gap 3")->gap.evidence.kind, EvidenceKind::assumed);
    for (const char* bad : {"", "level", "main", "level a/b", "level a at 1", "level a turn 45",
                            "level a turn 360", "level a gap", "level a gap -1", "level a gap 3 ± x",
                            "level a beside b", "level a at x y", "level a at 1e9 0"})
        EXPECT_FALSE(parse_level(bad)) << bad;
    const auto j = parse_join("join low/J2 up/J1 soldered");
    ASSERT_TRUE(j);
    EXPECT_EQ(*j, (StackJoin{"low/J2", "up/J1", JoinKind::soldered, {}}));
    EXPECT_EQ(parse_join("join low/J2 up/J1")->kind, JoinKind::plugged);
    for (const char* bad : {"join", "join low/J2", "join low up/J1", "join low/ up/J1",
                            "join low/J2 up/J1 glued", "join a/b c/d cable x"})
        EXPECT_FALSE(parse_join(bad)) << bad;
    const auto v = parse_variant("variant mixer without R5, C3 with JP1 1-2 3-4 JP2 2-3");
    ASSERT_TRUE(v) << v.error().message();
    EXPECT_EQ(v->omit, (std::vector<std::string>{"R5", "C3"}));
    EXPECT_EQ(v->jumpers, (std::map<std::string, std::string>{{"JP1", "1-2 3-4"}, {"JP2", "2-3"}}));
    EXPECT_EQ(parse_variant(variant_text(*v)).value(), *v);
    EXPECT_EQ(parse_variant("variant bare only U1 C1")->only, (std::vector<std::string>{"U1", "C1"}));
    for (const char* bad : {"", "variant", "variant a R1", "variant a with JP1", "variant a with JP1 12"})
        EXPECT_FALSE(parse_variant(bad)) << bad;
}

}  // namespace
}  // namespace grayrelic
