// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/fault_network.hpp"

#include <algorithm>
#include <cstdlib>

namespace grayrelic::standin {
namespace {

/// Of the supply on the bench.
constexpr double limit_a = 0.5;

}  // namespace

std::string part_of(const std::string& lead) {
    return lead.substr(0, lead.find('.'));
}

std::vector<NamePair> bridges(const BenchBoard& b, std::map<NamePair, NamePair>* leads) {
    std::map<std::string, std::size_t> net;
    for (std::size_t i = 0; i < b.nets.size(); ++i)
        for (const auto& l : b.nets[i].leads) net[l] = i;
    std::vector<NamePair> out;
    std::set<std::pair<std::size_t, std::size_t>> seen;
    for (const auto& n : b.neighbours) {
        const auto x = net.find(n.a), y = net.find(n.b);
        if (x == net.end() || y == net.end() || x->second == y->second) continue;
        const auto low = std::min(x->second, y->second), high = std::max(x->second, y->second);
        if (!seen.insert({low, high}).second) continue;
        out.emplace_back(b.nets[low].name, b.nets[high].name);
        if (leads != nullptr) (*leads)[out.back()] = {n.a, n.b};
    }
    return out;
}

int FaultNetwork::node(const std::string& lead) const {
    // The copper that a lead is soldered to stays where it was drawn.
    if (const auto pad = lead.find(" pad"); pad != std::string::npos)
        return b_.net_of(lead.substr(0, pad)).value_or(-1);
    if (!lead.empty() && lead.back() == '~') {
        const auto it = far_.find(lead.substr(0, lead.size() - 1));
        return it == far_.end() || it->second.empty() ? -1 : node(it->second);
    }
    const auto it = node_.find(lead);
    return it == node_.end() ? -1 : it->second;
}

double FaultNetwork::ohms(int a, int c) {
    if (a < 0 || c < 0) return 1e12;
    if (a == c) return 0.05;
    // Chips draw nothing from a meter's little voltage.
    std::vector<Wire> links;
    for (std::size_t i = 0; i < wires_.size(); ++i)
        if (wired_power_.count(i) == 0) links.push_back(wires_[i]);
    std::vector<double> into(static_cast<std::size_t>(nodes_), 0.0);
    into[static_cast<std::size_t>(a)] = 1e-6;
    into[static_cast<std::size_t>(c)] = -1e-6;
    const auto v = solve(links, into, std::vector<double>(static_cast<std::size_t>(nodes_), 1e-12));
    return (v[static_cast<std::size_t>(a)] - v[static_cast<std::size_t>(c)]) / 1e-6;
}

double FaultNetwork::diode_range(int a, int c) {
    if (a < 0 || c < 0) return 1e9;
    double v = 2.8;
    // The meter's own source against all that conducts, by bisection of its voltage.
    const double plain = ohms(a, c);
    const auto takes = [&](double volts) {
        double amps = volts / plain;
        for (const auto& d : diodes_) {
            if (d.chip) continue;
            const double way = ohms(a, d.from) + ohms(d.to, c);
            if (way < 1e6) {
                double low = 0, high = volts;
                for (int i = 0; i < 60; ++i) {
                    const double mid = (low + high) / 2;
                    (law(d, mid) * way + mid > volts ? high : low) = mid;
                }
                amps += law(d, low);
            }
        }
        return amps;
    };
    if (takes(v) < 1e-3) return 1e9;
    double low = 0, high = v;
    for (int i = 0; i < 60; ++i) {
        v = (low + high) / 2;
        (takes(v) > 1e-3 ? high : low) = v;
    }
    return v;
}

double FaultNetwork::farads(int a, int c) {
    if (a < 0 || c < 0) return 0;
    if (ohms(a, c) < 1000) return 1e9;
    double all = 0;
    for (const auto& [x, y, f] : stores_)
        if ((ohms(a, x) < 30 && ohms(c, y) < 30) || (ohms(a, y) < 30 && ohms(c, x) < 30)) all += f;
    return all;
}

void FaultNetwork::power(const std::vector<bool>& lines) {
    lines_ = lines;
    volts_.assign(static_cast<std::size_t>(nodes_), 0.0);
    for (auto& c : chips_) {
        c.now.assign(64, false);
        c.before.assign(64, false);
    }
    settle();
    // Levels, not edges: what loads while it holds has loaded.
    for (auto& c : chips_) c.does->change(c.now, c.now);
    settle();
}

bool FaultNetwork::module_fed(const std::string& ref) const {
    if (!ref.empty() && ref == gone_) return false;
    for (const auto& m : modules_)
        if (m.ref == ref) return volts(m.plus) - volts(m.minus) > 2.6;
    return true;
}

void FaultNetwork::break_it(const std::string& kind, const std::string& place) {
    broken_kind = kind;
    broken_part = place.substr(0, place.find(' '));
    const auto plus = place.find('+', 1);
    if (kind == "open") {
        node_[place] = nodes_++;
    } else if (kind == "short") {
        std::map<NamePair, NamePair> leads;
        (void)bridges(b_, &leads);
        for (const auto& [nets, at] : leads)
            if (nets.first + "+" + nets.second == place)
                wires_.push_back({node(at.first), node(at.second), 1 / random_.uniform(0.05, 0.6)});
    } else if (kind == "swapped") {
        const auto one = place.substr(0, plus), two = place.substr(plus + 1);
        std::swap(far_[one], far_[two]);
    } else if (kind == "value") {
        values_[broken_part] *= place.find("x10") != std::string::npos ? 10 : 0.1;
    } else if (kind == "reversed") {
        turn(broken_part);
    } else if (kind == "missing") {
        gone_ = place;
    } else if (kind == "jumper") {
        const auto* t = b_.find(place);
        if (t != nullptr && t->pins.size() == 3) {
            other_position_ = place;
        } else {
            gone_ = place;
        }
    } else if (kind == "supply") {
        for (auto& [lead, to] : far_)
            if (b_.net_of(lead) && b_.nets[static_cast<std::size_t>(*b_.net_of(lead))].name == place)
                lost_.insert(lead);
    } else if (kind == "mirrored") {
        mirror(place);
    } else if (kind == "late" || kind == "order") {
        late = kind == "late";
        turned_order = kind == "order";
        odd_line = place;
    }
}

void FaultNetwork::turn(const std::string& ref) {
    const auto* t = b_.find(ref);
    if (t == nullptr) return;
    const auto n = t->pins.size();
    std::vector<int> was;
    for (const auto& p : t->pins) was.push_back(node(ref + "." + p.number));
    for (std::size_t i = 0; i < n; ++i) node_[ref + "." + t->pins[i].number] = was[(i + n / 2) % n];
}

void FaultNetwork::mirror(const std::string& ref) {
    const auto* t = b_.find(ref);
    if (t == nullptr) return;
    for (std::size_t i = 0; i < t->pins.size(); ++i) {
        const int to = t->mirrored.size() > i ? t->mirrored[i] : -1;
        far_[ref + "." + t->pins[i].number] =
            to < 0 ? std::string() : ref + "." + t->pins[static_cast<std::size_t>(to)].number;
    }
}

void FaultNetwork::build() {
    for (const auto& t : b_.things)
        if (t.ref != gone_) place(t);
    for (const auto& s : b_.supplies) {
        const int n = lost_.count(s.lead) != 0 ? -1 : node(s.lead + "~");
        if (n >= 0)
            sources_.push_back(
                {n, s.volts * (s.volts == 0 ? 1 : random_.uniform(0.985, 1.015)), s.volts == 0 ? 0.05 : 0.3});
    }
    for (std::size_t i = 0; i < b_.driven.size(); ++i) {
        const auto& d = b_.driven[i];
        const auto* t = b_.find(part_of(d.lead));
        const bool of_module = t != nullptr && t->kind == ThingKind::module;
        const int n = of_module ? node(d.lead) : node(d.lead + "~");
        if (n >= 0 && !(of_module && gone_ == t->ref))
            sources_.push_back({n, d.high, of_module ? 30.0 : 120.0, i, of_module ? t->ref : ""});
    }
    for (const auto& w : b_.watched) {
        const auto* t = b_.find(part_of(w.lead));
        watched_.push_back(t != nullptr && t->kind == ThingKind::contacts ? node(w.lead + "~")
                                                                          : node(w.lead));
    }
    for (int i = 0; i < nodes_; ++i) rests_at_.push_back(random_.uniform(0, 4));
}

void FaultNetwork::place(const BenchThing& t) {
    const auto n = [&](std::size_t i) { return node(t.ref + "." + t.pins[i].number); };
    const double v = values_[t.ref];
    switch (t.kind) {
        case ThingKind::resistor: wire(n(0), n(1), v); break;
        case ThingKind::link:
            if (other_position_ == t.ref)
                // Its middle pin, to the one that was left.
                wire(t.pins[0].number == "2" ? n(0) : n(1), n(2), v);
            else
                wire(n(0), n(1), v);
            break;
        case ThingKind::capacitor: stores_.push_back({n(0), n(1), v}); break;
        case ThingKind::diode: diodes_.push_back({pin(t, "A"), pin(t, "K"), v, t.ref}); break;
        case ThingKind::ladder: ladder(t, v); break;
        case ThingKind::logic: logic(t); break;
        case ThingKind::module: {
            const int plus = pin(t, "VIN"), minus = pin(t, "GND");
            modules_.push_back({t.ref, plus, minus});
            wire(plus, minus, 110);
            wired_power_.insert(wires_.size() - 1);
            if (plus >= 0 && minus >= 0) diodes_.push_back({minus, plus, 0.75, t.ref, true});
            break;
        }
        default: break;
    }
}

void FaultNetwork::ladder(const BenchThing& t, double r) {
    int last = 0;
    while (pin(t, "B" + std::to_string(last + 1)) >= 0) ++last;
    // From the most significant bit, which stands at the output, down to the end at ground.
    int here = pin(t, "OUT");
    for (int bit = last; bit >= 0; --bit) {
        wire(pin(t, "B" + std::to_string(bit)), here, 2 * r);
        if (bit == 0) {
            wire(here, pin(t, "GND"), 2 * r);
        } else {
            const int next = nodes_++;
            wire(here, next, r);
            here = next;
        }
    }
}

void FaultNetwork::logic(const BenchThing& t) {
    Chip c;
    c.does = bench_chip(t.logic == nullptr ? std::string() : t.logic->id);
    if (!c.does) {
        unable = t.ref + ": " + (t.logic == nullptr ? "a part without logic" : t.logic->id);
        return;
    }
    for (const auto& p : t.pins) c.node[std::atoi(p.number.c_str())] = node(t.ref + "." + p.number);
    c.threshold = t.family == "hc" || t.family == "4000b" ? 2.5 : 1.4;
    const int plus = c.node[c.does->supply_pin()], minus = c.node[c.does->ground_pin()];
    wire(plus, minus, 2500);
    wired_power_.insert(wires_.size() - 1);
    diodes_.push_back({minus, plus, 0.75, t.ref, true});
    // Its inputs clamp to its supply; it matters where nothing else feeds that.
    const auto feeds =
        std::count_if(node_.begin(), node_.end(), [&](const auto& x) { return x.second == plus; });
    if (feeds <= 1)
        for (const int i : c.does->inputs())
            if (c.node[i] >= 0) diodes_.push_back({c.node[i], plus, 0.75, t.ref, true});
    chips_.push_back(std::move(c));
}

std::vector<double> FaultNetwork::solve(const std::vector<Wire>& wires, const std::vector<double>& into,
                                        const std::vector<double>& to_ground) {
    using Triplets = std::vector<Eigen::Triplet<double>>;
    Triplets g;
    g.reserve(wires.size() * 4 + to_ground.size());
    for (const auto& w : wires) {
        g.emplace_back(w.a, w.a, w.siemens);
        g.emplace_back(w.b, w.b, w.siemens);
        g.emplace_back(w.a, w.b, -w.siemens);
        g.emplace_back(w.b, w.a, -w.siemens);
    }
    for (int i = 0; i < nodes_; ++i) g.emplace_back(i, i, to_ground[static_cast<std::size_t>(i)]);
    Eigen::SparseMatrix<double> m(nodes_, nodes_);
    m.setFromTriplets(g.begin(), g.end());
    solver_.compute(m);
    const Eigen::VectorXd right = Eigen::Map<const Eigen::VectorXd>(into.data(), nodes_);
    const Eigen::VectorXd v = solver_.solve(right);
    return {v.data(), v.data() + v.size()};
}

/// What stands at the board now: sources as they are switched, outputs as their chips have them.
void FaultNetwork::hold_nodes(std::vector<double>& into, std::vector<double>& leak) const {
    const auto hold = [&](int n, double v, double ohm) {
        leak[static_cast<std::size_t>(n)] += 1 / ohm;
        into[static_cast<std::size_t>(n)] += v / ohm;
    };
    for (const auto& s : sources_) {
        if (!s.module.empty() && !module_fed(s.module)) continue;
        const bool off = s.line < lines_.size() && !lines_[s.line];
        if (s.limited)
            into[static_cast<std::size_t>(s.node)] += limit_a;
        else
            hold(s.node, off ? 0 : s.volts, s.ohm);
    }
    for (const auto& c : chips_) {
        const double plus = volts(c.node.at(c.does->supply_pin())),
                     minus = volts(c.node.at(c.does->ground_pin()));
        if (plus - minus < 2.2) continue;
        for (const int o : c.does->outputs())
            if (c.node.at(o) >= 0) hold(c.node.at(o), c.does->level(o, c.now) ? plus : minus, 45);
    }
}

/// Supplies that are beyond their limit give just that; true where one turned.
bool FaultNetwork::limit_supplies() {
    bool turned = false;
    for (auto& s : sources_) {
        if (s.line < lines_.size() || s.volts == 0) continue;
        const double v = volts(s.node);
        const bool limit = s.limited ? v < s.volts : (s.volts - v) / s.ohm > limit_a;
        turned = turned || limit != s.limited;
        s.limited = limit;
    }
    return turned;
}

void FaultNetwork::solve_now() {
    for (int round = 0; round < 80; ++round) {
        auto wires = wires_;
        std::vector<double> into(static_cast<std::size_t>(nodes_)),
            leak(static_cast<std::size_t>(nodes_), 1e-9);
        for (std::size_t i = 0; i < into.size(); ++i) into[i] = rests_at_[i] * 1e-9;
        hold_nodes(into, leak);
        for (const auto& d : diodes_) {
            if (d.from < 0 || d.to < 0) continue;
            const double v = std::clamp(volts(d.from) - volts(d.to), -10.0, d.drop + 0.5);
            const double i = law(d, v), slope = std::max((law(d, v + 1e-5) - i) / 1e-5, 1e-9);
            wires.push_back({d.from, d.to, slope});
            into[static_cast<std::size_t>(d.from)] -= i - slope * v;
            into[static_cast<std::size_t>(d.to)] += i - slope * v;
        }
        const auto next = solve(wires, into, leak);
        double most = 0;
        for (std::size_t k = 0; k < next.size(); ++k) {
            most = std::max(most, std::abs(next[k] - volts_[k]));
            volts_[k] = next[k];
        }
        const bool turned = limit_supplies();
        if (most < 2e-3 && !turned) return;
    }
}

void FaultNetwork::settle() {
    for (int round = 0; round < 30; ++round) {
        solve_now();
        bool changed = false;
        for (auto& c : chips_) {
            const double minus = volts(c.node.at(c.does->ground_pin()));
            auto now = c.now;
            for (const int i : c.does->inputs())
                now[static_cast<std::size_t>(i)] = volts(c.node.at(i)) - minus > c.threshold;
            if (now == c.now) continue;
            changed = true;
            c.before = c.now;
            c.now = now;
        }
        if (!changed) return;
        for (auto& c : chips_) {
            if (c.before != c.now) c.does->change(c.before, c.now);
            c.before = c.now;
        }
    }
}

}  // namespace grayrelic::standin
