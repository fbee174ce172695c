// SPDX-License-Identifier: GPL-3.0-or-later
// A meter of its own shows what each line of a sheet would say of a sound unit and of one with a fault.
#include "core/build/joint_sheet.hpp"

#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <algorithm>
#include <functional>
#include <map>
#include <random>
#include <set>

namespace grayrelic {
namespace {

BuildPart chip(const std::string& ref, int pins) {
    BuildPart p;
    p.ref = ref;
    p.part = "a chip";
    for (int i = 1; i <= pins; ++i) p.pins.push_back(std::to_string(i));
    return p;
}

/// A unit as a graph of leads, pads and what joins them; walked anew for each line.
class Bench {
  public:
    Bench(const BuildBoard& b, std::string open_joint, std::pair<std::string, std::string> bridge) {
        for (const auto& n : b.nets)
            for (std::size_t i = 0; i < n.points.size(); ++i) {
                if (i > 0) join("pad " + n.points[0], "pad " + n.points[i]);
                if (n.points[i] != open_joint) join("pad " + n.points[i], "lead " + n.points[i]);
            }
        for (const auto& n : b.neighbours)
            for (const auto& p : {n.a, n.b})
                if (p != open_joint) join("pad " + p, "lead " + p);
        for (const auto& [ref, ohm] : b.ohms) join("lead " + ref + ".1", "lead " + ref + ".2", ohm);
        if (!bridge.first.empty()) join("pad " + bridge.first, "pad " + bridge.second);
    }
    bool beeps(const JointLine& l) const {
        const bool pad = l.b.size() > 4 && l.b.substr(l.b.size() - 4) == " pad";
        const auto to = pad ? "pad " + l.b.substr(0, l.b.size() - 4) : "lead " + l.b;
        // The way with the least ohms (Dijkstra): no more than three parts, so that ways beside each other
        // make no difference to what beeps.
        std::map<std::string, double> best{{"lead " + l.a, 0}};
        std::set<std::pair<double, std::string>> queue{{0, "lead " + l.a}};
        while (!queue.empty()) {
            const auto [ohm, at] = *queue.begin();
            queue.erase(queue.begin());
            if (at == to) return ohm <= 30;
            const auto it = joined_.find(at);
            if (it == joined_.end()) continue;
            for (const auto& [next, more] : it->second) {
                const auto known = best.find(next);
                if (known != best.end() && known->second <= ohm + more) continue;
                best[next] = ohm + more;
                queue.insert({ohm + more, next});
            }
        }
        return false;
    }

  private:
    void join(const std::string& a, const std::string& b, double ohm = 0) {
        joined_[a][b] = ohm;
        joined_[b][a] = ohm;
    }
    std::map<std::string, std::map<std::string, double>> joined_;
};

bool as_expected(const JointSheet& s, const Bench& bench) {
    return std::all_of(s.lines.begin(), s.lines.end(),
                       [&](const JointLine& l) { return bench.beeps(l) == (l.expect == JointExpect::beep); });
}

/// `between`: resistors too that let a meter beep and are no wires.
BuildBoard random_board(unsigned seed, bool between, int most_chips) {
    std::mt19937 chance(seed);
    BuildBoard b;
    const int chips = 1 + static_cast<int>(chance() % static_cast<unsigned>(most_chips));
    const int nets = 2 + static_cast<int>(chance() % 6);
    b.nets.resize(static_cast<std::size_t>(nets));
    for (int n = 0; n < nets; ++n) b.nets[static_cast<std::size_t>(n)].name = "N" + std::to_string(n);
    for (int c = 0; c < chips; ++c) {
        const auto ref = "U" + std::to_string(c + 1);
        const int pins = 2 * (1 + static_cast<int>(chance() % 4));
        b.parts.push_back(chip(ref, pins));
        std::vector<int> on;
        for (int i = 1; i <= pins; ++i) {
            const int net = static_cast<int>(chance() % static_cast<unsigned>(nets + 1));
            on.push_back(net < nets ? net : -i);
            if (net < nets)
                b.nets[static_cast<std::size_t>(net)].points.push_back(ref + "." + std::to_string(i));
        }
        // Two rows: neighbours along each, n − 2 of them.
        for (int i = 1; i < pins; ++i)
            if (i != pins / 2 && on[static_cast<std::size_t>(i) - 1] != on[static_cast<std::size_t>(i)])
                b.neighbours.push_back(
                    {ref + "." + std::to_string(i), ref + "." + std::to_string(i + 1), 2.54});
    }
    for (int f = 0; f < 1 + static_cast<int>(chance() % 3); ++f) {
        const auto ref = "F" + std::to_string(f + 1);
        const auto a = chance() % static_cast<unsigned>(nets), o = chance() % static_cast<unsigned>(nets);
        if (a == o) continue;
        b.parts.push_back(chip(ref, 2));
        constexpr double ohms[] = {0.1, 0.1, 0.1, 5, 22, 100, 1000};
        b.ohms[ref] = ohms[chance() % 7];
        if (!between && b.ohms[ref] > 1 && b.ohms[ref] < 30) b.ohms[ref] = 1000;
        b.nets[a].points.push_back(ref + ".1");
        b.nets[o].points.push_back(ref + ".2");
    }
    std::erase_if(b.nets, [](const Net& n) { return n.points.empty(); });
    return b;
}

TEST(JointSheets, SeeEverySingleFaultOfRandomUnits) {
    int faults = 0, unproven = 0;
    for (unsigned seed = 1; seed <= 400; ++seed) {
        const auto b = random_board(seed, true, 4);
        JointWish wish;
        wish.tracks = seed % 2 == 0;
        const auto s = joint_sheet(b, {}, wish);
        ASSERT_TRUE(as_expected(s, Bench(b, "", {}))) << "a sound unit, seed " << seed;
        std::set<std::string> excused;
        for (const auto& [what, why] : s.unproven) excused.insert(what);
        for (const auto& n : b.nets)
            for (const auto& joint : n.points) {
                const bool seen = !as_expected(s, Bench(b, joint, {}));
                EXPECT_TRUE(seen || excused.count(joint) != 0) << "open " << joint << ", seed " << seed;
                // What is called unprovable is.
                if (excused.count(joint) != 0) {
                    ++unproven;
                    JointLine any;
                    any.a = joint;
                    any.b = joint + " pad";
                    EXPECT_TRUE(Bench(b, joint, {}).beeps(any))
                        << "a beep to its own pad would tell " << joint << ", seed " << seed;
                }
                ++faults;
            }
        for (const auto& n : b.neighbours) {
            const bool seen = !as_expected(s, Bench(b, "", {n.a, n.b}));
            EXPECT_TRUE(seen || excused.count(n.a + " and " + n.b) != 0)
                << n.a << " to " << n.b << ", seed " << seed;
            ++faults;
        }
    }
    EXPECT_GT(faults, 5000);
    EXPECT_GT(unproven, 20);
    EXPECT_LT(unproven, faults / 10);
}

/// The least number of lines by trying all choices of pairs, on boards of few joints. Resistors through which
/// some meters beep are left to the other test: the sheet does not lean on them.
TEST(JointSheets, AreAsShortAsCanBeOnSmallUnits) {
    int tried = 0;
    for (unsigned seed = 1; seed <= 2000 && tried < 150; ++seed) {
        const auto b = random_board(seed, false, 2);
        std::vector<std::string> joints;
        for (const auto& n : b.nets) joints.insert(joints.end(), n.points.begin(), n.points.end());
        const auto s = joint_sheet(b, {});
        if (joints.size() > 9 || joints.size() < 3 || !s.unproven.empty()) continue;
        ++tried;
        // What each candidate beep proves: the joints whose opening stops it.
        std::vector<std::set<std::string>> proves;
        std::vector<JointLine> beeps;
        for (std::size_t i = 0; i < joints.size(); ++i) {
            JointLine own;
            own.a = joints[i];
            own.b = joints[i] + " pad";
            beeps.push_back(own);
            for (std::size_t k = i + 1; k < joints.size(); ++k) {
                own.b = joints[k];
                beeps.push_back(own);
            }
        }
        for (const auto& l : beeps) {
            std::set<std::string> p;
            if (Bench(b, "", {}).beeps(l))
                for (const auto& j : joints)
                    if (!Bench(b, j, {}).beeps(l)) p.insert(j);
            proves.push_back(p);
        }
        std::size_t least = joints.size();
        const std::function<void(std::set<std::string>, std::size_t)> cover =
            [&](const std::set<std::string>& left, std::size_t used) {
                if (used >= least) return;
                if (left.empty()) {
                    least = used;
                    return;
                }
                if (used + 1 >= least) return;
                for (const auto& p : proves) {
                    if (p.count(*left.begin()) == 0) continue;
                    auto rest = left;
                    for (const auto& j : p) rest.erase(j);
                    cover(rest, used + 1);
                }
            };
        cover({joints.begin(), joints.end()}, 0);
        const auto beeping =
            static_cast<std::size_t>(std::count_if(s.lines.begin(), s.lines.end(), [](const JointLine& l) {
                return l.expect == JointExpect::beep;
            }));
        EXPECT_GE(beeping, least) << "seed " << seed;
        EXPECT_LE(static_cast<double>(beeping), 1.1 * static_cast<double>(least) + 1e-9)
            << "seed " << seed << ": " << beeping << " for " << least;
        // Bridges: a line for each pair of nets that lie side by side, which no other line sees.
        std::set<std::set<std::string>> pairs;
        const auto net_of = [&](const std::string& p) {
            for (const auto& n : b.nets)
                if (std::find(n.points.begin(), n.points.end(), p) != n.points.end()) {
                    // Nets that a fuse joins are one.
                    std::set<std::string> all{n.name};
                    for (bool more = true; more;) {
                        more = false;
                        for (const auto& [ref, ohm] : b.ohms) {
                            if (ohm > 1) continue;
                            std::set<std::string> ends;
                            for (const auto& m : b.nets)
                                for (const auto& q : m.points)
                                    if (q == ref + ".1" || q == ref + ".2") ends.insert(m.name);
                            const bool meets = std::any_of(ends.begin(), ends.end(),
                                                           [&](const auto& e) { return all.count(e) != 0; });
                            if (meets)
                                for (const auto& e : ends) more = all.insert(e).second || more;
                        }
                    }
                    return *all.begin();
                }
            return "pin " + p;
        };
        for (const auto& n : b.neighbours) pairs.insert({net_of(n.a), net_of(n.b)});
        EXPECT_EQ(s.lines.size() - beeping, pairs.size()) << "seed " << seed;
    }
    EXPECT_GE(tried, 100);
}

TEST(JointSheets, ByHand) {
    // A chip with 8 pins, a fuse in its supply: 3 leads behind the fuse, 2 before it.
    BuildBoard b;
    b.parts = {chip("J1", 2), chip("F1", 2), chip("U1", 8)};
    b.ohms = {{"F1", 0.1}};
    b.nets = {
        {"V5", {"J1.1", "F1.1"}, {}}, {"V5F", {"F1.2", "U1.8", "U1.7"}, {}}, {"GND", {"J1.2", "U1.4"}, {}}};
    b.volts = {{"V5", 5}, {"V5F", 5}, {"GND", 0}};
    for (const auto& [one, other] : {std::pair("U1.7", "U1.6"), {"U1.3", "U1.4"}})
        b.neighbours.push_back({one, other, 2.54});
    const auto s = joint_sheet(b, {});
    // Leaves J1.1, U1.8, U1.7: two beeps, one of them through the fuse; GND one; opens: supplies, and two
    // pairs.
    EXPECT_EQ(s.joints, 7);
    EXPECT_EQ(s.proven, 7);
    ASSERT_EQ(s.lines.size(), 6U);
    EXPECT_EQ(std::count_if(s.lines.begin(), s.lines.end(),
                            [](const JointLine& l) { return l.expect == JointExpect::open; }),
              3);
    const auto& through = *std::find_if(s.lines.begin(), s.lines.end(),
                                        [](const JointLine& l) { return l.proves.size() == 4; });
    EXPECT_THAT(through.proves, testing::IsSupersetOf({"J1.1", "F1.1", "F1.2"}));
    EXPECT_TRUE(s.unproven.empty());
    // Home-made copper: every lead to the next.
    EXPECT_EQ(joint_sheet(b, {}, {30, true}).lines.size(), 3U + 1 + 2 + 1);
    // 22 Ω beep as well: the bridge beside them can't be told.
    b.parts.push_back(chip("R1", 2));
    b.nets[2].points.push_back("R1.1");
    b.nets.push_back({"X", {"R1.2", "U1.3"}, {}});
    b.ohms["R1"] = 22;
    const auto low = joint_sheet(b, {});
    EXPECT_TRUE(std::any_of(low.unproven.begin(), low.unproven.end(), [](const auto& u) {
        return u.first == "U1.3 and U1.4" && u.second.find("22 Ω") != std::string::npos;
    }));
    EXPECT_EQ(low.proven, low.joints) << "a bridge that can't be told is no joint";
    EXPECT_TRUE(joint_sheet(b, {}, {10, false}).unproven.empty());
}

}  // namespace
}  // namespace grayrelic
