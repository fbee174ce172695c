// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/board_joins.hpp"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>
#include <tuple>

#include "core/base/text.hpp"
#include "core/base/unions.hpp"

namespace grayrelic {
namespace {

constexpr double meets_mm = 1.0;

std::string_view pin_of(std::string_view point) {
    const auto dot = point.find('.');
    return dot == std::string_view::npos ? std::string_view() : point.substr(dot + 1);
}

class Joiner {
  public:
    Joiner(const BoardStack& stack, const std::vector<LevelNets>& levels,
           const std::vector<StackBoard>& boards)
        : stack_(stack), levels_(levels), boards_(boards), unions_(0) {
        std::size_t n = 0;
        for (const auto& l : levels_) {
            first_.push_back(n);
            n += l.nets.size();
        }
        unions_ = Unions(n);
        for (std::size_t l = 0; l < levels_.size(); ++l) {
            net_of_.emplace_back();
            for (std::size_t i = 0; i < levels_[l].nets.size(); ++i)
                for (const auto& p : levels_[l].nets[i].points) net_of_[l].emplace(p, i);
        }
    }

    StackNets make() {
        for (std::size_t j = 0; j < stack_.joins.size(); ++j) join(j);
        unite();
        for (const auto& pair : pairs_) judge_pair(pair);
        for (const auto& [root, members] : united_) judge_net(members);
        tell_conflicts();
        return std::move(out_);
    }

  private:
    struct End {
        std::size_t level = 0;
        std::string ref;
        std::vector<std::string> pins;
        std::vector<const BoardPad*> pads;
        bool found = false;
    };

    int root_of(std::size_t level, std::size_t net) {
        return unions_.find(static_cast<int>(first_[level] + net));
    }

    End end_of(const std::string& name) const {
        End e;
        const auto slash = name.find('/');
        if (slash == std::string::npos) return e;
        e.ref = name.substr(slash + 1);
        for (std::size_t l = 0; l < stack_.levels.size() && l < levels_.size(); ++l)
            if (stack_.levels[l].name == name.substr(0, slash)) {
                e.level = l;
                e.found = true;
            }
        if (!e.found) return e;
        std::set<std::string> pins;
        for (const auto& n : levels_[e.level].nets)
            for (const auto& p : n.points)
                if (ref_in(p) == e.ref) pins.emplace(pin_of(p));
        if (e.level < boards_.size())
            for (const auto& p : boards_[e.level].pads)
                if (p.ref == e.ref) {
                    pins.insert(p.pin);
                    e.pads.push_back(&p);
                }
        e.pins.assign(pins.begin(), pins.end());
        std::sort(e.pins.begin(), e.pins.end(), [](const auto& a, const auto& b) {
            return std::pair(a.size(), a) < std::pair(b.size(), b);
        });
        return e;
    }

    std::string net_name(const End& e, const std::string& pin) const {
        const auto it = net_of_[e.level].find(e.ref + "." + pin);
        return it == net_of_[e.level].end() ? std::string() : levels_[e.level].nets[it->second].name;
    }
    /// The net has more than this contact.
    bool leads_on(const End& e, const std::string& pin) const {
        const auto it = net_of_[e.level].find(e.ref + "." + pin);
        return it != net_of_[e.level].end() && levels_[e.level].nets[it->second].points.size() > 1;
    }
    std::optional<double> volts(const End& e, const std::string& net) const {
        const auto it = levels_[e.level].volts.find(net);
        return it == levels_[e.level].volts.end() ? std::nullopt : std::optional(it->second);
    }
    std::string where(const End& e, const std::string& pin) const {
        return levels_[e.level].name + "/" + e.ref + (pin.empty() ? "" : "." + pin);
    }
    void fault(StackFault kind, Verdict verdict, std::string thing, std::string says, std::string todo) {
        out_.faults.push_back({kind, verdict, std::move(thing), std::move(says), std::move(todo)});
    }

    /// Which contact of the upper connector each of the lower one meets.
    void pair_up(const End& low, const End& up, JoinKind kind, JoinedConnectors& made) {
        made.by_place = kind != JoinKind::cable && low.pads.size() > 1 && up.pads.size() > 1;
        std::set<std::string> met;
        double nearest = 1e18;
        for (const auto& pin : low.pins) {
            JoinedContact c{pin, {}, {}, {}};
            if (made.by_place) {
                double best = meets_mm;
                for (const auto* a : low.pads)
                    for (const auto* b : up.pads) {
                        if (a->pin != pin) continue;
                        const auto p = in_stack(boards_[low.level], a->at),
                                   q = in_stack(boards_[up.level], b->at);
                        const double d = std::hypot(to_mm(p.x - q.x), to_mm(p.y - q.y));
                        nearest = std::min(nearest, d);
                        if (d > best || met.count(b->pin) != 0) continue;
                        best = d;
                        c.upper_pin = b->pin;
                    }
            } else if (std::find(up.pins.begin(), up.pins.end(), pin) != up.pins.end()) {
                c.upper_pin = pin;
            }
            if (!c.upper_pin.empty()) met.insert(c.upper_pin);
            made.contacts.push_back(std::move(c));
        }
        for (const auto& pin : up.pins)
            if (met.count(pin) == 0) made.contacts.push_back({{}, pin, {}, {}});
        if (made.by_place && met.empty())
            made.problem =
                fmt::format("{} and {} do not lie over each other: the nearest contacts are {:.1f} mm apart",
                            where(low, ""), where(up, ""), nearest);
    }

    void join(std::size_t number) {
        const auto& j = stack_.joins[number];
        JoinedConnectors made;
        made.join = number;
        const auto low = end_of(j.lower), up = end_of(j.upper);
        if (!low.found || !up.found || low.level == up.level) {
            made.problem = fmt::format("{} and {} are not on two levels of the stack", j.lower, j.upper);
            out_.joins.push_back(std::move(made));
            return;
        }
        for (const auto* e : {&low, &up})
            if (e->pins.empty()) made.problem = where(*e, "") + " is on no net and has no pads";
        if (made.problem.empty()) pair_up(low, up, j.kind, made);
        if (made.problem.empty()) pairs_.insert(std::minmax(low.level, up.level));
        int turned = 0;
        for (auto& c : made.contacts) {
            if (!c.lower_pin.empty()) c.lower_net = net_name(low, c.lower_pin);
            if (!c.upper_pin.empty()) c.upper_net = net_name(up, c.upper_pin);
            judge_contact(low, up, c, made, turned);
        }
        if (turned > 0)
            fault(StackFault::crossed, Verdict::stop, j.lower,
                  fmt::format("{} of {} contacts meet one of another number: {} and {} are mirrored or "
                              "turned against each other",
                              turned, made.contacts.size(), j.lower, j.upper),
                  "Mirror one of the connectors, or put it on the other side of its board.");
        if (j.kind == JoinKind::soldered && made.problem.empty()) {
            const bool below = low.level < up.level;
            made.strip = below ? judge_strip(boards_, low.level, low.ref, up.level, up.ref)
                               : judge_strip(boards_, up.level, up.ref, low.level, low.ref);
        }
        out_.joins.push_back(std::move(made));
    }

    void judge_contact(const End& low, const End& up, const JoinedContact& c, JoinedConnectors& made,
                       int& turned) {
        if (c.lower_net.empty() && c.upper_net.empty()) ++made.free;
        if (c.lower_pin.empty() || c.upper_pin.empty()) {
            const auto& e = c.lower_pin.empty() ? up : low;
            const auto& pin = c.lower_pin.empty() ? c.upper_pin : c.lower_pin;
            if (leads_on(e, pin) && made.problem.empty())
                fault(StackFault::unmet, Verdict::doubt, where(e, pin),
                      fmt::format("{} carries {} and meets no contact", where(e, pin), net_name(e, pin)),
                      "Move the net to a contact that both connectors have.");
            return;
        }
        if (c.lower_pin != c.upper_pin) ++turned;
        if (c.lower_net.empty() || c.upper_net.empty()) return;
        ++made.used;
        ties_.push_back({first_[low.level] + net_of_[low.level].at(low.ref + "." + c.lower_pin),
                         first_[up.level] + net_of_[up.level].at(up.ref + "." + c.upper_pin)});
        const auto a = volts(low, c.lower_net), b = volts(up, c.upper_net);
        if (a && b && *a == 0 && *b == 0) ++made.grounds;
        if (a && b && *a != 0 && std::abs(*a - *b) < 0.05 * std::abs(*a)) ++made.supplies;
        const auto meets = fmt::format("{} is {} and meets {}, which is {}", where(low, c.lower_pin),
                                       c.lower_net, where(up, c.upper_pin), c.upper_net);
        if ((a && b && std::abs(*a - *b) > 0.1 * std::max(std::abs(*a), std::abs(*b))) ||
            (a.has_value() != b.has_value() && leads_on(low, c.lower_pin) && leads_on(up, c.upper_pin)))
            fault(StackFault::supplies, Verdict::stop, where(low, c.lower_pin),
                  a && b ? fmt::format("{}: {:g} V on {:g} V", meets, *a, *b)
                         : meets + ": a supply on a signal",
                  "Give both boards the same table of contacts.");
        else if (!a && !b && c.lower_net != c.upper_net && named_elsewhere(low, up, c))
            fault(StackFault::crossed, Verdict::stop, where(low, c.lower_pin),
                  meets + "; " + c.upper_net + " is on both boards",
                  "Give both boards the same table of contacts.");
    }
    /// Both boards have a net of one of the names, so the two are not one signal with two names.
    bool named_elsewhere(const End& low, const End& up, const JoinedContact& c) const {
        const auto has = [&](const End& e, const std::string& name) {
            const auto& nets = levels_[e.level].nets;
            return std::any_of(nets.begin(), nets.end(), [&](const Net& n) { return n.name == name; });
        };
        return has(low, c.upper_net) || has(up, c.lower_net);
    }

    void unite() {
        for (const auto& [a, b] : ties_) unions_.unite(static_cast<int>(a), static_cast<int>(b));
        for (std::size_t l = 0; l < levels_.size(); ++l)
            for (std::size_t i = 0; i < levels_[l].nets.size(); ++i) united_[root_of(l, i)].push_back({l, i});
        for (const bool across : {true, false})
            for (const auto& united : united_) {
                const auto& members = united.second;
                const bool several = std::any_of(members.begin(), members.end(), [&](const auto& m) {
                    return m.first != members.front().first;
                });
                if (several != across) continue;
                Net n;
                for (const auto& [l, i] : members) {
                    if (n.name.empty()) n.name = levels_[l].nets[i].name;
                    for (const auto& p : levels_[l].nets[i].points)
                        n.points.push_back(levels_[l].name + "/" + p);
                }
                out_.nets.push_back(std::move(n));
            }
    }

    void judge_pair(const std::pair<std::size_t, std::size_t>& pair) {
        const auto& a = levels_[pair.first];
        const auto& b = levels_[pair.second];
        bool ground_a = false, ground_b = false, joined = false;
        for (std::size_t i = 0; i < a.nets.size(); ++i)
            for (std::size_t k = 0; k < b.nets.size(); ++k) {
                const auto va = a.volts.find(a.nets[i].name), vb = b.volts.find(b.nets[k].name);
                const bool earth_here = va != a.volts.end() && va->second == 0,
                           earth_there = vb != b.volts.end() && vb->second == 0;
                ground_a = ground_a || earth_here;
                ground_b = ground_b || earth_there;
                const bool one = root_of(pair.first, i) == root_of(pair.second, k);
                joined = joined || (earth_here && earth_there && one);
                if (one || earth_here || earth_there || a.nets[i].name.empty() ||
                    a.nets[i].name != b.nets[k].name)
                    continue;
                if (a.nets[i].points.size() < 2 || b.nets[k].points.size() < 2) continue;
                fault(StackFault::not_joined, Verdict::doubt, a.nets[i].name,
                      fmt::format("{} is on {} and on {}, and no contact leads from one to the other",
                                  a.nets[i].name, a.name, b.name),
                      "Give it a contact, or another name on one of the boards.");
            }
        if (ground_a && ground_b && !joined)
            fault(StackFault::no_ground, Verdict::stop, a.name,
                  fmt::format("no contact carries ground from {} to {}", a.name, b.name),
                  "Give ground a contact, better one for every few signals.");
    }

    void judge_net(const std::vector<std::pair<std::size_t, std::size_t>>& members) {
        std::map<PinAction, std::vector<std::string>> by;
        std::vector<std::string> unknown;
        std::set<std::size_t> drive_from;
        std::string lost, name;
        bool across = false;
        for (const auto& [l, i] : members) {
            const auto& net = levels_[l].nets[i];
            across = across || l != members.front().first;
            if (name.empty()) name = net.name;
            for (const auto& p : net.points) {
                if (boards_.size() > l && boards_[l].joins.count(std::string(ref_in(p))) != 0) continue;
                const auto pin = levels_[l].pins.find(p);
                const auto who = levels_[l].name + "/" + p;
                if (pin == levels_[l].pins.end()) {
                    unknown.push_back(who);
                    continue;
                }
                by[pin->second].push_back(who);
                if (drives_net(pin->second)) drive_from.insert(l);
            }
            if (const auto it = levels_[l].lost.find(net.name); it != levels_[l].lost.end())
                lost = levels_[l].name + "/" + it->second;
        }
        const auto& firm = by[PinAction::drives];
        auto may = by[PinAction::may_rest];
        const auto& firmware = by[PinAction::firmware];
        const auto& low = by[PinAction::pulls_low];
        if (across && drive_from.size() > 1) {
            may.insert(may.end(), firmware.begin(), firmware.end());
            if (firm.size() > 1)
                against_[{StackFault::conflict, part_of(firm[0]), part_of(firm[1])}].push_back(name);
            else if (!firm.empty() && (!may.empty() || !low.empty()))
                against_[{StackFault::may_conflict, part_of(firm[0]), part_of(may.empty() ? low[0] : may[0])}]
                    .push_back(name);
            else if (firmware.size() > 1)
                against_[{StackFault::may_conflict, part_of(firmware[0]), part_of(firmware[1])}].push_back(
                    name);
            if (by[PinAction::gives].size() > 1)
                fault(StackFault::may_conflict, Verdict::doubt, name,
                      fmt::format("{} and {} both feed {}", by[PinAction::gives][0], by[PinAction::gives][1],
                                  name),
                      "Leave one supply out in its role, or part them by diodes.");
        }
        if (across && drive_from.size() == 1 && !unknown.empty() && !firm.empty())
            fault(StackFault::may_conflict, Verdict::unknown, name,
                  fmt::format("{} drives {}; nobody knows what {} does", firm[0], name, unknown[0]),
                  "Say what part it is.");
        if (!lost.empty() && drive_from.empty() && !by[PinAction::reads].empty() && unknown.empty())
            fault(StackFault::undriven, by[PinAction::passive].empty() ? Verdict::stop : Verdict::doubt, name,
                  fmt::format("{} is left out, and nothing else drives {}, which {} reads", lost, name,
                              by[PinAction::reads][0]),
                  "Fit it in this role, or tie the net by a jumper or a resistor.");
    }

    /// "tile/U1.9" is a pin of "tile/U1".
    static std::string part_of(const std::string& pin) { return pin.substr(0, pin.rfind('.')); }

    /// Two parts that are against each other on several nets are one matter.
    void tell_conflicts() {
        for (auto& [key, nets] : against_) {
            const auto& [kind, one, other] = key;
            std::sort(nets.begin(), nets.end());
            const auto all = fmt::format("{}", fmt::join(nets, ", "));
            if (kind == StackFault::conflict)
                fault(kind, Verdict::stop, all,
                      fmt::format("{} and {} both drive {}, always", one, other, all),
                      "Leave one of them out in its role, or open the jumper between them.");
            else
                fault(kind, Verdict::doubt, all,
                      fmt::format("{} and {} can both drive {} at the same time", one, other, all),
                      "Leave one of them out in its role, or make sure that only one ever drives.");
        }
    }

    const BoardStack& stack_;
    const std::vector<LevelNets>& levels_;
    const std::vector<StackBoard>& boards_;
    std::map<std::tuple<StackFault, std::string, std::string>, std::vector<std::string>> against_;
    std::vector<std::size_t> first_;
    Unions unions_;
    std::vector<std::map<std::string, std::size_t>> net_of_;
    std::vector<std::pair<std::size_t, std::size_t>> ties_;
    std::set<std::pair<std::size_t, std::size_t>> pairs_;
    std::map<int, std::vector<std::pair<std::size_t, std::size_t>>> united_;
    StackNets out_;
};

}  // namespace

StackNets join_levels(const BoardStack& stack, const std::vector<LevelNets>& levels,
                      const std::vector<StackBoard>& boards) {
    return Joiner(stack, levels, boards).make();
}

}  // namespace grayrelic
