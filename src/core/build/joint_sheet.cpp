// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/build/joint_sheet.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/text.hpp"
#include "core/base/unions.hpp"
#include "core/build/conductors.hpp"

namespace grayrelic {
namespace {

/// What conducts like a wire: a beep through it proves its joints.
constexpr double wire_ohm = 1.0;
/// Of parts with more ohms it would take so many side by side to make a meter beep: they are left out.
constexpr double side_by_side = 20;

class SheetWork {
  public:
    SheetWork(const BuildBoard& b, const AssemblyPlan& plan, const JointWish& wish)
        : b_(b), plan_(plan), wish_(wish), wires_(0) {
        for (const auto& each : b_.parts) part_.emplace(each.ref, &each);
        for (const auto& s : plan_.steps)
            for (const auto& ref : s.refs) step_.emplace(ref, s.n);
        for (const auto& c : b_.covered) {
            const auto step = step_of(c.by);
            auto& first = covered_[c.ref + "." + c.pin];
            if (step > 0 && (first == 0 || step < first)) first = step;
        }
        for (std::size_t i = 0; i < b_.nets.size(); ++i)
            for (const auto& p : b_.nets[i].points) net_of_.emplace(p, static_cast<int>(i));
        for (const auto& [ref, ohm] : b_.ohms) {
            const BuildPart* p = part(ref);
            if (p == nullptr || p->pins.size() != 2 || ohm > side_by_side * wish_.beeps_below_ohm) continue;
            Conductor c{ref, ref + "." + p->pins[0], ref + "." + p->pins[1], 0, 0, ohm, true};
            const auto a = net_of_.find(c.one), o = net_of_.find(c.other);
            if (a == net_of_.end() || o == net_of_.end() || a->second == o->second) continue;
            c.a = a->second;
            c.b = o->second;
            conductors_.push_back(c);
        }
        leave_out_dangling();
        wires_ = Unions(b_.nets.size());
        for (const auto& c : conductors_)
            if (c.ohm <= wire_ohm) wires_.unite(c.a, c.b);
        find_bridges();
    }

    JointSheet make() {
        std::map<int, std::vector<int>> groups;
        for (std::size_t i = 0; i < b_.nets.size(); ++i)
            groups[wires_.find(static_cast<int>(i))].push_back(static_cast<int>(i));
        for (const auto& [root, nets] : groups) {
            if (wish_.tracks)
                for (const int n : nets) chain(n);
            else
                prove(nets);
        }
        opens();
        std::set<std::string> proven;
        for (auto& l : out_.lines) {
            dated(l);
            proven.insert(l.proves.begin(), l.proves.end());
        }
        out_.proven = static_cast<int>(proven.size());
        std::stable_sort(out_.lines.begin(), out_.lines.end(), [](const JointLine& x, const JointLine& y) {
            const auto key = [](const JointLine& l) {
                return std::pair(l.before == 0 ? 1'000'000 : l.before, l.after);
            };
            return key(x) < key(y);
        });
        return std::move(out_);
    }

  private:
    const BuildPart* part(std::string_view ref) const {
        const auto it = part_.find(ref);
        return it == part_.end() ? nullptr : it->second;
    }
    int step_of(std::string_view ref) const {
        const auto it = step_.find(ref);
        return it == step_.end() ? 0 : it->second;
    }
    bool soldered(const std::string& point) const { return part(ref_in(point)) != nullptr; }
    int step(const std::string& point) const { return step_of(ref_in(point)); }
    /// Supply pins of one part on one net are joined inside of it: none of their joints can be told from the
    /// others'.
    bool joined_inside(const std::string& point, int net) const {
        const auto supply = [&](const std::string& p) {
            const auto it = b_.pins.find(p);
            return it != b_.pins.end() && (it->second == PinAction::ground || it->second == PinAction::takes);
        };
        if (!supply(point)) return false;
        const auto& points = b_.nets[static_cast<std::size_t>(net)].points;
        return std::count_if(points.begin(), points.end(), [&](const std::string& p) {
                   return ref_in(p) == ref_in(point) && supply(p);
               }) > 1;
    }
    int cover(const std::string& point) const {
        const auto it = covered_.find(point);
        return it == covered_.end() ? 0 : it->second;
    }

    /// A part whose end is alone on its net leads nowhere: its other end is a lead like any other, and the
    /// lone one is beeped to its pad.
    void leave_out_dangling() {
        const auto alone = [&](int net) {
            const auto& points = b_.nets[static_cast<std::size_t>(net)].points;
            return std::count_if(points.begin(), points.end(),
                                 [&](const std::string& p) { return soldered(p); }) < 2;
        };
        std::erase_if(conductors_,
                      [&](const Conductor& c) { return c.ohm <= wire_ohm && (alone(c.a) || alone(c.b)); });
    }

    /// Conductors beside which nothing else leads from one of their nets to the other, so that a joint of
    /// theirs that does not hold stops the beep: what the meter would show around it, through the part
    /// itself.
    void find_bridges() {
        for (auto& c : conductors_)
            c.bridge =
                c.ohm > wish_.beeps_below_ohm || c.ohm + ohms_between(c.a, c.b, &c) > wish_.beeps_below_ohm;
    }

    /// Ends of parts beside which something else conducts: no line can tell their joints.
    bool beside_another(const std::string& point) const {
        return std::any_of(conductors_.begin(), conductors_.end(), [&](const Conductor& c) {
            return !c.bridge && (c.one == point || c.other == point);
        });
    }

    /// Leads of a net in the order of a walk over the tree of nets that conductors make.
    struct Walk {
        std::vector<std::string> leaves;           ///< to be touched
        std::map<std::string, std::size_t> first;  ///< conductor to the leaves below it
        std::map<std::string, std::size_t> last;
    };

    void walk(int net, const Conductor* from, Walk& w, std::set<int>& seen) {
        seen.insert(net);
        std::set<std::string> ends;
        for (const auto& c : conductors_)
            if (c.ohm <= wire_ohm) {
                if (c.a == net) ends.insert(c.one);
                if (c.b == net) ends.insert(c.other);
            }
        std::vector<std::string> own;
        for (const auto& p : b_.nets[static_cast<std::size_t>(net)].points) {
            if (!soldered(p) || ends.count(p) != 0) continue;
            if (!leave_out(p, net)) own.push_back(p);
        }
        w.leaves.insert(w.leaves.end(), own.begin(), own.end());
        for (const auto& c : conductors_) {
            if (c.ohm > wire_ohm || (c.a != net && c.b != net)) continue;
            const int next = c.a == net ? c.b : c.a;
            if (&c == from || seen.count(next) != 0) continue;
            w.first[c.ref] = w.leaves.size();
            walk(next, &c, w, seen);
            w.last[c.ref] = w.leaves.size();
        }
    }

    /// True for a joint that no line can prove, which is noted.
    bool leave_out(const std::string& point, int net) {
        const bool inside = joined_inside(point, net);
        if (!inside && !beside_another(point)) return false;
        ++out_.joints;
        out_.unproven.emplace_back(
            point, inside ? "it is joined to another pin inside of " + std::string(ref_in(point))
                          : "something else conducts beside " + std::string(ref_in(point)));
        return true;
    }

    std::string net_title(const std::string& point) const {
        const auto it = net_of_.find(point);
        if (it == net_of_.end()) return point;
        const auto& name = b_.nets[static_cast<std::size_t>(it->second)].name;
        return name.empty() ? "net of " + point : name;
    }

    void beep(const std::string& a, const std::string& b, std::vector<std::string> proves) {
        JointLine l;
        l.a = a;
        l.b = b;
        l.proves = std::move(proves);
        const auto one = net_title(a), other = net_title(b);
        l.why = one == other || b.ends_with(" pad") ? one : one + " to " + other;
        out_.lines.push_back(std::move(l));
    }

    /// As few beeps as there can be: leaves are paired over half of the walk, so that each conductor lies
    /// between some pair.
    void prove(const std::vector<int>& nets) {
        Walk w;
        std::set<int> seen;
        // From the net with the most leads, so that the walk has few turns.
        const int begin = *std::max_element(nets.begin(), nets.end(), [&](int x, int y) {
            return b_.nets[static_cast<std::size_t>(x)].points.size() <
                   b_.nets[static_cast<std::size_t>(y)].points.size();
        });
        walk(begin, nullptr, w, seen);
        std::vector<const Conductor*> between;
        for (const auto& c : conductors_)
            if (c.ohm <= wire_ohm && seen.count(c.a) != 0) {
                out_.joints += 2;
                if (c.bridge)
                    between.push_back(&c);
                else
                    for (const auto& end : {c.one, c.other})
                        out_.unproven.emplace_back(end, "something else conducts beside " + c.ref);
            }
        const std::size_t n = w.leaves.size();
        out_.joints += static_cast<int>(n);
        if (n == 0) return;
        std::set<std::string> left(w.leaves.begin(), w.leaves.end());
        for (const auto* c : between) {
            left.insert(c->one);
            left.insert(c->other);
        }
        const auto line = [&](std::size_t i, std::size_t k) {
            std::vector<std::string> proves{w.leaves[i], w.leaves[k]};
            for (const auto* c : between) {
                const auto first = w.first.at(c->ref), last = w.last.at(c->ref);
                const bool in_one = i >= first && i < last, in_other = k >= first && k < last;
                if (in_one == in_other) continue;
                proves.push_back(c->one);
                proves.push_back(c->other);
            }
            for (const auto& p : proves) left.erase(p);
            beep(w.leaves[i], w.leaves[k], std::move(proves));
        };
        if (n > 1) {
            const std::size_t half = (n + 1) / 2;
            for (std::size_t i = 0; i + half < n; ++i) pair_in_reach(w, i, i + half, line);
            if (n % 2 == 1) line(0, half - 1 == 0 ? n - 1 : half - 1);
        }
        // What is left stands alone on its net: its own pad is all that there is to beep to.
        for (const auto& p : std::set<std::string>(left)) beep(p, p + " pad", {p});
    }

    template <class Line>
    void pair_in_reach(const Walk& w, std::size_t i, std::size_t k, const Line& line) {
        const auto &a = w.leaves[i], &b = w.leaves[k];
        const int after = std::max(step(a), step(b));
        const int before = sooner(cover(a), cover(b));
        if (before == 0 || after < before || plan_.steps.empty()) return line(i, k);
        // One is covered before the other is there: each to whatever lead is there in time, else to its pad.
        for (const auto at : {i, k}) {
            const int gone = cover(w.leaves[at]);
            std::size_t with = w.leaves.size();
            for (std::size_t m = 0; m < w.leaves.size() && with == w.leaves.size(); ++m)
                if (m != at && (gone == 0 || step(w.leaves[m]) < gone) &&
                    (cover(w.leaves[m]) == 0 || step(w.leaves[at]) < cover(w.leaves[m])))
                    with = m;
            if (with < w.leaves.size())
                line(at, with);
            else
                beep(w.leaves[at], w.leaves[at] + " pad", {w.leaves[at]});
        }
    }

    static int sooner(int a, int b) { return a == 0 ? b : b == 0 ? a : std::min(a, b); }

    /// Copper too: each lead with the next one of its net.
    void chain(int net) {
        std::vector<std::string> leads;
        for (const auto& p : b_.nets[static_cast<std::size_t>(net)].points)
            if (soldered(p) && !leave_out(p, net)) leads.push_back(p);
        out_.joints += static_cast<int>(leads.size());
        if (leads.size() == 1) beep(leads[0], leads[0] + " pad", {leads[0]});
        for (std::size_t i = 1; i < leads.size(); ++i) beep(leads[i - 1], leads[i], {leads[i - 1], leads[i]});
    }

    double ohms_between(int a, int b, const Conductor* without = nullptr) const {
        return grayrelic::ohms_between(conductors_, a, b, without);
    }

    void opens() {
        std::map<std::pair<std::string, std::string>, double> shown;  // between groups, on a sound unit
        const auto group = [&](const std::string& point) {
            const auto it = net_of_.find(point);
            return it == net_of_.end() ? "pin " + point : fmt::format("net {}", wires_.find(it->second));
        };
        const auto add = [&](const std::string& a, const std::string& b, const std::string& why) {
            const auto one = group(a), other = group(b);
            if (one == other) {
                out_.unproven.emplace_back(a + " and " + b, "a part that conducts joins them");
                return;
            }
            const auto pair = std::pair(std::min(one, other), std::max(one, other));
            const auto [ohm, fresh] = shown.emplace(pair, HUGE_VAL);
            const auto x = net_of_.find(a), y = net_of_.find(b);
            if (fresh && x != net_of_.end() && y != net_of_.end())
                ohm->second = ohms_between(x->second, y->second);
            if (ohm->second <= wish_.beeps_below_ohm)
                out_.unproven.emplace_back(
                    a + " and " + b,
                    ohm->second > 0
                        ? fmt::format("{:.0f} Ω lie between them: they beep when all is well", ohm->second)
                        : "too much conducts between them to be told");
            if (!fresh || ohm->second <= wish_.beeps_below_ohm) return;
            JointLine l;
            l.a = a;
            l.b = b;
            l.expect = JointExpect::open;
            l.why = why;
            out_.lines.push_back(std::move(l));
        };
        // Rails first: they are what burns.
        std::vector<std::string> rails;
        for (const auto& [name, volts] : b_.volts)
            for (const auto& n : b_.nets)
                if (n.name == name) {
                    const auto lead = std::find_if(n.points.begin(), n.points.end(),
                                                   [&](const std::string& p) { return soldered(p); });
                    if (lead != n.points.end()) rails.push_back(*lead);
                }
        for (std::size_t i = 0; i < rails.size(); ++i)
            for (std::size_t k = i + 1; k < rails.size(); ++k)
                if (group(rails[i]) != group(rails[k]))
                    add(rails[i], rails[k],
                        net_title(rails[i]) + " and " + net_title(rails[k]) + ", supplies");
        for (const auto& n : b_.neighbours)
            add(n.a, n.b,
                fmt::format("{} and {}, neighbours{}", net_title(n.a), net_title(n.b),
                            ref_in(n.a) == ref_in(n.b) ? " on " + std::string(ref_in(n.a)) : ""));
    }

    void dated(JointLine& l) const {
        const auto pad = l.b.ends_with(" pad");
        l.after = pad ? step(l.a) : std::max(step(l.a), step(l.b));
        // The parts on the way have to be there too.
        for (const auto& p : l.proves) l.after = std::max(l.after, step(p));
        l.before = pad ? cover(l.a) : sooner(cover(l.a), cover(l.b));
    }

    const BuildBoard& b_;
    const AssemblyPlan& plan_;
    const JointWish& wish_;
    std::map<std::string, int> net_of_;
    std::map<std::string, int> covered_;
    std::map<std::string, const BuildPart*, std::less<>> part_;
    std::map<std::string, int, std::less<>> step_;
    std::vector<Conductor> conductors_;
    Unions wires_;
    JointSheet out_;
};

}  // namespace

JointSheet joint_sheet(const BuildBoard& board, const AssemblyPlan& plan, const JointWish& wish) {
    return SheetWork(board, plan, wish).make();
}

}  // namespace grayrelic
