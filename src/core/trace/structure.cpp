// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/structure.hpp"

#include <algorithm>
#include <cstdint>
#include <iterator>
#include <set>
#include <unordered_map>

#include "core/trace/points.hpp"

namespace grayrelic {
namespace {

using Hue = std::uint64_t;
constexpr int rounds = 8;

Hue mix(Hue h, Hue v) {
    h ^= v + 0x9E3779B97F4A7C15ULL + (h << 6U) + (h >> 2U);
    h *= 0xBF58476D1CE4E5B9ULL;
    return h ^ (h >> 31U);
}

struct WiredPin {
    int part, net;
    Hue label;  ///< of the pin's number; the same for both ends of a part with two
};

struct Graph {
    std::vector<std::string> names;                   ///< of parts, in natural order
    std::vector<std::string> type;                    ///< as the parts; empty where nobody said
    std::vector<std::vector<std::string>> pin_names;  ///< sorted
    std::vector<std::vector<int>> pins_of_part, pins_of_net;
    std::vector<WiredPin> pins;
    std::vector<std::vector<Hue>> part_colour, net_colour;  ///< by round

    Graph(const std::vector<Net>& nets, const std::map<std::string, std::string>& types) {
        // Pins that lead nowhere do not tell: many netlists leave them out.
        std::map<std::string, std::set<std::string>> pins_by_ref, wired;
        for (const auto& net : nets)
            for (const auto& point : net.points) {
                const auto p = split_point(point);
                const auto ref = std::string(p.ref.empty() ? p.pin : p.ref),
                           pin = std::string(p.ref.empty() ? "" : p.pin);
                pins_by_ref[ref].insert(pin);
                if (net.points.size() > 1) wired[ref].insert(pin);
            }
        for (const auto& [ref, list] : pins_by_ref) names.push_back(ref);
        std::sort(names.begin(), names.end(), natural_less);
        std::unordered_map<std::string, int> number;
        for (std::size_t i = 0; i < names.size(); ++i) number[names[i]] = static_cast<int>(i);
        pins_of_part.resize(names.size());
        pins_of_net.resize(nets.size());
        for (std::size_t n = 0; n < nets.size(); ++n)
            for (const auto& point : nets[n].points) {
                const auto p = split_point(point);
                const auto ref = std::string(p.ref.empty() ? p.pin : p.ref);
                const bool two = pins_by_ref[ref].size() <= 2;
                const int id = static_cast<int>(pins.size());
                pins.push_back({number[ref], static_cast<int>(n),
                                two ? Hue{7} : Hue{std::hash<std::string_view>{}(p.pin)}});
                pins_of_part[static_cast<std::size_t>(number[ref])].push_back(id);
                pins_of_net[n].push_back(id);
            }
        part_colour.resize(rounds + 1, std::vector<Hue>(names.size()));
        net_colour.resize(rounds + 1, std::vector<Hue>(nets.size()));
        for (std::size_t i = 0; i < names.size(); ++i) {
            const auto it = types.find(names[i]);
            Hue c = it == types.end() ? 1 : std::hash<std::string>{}(it->second);
            for (const auto& pin : wired[names[i]]) c = mix(c, std::hash<std::string>{}(pin));
            part_colour[0][i] = c;
            type.push_back(it == types.end() ? std::string() : it->second);
            pin_names.emplace_back(pins_by_ref[names[i]].begin(), pins_by_ref[names[i]].end());
        }
        for (std::size_t n = 0; n < nets.size(); ++n) net_colour[0][n] = 3;
        refine();
    }

    void refine() {
        std::vector<Hue> around;
        const auto gather = [&](const std::vector<int>& list, Hue own, auto colour_of) {
            around.clear();
            for (const int id : list)
                around.push_back(mix(pins[static_cast<std::size_t>(id)].label,
                                     colour_of(pins[static_cast<std::size_t>(id)])));
            std::sort(around.begin(), around.end());
            for (const auto c : around) own = mix(own, c);
            return own;
        };
        for (std::size_t r = 1; r <= rounds; ++r) {
            for (std::size_t n = 0; n < pins_of_net.size(); ++n)
                net_colour[r][n] = gather(pins_of_net[n], net_colour[r - 1][n], [&](const WiredPin& p) {
                    return part_colour[r - 1][static_cast<std::size_t>(p.part)];
                });
            for (std::size_t i = 0; i < names.size(); ++i)
                part_colour[r][i] = gather(pins_of_part[i], part_colour[r - 1][i], [&](const WiredPin& p) {
                    return net_colour[r][static_cast<std::size_t>(p.net)];
                });
        }
    }
};

class Matcher {
  public:
    Matcher(const Graph& a, const Graph& b)
        : a_(a),
          b_(b),
          part_a_(a.names.size(), -1),
          part_b_(b.names.size(), -1),
          net_a_(a.pins_of_net.size(), -1),
          net_b_(b.pins_of_net.size(), -1) {}

    Status run(Progress& progress, StructureMatch& out) {
        // The deepest colours first: they tell most. Then what neighbours say, then the shallower ones.
        for (std::size_t r = rounds + 1; r-- > 0;) {
            if (progress.cancelled()) return fail_cancelled();
            match_unique(a_.part_colour[r], b_.part_colour[r], part_a_, part_b_);
            match_unique(a_.net_colour[r], b_.net_colour[r], net_a_, net_b_);
            vote();
            progress.report(0.5 * static_cast<double>(rounds + 1 - r) / (rounds + 1));
        }
        // What is left fits in several ways: the one that neighbours speak for most, else by name and order.
        for (std::size_t i = 0; i < a_.names.size(); ++i) {
            if (progress.cancelled()) return fail_cancelled();
            if (part_a_[i] >= 0) continue;
            int best = -1, best_votes = -1;
            for (std::size_t j = 0; j < b_.names.size(); ++j) {
                if (part_b_[j] >= 0 || !alike(i, j)) continue;
                int votes = 4 * agreeing(i, j) + (a_.names[i] == b_.names[j] ? 2 : 0);
                for (std::size_t r = 1; r <= rounds && a_.part_colour[r][i] == b_.part_colour[r][j]; ++r)
                    ++votes;
                if (votes > best_votes) best_votes = votes, best = static_cast<int>(j);
            }
            if (best < 0) continue;
            part_a_[i] = best;
            part_b_[static_cast<std::size_t>(best)] = static_cast<int>(i);
            ++out.by_choice;
            vote();
            progress.report(0.5 + 0.5 * static_cast<double>(i) / static_cast<double>(a_.names.size()));
        }
        return {};
    }
    [[nodiscard]] const std::vector<int>& part_of_b() const { return part_b_; }

  private:
    static void match_unique(const std::vector<Hue>& a, const std::vector<Hue>& b, std::vector<int>& of_a,
                             std::vector<int>& of_b) {
        struct Seen {
            int a = -1, b = -1, count_a = 0, count_b = 0;
        };
        std::unordered_map<Hue, Seen> seen;
        for (std::size_t i = 0; i < a.size(); ++i)
            if (of_a[i] < 0) {
                auto& s = seen[a[i]];
                s.a = static_cast<int>(i);
                ++s.count_a;
            }
        for (std::size_t j = 0; j < b.size(); ++j)
            if (of_b[j] < 0) {
                auto& s = seen[b[j]];
                s.b = static_cast<int>(j);
                ++s.count_b;
            }
        for (const auto& [colour, s] : seen)
            if (s.count_a == 1 && s.count_b == 1) {
                of_a[static_cast<std::size_t>(s.a)] = s.b;
                of_b[static_cast<std::size_t>(s.b)] = s.a;
            }
    }

    /// Could the two be one part? Not of two types, and of the one with fewer pins the other has four in
    /// five.
    [[nodiscard]] bool alike(std::size_t i, std::size_t j) const {
        if (a_.part_colour[0][i] == b_.part_colour[0][j]) return true;
        if (a_.type[i] != b_.type[j]) return false;
        const auto &x = a_.pin_names[i], &y = b_.pin_names[j];
        if ((x.size() <= 2) != (y.size() <= 2)) return false;
        std::vector<std::string> both;
        std::set_intersection(x.begin(), x.end(), y.begin(), y.end(), std::back_inserter(both));
        return 5 * both.size() >= 4 * std::min(x.size(), y.size());
    }

    /// Pins of both parts that lie on matched nets.
    [[nodiscard]] int agreeing(std::size_t i, std::size_t j) const {
        int n = 0;
        for (const int x : a_.pins_of_part[i]) {
            const auto& p = a_.pins[static_cast<std::size_t>(x)];
            const int net = net_a_[static_cast<std::size_t>(p.net)];
            if (net < 0) continue;
            for (const int y : b_.pins_of_part[j]) {
                const auto& q = b_.pins[static_cast<std::size_t>(y)];
                if (q.net == net && q.label == p.label) {
                    ++n;
                    break;
                }
            }
        }
        return n;
    }

    /// Matched parts name nets, matched nets name parts, until nothing more follows.
    void vote() {
        for (bool more = true; more;) {
            more = false;
            std::unordered_map<Hue, int> votes;
            const auto key = [](int x, int y) { return (static_cast<Hue>(x) << 32U) | static_cast<Hue>(y); };
            // Parts name nets.
            for (const auto& p : a_.pins) {
                const int j = part_a_[static_cast<std::size_t>(p.part)];
                if (j < 0 || net_a_[static_cast<std::size_t>(p.net)] >= 0) continue;
                for (const int y : b_.pins_of_part[static_cast<std::size_t>(j)]) {
                    const auto& q = b_.pins[static_cast<std::size_t>(y)];
                    if (q.label == p.label && net_b_[static_cast<std::size_t>(q.net)] < 0)
                        ++votes[key(p.net, q.net)];
                }
            }
            more = settle(votes, net_a_, net_b_, 1) || more;
            votes.clear();
            for (std::size_t n = 0; n < net_a_.size(); ++n) {
                if (net_a_[n] < 0 || a_.pins_of_net[n].size() > 64) continue;  // rails name nobody
                for (const int x : a_.pins_of_net[n]) {
                    const auto& p = a_.pins[static_cast<std::size_t>(x)];
                    if (part_a_[static_cast<std::size_t>(p.part)] >= 0) continue;
                    for (const int y : b_.pins_of_net[static_cast<std::size_t>(net_a_[n])]) {
                        const auto& q = b_.pins[static_cast<std::size_t>(y)];
                        if (q.label == p.label && part_b_[static_cast<std::size_t>(q.part)] < 0 &&
                            alike(static_cast<std::size_t>(p.part), static_cast<std::size_t>(q.part)))
                            ++votes[key(p.part, q.part)];
                    }
                }
            }
            more = settle(votes, part_a_, part_b_, 1) || more;
        }
    }

    /// A pair wins that has more votes than any other pair of either of its two.
    static bool settle(const std::unordered_map<Hue, int>& votes, std::vector<int>& of_a,
                       std::vector<int>& of_b, int least) {
        std::unordered_map<int, std::pair<int, int>> best_a, best_b;  // votes, how many have as many
        const auto note = [](auto& best, int x, int v) {
            auto& [most, times] = best[x];
            if (v > most)
                most = v, times = 1;
            else if (v == most)
                ++times;
        };
        for (const auto& [k, v] : votes) {
            note(best_a, static_cast<int>(k >> 32U), v);
            note(best_b, static_cast<int>(k & 0xFFFFFFFFU), v);
        }
        bool any = false;
        for (const auto& [k, v] : votes) {
            const int x = static_cast<int>(k >> 32U), y = static_cast<int>(k & 0xFFFFFFFFU);
            if (v < least || best_a[x] != std::pair(v, 1) || best_b[y] != std::pair(v, 1)) continue;
            of_a[static_cast<std::size_t>(x)] = y;
            of_b[static_cast<std::size_t>(y)] = x;
            any = true;
        }
        return any;
    }

    const Graph& a_;
    const Graph& b_;
    std::vector<int> part_a_, part_b_, net_a_, net_b_;
};

}  // namespace

Result<StructureMatch> match_structure(const std::vector<Net>& a, const std::vector<Net>& b,
                                       Progress& progress, const std::map<std::string, std::string>& types_a,
                                       const std::map<std::string, std::string>& types_b) {
    const Graph ga(a, types_a), gb(b, types_b);
    StructureMatch out;
    out.parts_a = static_cast<long>(ga.names.size());
    out.parts_b = static_cast<long>(gb.names.size());
    Matcher matcher(ga, gb);
    if (auto done = matcher.run(progress, out); !done) return fail(done.error());
    std::map<std::string, std::string> back;
    for (std::size_t j = 0; j < gb.names.size(); ++j)
        if (const int i = matcher.part_of_b()[j]; i >= 0) {
            out.parts[ga.names[static_cast<std::size_t>(i)]] = gb.names[j];
            back[gb.names[j]] = ga.names[static_cast<std::size_t>(i)];
        }
    for (auto net : b) {
        for (auto& point : net.points) {
            const auto p = split_point(point);
            const auto ref = std::string(p.ref.empty() ? p.pin : p.ref);
            const auto it = back.find(ref);
            const auto name = it == back.end() ? ref + "'" : it->second;
            point = p.ref.empty() ? name : name + "." + std::string(p.pin);
        }
        out.renamed.push_back(std::move(net));
    }
    return out;
}

}  // namespace grayrelic
