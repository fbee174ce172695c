// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/electrical/rail_network.hpp"

#include <algorithm>
#include <cmath>

namespace grayrelic {
namespace {

constexpr double body_diode_v = 0.7;
constexpr double sink_ohm = 1e3;  ///< of a source that is out: enough to see that something flows into it

double at_corner(double volts, double tolerance, Corner corner) {
    return corner == Corner::least  ? volts * (1 - tolerance)
           : corner == Corner::most ? volts * (1 + tolerance)
                                    : volts;
}

/// Puts a tree into a network and reads the result back.
class Builder {
  public:
    Builder(const RailTree& tree, const RailCase& at, const LoadCurrents& loads)
        : tree_(tree), at_(at), loads_(loads) {
        for (const auto& rail : tree.rails()) nodes_[rail] = net_.add_node();
        for (const auto& s : tree.sources) add_source(s);
        for (const auto& p : tree.parts) add_part(p);
        for (std::size_t i = 0; i < tree.loads.size(); ++i) add_load(i);
        if (at.lines)
            for (const auto& l : tree.lines) add_line(l);
        if (at.sinks)
            for (const auto& [rail, node] : nodes_)
                net_.resistances.push_back({node, DcNetwork::ground, rail_leak_ohm});
    }
    [[nodiscard]] RailSolution solve() const;

  private:
    /// Where a part's current stands in the solution.
    struct Way {
        enum class Kind { none, resistance, drop, regulator };
        Kind kind = Kind::none;
        std::size_t forward = 0;
        std::optional<std::size_t> back;  ///< the drop through which it conducts backwards
    };

    [[nodiscard]] int node(const std::string& rail) const { return nodes_.find(rail)->second; }
    [[nodiscard]] bool is_off(const std::string& name) const { return at_.off.count(name) > 0; }
    std::size_t add_drop(DcNetwork::Drop d) {
        net_.drops.push_back(d);
        return net_.drops.size() - 1;
    }
    void add_source(const RailSource& s);
    void add_part(const RailPart& p);
    void add_load(std::size_t i);
    void add_line(const RailLine& l);
    [[nodiscard]] double current(const Way& w, const DcSolution& s, bool into) const;

    const RailTree& tree_;
    const RailCase& at_;
    const LoadCurrents& loads_;
    DcNetwork net_;
    std::map<std::string, int> nodes_;
    std::vector<std::optional<std::size_t>> sources_;  ///< feed of each source that is in
    std::vector<Way> ways_;
    std::vector<std::pair<bool, std::size_t>> draws_;  ///< a draw, or a resistance
    std::vector<std::size_t> lines_;
};

void Builder::add_source(const RailSource& s) {
    if (is_off(s.name)) {
        sources_.emplace_back();
        if (at_.sinks) net_.resistances.push_back({node(s.name), DcNetwork::ground, sink_ohm});
        return;
    }
    const auto own = at_.of_source.find(s.name);
    const auto other = at_.volts.find(s.name);
    DcNetwork::Feed f;
    f.node = node(s.name);
    f.volts = at_corner(other == at_.volts.end() ? s.volts : other->second,
                        other == at_.volts.end() ? s.tolerance : 0.0,
                        own == at_.of_source.end() ? at_.corner : own->second);
    f.ohm = s.ohm;
    f.takes_back = at_.sinks && !s.harvested;
    if ((at_.limits || s.harvested) && s.limit_a) f.most_a = *s.limit_a;
    sources_.emplace_back(net_.feeds.size());
    net_.feeds.push_back(f);
}

void Builder::add_part(const RailPart& p) {
    Way w;
    const int from = node(p.from), to = node(p.to);
    switch (p.kind) {
        case RailPartKind::drop:
            w.kind = Way::Kind::drop;
            w.forward = add_drop({from, to, p.volts, 0});
            break;
        case RailPartKind::switched:
            if (is_off(p.ref)) {
                // A transistor that is off still conducts backwards, through its body.
                if (at_.sinks && p.gate && !p.gate->low_side)
                    w.back = add_drop({to, from, body_diode_v, p.ohm});
            } else if (at_.sinks) {
                w.kind = Way::Kind::resistance;
                w.forward = net_.resistances.size();
                net_.resistances.push_back({from, to, p.ohm});
            } else {
                // Of two feeds that meet the higher one carries the rail: what flows back is looked for
                // apart.
                w.kind = Way::Kind::drop;
                w.forward = add_drop({from, to, 0, p.ohm});
            }
            break;
        case RailPartKind::linear:
        case RailPartKind::switcher: {
            DcNetwork::Regulator r;
            r.in = from;
            r.out = to;
            r.volts = at_corner(p.volts, p.tolerance, at_.corner);
            r.dropout = p.dropout_v.value_or(0);
            r.own_a = p.own_a;
            r.efficiency = p.efficiency;
            if (at_.limits && p.most_a) r.most_a = *p.most_a;
            w.kind = Way::Kind::regulator;
            w.forward = net_.regulators.size();
            net_.regulators.push_back(r);
            // Its output above its input: it conducts backwards, with how much of a drop is not known.
            if (p.kind == RailPartKind::linear && at_.sinks) w.back = add_drop({to, from, 0, 0});
            break;
        }
    }
    ways_.push_back(w);
}

void Builder::add_load(std::size_t i) {
    const auto& l = tree_.loads[i];
    const auto& amount = amount_in(l, at_.mode);
    if (amount.kind == RailAmount::Kind::ohms) {
        draws_.emplace_back(false, net_.resistances.size());
        net_.resistances.push_back({node(l.rail), DcNetwork::ground, amount.value});
    } else {
        draws_.emplace_back(true, net_.draws.size());
        net_.draws.push_back({node(l.rail), DcNetwork::ground, loads_.amps[i], 0.1});
    }
}

void Builder::add_line(const RailLine& l) {
    // The driver holds its own rail's volts; the clamp leads to the other rail.
    const int middle = net_.add_node();
    net_.resistances.push_back({node(l.from), middle, l.ohm});
    lines_.push_back(add_drop({middle, node(l.to), l.clamp_v, 0}));
}

double Builder::current(const Way& w, const DcSolution& s, bool into) const {
    double a = 0;
    switch (w.kind) {
        case Way::Kind::none: break;
        case Way::Kind::resistance: a = s.resistance_a[w.forward]; break;
        case Way::Kind::drop: a = s.drop_a[w.forward]; break;
        case Way::Kind::regulator: a = into ? s.regulator_in_a[w.forward] : s.regulator_a[w.forward]; break;
    }
    return w.back ? a - s.drop_a[*w.back] : a;
}

RailSolution Builder::solve() const {
    const auto s = grayrelic::solve(net_);
    RailSolution out;
    out.settled = s.settled;
    for (const auto& [rail, node] : nodes_) out.volts[rail] = s.volts[static_cast<std::size_t>(node)];
    for (const auto& f : sources_) out.source_a.push_back(f ? s.feed_a[*f] : 0.0);
    for (const auto& w : ways_) {
        out.part_a.push_back(current(w, s, false));
        out.part_in_a.push_back(current(w, s, true));
    }
    for (const auto& [draw, i] : draws_) out.load_a.push_back(draw ? s.draw_a[i] : s.resistance_a[i]);
    for (const auto i : lines_) out.line_a.push_back(s.drop_a[i]);
    return out;
}

}  // namespace

double volts_at(const RailSource& s, Corner corner) {
    return at_corner(s.volts, s.tolerance, corner);
}

const RailAmount& amount_in(const RailLoad& l, const std::string& mode) {
    const auto at = l.in_mode.find(mode);
    return at == l.in_mode.end() ? l.amount : at->second;
}

std::set<std::string> off_in(const RailTree& tree, const std::string& mode) {
    for (const auto& m : tree.modes)
        if (m.name == mode) return {m.off.begin(), m.off.end()};
    return {};
}

LoadCurrents load_currents(const RailTree& tree, const std::string& mode,
                           const std::set<std::string>& without) {
    LoadCurrents out;
    bool watts = false;
    for (const auto& l : tree.loads) {
        const auto& a = amount_in(l, mode);
        out.amps.push_back(a.kind == RailAmount::Kind::amperes ? a.value : 0.0);
        watts |= a.kind == RailAmount::Kind::watts;
    }
    if (!watts) return out;
    RailCase at;
    at.mode = mode;
    at.off = off_in(tree, mode);
    at.off.insert(without.begin(), without.end());
    // From no load on: the volts fall as the currents rise, until both agree.
    const auto empty = solve_rails(tree, at, out);
    constexpr int most_steps = 300;
    out.settled = false;
    for (int step = 0; step < most_steps && !out.settled; ++step) {
        const auto now = solve_rails(tree, at, out);
        double moved = 0;
        for (std::size_t i = 0; i < tree.loads.size(); ++i) {
            const auto& a = amount_in(tree.loads[i], mode);
            if (a.kind != RailAmount::Kind::watts) continue;
            const double v = now.volts.at(tree.loads[i].rail), open = empty.volts.at(tree.loads[i].rail);
            // A rail that is off draws nothing; one that has fallen below half can't carry constant power.
            const double amps = open < 1e-3 ? 0.0 : a.value / std::max(v, open / 4);
            moved = std::max(moved, std::abs(amps - out.amps[i]) / std::max(amps, 1e-9));
            out.amps[i] = amps;
        }
        out.settled = moved < 1e-11;
    }
    const auto end = solve_rails(tree, at, out);
    for (std::size_t i = 0; i < tree.loads.size(); ++i) {
        const auto& rail = tree.loads[i].rail;
        if (amount_in(tree.loads[i], mode).kind == RailAmount::Kind::watts &&
            end.volts.at(rail) < 0.3 * empty.volts.at(rail))
            out.settled = false;
    }
    return out;
}

RailSolution solve_rails(const RailTree& tree, const RailCase& at, const LoadCurrents& loads) {
    return Builder(tree, at, loads).solve();
}

}  // namespace grayrelic
