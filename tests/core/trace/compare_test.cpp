// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/compare.hpp"

#include <gmock/gmock.h>

#include <boost/graph/adjacency_list.hpp>
#include <boost/graph/isomorphism.hpp>

#include "core/base/random.hpp"
#include "core/trace/structure.hpp"
#include "standin/hidden_board.hpp"
#include "tests/core/helpers.hpp"

namespace grayrelic {
namespace {

std::vector<Net> nets(std::initializer_list<Net> list) {
    return list;
}

TEST(Compare, TheSameIsTheSameWhateverItsNames) {
    const auto a = nets({{"N1", {"U1.1", "U2.1"}}, {"N2", {"U1.2", "U2.2"}}});
    const auto b = nets({{"X", {"U2.2", "U1.2"}}, {"Y", {"U2.1", "U1.1"}}});
    const auto c = compare_nets(a, b);
    EXPECT_EQ(c.same, 2);
    EXPECT_TRUE(c.equal());
}

TEST(Compare, MissingExtraJoinedSplit) {
    const auto a = nets({{"N1", {"A.1", "B.1", "C.1"}},
                         {"N2", {"A.2", "B.2"}},
                         {"N3", {"A.3", "B.3"}},
                         {"N4", {"A.4", "B.4"}}});
    const auto b = nets({{"M1", {"A.1", "B.1"}},
                         {"M2", {"A.2", "B.2", "A.3", "B.3"}},
                         {"M3", {"A.4"}},
                         {"M4", {"B.4"}},
                         {"M5", {"D.1"}}});
    const auto c = compare_nets(a, b);
    EXPECT_EQ(c.same, 0) << "N1 lacks a point, so it is not the same";
    ASSERT_EQ(c.missing.size(), 1U);
    EXPECT_EQ(c.missing[0].point, "C.1");
    EXPECT_EQ(c.missing[0].net, "N1");
    ASSERT_EQ(c.extra.size(), 1U);
    EXPECT_EQ(c.extra[0].point, "D.1");
    ASSERT_EQ(c.joined.size(), 1U);
    EXPECT_THAT(c.joined[0].nets, testing::ElementsAre("N2", "N3"));
    ASSERT_EQ(c.split.size(), 1U);
    EXPECT_EQ(c.split[0].net, "N4");
    EXPECT_THAT(c.split[0].points, testing::UnorderedElementsAre("A.4", "B.4"));
}

TEST(Compare, TwoPointsThatExchangedTheirNets) {
    const auto a =
        nets({{"P13", {"U2.6", "U3.1", "X.1"}}, {"P14", {"U2.9", "U3.2", "X.2"}}, {"Z", {"U2.1"}}});
    const auto b =
        nets({{"P13", {"U2.6", "U3.2", "X.1"}}, {"P14", {"U2.9", "U3.1", "X.2"}}, {"Z", {"U2.1"}}});
    const auto c = compare_nets(a, b);
    ASSERT_EQ(c.swapped.size(), 1U);
    EXPECT_EQ(c.swapped[0].a, "U3.1");
    EXPECT_EQ(c.swapped[0].b, "U3.2");
    EXPECT_TRUE(c.joined.empty());
    EXPECT_TRUE(c.split.empty());
    EXPECT_EQ(c.same, 1);
    EXPECT_FALSE(c.equal());
    CompareOptions alike;
    alike.alike = [](const std::string&, const std::string&) { return true; };
    EXPECT_TRUE(compare_nets(a, b, alike).equal()) << "alike pins may be exchanged";
}

TEST(Compare, OfTwoPointNetsTheNameTellsWhoMoved) {
    const auto a = nets({{"N1", {"a", "b"}}, {"N2", {"c", "d"}}});
    const auto b = nets({{"N1", {"a", "d"}}, {"N2", {"c", "b"}}});
    const auto c = compare_nets(a, b);
    ASSERT_EQ(c.swapped.size(), 1U);
    EXPECT_EQ(c.swapped[0].a, "b");
    EXPECT_EQ(c.swapped[0].b, "d");
}

TEST(Compare, AMirroredAndATurnedPart) {
    for (const bool mirrored : {true, false}) {
        // Eight pins on eight nets, each with another part's pin; in b the part is counted the other way.
        std::vector<Net> a, b;
        for (int k = 1; k <= 8; ++k) {
            const int to = mirrored ? 9 - k : (k - 1 + 4) % 8 + 1;
            a.push_back(
                {"N" + std::to_string(k),
                 {"U1." + std::to_string(k), "J1." + std::to_string(k), "R" + std::to_string(k) + ".1"}});
            b.push_back(
                {"N" + std::to_string(k),
                 {"U1." + std::to_string(to), "J1." + std::to_string(k), "R" + std::to_string(k) + ".1"}});
        }
        const auto c = compare_nets(a, b);
        ASSERT_EQ(c.turned.size(), 1U);
        EXPECT_EQ(c.turned[0].ref, "U1");
        EXPECT_EQ(c.turned[0].how, mirrored ? "mirrored" : "turned");
        EXPECT_EQ(c.turned[0].pins, 8);
        EXPECT_TRUE(c.swapped.empty()) << "said once, as a part, not pin by pin";
    }
}

TEST(Compare, WhatNobodyProbedIsNotProvenInsteadOfSplit) {
    const auto should = nets({{"N", {"a", "b", "c"}}});
    const auto is = nets({{"1", {"a"}}, {"2", {"b"}}, {"3", {"c"}}});
    CompareOptions o;
    o.separated = [](const std::string& x, const std::string& y) {
        return (x == "a" && y == "b") || (x == "b" && y == "a");
    };
    const auto c = compare_nets(should, is, o);
    ASSERT_EQ(c.split.size(), 1U);
    EXPECT_THAT(c.split[0].points, testing::UnorderedElementsAre("a", "b"));
    ASSERT_EQ(c.unproven.size(), 1U);
    EXPECT_THAT(c.unproven[0].points, testing::Contains("c"));
}

std::vector<Net> renamed(const std::vector<Net>& list, std::uint64_t seed) {
    // Parts get other names, nets another order.
    Random random(seed);
    std::map<std::string, std::string> name;
    std::vector<Net> out = list;
    for (std::size_t i = out.size(); i > 1; --i) std::swap(out[i - 1], out[random.below(i)]);
    for (auto& n : out) {
        n.name = "x" + std::to_string(random.below(1'000'000));
        for (auto& p : n.points) {
            const auto s = split_point(p);
            auto& to = name[std::string(s.ref)];
            if (to.empty()) to = "Z" + std::to_string(random.below(1'000'000'000));
            p = to + "." + std::string(s.pin);
        }
    }
    return out;
}

TEST(Structure, BoardsWithOtherNamesAreMatchedWhole) {
    const auto parts = PartLibrary::load(disk(), {test::source_folder() / "data"});
    for (std::uint64_t seed = 1; seed <= 6; ++seed) {
        const auto board = standin::random_board(seed, parts);
        const auto other = renamed(board.nets, seed + 100);
        Progress progress;
        const auto m = match_structure(board.nets, other, progress);
        ASSERT_TRUE(m);
        EXPECT_EQ(m->parts_a, m->parts_b);
        const auto c = compare_nets(board.nets, m->renamed);
        EXPECT_TRUE(c.missing.empty() && c.extra.empty());
        // Ends of a capacitor are as good either way; all else must be found.
        for (const auto& s : c.swapped)
            EXPECT_EQ(split_point(s.a).ref, split_point(s.b).ref) << s.a << " " << s.b;
        EXPECT_TRUE(c.joined.empty()) << seed;
        EXPECT_TRUE(c.split.empty()) << seed;
    }
}

TEST(Structure, OneWrongWireIsFoundInspiteOfOtherNames) {
    const auto parts = PartLibrary::load(disk(), {test::source_folder() / "data"});
    const auto board = standin::random_board(9, parts);
    auto wrong = board.nets;
    // One pin of a net of three or more leaves it.
    std::string moved;
    for (auto& n : wrong)
        if (n.points.size() >= 3 && n.points.size() < 12) {
            moved = n.points.back();
            n.points.pop_back();
            break;
        }
    ASSERT_FALSE(moved.empty());
    wrong.push_back({"loose", {moved}});
    Progress progress;
    const auto m = match_structure(board.nets, renamed(wrong, 3), progress);
    ASSERT_TRUE(m);
    const auto c = compare_nets(board.nets, m->renamed);
    ASSERT_EQ(c.split.size(), 1U);
    EXPECT_THAT(c.split[0].points, testing::Contains(moved));
    EXPECT_TRUE(c.joined.empty());
}

/// Isomorphic by an independent graph library exactly when matched without a difference: small random
/// netlists, half of them with a wire moved.
TEST(Structure, AgreesWithAnIndependentGraphLibrary) {
    Random random(11);
    for (int round = 0; round < 24; ++round) {
        // Parts with three pins of different numbers; every pin a vertex of its own, coloured by its degree
        // through gadget vertices: part - pin chain of length by number - net.
        const int count = 5;
        std::vector<Net> a(6);
        for (std::size_t n = 0; n < a.size(); ++n) a[n].name = "n" + std::to_string(n);
        for (int p = 0; p < count; ++p)
            for (int k = 1; k <= 3; ++k)
                a[random.below(a.size())].points.push_back("U" + std::to_string(p) + "." + std::to_string(k));
        auto b = a;
        if (round % 2 == 1) {
            std::size_t from = 0;
            while (b[from].points.empty()) ++from;
            b[(from + 1) % b.size()].points.push_back(b[from].points.back());
            b[from].points.pop_back();
        }
        const auto drop_empty = [](std::vector<Net>& list) {
            std::erase_if(list, [](const Net& n) { return n.points.empty(); });
        };
        drop_empty(a);
        drop_empty(b);
        b = renamed(b, static_cast<std::uint64_t>(round));
        using Graph = boost::adjacency_list<boost::vecS, boost::vecS, boost::undirectedS>;
        const auto graph = [&](const std::vector<Net>& list) {
            Graph g;
            std::map<std::string, std::size_t> part;
            for (const auto& n : list) {
                const auto net = boost::add_vertex(g);
                for (int leaf = 0; leaf < 9; ++leaf)  // marks a net
                    boost::add_edge(net, boost::add_vertex(g), g);
                for (const auto& point : n.points) {
                    const auto s = split_point(point);
                    const auto ref = std::string(s.ref);
                    if (part.count(ref) == 0) part[ref] = boost::add_vertex(g);
                    // A chain whose middle carries as many leaves as the pin's number.
                    const auto middle = boost::add_vertex(g);
                    for (int leaf = 0; leaf < s.pin[0] - '0'; ++leaf)
                        boost::add_edge(middle, boost::add_vertex(g), g);
                    boost::add_edge(part[ref], middle, g);
                    boost::add_edge(middle, net, g);
                }
            }
            return g;
        };
        const auto ga = graph(a), gb = graph(b);
        const bool same = boost::num_vertices(ga) == boost::num_vertices(gb) && boost::isomorphism(ga, gb);
        Progress progress;
        const auto m = match_structure(a, b, progress);
        ASSERT_TRUE(m);
        EXPECT_EQ(compare_nets(a, m->renamed).equal(), same) << "round " << round;
    }
}

}  // namespace
}  // namespace grayrelic
