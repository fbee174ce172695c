// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/suspects.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/text.hpp"

namespace grayrelic {
namespace {

constexpr double unexplained_cost = 6.0;  ///< of a contradiction that stays

/// The net's joins as a tree of points, to split it at one reading.
class Splitter {
  public:
    Splitter(const NetState& s, int net) : points_(s.nets[static_cast<std::size_t>(net)]) {
        for (std::size_t i = 0; i < points_.size(); ++i) place_[points_[i]] = static_cast<int>(i);
        near_.resize(points_.size());
        for (const auto& l : s.links) {
            if (l.says != Says::joined || s.net_of[static_cast<std::size_t>(l.a)] != net) continue;
            near_[static_cast<std::size_t>(place_[l.a])].push_back({place_[l.b], l.row});
            near_[static_cast<std::size_t>(place_[l.b])].push_back({place_[l.a], l.row});
        }
    }
    /// The points on a's side without this reading; all of them when another way leads around it.
    [[nodiscard]] std::vector<char> side_of(int a, int without_row) const {
        std::vector<char> in(points_.size(), 0);
        std::vector<int> stack{place_.at(a)};
        in[static_cast<std::size_t>(stack.back())] = 1;
        while (!stack.empty()) {
            const auto x = static_cast<std::size_t>(stack.back());
            stack.pop_back();
            for (const auto& [to, row] : near_[x])
                if (row != without_row && in[static_cast<std::size_t>(to)] == 0) {
                    in[static_cast<std::size_t>(to)] = 1;
                    stack.push_back(to);
                }
        }
        return in;
    }
    [[nodiscard]] bool holds(const std::vector<char>& side, int point) const {
        return side[static_cast<std::size_t>(place_.at(point))] != 0;
    }
    [[nodiscard]] std::vector<int> faces(const std::vector<char>& side, bool inside,
                                         const Likelihood& prior) const {
        std::vector<int> out;
        for (std::size_t i = 0; i < points_.size() && out.size() < 12; ++i) {
            const int p = points_[i];
            if ((side[i] != 0) != inside || p >= prior.points()) continue;
            const bool like = std::any_of(out.begin(), out.end(), [&](int q) {
                const auto &x = prior.feature(p), &y = prior.feature(q);
                return x.kind == y.kind && x.name == y.name && x.part == y.part && x.name >= 0;
            });
            if (!like) out.push_back(p);
        }
        return out;
    }

  private:
    const std::vector<int>& points_;
    std::map<int, int> place_;
    std::vector<std::vector<std::pair<int, int>>> near_;
};

class Judge {
  public:
    Judge(const NetState& s, const Likelihood& prior) : s_(s), prior_(prior), lore_(prior, s) {
        for (const auto& l : s.links) by_row_[l.row] = &l;
    }

    void judge_net(int net, const std::vector<const Contradiction*>& list, std::vector<Suspect>& out) {
        const Splitter splitter(s_, net);
        std::set<int> joins;
        for (const auto* c : list) joins.insert(c->chain.begin(), c->chain.end());
        const int of = static_cast<int>(list.size());
        for (const int row : joins) {
            const auto& l = *by_row_.at(row);
            const auto side = splitter.side_of(l.a, row);
            if (splitter.holds(side, l.b)) continue;
            Suspect x{row, Says::joined, 0, of, 0, {}};
            for (const auto* c : list)
                if (splitter.holds(side, c->a) != splitter.holds(side, c->b)) ++x.explains;
            const auto left = splitter.faces(side, true, prior_), right = splitter.faces(side, false, prior_);
            x.weight = split_weight(left, right) - 0.5 * log_odds(l.a, l.b) - loneliness(left) -
                       loneliness(right) - unexplained_cost * (of - x.explains);
            const auto gone = of == 1            ? std::string("the contradiction goes")
                              : x.explains == of ? fmt::format("all {} contradictions go", of)
                                                 : fmt::format("{} of {} contradictions go", x.explains, of);
            x.why = fmt::format("without it {} and the net falls into two that have nothing in common", gone);
            if (x.explains > 0) out.push_back(std::move(x));
        }
        for (const auto* c : list) {
            // Said open while the rest joins: the likelier the join, the likelier the slip.
            Suspect x{c->apart, Says::apart, 1, of, 0, {}};
            x.weight = 0.8 * log_odds(c->a, c->b) + 0.35 * ways(c->a, c->b, splitter, c->chain) -
                       unexplained_cost * (of - 1);
            x.why = fmt::format("{} its points",
                                plural(static_cast<long>(c->chain.size()), "reading joins", "readings join"));
            out.push_back(std::move(x));
        }
    }

  private:
    [[nodiscard]] double log_odds(int a, int b) const {
        if (a >= prior_.points() || b >= prior_.points()) return std::log(0.02);
        return std::log(
            std::max(1e-6, prior_.odds(a, b) * lore_.factor(prior_.feature(a), prior_.feature(b))));
    }
    /// How unlikely it is that these two groups are one net.
    [[nodiscard]] double split_weight(const std::vector<int>& a, const std::vector<int>& b) const {
        if (a.empty() || b.empty()) return 0;
        double sum = 0, least = 1e9;
        for (const int x : a)
            for (const int y : b) {
                const double w = -log_odds(x, y);
                sum += w;
                least = std::min(least, w);
            }
        return 0.5 * sum / (static_cast<double>(a.size()) * static_cast<double>(b.size())) + 0.5 * least;
    }
    /// How odd a net of these would be by itself: pins that lead nowhere, inputs that nobody drives.
    [[nodiscard]] double loneliness(const std::vector<int>& net) const {
        bool driver = false, input = false, contact = false, rail = false;
        for (const int p : net) {
            const auto& f = prior_.feature(p);
            driver = driver || drives(f.kind) || f.kind == PinKind::open_collector;
            input = input || f.kind == PinKind::input;
            contact = contact || f.part == 4;
            rail = rail || f.kind == PinKind::supply || f.kind == PinKind::ground;
        }
        double cost = 0;
        if (net.size() == 1) {
            const auto& f = prior_.feature(net.front());
            cost += rail                                       ? 3.0
                    : f.kind == PinKind::unconnected           ? -2.0
                    : f.kind == PinKind::input                 ? 3.0
                    : f.kind == PinKind::output || f.part == 4 ? 1.0
                                                               : 2.0;
        }
        if (input && !driver && !contact && !rail) cost += 1.5;
        return cost;
    }

    /// A chain that stands on bridges is weaker than one with ways around it.
    [[nodiscard]] double ways(int, int, const Splitter& splitter, const std::vector<int>& chain) const {
        double firm = 0;
        for (const int row : chain) {
            const auto& l = *by_row_.at(row);
            if (splitter.holds(splitter.side_of(l.a, row), l.b)) firm += 1;
        }
        return chain.empty() ? 0 : 12.0 * firm / static_cast<double>(chain.size());
    }

    const NetState& s_;
    const Likelihood& prior_;
    BusLore lore_;
    std::map<int, const Link*> by_row_;
};

}  // namespace

std::vector<Suspect> suspects(const NetState& s, const Likelihood& prior, std::size_t most) {
    if (s.contradictions.empty()) return {};
    std::map<int, std::vector<const Contradiction*>> by_net;
    for (const auto& c : s.contradictions) by_net[s.net_of[static_cast<std::size_t>(c.a)]].push_back(&c);
    Judge judge(s, prior);
    std::vector<Suspect> out;
    for (const auto& [net, list] : by_net) judge.judge_net(net, list, out);
    std::stable_sort(out.begin(), out.end(),
                     [](const Suspect& x, const Suspect& y) { return x.weight > y.weight; });
    if (out.size() > most) out.resize(most);
    return out;
}

}  // namespace grayrelic
