// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trace/likelihood.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <set>
#include <tuple>

namespace grayrelic {
namespace {

bool rail(PinKind k) {
    return k == PinKind::supply || k == PinKind::ground;
}

}  // namespace

Likelihood::Likelihood(const BoardModel& board) : features_(board.points.size()) {
    std::map<std::string, int> refs, names, letters;
    std::map<std::pair<int, int>, int> buses;
    const auto number = [](auto& map, const auto& key) {
        return map.emplace(key, static_cast<int>(map.size())).first->second;
    };
    for (std::size_t i = 0; i < features_.size(); ++i) {
        const auto& p = board.points[i];
        auto& f = features_[i];
        // A via or spot is a part of its own.
        f.ref = number(refs, p.ref.empty() ? "\n" + board.table.name(static_cast<int>(i)) : p.ref);
        f.kind = p.kind;
        if (!p.function.empty()) f.name = number(names, p.function);
        f.part = p.part_function == "capacitor"  ? 1
                 : p.part_function == "resistor" ? 2
                 : p.part_function == "memory"   ? 3
                 : p.part_function == "port"     ? 4
                 : p.part_function == "logic"    ? 5
                                                 : 0;
        if (const auto bit = bus_bit(p.function); bit && !rail(p.kind) && p.kind != PinKind::passive) {
            f.letter = number(letters, bit->bus);
            f.bus = number(buses, std::pair(f.ref, f.letter));
            f.bit = bit->bit;
        }
        if (p.place) {
            f.x = static_cast<float>(p.place->x_mm);
            f.y = static_cast<float>(p.place->y_mm);
            f.placed = true;
        }
    }
    bus_size_.assign(buses.size(), 0);
    for (const auto& f : features_)
        if (f.bus >= 0) ++bus_size_[static_cast<std::size_t>(f.bus)];
    for (auto& f : features_)
        if (f.bus >= 0 && bus_size_[static_cast<std::size_t>(f.bus)] < 3) f.bus = -1;
    find_partners();
}

double Likelihood::odds(int pa, int pb) const {
    const auto *a = &feature(pa), *b = &feature(pb);
    using K = PinKind;
    if (a->kind == K::unconnected || b->kind == K::unconnected) return 0.0005;
    if (a->kind == K::ground || (b->kind != K::ground && a->kind == K::supply)) std::swap(a, b);
    // b is the rail now, ground before supply.
    if (b->kind == K::ground) {
        if (a->kind == K::ground) return 60.0;
        if (a->kind == K::supply) return 1e-5;
        if (a->part == 1) return 1.2;
        if (a->part == 2) return 0.15;
        if (a->kind == K::input) return 0.08;
        return drives(a->kind) || a->bus >= 0 ? 0.0008 : 0.02;
    }
    if (b->kind == K::supply) {
        if (a->kind == K::supply)
            return a->name == b->name || a->part == 5 || a->part == 3 || b->part == 5 || b->part == 3 ? 40.0
                                                                                                      : 0.3;
        if (a->part == 1) return 1.0;
        if (a->part == 2) return 0.6;
        if (a->kind == K::input) return 0.08;
        return drives(a->kind) || a->bus >= 0 ? 0.0008 : 0.02;
    }
    double w = 0.012;
    if (a->ref == b->ref) {
        w = a->part == 1 || a->part == 2 ? 0.0005 : 0.008;
        if (a->bus >= 0 && a->bus == b->bus) w = 0.0008;
    } else if (a->letter >= 0 && a->letter == b->letter) {
        w = a->bit == b->bit ? 3.0 : 0.01;
    } else if (a->bus >= 0 && b->bus >= 0) {
        w = a->bit == b->bit ? 0.12 : 0.02;
    } else if (a->name >= 0 && a->name == b->name && a->kind != K::passive) {
        w = 0.5;
    }
    if (a->part == 1 || b->part == 1) w *= 0.3;
    if (a->kind == K::output && b->kind == K::output)
        w *= 0.03;
    else if (drives(a->kind) != drives(b->kind))
        w *= 1.6;
    if (a->placed && b->placed) {
        const double d = std::hypot(a->x - b->x, a->y - b->y);
        w *= 0.5 + 1.5 / (1.0 + d * d / 625.0);
    }
    return w;
}

std::string Likelihood::why(int pa, int pb) const {
    const auto &a = feature(pa), &b = feature(pb);
    if (a.kind == PinKind::ground && b.kind == PinKind::ground) return "both are ground";
    if (a.kind == PinKind::supply && b.kind == PinKind::supply) return "both are supply";
    if (rail(a.kind) && rail(b.kind)) return "supply against ground";
    if (rail(a.kind) != rail(b.kind)) {
        const auto& other = rail(a.kind) ? b : a;
        const char* which = (rail(a.kind) ? a : b).kind == PinKind::ground ? "ground" : "the supply";
        if (other.part == 1) return std::string("a capacitor often stands at ") + which;
        if (other.part == 2) return std::string("a resistor may pull to ") + which;
        if (other.kind == PinKind::input) return std::string("an unused input may be tied to ") + which;
        return std::string("must not touch ") + which;
    }
    if (a.letter >= 0 && a.letter == b.letter && a.bit == b.bit) return "the same bit of two buses";
    if (a.bus >= 0 && b.bus >= 0) return "bits of two buses";
    if (a.name >= 0 && a.name == b.name) return "pins of the same name";
    if (drives(a.kind) != drives(b.kind) && (drives(a.kind) || drives(b.kind)))
        return "an output and an input";
    if (a.placed && b.placed && std::hypot(a.x - b.x, a.y - b.y) < 15.0) return "close together";
    return "nothing separates them yet";
}

namespace {

/// The points of one kind, for asking which lie nearest to another: those in order along the board, looked at
/// from the place on outwards.
class LikelyPoints {
  public:
    void add(int point, const Likelihood::Feature& f) {
        all_.push_back(point);
        if (lies(f))
            placed_.push_back({f.x, f.y, point});
        else
            unplaced_.push_back(point);
    }
    void arrange() {
        std::sort(placed_.begin(), placed_.end(),
                  [](const At& a, const At& b) { return std::tie(a.x, a.point) < std::tie(b.x, b.point); });
    }
    /// The `most` nearest, of equally near ones the first; without a place all are equally far.
    void nearest(const Likelihood::Feature& f, std::size_t most, std::vector<int>& out) const {
        if (!lies(f)) {
            out.insert(out.end(), all_.begin(),
                       all_.begin() + static_cast<std::ptrdiff_t>(std::min(most, all_.size())));
            return;
        }
        std::vector<std::pair<float, int>> best;  // a heap, the farthest on top
        const auto consider = [&](float distance, int point) {
            if (best.size() == most && std::pair(distance, point) >= best.front()) return;
            if (best.size() == most) {
                std::pop_heap(best.begin(), best.end());
                best.pop_back();
            }
            best.emplace_back(distance, point);
            std::push_heap(best.begin(), best.end());
        };
        for (std::size_t i = 0; i < std::min(most, unplaced_.size()); ++i) consider(nowhere, unplaced_[i]);
        auto right = std::lower_bound(placed_.begin(), placed_.end(), f.x,
                                      [](const At& a, float x) { return a.x < x; });
        auto left = right;
        for (std::size_t looked = 0; looked < most_looked_at; ++looked) {
            const float to_left = left == placed_.begin() ? nowhere_at_all : f.x - std::prev(left)->x;
            const float to_right = right == placed_.end() ? nowhere_at_all : right->x - f.x;
            const float along = std::min(to_left, to_right);
            if (along == nowhere_at_all || (best.size() == most && along > best.front().first)) break;
            const At& at = to_left < to_right ? *--left : *right++;
            consider(std::hypot(f.x - at.x, f.y - at.y), at.point);
        }
        for (const auto& [distance, point] : best) out.push_back(point);
    }

  private:
    /// Beyond what a float holds nothing lies.
    static bool lies(const Likelihood::Feature& f) {
        return f.placed && std::isfinite(f.x) && std::isfinite(f.y);
    }
    struct At {
        float x, y;
        int point;
    };
    static constexpr float nowhere = 1e3F;  ///< mm; farther than boards are wide
    static constexpr float nowhere_at_all = std::numeric_limits<float>::infinity();
    static constexpr std::size_t most_looked_at = 4096;  ///< where very many lie in one line
    std::vector<int> all_, unplaced_;
    std::vector<At> placed_;
};

}  // namespace

void Likelihood::find_partners() {
    const auto n = features_.size();
    partners_.resize(n);
    // By name, by bus letter and bit, by rail: never all pairs.
    std::map<int, LikelyPoints> by_name, by_place;
    std::map<std::pair<int, int>, LikelyPoints> by_bit;
    LikelyPoints grounds, supplies;
    for (std::size_t i = 0; i < n; ++i) {
        const auto& f = features_[i];
        const int p = static_cast<int>(i);
        if (f.kind == PinKind::ground) {
            grounds.add(p, f);
        } else if (f.kind == PinKind::supply) {
            supplies.add(p, f);
        } else if (f.bus >= 0) {
            by_bit[{f.letter, f.bit}].add(p, f);
            by_place[f.bit].add(p, f);
        } else if (f.name >= 0 && f.kind != PinKind::passive) {
            by_name[f.name].add(p, f);
        }
    }
    grounds.arrange();
    supplies.arrange();
    for (auto* groups : {&by_name, &by_place})
        for (auto& [key, group] : *groups) group.arrange();
    for (auto& [key, group] : by_bit) group.arrange();
    for (std::size_t i = 0; i < n; ++i) {
        const int p = static_cast<int>(i);
        const auto& f = features_[i];
        std::vector<int> out;
        if (f.kind == PinKind::ground) {
            grounds.nearest(f, 8, out);
        } else if (f.kind == PinKind::supply) {
            supplies.nearest(f, 8, out);
        } else if (f.part == 1) {
            grounds.nearest(f, 2, out);
            supplies.nearest(f, 2, out);
        } else if (f.bus >= 0) {
            by_bit[{f.letter, f.bit}].nearest(f, 12, out);
            by_place[f.bit].nearest(f, 16, out);
        } else if (f.name >= 0 && f.kind != PinKind::passive) {
            by_name[f.name].nearest(f, 8, out);
        }
        std::sort(out.begin(), out.end());
        out.erase(std::unique(out.begin(), out.end()), out.end());
        std::erase(out, p);
        partners_[i] = std::move(out);
    }
}

std::uint64_t BusLore::key(int bus_a, int bus_b, int kind, int offset) {
    return (static_cast<std::uint64_t>(bus_a) << 40U) | (static_cast<std::uint64_t>(bus_b) << 16U) |
           (static_cast<std::uint64_t>(kind) << 12U) | static_cast<std::uint64_t>(offset + 512);
}

void BusLore::note(const Likelihood::Feature& a, const Likelihood::Feature& b, bool joined) {
    if (a.bus < 0 || b.bus < 0 || a.bus == b.bus) return;
    const auto &x = a.bus < b.bus ? a : b, &y = a.bus < b.bus ? b : a;
    for (const auto k :
         {key(x.bus, y.bus, 0, y.bit - x.bit), key(x.bus, y.bus, 1, y.bit + x.bit), key(x.bus, y.bus, 2, 0)})
        (joined ? counts_[k].hits : counts_[k].misses) += 1.0F;
}

BusLore::BusLore(const Likelihood& prior, const NetState& state) {
    std::vector<int> on_bus;
    std::set<int> doubtful;
    for (const auto& c : state.contradictions) doubtful.insert(state.net_of[static_cast<std::size_t>(c.a)]);
    for (const auto& net : state.nets) {
        if (!doubtful.empty() && doubtful.count(state.net_of[static_cast<std::size_t>(net.front())]) > 0)
            continue;
        on_bus.clear();
        for (const int p : net)
            if (prior.feature(p).bus >= 0) on_bus.push_back(p);
        if (on_bus.size() > 24) continue;
        for (std::size_t i = 0; i < on_bus.size(); ++i)
            for (std::size_t j = i + 1; j < on_bus.size(); ++j)
                note(prior.feature(on_bus[i]), prior.feature(on_bus[j]), true);
    }
    for (const auto& l : state.links)
        if (l.says == Says::apart && l.a < prior.points() && l.b < prior.points())
            note(prior.feature(l.a), prior.feature(l.b), false);
}

double BusLore::factor(const Likelihood::Feature& a, const Likelihood::Feature& b) const {
    if (a.bus < 0 || b.bus < 0 || a.bus == b.bus) return 1.0;
    const auto &x = a.bus < b.bus ? a : b, &y = a.bus < b.bus ? b : a;
    const auto count = [&](int kind, int offset) {
        const auto it = counts_.find(key(x.bus, y.bus, kind, offset));
        return it == counts_.end() ? Count{} : it->second;
    };
    const auto straight = count(0, y.bit - x.bit), turned = count(1, y.bit + x.bit), any = count(2, 0);
    const auto ratio = [](Count c, double plus_hits, double plus_misses) {
        return (c.hits + plus_hits) / (c.misses + plus_misses);
    };
    // Buses that met in other bits meet in this one too; those that never did, hardly.
    const double met = any.hits > 0 ? 3.0 : 1.0 / (1.0 + 0.35 * any.misses);
    const double run =
        std::max(straight.hits > 0 ? 8.0 * ratio(straight, 0.5, 0.5) : ratio(straight, 0.5, 0.5),
                 turned.hits > 1 ? 4.0 * ratio(turned, 0.5, 0.5) : 0.0);
    return met * std::min(run, 100.0);
}

}  // namespace grayrelic
