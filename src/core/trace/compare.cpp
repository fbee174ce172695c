// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/compare.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <map>
#include <optional>
#include <set>
#include <unordered_map>

namespace grayrelic {
namespace {

std::string name_of(const Net& net) {
    if (!net.name.empty()) return net.name;
    std::string out;
    for (std::size_t i = 0; i < net.points.size() && i < 3; ++i) out += (i == 0 ? "" : " ") + net.points[i];
    return net.points.size() > 3 ? out + " …" : out;
}

std::optional<int> pin_number(std::string_view pin) {
    int n = 0;
    const auto [end, code] = std::from_chars(pin.data(), pin.data() + pin.size(), n);
    if (code != std::errc() || end != pin.data() + pin.size() || n < 1) return std::nullopt;
    return n;
}

class Comparer {
  public:
    Comparer(const std::vector<Net>& should, const std::vector<Net>& is, const CompareOptions& options)
        : a_(should), b_(is), options_(options) {}

    NetComparison compare() {
        number(a_, in_a_);
        number(b_, in_b_);
        find_strangers();
        find_partners();
        find_turned();
        find_swapped();
        find_merges();
        count_same();
        return std::move(out_);
    }

  private:
    static void number(const std::vector<Net>& nets, std::unordered_map<std::string, int>& where) {
        for (std::size_t n = 0; n < nets.size(); ++n)
            for (const auto& p : nets[n].points) where.emplace(p, static_cast<int>(n));
    }

    void find_strangers() {
        for (const auto& net : a_)
            for (const auto& p : net.points)
                if (in_b_.count(p) == 0) out_.missing.push_back({p, name_of(net)});
        for (const auto& net : b_)
            for (const auto& p : net.points)
                if (in_a_.count(p) == 0) out_.extra.push_back({p, name_of(net)});
        const auto less = [](const auto& x, const auto& y) { return natural_less(x.point, y.point); };
        std::sort(out_.missing.begin(), out_.missing.end(), less);
        std::sort(out_.extra.begin(), out_.extra.end(), less);
    }

    /// For each net of the first the net of the second that shares most points with it, one to one.
    void find_partners() {
        std::map<std::pair<int, int>, int> shared;
        for (const auto& [point, n] : in_a_)
            if (const auto it = in_b_.find(point); it != in_b_.end()) ++shared[{n, it->second}];
        struct Candidate {
            int count;
            bool same_name;
            int a, b;
        };
        std::vector<Candidate> all;
        for (const auto& [pair, count] : shared) {
            const auto &x = a_[static_cast<std::size_t>(pair.first)].name,
                       &y = b_[static_cast<std::size_t>(pair.second)].name;
            all.push_back({count, !x.empty() && x == y, pair.first, pair.second});
        }
        std::sort(all.begin(), all.end(), [](const Candidate& x, const Candidate& y) {
            return std::tuple(-x.count, !x.same_name, x.a, x.b) <
                   std::tuple(-y.count, !y.same_name, y.a, y.b);
        });
        partner_a_.assign(a_.size(), -1);
        partner_b_.assign(b_.size(), -1);
        for (const auto& c : all)
            if (partner_a_[static_cast<std::size_t>(c.a)] < 0 &&
                partner_b_[static_cast<std::size_t>(c.b)] < 0) {
                partner_a_[static_cast<std::size_t>(c.a)] = c.b;
                partner_b_[static_cast<std::size_t>(c.b)] = c.a;
            }
        for (const auto& [point, n] : in_b_) now_[point] = n;
    }

    /// Where a point should be in the second netlist; -1 where nobody can say.
    [[nodiscard]] int home(const std::string& point) const {
        const auto it = in_a_.find(point);
        return it == in_a_.end() ? -1 : partner_a_[static_cast<std::size_t>(it->second)];
    }
    [[nodiscard]] int now(const std::string& point) const {
        const auto it = now_.find(point);
        return it == now_.end() ? -1 : it->second;
    }
    [[nodiscard]] std::string net_at(const std::string& point) const {
        return name_of(a_[static_cast<std::size_t>(in_a_.at(point))]);
    }

    /// Parts that fit as a whole when their pins are counted the other way.
    void find_turned() {
        std::map<std::string, std::vector<std::string>> parts;
        for (const auto& [point, n] : in_a_)
            if (const auto p = split_point(point); !p.ref.empty() && in_b_.count(point) > 0)
                parts[std::string(p.ref)].push_back(point);
        for (const auto& [ref, points] : parts) {
            int most = 0;
            bool numbered = points.size() >= 4;
            for (const auto& p : points) {
                const auto pin = pin_number(split_point(p).pin);
                numbered = numbered && pin;
                most = std::max(most, pin.value_or(0));
            }
            if (!numbered || most % 2 != 0 || most != static_cast<int>(points.size())) continue;
            long straight = 0;
            for (const auto& p : points) straight += now(p) == home(p) ? 1 : 0;
            for (const auto* how : {"mirrored", "turned"}) {
                const auto other = [&](const std::string& p) {
                    const int k = *pin_number(split_point(p).pin);
                    const int to = how[0] == 'm' ? most + 1 - k : (k - 1 + most / 2) % most + 1;
                    return fmt::format("{}.{}", ref, to);
                };
                long fits = 0;
                for (const auto& p : points) fits += now(other(p)) == home(p) ? 1 : 0;
                // All but what else may be wrong, and clearly better than as it stands.
                if (fits * 10 < static_cast<long>(points.size()) * 9 ||
                    straight * 2 > static_cast<long>(points.size()))
                    continue;
                out_.turned.push_back({ref, how, static_cast<long>(points.size()) - straight});
                std::map<std::string, int> moved;
                for (const auto& p : points) moved[p] = now(other(p));
                for (const auto& [p, n] : moved) now_[p] = n;
                break;
            }
        }
    }

    void find_swapped() {
        // Points away from home, by where they should be and where they are.
        std::map<std::pair<int, int>, std::vector<std::string>> away;
        for (const auto& [point, n] : now_)
            if (const int h = home(point); h >= 0 && h != n) away[{h, n}].push_back(point);
        for (auto& [way, points] : away) std::sort(points.begin(), points.end(), natural_less);
        for (auto& [way, points] : away) {
            if (way.first >= way.second) continue;
            const auto back = away.find({way.second, way.first});
            if (back == away.end()) continue;
            while (!points.empty() && !back->second.empty()) {
                // Pins of one part exchange their nets more often than strangers.
                auto a = points.begin();
                auto b = back->second.begin();
                for (auto x = points.begin(); x != points.end(); ++x)
                    for (auto y = back->second.begin(); y != back->second.end(); ++y)
                        if (split_point(*x).ref == split_point(*y).ref &&
                            split_point(*a).ref != split_point(*b).ref) {
                            a = x;
                            b = y;
                        }
                PointSwap s{*a, *b, net_at(*a), net_at(*b), options_.alike && options_.alike(*a, *b)};
                if (natural_less(s.b, s.a)) {
                    std::swap(s.a, s.b);
                    std::swap(s.net_a, s.net_b);
                }
                std::swap(now_[*a], now_[*b]);
                points.erase(a);
                back->second.erase(b);
                out_.swapped.push_back(std::move(s));
            }
        }
        std::sort(out_.swapped.begin(), out_.swapped.end(),
                  [](const auto& x, const auto& y) { return natural_less(x.a, y.a); });
    }

    void find_merges() {
        std::map<int, std::map<int, std::string>> pieces, holds;  // net -> other net -> one point
        for (const auto& net : a_)
            for (const auto& p : net.points)
                if (const int n = now(p); n >= 0) {
                    const int from = in_a_.at(p);
                    pieces[from].emplace(n, p);
                    holds[n].emplace(from, p);
                }
        for (const auto& [n, parts] : pieces) {
            if (parts.size() < 2) continue;
            NetMerge split, unproven;
            split.net = unproven.net = name_of(a_[static_cast<std::size_t>(n)]);
            std::vector<std::pair<int, std::string>> list(parts.begin(), parts.end());
            const auto add = [&](NetMerge& m, const auto& piece) {
                m.nets.push_back(name_of(b_[static_cast<std::size_t>(piece.first)]));
                m.points.push_back(piece.second);
            };
            if (!options_.separated) {
                for (const auto& piece : list) add(split, piece);
            } else {
                for (std::size_t i = 0; i < list.size(); ++i) {
                    bool apart = false;
                    for (std::size_t j = 0; j < list.size(); ++j)
                        apart = apart || (i != j && options_.separated(list[i].second, list[j].second));
                    add(apart ? split : unproven, list[i]);
                }
                // Pieces that are not separated from all others still wait for a probe.
                if (!split.nets.empty() && !unproven.nets.empty()) {
                    unproven.nets.insert(unproven.nets.begin(), split.nets.front());
                    unproven.points.insert(unproven.points.begin(), split.points.front());
                }
            }
            if (split.nets.size() > 1) out_.split.push_back(std::move(split));
            if (unproven.nets.size() > 1) out_.unproven.push_back(std::move(unproven));
        }
        for (const auto& [n, parts] : holds) {
            if (parts.size() < 2) continue;
            NetMerge m;
            m.net = name_of(b_[static_cast<std::size_t>(n)]);
            for (const auto& [from, point] : parts) {
                m.nets.push_back(name_of(a_[static_cast<std::size_t>(from)]));
                m.points.push_back(point);
            }
            out_.joined.push_back(std::move(m));
        }
    }

    void count_same() {
        std::set<std::set<std::string>> sets;
        for (const auto& net : b_) sets.emplace(net.points.begin(), net.points.end());
        for (const auto& net : a_)
            out_.same += sets.count(std::set<std::string>(net.points.begin(), net.points.end())) > 0 ? 1 : 0;
    }

    const std::vector<Net>& a_;
    const std::vector<Net>& b_;
    const CompareOptions& options_;
    std::unordered_map<std::string, int> in_a_, in_b_;
    std::map<std::string, int> now_;  ///< net of the second, with turned parts and swaps undone
    std::vector<int> partner_a_, partner_b_;
    NetComparison out_;
};

}  // namespace

bool NetComparison::equal() const {
    return missing.empty() && extra.empty() && joined.empty() && split.empty() && turned.empty() &&
           unproven.empty() &&
           std::all_of(swapped.begin(), swapped.end(), [](const PointSwap& s) { return s.harmless; });
}

NetComparison compare_nets(const std::vector<Net>& should, const std::vector<Net>& is,
                           const CompareOptions& options) {
    return Comparer(should, is, options).compare();
}

std::vector<Net> named_nets(const NetState& state, const PointTable& points) {
    std::vector<Net> out;
    for (const auto& net : state.nets) {
        Net n;
        for (const int p : net) n.points.push_back(points.name(p));
        n.name = n.points.front();
        out.push_back(std::move(n));
    }
    return out;
}

}  // namespace grayrelic
