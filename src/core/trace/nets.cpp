// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/nets.hpp"

#include "core/trace/units.hpp"

#include <algorithm>
#include <numeric>
#include <set>

#include "core/base/unions.hpp"

namespace grayrelic {
namespace {

/// Joining readings by point, as one flat list.
struct Neighbours {
    struct Step {
        int to, row;
    };
    std::vector<std::size_t> begin;
    std::vector<Step> steps;

    Neighbours(int points, const std::vector<Link>& links)
        : begin(static_cast<std::size_t>(points) + 1), steps() {
        for (const auto& l : links)
            if (l.says == Says::joined) {
                ++begin[static_cast<std::size_t>(l.a) + 1];
                ++begin[static_cast<std::size_t>(l.b) + 1];
            }
        std::partial_sum(begin.begin(), begin.end(), begin.begin());
        steps.resize(begin.back());
        auto at = begin;
        for (const auto& l : links)
            if (l.says == Says::joined) {
                steps[at[static_cast<std::size_t>(l.a)]++] = {l.b, l.row};
                steps[at[static_cast<std::size_t>(l.b)]++] = {l.a, l.row};
            }
    }
};

/// Breadth first, so the chain is a shortest one.
class ChainFinder {
  public:
    ChainFinder(int points, const std::vector<Link>& links)
        : near_(points, links),
          came_(static_cast<std::size_t>(points), -1),
          row_(static_cast<std::size_t>(points), -1) {}
    std::vector<int> chain(int from, int to) {
        std::vector<int> seen{from};
        came_[static_cast<std::size_t>(from)] = from;
        for (std::size_t i = 0; i < seen.size() && came_[static_cast<std::size_t>(to)] < 0; ++i) {
            const auto x = static_cast<std::size_t>(seen[i]);
            for (auto s = near_.begin[x]; s < near_.begin[x + 1]; ++s) {
                const auto step = near_.steps[s];
                if (came_[static_cast<std::size_t>(step.to)] >= 0) continue;
                came_[static_cast<std::size_t>(step.to)] = seen[i];
                row_[static_cast<std::size_t>(step.to)] = step.row;
                seen.push_back(step.to);
            }
        }
        std::vector<int> rows;
        if (came_[static_cast<std::size_t>(to)] >= 0)
            for (int x = to; x != from; x = came_[static_cast<std::size_t>(x)])
                rows.push_back(row_[static_cast<std::size_t>(x)]);
        std::reverse(rows.begin(), rows.end());
        for (const int x : seen) came_[static_cast<std::size_t>(x)] = -1;
        return rows;
    }

  private:
    Neighbours near_;
    std::vector<int> came_, row_;
};

}  // namespace

bool NetState::separated(int a, int b) const {
    const auto& list = apart[static_cast<std::size_t>(a)];
    const auto it = std::lower_bound(list.begin(), list.end(), std::pair(b, 0));
    return it != list.end() && it->first == b;
}

double NetState::proven() const {
    return all_pairs == 0
               ? 1.0
               : static_cast<double>(joined_pairs + separated_pairs) / static_cast<double>(all_pairs);
}

std::uint64_t NetState::pairs_open() const {
    const auto k = static_cast<std::uint64_t>(nets.size());
    std::uint64_t known = 0;
    for (const auto& list : apart) known += list.size();
    return k * (k - (k > 0 ? 1 : 0)) / 2 - known / 2;
}

NetState derive_nets(int points, std::vector<Link> links) {
    NetState s;
    Unions unions(static_cast<std::size_t>(points));
    for (const auto& l : links)
        if (l.says == Says::joined) unions.unite(l.a, l.b);
    s.net_of.assign(static_cast<std::size_t>(points), -1);
    for (int p = 0; p < points; ++p) {
        auto& net = s.net_of[static_cast<std::size_t>(unions.find(p))];
        if (net < 0) {
            net = s.net_count();
            s.nets.emplace_back();
        }
        const int n = net;
        s.net_of[static_cast<std::size_t>(p)] = n;
        s.nets[static_cast<std::size_t>(n)].push_back(p);
    }
    s.apart.resize(s.nets.size());
    std::vector<std::pair<int, int>> between;
    std::vector<std::size_t> against;
    for (std::size_t i = 0; i < links.size(); ++i) {
        const auto& l = links[i];
        if (l.says != Says::apart) continue;
        const int a = s.net_of[static_cast<std::size_t>(l.a)], b = s.net_of[static_cast<std::size_t>(l.b)];
        if (a == b)
            against.push_back(i);
        else
            between.emplace_back(std::min(a, b), std::max(a, b));
    }
    std::sort(between.begin(), between.end());
    for (std::size_t i = 0; i < between.size();) {
        auto end = i;
        while (end < between.size() && between[end] == between[i]) ++end;
        const auto [a, b] = between[i];
        const int times = static_cast<int>(end - i);
        s.apart[static_cast<std::size_t>(a)].emplace_back(b, times);
        s.apart[static_cast<std::size_t>(b)].emplace_back(a, times);
        s.separated_pairs +=
            s.nets[static_cast<std::size_t>(a)].size() * s.nets[static_cast<std::size_t>(b)].size();
        i = end;
    }
    for (auto& list : s.apart) std::sort(list.begin(), list.end());
    const auto pairs = [](std::uint64_t n) { return n < 2 ? 0 : n * (n - 1) / 2; };
    s.all_pairs = pairs(static_cast<std::uint64_t>(points));
    for (const auto& net : s.nets) s.joined_pairs += pairs(net.size());
    s.contradictions_in_all = against.size();
    if (!against.empty()) {
        ChainFinder finder(points, links);
        for (const auto i : against) {
            if (s.contradictions.size() >= most_contradictions) break;
            const auto& l = links[i];
            s.contradictions.push_back({l.a, l.b, l.row, finder.chain(l.a, l.b)});
        }
    }
    s.links = std::move(links);
    return s;
}

std::vector<Link> links_of(const std::vector<MeterReading>& readings, PointTable& points,
                           double beep_below_ohm, std::string_view unit) {
    std::vector<Link> out;
    out.reserve(readings.size());
    for (std::size_t i = 0; i < readings.size(); ++i) {
        const auto& r = readings[i];
        const int a = points.add(r.a), b = points.add(r.b);
        if (!r.set_aside.empty() || a == b || !counts_for(r.unit, unit)) continue;
        out.push_back({a, b, says(r, beep_below_ohm), static_cast<int>(i)});
    }
    return out;
}

std::vector<Lonely> resting_on_one(const NetState& s) {
    std::vector<Lonely> out;
    const int points = static_cast<int>(s.net_of.size());
    // Bridges (Tarjan 1974), without recursion: a bridge is a joining reading that no other way goes around.
    const Neighbours near(points, s.links);
    const auto n = static_cast<std::size_t>(points);
    std::vector<int> order(n, -1), low(n, 0), parent_row(n, -1);
    std::vector<std::size_t> at(n, 0);
    std::vector<char> bridge_row;
    int most_row = -1;
    for (const auto& l : s.links) most_row = std::max(most_row, l.row);
    bridge_row.assign(static_cast<std::size_t>(most_row) + 1, 0);  // −1 + 1 where there are none
    int clock = 0;
    std::vector<int> stack;
    for (int root = 0; root < points; ++root) {
        if (order[static_cast<std::size_t>(root)] >= 0) continue;
        stack.push_back(root);
        order[static_cast<std::size_t>(root)] = low[static_cast<std::size_t>(root)] = clock++;
        at[static_cast<std::size_t>(root)] = near.begin[static_cast<std::size_t>(root)];
        while (!stack.empty()) {
            const auto x = static_cast<std::size_t>(stack.back());
            if (at[x] < near.begin[x + 1]) {
                const auto step = near.steps[at[x]++];
                const auto y = static_cast<std::size_t>(step.to);
                if (step.row == parent_row[x]) continue;
                if (order[y] >= 0) {
                    low[x] = std::min(low[x], order[y]);
                    continue;
                }
                parent_row[y] = step.row;
                order[y] = low[y] = clock++;
                at[y] = near.begin[y];
                stack.push_back(step.to);
                continue;
            }
            stack.pop_back();
            if (stack.empty()) continue;
            const auto p = static_cast<std::size_t>(stack.back());
            low[p] = std::min(low[p], low[x]);
            if (low[x] > order[p]) bridge_row[static_cast<std::size_t>(parent_row[x])] = 1;
        }
    }
    for (const auto& l : s.links) {
        bool lonely = false;
        if (l.says == Says::joined) {
            lonely = bridge_row[static_cast<std::size_t>(l.row)] != 0;
        } else {
            const int a = s.net_of[static_cast<std::size_t>(l.a)],
                      b = s.net_of[static_cast<std::size_t>(l.b)];
            if (a != b) {
                const auto& list = s.apart[static_cast<std::size_t>(a)];
                lonely = std::lower_bound(list.begin(), list.end(), std::pair(b, 0))->second == 1;
            }
        }
        if (lonely) out.push_back({l.row, l.a, l.b, l.says});
    }
    return out;
}

std::uint64_t probes_left(const NetState& state, const std::vector<std::pair<int, int>>& joins) {
    std::vector<int> parent(state.nets.size());
    std::iota(parent.begin(), parent.end(), 0);
    const auto find = [&](int x) {
        while (parent[static_cast<std::size_t>(x)] != x)
            x = parent[static_cast<std::size_t>(x)] =
                parent[static_cast<std::size_t>(parent[static_cast<std::size_t>(x)])];
        return x;
    };
    std::uint64_t joined = 0;
    for (const auto& [x, y] : joins) {
        const int a = find(x), b = find(y);
        if (a != b) parent[static_cast<std::size_t>(a)] = b, ++joined;
    }
    std::set<std::pair<int, int>> known;
    for (std::size_t a = 0; a < state.apart.size(); ++a)
        for (const auto& [b, times] : state.apart[a]) {
            const int x = find(static_cast<int>(a)), y = find(b);
            if (x < y) known.emplace(x, y);
        }
    const std::uint64_t k = state.nets.size() - joined;
    const std::uint64_t all = k < 2 ? 0 : k * (k - 1) / 2;
    return joined + (all > known.size() ? all - known.size() : 0);
}

}  // namespace grayrelic
