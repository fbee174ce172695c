// SPDX-License-Identifier: GPL-3.0-or-later
// Pads to nets of copper, and those held against a netlist.
#include <algorithm>
#include <map>
#include <set>

#include "core/base/long_work.hpp"
#include "core/base/unions.hpp"
#include "core/board/board_pads.hpp"

namespace grayrelic {
namespace {

/// The copper below a pad: of its side, or of either; a hole there joins both. Several where copper of both
/// sides lies there and nothing joins it.
std::vector<int> nets_below(const BoardCopper& copper, const BoardPad& pad) {
    std::vector<int> out;
    const auto own = [&](std::size_t l) {
        const auto role = copper.layers[l].role;
        return (pad.side != PadSide::bottom && role == FileRole::copper_top) ||
               (pad.side != PadSide::top && role == FileRole::copper_bottom);
    };
    for (std::size_t l = 0; l < copper.layers.size(); ++l)
        if (own(l))
            if (const auto piece = copper.index[l].piece_at(pad.at))
                out.push_back(copper.layers[l].net[*piece]);
    if (out.empty())
        if (const auto n = copper.net_of_hole_at(pad.at); n >= 0) out.push_back(n);
    // In the middle of a hole that is not plated there is no copper: the ring around it is the pad.
    if (out.empty())
        for (const auto& h : copper.holes) {
            const auto& way = h.hole.way;
            const auto within = [&](std::size_t i) {
                return distance(pad.at, way[i], way[std::min(i + 1, way.size() - 1)]) <= h.hole.diameter / 2;
            };
            bool here = false;
            for (std::size_t i = 0; i < way.size() && !here; ++i) here = within(i);
            if (!here) continue;
            for (std::size_t l = 0; l < copper.layers.size(); ++l)
                if (own(l))
                    for (const auto piece : copper.index[l].pieces_near(way, h.hole.diameter / 2 + 10'000))
                        out.push_back(copper.layers[l].net[piece]);
        }
    std::sort(out.begin(), out.end());
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

struct Groups {
    std::map<std::string, int> of;  ///< point to its group; a point that is off the copper has one of its own
    int count = 0;
};

/// A part's contact of several pads, or a pad on both sides, joins what it lies on: the lead does.
Groups groups_of(const BoardCopper& copper, const BoardPads& pads, CopperNets& out) {
    Unions sets(static_cast<std::size_t>(copper.nets) + pads.size());
    Groups g;
    std::map<std::string, int> first;
    for (std::size_t i = 0; i < pads.size(); ++i) {
        const auto point = pads[i].point();
        auto below = nets_below(copper, pads[i]);
        if (below.empty()) {
            out.off_copper.push_back(point);
            below.push_back(copper.nets + static_cast<int>(i));
        }
        // Both sides without a hole between are two coppers: a lead goes through only where a hole is.
        const auto [it, fresh] = first.emplace(point, below.front());
        if (!fresh) sets.unite(below.front(), it->second);
    }
    std::map<int, int> number;
    for (const auto& pad : pads) {
        const auto root = sets.find(first[pad.point()]);
        const auto [it, fresh] = number.emplace(root, g.count);
        if (fresh) ++g.count;
        g.of[pad.point()] = it->second;
    }
    return g;
}

}  // namespace

CopperNets nets_of(const BoardCopper& copper, const BoardPads& pads) {
    return compare_nets(copper, pads, {});
}

namespace {

using NetNames = std::map<std::string, std::size_t>;

struct Comparing {
    const Groups& groups;
    const std::vector<Net>& wanted;
    CopperNets& out;
    NetNames net_of{};
    std::map<std::pair<std::size_t, std::size_t>, std::vector<std::string>> joined{};
    [[nodiscard]] std::string name(std::size_t n) const {
        return wanted[n].name.empty() ? wanted[n].points.front() : wanted[n].name;
    }
    [[nodiscard]] int group_of(const std::string& point) const {
        const auto it = groups.of.find(point);
        return it == groups.of.end() ? -1 : it->second;
    }
};

/// Which nets of the list meet in each piece of copper.
void find_joined(Comparing& c) {
    for (const auto& points : c.out.nets) {
        std::map<std::size_t, std::vector<std::string>> here;
        for (const auto& p : points)
            if (const auto it = c.net_of.find(p); it != c.net_of.end()) here[it->second].push_back(p);
        for (auto a = here.begin(); a != here.end(); ++a)
            for (auto b = std::next(a); b != here.end(); ++b) {
                auto& both = c.joined[{a->first, b->first}];
                both.insert(both.end(), a->second.begin(), a->second.end());
                both.insert(both.end(), b->second.begin(), b->second.end());
            }
    }
    for (auto& [pair, points] : c.joined)
        c.out.joined.push_back({c.name(pair.first), c.name(pair.second), points});
}

/// Is this net of the list in one piece, in several, or just as wanted?
void judge_net(Comparing& c, std::size_t n) {
    const auto& net = c.wanted[n];
    std::vector<std::pair<int, std::vector<std::string>>> pieces;
    bool complete = true;
    for (const auto& p : net.points) {
        const int group = c.group_of(p);
        if (group < 0) {
            c.out.missing.push_back(p);
            complete = false;
            continue;
        }
        const auto known =
            std::find_if(pieces.begin(), pieces.end(), [&](const auto& q) { return q.first == group; });
        if (known == pieces.end())
            pieces.push_back({group, {p}});
        else
            known->second.push_back(p);
    }
    if (pieces.size() > 1) {
        CopperNets::Split split{c.name(n), {}};
        for (auto& [group, points] : pieces) split.pieces.push_back(points);
        c.out.split.push_back(std::move(split));
        return;
    }
    if (!complete || pieces.empty()) return;
    const std::set<std::string> distinct(net.points.begin(), net.points.end());
    if (distinct.size() == c.out.nets[static_cast<std::size_t>(pieces.front().first)].size()) ++c.out.same;
}

/// The piece of copper that most of a net's points lie on; -1 where two have as many.
int home_of(const Comparing& c, std::size_t n) {
    std::map<int, int> votes;
    for (const auto& p : c.wanted[n].points)
        if (const int group = c.group_of(p); group >= 0) ++votes[group];
    int best = -1, most = 0, second = 0;
    for (const auto& [group, count] : votes) {
        if (count > most) {
            second = most;
            most = count;
            best = group;
        } else {
            second = std::max(second, count);
        }
    }
    return most > second ? best : -1;
}

/// A's point lies alone among b's, and one of b's alone among a's.
void find_exchanged(Comparing& c) {
    const auto at_home_of = [&](std::size_t net, int home) {
        std::vector<std::string> out;
        for (const auto& p : c.wanted[net].points)
            if (c.group_of(p) == home) out.push_back(p);
        return out;
    };
    for (const auto& [pair, points] : c.joined) {
        const int home_a = home_of(c, pair.first), home_b = home_of(c, pair.second);
        if (home_a < 0 || home_b < 0 || home_a == home_b) continue;
        const auto from_a = at_home_of(pair.first, home_b), from_b = at_home_of(pair.second, home_a);
        if (from_a.size() == 1 && from_b.size() == 1)
            c.out.exchanged.push_back(
                {from_a.front(), c.name(pair.first), from_b.front(), c.name(pair.second)});
    }
}

}  // namespace

CopperNets compare_nets(const BoardCopper& copper, const BoardPads& pads, const std::vector<Net>& wanted) {
    long_work("compare_nets");
    CopperNets out;
    const auto groups = groups_of(copper, pads, out);
    out.nets.resize(static_cast<std::size_t>(groups.count));
    out.places.resize(out.nets.size());
    std::set<std::string> listed;
    for (const auto& pad : pads) {
        const auto point = pad.point();
        if (!listed.insert(point).second) continue;
        const auto group = static_cast<std::size_t>(groups.of.at(point));
        if (out.nets[group].empty()) out.places[group] = pad.at;
        out.nets[group].push_back(point);
    }
    if (wanted.empty()) return out;
    out.compared = true;
    Comparing c{groups, wanted, out};
    for (std::size_t n = 0; n < wanted.size(); ++n)
        for (const auto& p : wanted[n].points) c.net_of.emplace(p, n);
    for (const auto& point : listed)
        if (c.net_of.count(point) == 0) out.extra.push_back(point);
    find_joined(c);
    for (std::size_t n = 0; n < wanted.size(); ++n) {
        if (wanted[n].points.empty()) continue;
        ++out.named;
        judge_net(c, n);
    }
    find_exchanged(c);
    return out;
}

}  // namespace grayrelic
