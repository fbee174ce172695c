// SPDX-License-Identifier: GPL-3.0-or-later
// Pads to nets of copper, and those held against a netlist.
#include <algorithm>
#include <map>
#include <set>

#include "core/base/long_work.hpp"
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
    std::vector<int> parent(static_cast<std::size_t>(copper.nets) + pads.size());
    for (std::size_t i = 0; i < parent.size(); ++i) parent[i] = static_cast<int>(i);
    const auto find = [&](int x) {
        while (parent[static_cast<std::size_t>(x)] != x)
            x = parent[static_cast<std::size_t>(x)] =
                parent[static_cast<std::size_t>(parent[static_cast<std::size_t>(x)])];
        return x;
    };
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
        if (!fresh) parent[static_cast<std::size_t>(find(below.front()))] = find(it->second);
    }
    std::map<int, int> number;
    for (const auto& pad : pads) {
        const auto root = find(first[pad.point()]);
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
        auto& net = out.nets[static_cast<std::size_t>(groups.of.at(point))];
        if (net.empty()) out.places[static_cast<std::size_t>(groups.of.at(point))] = pad.at;
        net.push_back(point);
    }
    if (wanted.empty()) return out;
    out.compared = true;
    std::map<std::string, std::size_t> net_of;
    for (std::size_t n = 0; n < wanted.size(); ++n)
        for (const auto& p : wanted[n].points) net_of.emplace(p, n);
    for (const auto& point : listed)
        if (net_of.count(point) == 0) out.extra.push_back(point);
    // Which nets of the list meet in each group of copper.
    std::vector<std::map<std::size_t, std::vector<std::string>>> meet(out.nets.size());
    for (std::size_t g = 0; g < out.nets.size(); ++g)
        for (const auto& p : out.nets[g])
            if (const auto it = net_of.find(p); it != net_of.end()) meet[g][it->second].push_back(p);
    const auto name = [&](std::size_t n) {
        return wanted[n].name.empty() ? wanted[n].points.front() : wanted[n].name;
    };
    std::map<std::pair<std::size_t, std::size_t>, std::vector<std::string>> joined;
    for (const auto& here : meet)
        for (auto a = here.begin(); a != here.end(); ++a)
            for (auto b = std::next(a); b != here.end(); ++b) {
                auto& points = joined[{a->first, b->first}];
                points.insert(points.end(), a->second.begin(), a->second.end());
                points.insert(points.end(), b->second.begin(), b->second.end());
            }
    for (auto& [pair, points] : joined) out.joined.push_back({name(pair.first), name(pair.second), points});
    for (std::size_t n = 0; n < wanted.size(); ++n) {
        const auto& net = wanted[n];
        if (net.points.empty()) continue;
        ++out.named;
        std::vector<std::pair<int, std::vector<std::string>>> pieces;
        bool complete = true;
        for (const auto& p : net.points) {
            const auto it = groups.of.find(p);
            if (it == groups.of.end()) {
                out.missing.push_back(p);
                complete = false;
                continue;
            }
            const auto known = std::find_if(pieces.begin(), pieces.end(),
                                            [&](const auto& q) { return q.first == it->second; });
            if (known == pieces.end())
                pieces.push_back({it->second, {p}});
            else
                known->second.push_back(p);
        }
        if (pieces.size() > 1) {
            CopperNets::Split s{name(n), {}};
            for (auto& [group, points] : pieces) s.pieces.push_back(points);
            out.split.push_back(std::move(s));
        } else if (complete && pieces.size() == 1) {
            const std::set<std::string> distinct(net.points.begin(), net.points.end());
            if (distinct.size() == out.nets[static_cast<std::size_t>(pieces.front().first)].size())
                ++out.same;
        }
    }
    // Exchanged: a's point lies alone among b's, and one of b's alone among a's.
    const auto home = [&](std::size_t n) {
        std::map<int, int> votes;
        for (const auto& p : wanted[n].points)
            if (const auto it = groups.of.find(p); it != groups.of.end()) ++votes[it->second];
        int best = -1, most = 0, second = 0;
        for (const auto& [g, v] : votes)
            if (v > most) {
                second = most;
                most = v;
                best = g;
            } else {
                second = std::max(second, v);
            }
        return most > second ? best : -1;
    };
    for (const auto& [pair, points] : joined) {
        const auto [a, b] = pair;
        const int home_a = home(a), home_b = home(b);
        if (home_a < 0 || home_b < 0 || home_a == home_b) continue;
        std::vector<std::string> from_a, from_b;
        for (const auto& p : wanted[a].points)
            if (const auto it = groups.of.find(p); it != groups.of.end() && it->second == home_b)
                from_a.push_back(p);
        for (const auto& p : wanted[b].points)
            if (const auto it = groups.of.find(p); it != groups.of.end() && it->second == home_a)
                from_b.push_back(p);
        if (from_a.size() == 1 && from_b.size() == 1)
            out.exchanged.push_back({from_a.front(), name(a), from_b.front(), name(b)});
    }
    return out;
}

}  // namespace grayrelic
