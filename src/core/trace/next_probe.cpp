// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/next_probe.hpp"

#include "core/base/long_work.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/trace/net_traits.hpp"

namespace grayrelic {
namespace {

constexpr double join_from = 0.45;    ///< a join this likely by itself is tried before others are weighed
constexpr double seek_from = 0.02;    ///< a partner this likely is tried before nets are separated
constexpr double unexpected = 0.004;  ///< chance that two nets with nothing in common are one
constexpr std::size_t most_weighed = 60'000;  ///< pairs of nets weighed against each other for one plan

struct Pair {
    int net_a, net_b;
    int a, b;
    double odds;
};

class Planner {
  public:
    Planner(const Likelihood& prior, const NetState& state, const PlanOptions& options)
        : prior_(prior),
          state_(state),
          options_(options),
          lore_(prior, state),
          traits_(state.nets.size()),
          reach_(static_cast<std::size_t>(prior.points()), 1) {
        for (const int p : options.skip)
            if (p >= 0 && p < prior.points()) reach_[static_cast<std::size_t>(p)] = 0;
        for (std::size_t n = 0; n < traits_.size(); ++n) {
            auto& t = traits_[n];
            t = NetTraits::of(state.nets[n], prior);
            for (const int p : state.nets[n])
                if (reachable(p) && t.faces.size() < 4 && !like_a_face(t, p)) t.faces.push_back(p);
        }
        find_pairs();
    }

    ProbePlan plan() {
        ProbePlan out;
        const auto n = static_cast<std::uint64_t>(state_.net_of.size());
        out.every_pair = n < 2 ? 0 : n * (n - 1) / 2;
        std::vector<Probe> likely;
        for (const auto& p : pairs_) {
            const double chance = p.odds / (1.0 + p.odds);
            if (chance >= join_from && wanted(p.a, p.b))
                likely.push_back({p.a, p.b, chance, tells(p, chance), {}});
        }
        // The likelier, the sooner: each open here may turn out to be one more than was needed.
        const auto better = [&](const Probe& x, const Probe& y) {
            const double cx = rank(x), cy = rank(y);
            return cx != cy ? cx > cy : std::pair(x.a, x.b) < std::pair(y.a, y.b);
        };
        const auto most = std::min(options_.how_many, likely.size());
        std::partial_sort(likely.begin(), likely.begin() + static_cast<std::ptrdiff_t>(most), likely.end(),
                          better);
        likely.resize(most);
        out.next = std::move(likely);
        if (out.next.size() < options_.how_many) seek(out.next);
        if (out.next.size() < options_.how_many) separate(out.next);
        for (auto& p : out.next) p.why = reason(p);
        out.remaining = estimate();
        return out;
    }

  private:
    [[nodiscard]] int net(int p) const { return state_.net_of[static_cast<std::size_t>(p)]; }
    [[nodiscard]] const NetTraits& traits(int n) const { return traits_[static_cast<std::size_t>(n)]; }
    [[nodiscard]] bool reachable(int p) const { return reach_[static_cast<std::size_t>(p)] != 0; }

    static double rank(const Probe& p) { return p.chance * (1.0 + 0.05 * std::log1p(p.tells)); }

    void find_pairs() {
        std::vector<Pair> all;
        const int points = std::min(prior_.points(), static_cast<int>(state_.net_of.size()));
        for (int a = 0; a < points; ++a) {
            if (!reachable(a)) continue;
            for (const int b : prior_.partners()[static_cast<std::size_t>(a)]) {
                if (b >= points || !reachable(b)) continue;
                const int na = net(a), nb = net(b);
                if (na == nb) continue;
                const double odds = prior_.odds(a, b) * lore_.factor(prior_.feature(a), prior_.feature(b));
                if (odds < 0.3) continue;
                all.push_back({std::min(na, nb), std::max(na, nb), a, b, odds});
            }
        }
        std::sort(all.begin(), all.end(), [](const Pair& x, const Pair& y) {
            return std::tie(x.net_a, x.net_b, y.odds, x.a, x.b) <
                   std::tie(y.net_a, y.net_b, x.odds, y.a, y.b);
        });
        for (std::size_t i = 0; i < all.size();) {
            auto end = i;
            double odds = 0, most = all[i].odds;
            for (; end < all.size() && all[end].net_a == all[i].net_a && all[end].net_b == all[i].net_b;
                 ++end)
                odds += 0.25 * all[end].odds;
            Pair p = all[i];
            p.odds = std::max(most, std::min(odds, 4.0 * most)) * fits(p);
            i = end;
            if (p.odds >= 0.3 && !state_.separated(p.net_a, p.net_b)) pairs_.push_back(p);
        }
        compete();
    }

    /// What a net of these two would hold at once.
    [[nodiscard]] double fits(const Pair& p) const {
        const auto &x = traits(p.net_a), &y = traits(p.net_b);
        double f = 1.0;
        if ((x.ground || y.ground) && (x.supply || y.supply)) f *= 1e-5;
        if (x.output && y.output) f *= 0.02;
        return f;
    }

    /// A small net belongs to one other at most of those that differ from each other: their odds share.
    void compete() {
        std::vector<double> best(traits_.size(), 0.0);
        for (const auto& p : pairs_)
            for (const int n : {p.net_a, p.net_b})
                best[static_cast<std::size_t>(n)] = std::max(best[static_cast<std::size_t>(n)], p.odds);
        for (auto& p : pairs_) {
            const double rival =
                std::max(best[static_cast<std::size_t>(p.net_a)], best[static_cast<std::size_t>(p.net_b)]);
            if (p.odds < rival) p.odds /= 1.0 + 0.2 * std::min(rival, 5.0);
        }
    }

    [[nodiscard]] bool wanted(int a, int b) const {
        const auto &x = prior_.feature(a), &y = prior_.feature(b);
        const auto is_rail = [](const auto& f) {
            return f.kind == PinKind::supply || f.kind == PinKind::ground;
        };
        switch (options_.strategy) {
            case ProbeStrategy::everything: return true;
            case ProbeStrategy::rails: return is_rail(x) || is_rail(y);
            case ProbeStrategy::buses: return x.bus >= 0 && y.bus >= 0;
            case ProbeStrategy::connectors: return x.part == 4 || y.part == 4;
        }
        return true;
    }

    [[nodiscard]] bool like_a_face(const NetTraits& t, int p) const {
        return std::any_of(t.faces.begin(), t.faces.end(), [&](int q) {
            const auto &x = prior_.feature(p), &y = prior_.feature(q);
            return x.kind == y.kind && x.name == y.name && x.part == y.part;
        });
    }

    [[nodiscard]] double weight(const NetTraits& x, const NetTraits& y, int& best_a, int& best_b) const {
        double most = 0;
        for (const int a : x.faces)
            for (const int b : y.faces) {
                const double w = prior_.odds(a, b) * lore_.factor(prior_.feature(a), prior_.feature(b));
                if (w > most) most = w, best_a = a, best_b = b;
            }
        if ((x.ground || y.ground) && (x.supply || y.supply)) most *= 1e-5;
        if (x.output && y.output) most *= 0.02;
        if (x.unconnected || y.unconnected) most *= 0.05;
        // An input without a driver waits for one; lines that are buses on one side only seldom meet.
        if (x.input && !x.driver) most *= y.driver ? 1.0 : 0.35;
        if (x.output && x.size == 1 && y.driver) most *= 0.15;
        // A contact nobody has named leads to what has no contact yet, a bus as likely as anything.
        if (x.nameless_contact) return most * (y.contact ? 0.15 : y.size > 1 ? 3.0 : 1.0);
        if ((x.buses > 0) != (y.buses > 0) && !(x.ground || x.supply || y.ground || y.supply)) most *= 0.3;
        return most;
    }

    /// Nets that must belong somewhere, each with the partners that are left for it: their chances share.
    void seek(std::vector<Probe>& out) {
        std::vector<int> seekers;
        for (std::size_t n = 0; n < traits_.size(); ++n)
            if (traits_[n].seeks() > 0.2) seekers.push_back(static_cast<int>(n));
        std::stable_sort(seekers.begin(), seekers.end(),
                         [&](int x, int y) { return traits(x).seeks() > traits(y).seeks(); });
        const auto budget = std::max<std::size_t>(6, most_weighed / std::max<std::size_t>(1, traits_.size()));
        if (seekers.size() > budget) seekers.resize(budget);
        std::vector<char> marked(traits_.size(), 0);
        std::vector<Probe> found;
        struct Partner {
            double weight;
            int a, b, net;
        };
        std::vector<Partner> partners;
        for (const int x : seekers) {
            partners.clear();
            double total = 0;
            const auto& apart = state_.apart[static_cast<std::size_t>(x)];
            for (const auto& [other, times] : apart) marked[static_cast<std::size_t>(other)] = 1;
            for (int y = 0; y < state_.net_count(); ++y) {
                if (y == x || marked[static_cast<std::size_t>(y)] != 0) continue;
                Partner p{0, -1, -1, y};
                p.weight = weight(traits(x), traits(y), p.a, p.b);
                if (p.a < 0) continue;
                total += p.weight;
                partners.push_back(p);
            }
            for (const auto& [other, times] : apart) marked[static_cast<std::size_t>(other)] = 0;
            // A net that has been turned down by most may well stand alone after all.
            const double seeks = traits(x).seeks();
            const double alone = (1.0 - seeks) / seeks * (total + 0.02 * static_cast<double>(apart.size()));
            for (const auto& p : partners) {
                const double chance = p.weight / (total + alone);
                if (chance >= seek_from && wanted(p.a, p.b))
                    found.push_back({p.a,
                                     p.b,
                                     chance,
                                     tells({std::min(x, p.net), std::max(x, p.net), p.a, p.b, 0}, chance),
                                     {}});
            }
        }
        std::stable_sort(found.begin(), found.end(),
                         [](const Probe& x, const Probe& y) { return rank(x) > rank(y); });
        for (const auto& p : found) {
            if (out.size() >= options_.how_many) break;
            if (std::any_of(out.begin(), out.end(), [&](const Probe& q) {
                    return std::minmax(net(p.a), net(p.b)) == std::minmax(net(q.a), net(q.b));
                }))
                continue;
            out.push_back(p);
        }
    }

    /// Expected pairs of points settled.
    [[nodiscard]] double tells(const Pair& p, double chance) const {
        const double product = static_cast<double>(traits(p.net_a).size) * traits(p.net_b).size;
        const auto &x = state_.apart[static_cast<std::size_t>(p.net_a)],
                   &y = state_.apart[static_cast<std::size_t>(p.net_b)];
        double gained = 0;
        std::size_t i = 0, j = 0;
        while (i < x.size() || j < y.size()) {
            if (j == y.size() || (i < x.size() && x[i].first < y[j].first))
                gained += static_cast<double>(traits(p.net_b).size) * traits(x[i++].first).size;
            else if (i == x.size() || y[j].first < x[i].first)
                gained += static_cast<double>(traits(p.net_a).size) * traits(y[j++].first).size;
            else
                ++i, ++j;
        }
        return product + chance * gained;
    }

    struct Candidate {
        double worth;
        int net_a, net_b;
    };
    [[nodiscard]] double product(int a, int b) const {
        return static_cast<double>(traits(a).size) * traits(b).size;
    }
    [[nodiscard]] const Pair* pair_of(int a, int b) const {
        const auto lo = std::min(a, b), hi = std::max(a, b);
        const auto it =
            std::lower_bound(pairs_.begin(), pairs_.end(), std::pair(lo, hi),
                             [](const Pair& p, const auto& v) { return std::pair(p.net_a, p.net_b) < v; });
        return it == pairs_.end() || it->net_a != lo || it->net_b != hi ? nullptr : &*it;
    }
    [[nodiscard]] double chance_of(int a, int b) const {
        const auto* p = pair_of(a, b);
        return p == nullptr ? unexpected : p->odds / (1.0 + p->odds);
    }

    /// The unseparated pairs of the largest nets; where nothing differs, those likelier to be joined first.
    void separate(std::vector<Probe>& out) {
        const int k = state_.net_count();
        std::vector<int> order(static_cast<std::size_t>(k));
        std::iota(order.begin(), order.end(), 0);
        std::stable_sort(order.begin(), order.end(),
                         [&](int x, int y) { return traits(x).size > traits(y).size; });
        std::vector<Candidate> best;
        const auto worst = [&] { return best.size() < options_.how_many ? -1.0 : best.back().worth; };
        const auto consider = [&](int a, int b, double worth) {
            if (worth <= worst()) return;
            const int pa = spokesman(a), pb = spokesman(b);
            if (pa < 0 || pb < 0 || !wanted(pa, pb)) return;
            best.push_back({worth, a, b});
            std::sort(best.begin(), best.end(),
                      [](const auto& x, const auto& y) { return x.worth > y.worth; });
            if (best.size() > options_.how_many) best.pop_back();
        };
        // Those with a chance of their own, in the same order as the others behind them.
        std::vector<int> place(order.size());
        for (std::size_t i = 0; i < order.size(); ++i)
            place[static_cast<std::size_t>(order[i])] = static_cast<int>(i);
        std::vector<std::pair<int, int>> likely;
        for (const auto& p : pairs_)
            likely.push_back(std::minmax(
                {place[static_cast<std::size_t>(p.net_a)], place[static_cast<std::size_t>(p.net_b)]}));
        std::sort(likely.begin(), likely.end());
        for (const auto& [i, j] : likely) {
            const int a = order[static_cast<std::size_t>(i)], b = order[static_cast<std::size_t>(j)];
            consider(a, b, product(a, b) * (1.0 + 2.0 * chance_of(a, b)));
        }
        // All others have the same small chance: the first that is not worth enough ends its row, and the
        // first row that begins so ends them all.
        std::vector<char> marked(static_cast<std::size_t>(k), 0);
        constexpr double plain = 1.0 + 2.0 * unexpected;
        for (std::size_t i = 0; i < order.size(); ++i) {
            const int a = order[i];
            const auto& apart = state_.apart[static_cast<std::size_t>(a)];
            if (product(a, a) * plain <= worst()) break;
            if (static_cast<int>(apart.size()) == k - 1) continue;
            for (const auto& [other, times] : apart) marked[static_cast<std::size_t>(other)] = 1;
            for (std::size_t j = i + 1; j < order.size(); ++j) {
                const int b = order[j];
                if (product(a, b) * plain <= worst()) break;
                if (marked[static_cast<std::size_t>(b)] == 0 && !pair_of(a, b))
                    consider(a, b, product(a, b) * plain);
            }
            for (const auto& [other, times] : apart) marked[static_cast<std::size_t>(other)] = 0;
        }
        for (const auto& c : best) {
            if (out.size() >= options_.how_many) break;
            if (std::any_of(out.begin(), out.end(), [&](const Probe& p) {
                    return (net(p.a) == c.net_a && net(p.b) == c.net_b) ||
                           (net(p.a) == c.net_b && net(p.b) == c.net_a);
                }))
                continue;
            const auto [a, b] = closest(c.net_a, c.net_b);
            const double chance = chance_of(c.net_a, c.net_b);
            out.push_back({a, b, chance, tells({c.net_a, c.net_b, a, b, 0}, chance), {}});
        }
    }

    /// The point of a net that is easiest to name: a connector's contact, else its first reachable one.
    [[nodiscard]] int spokesman(int n) const {
        int found = -1;
        for (const int p : state_.nets[static_cast<std::size_t>(n)]) {
            if (!reachable(p)) continue;
            if (p < prior_.points() && prior_.feature(p).part == 4) return p;
            if (found < 0) found = p;
        }
        return found;
    }

    /// Of two nets, the points nearest to each other: the probes need not travel.
    [[nodiscard]] std::pair<int, int> closest(int na, int nb) const {
        std::pair<int, int> best{spokesman(na), spokesman(nb)};
        double least = 1e9;
        std::size_t tried = 0;
        for (const int a : state_.nets[static_cast<std::size_t>(na)])
            for (const int b : state_.nets[static_cast<std::size_t>(nb)]) {
                if (++tried > 400) return best;
                const auto &x = prior_.feature(a), &y = prior_.feature(b);
                if (!x.placed || !y.placed || !reachable(a) || !reachable(b)) continue;
                const double d = std::hypot(x.x - y.x, x.y - y.y);
                if (d < least) least = d, best = {a, b};
            }
        return best;
    }

    [[nodiscard]] std::string reason(const Probe& p) const {
        if (p.chance >= seek_from) {
            const auto &x = prior_.feature(p.a), &y = prior_.feature(p.b);
            if (lore_.factor(x, y) > 4.0) return "other bits of these buses are joined alike";
            return prior_.why(p.a, p.b);
        }
        const auto sa = traits(net(p.a)).size, sb = traits(net(p.b)).size;
        return "an open separates " + std::to_string(sa) + " × " + std::to_string(sb) + " points at once";
    }

    [[nodiscard]] std::uint64_t estimate() const {
        std::vector<std::pair<int, int>> joins;
        for (const auto& p : pairs_)
            if (p.odds > 1.0) joins.emplace_back(p.net_a, p.net_b);
        return probes_left(state_, joins);
    }

    const Likelihood& prior_;
    const NetState& state_;
    const PlanOptions& options_;
    BusLore lore_;
    std::vector<NetTraits> traits_;
    std::vector<char> reach_;
    std::vector<Pair> pairs_;  ///< of nets that nothing separates, by net numbers
};

}  // namespace

std::string_view word(ProbeStrategy s) {
    switch (s) {
        case ProbeStrategy::everything: return "everything";
        case ProbeStrategy::rails: return "rails";
        case ProbeStrategy::buses: return "buses";
        case ProbeStrategy::connectors: return "connectors";
    }
    return "everything";
}

ProbePlan plan_probes(const Likelihood& prior, const NetState& state, const PlanOptions& options) {
    long_work("plan_probes");
    return Planner(prior, state, options).plan();
}

}  // namespace grayrelic
