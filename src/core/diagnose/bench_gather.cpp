// SPDX-License-Identifier: GPL-3.0-or-later
// What stands on a board, gathered for BenchState: what conducts, the supplies' volts, groups of signals,
// chips.
#include <algorithm>

#include "core/base/unions.hpp"
#include "core/diagnose/bench_state.hpp"
#include "core/diagnose/bench_state_parts.hpp"

namespace grayrelic {

using namespace bench_parts;

/// What conducts; a ladder has nodes of its own.
void BenchState::gather() {
    int nodes = c_.nodes;
    for (std::size_t i = 0; i < c_.board->things.size(); ++i) {
        if (c_.gone[i]) continue;
        const auto& t = c_.board->things[i];
        const auto& n = c_.node[i];
        const auto pin = [&](std::string_view name) {
            for (std::size_t k = 0; k < t.pins.size(); ++k)
                if (t.pins[k].name == name) return n[k];
            return -1;
        };
        switch (t.kind) {
            case ThingKind::resistor:
            case ThingKind::link: edges_.push_back({n[0], n[1], c_.value[i], std::nullopt}); break;
            case ThingKind::diode:
                edges_.push_back({pin("A"), pin("K"), t.light ? lamp_ohm : diode_ohm, t.value});
                break;
            case ThingKind::ladder: {
                int below = pin("GND");
                double to_below = 2 * t.value;
                for (int b = 0; pin("B" + std::to_string(b)) >= 0; ++b) {
                    const bool last = pin("B" + std::to_string(b + 1)) < 0;
                    const int here = last ? pin("OUT") : nodes++;
                    edges_.push_back({pin("B" + std::to_string(b)), here, 2 * t.value, std::nullopt});
                    edges_.push_back({below, here, to_below, std::nullopt});
                    below = here;
                    to_below = t.value;
                }
                break;
            }
            default: break;
        }
    }
    for (const auto& s : c_.shorts)
        if (s[0] >= 0 && s[1] >= 0) edges_.push_back({s[0], s[1], solder_ohm, std::nullopt});
    volts_.assign(at(nodes), std::nullopt);
    rail_.assign(at(nodes), false);
}

/// A lead that came off a supply, a supply that comes in at the wrong place, what a fuse leads on to.
void BenchState::mark_rails() {
    const auto& b = *c_.board;
    const auto mark = [&](int node) {
        if (node >= 0) rail_[at(node)] = true;
    };
    for (std::size_t i = 0; i < b.nets.size(); ++i)
        if (b.nets[i].volts) rail_[i] = true;
    for (std::size_t i = 0; i < b.things.size(); ++i)
        for (std::size_t k = 0; k < b.things[i].pins.size(); ++k)
            // Of a joint that came off: what a turned part puts on a signal makes no supply of it.
            if (c_.node[i][k] >= static_cast<int>(b.nets.size()) && b.nets[at(b.things[i].pins[k].net)].volts)
                mark(c_.node[i][k]);
    for (const int node : c_.supply_node) mark(node);
    for (bool more = true; more;) {
        more = false;
        for (const auto& e : edges_) {
            // Solder to a signal is the signal's affair: the supply holds it.
            const bool leads_on = !e.drop && e.ohm < 2 && e.ohm != solder_ohm;
            if (!leads_on || is_rail(e.a) == is_rail(e.b)) continue;
            mark(e.a);
            mark(e.b);
            more = true;
        }
    }
}

/// What a part takes from a supply, and what it gives on.
void BenchState::add_load(std::size_t thing, const std::vector<int>& number, DcNetwork& net) const {
    const auto& t = c_.board->things[thing];
    const bool module = t.kind == ThingKind::module, regulator = t.kind == ThingKind::regulator;
    if (c_.gone[thing] || (t.kind != ThingKind::logic && !module && !regulator)) return;
    int plus = -1, minus = -1, out = -1;
    for (std::size_t k = 0; k < t.pins.size(); ++k) {
        const auto& name = t.pins[k].name;
        if (feeds(name) || (regulator && name == "IN")) plus = c_.node[thing][k];
        // Of several grounds one that leads on.
        if (grounds(name) && (minus < 0 || !is_rail(minus))) minus = c_.node[thing][k];
        if (name == "3V3" || (regulator && name == "OUT")) out = c_.node[thing][k];
    }
    if (!is_rail(plus) || !is_rail(minus)) return;
    net.draws.push_back({number[at(plus)], number[at(minus)], module ? module_a : logic_a, 5.0});
    net.drops.push_back({number[at(minus)], number[at(plus)], 0.7, reverse_ohm});
    if (is_rail(out))
        net.regulators.push_back({number[at(plus)], number[at(out)], regulator ? c_.value[thing] : 3.3, 0.2});
}

void BenchState::solve_supplies() {
    mark_rails();
    DcNetwork net;
    std::vector<int> number(rail_.size(), 0);
    for (std::size_t i = 0; i < rail_.size(); ++i)
        if (rail_[i]) number[i] = net.add_node();
    for (std::size_t i = 0; i < c_.supply_node.size(); ++i) {
        if (c_.supply_node[i] < 0) continue;
        const bool ground = c_.supply_v[i] == 0;
        net.feeds.push_back({number[at(c_.supply_node[i])], c_.supply_v[i], ground ? 0.02 : source_ohm,
                             ground ? DcNetwork::no_limit : limit_a, ground});
    }
    for (const auto& e : edges_) {
        if (!is_rail(e.a) || !is_rail(e.b)) continue;
        if (e.drop)
            net.drops.push_back({number[at(e.a)], number[at(e.b)], *e.drop, e.ohm});
        else
            net.resistances.push_back({number[at(e.a)], number[at(e.b)], e.ohm});
    }
    for (std::size_t i = 0; i < c_.board->things.size(); ++i) add_load(i, number, net);
    const auto solution = grayrelic::solve(net);
    // What nothing leads to from any supply floats.
    Unions joined(at(net.nodes));
    for (const auto& f : net.feeds) joined.unite(DcNetwork::ground, f.node);
    for (const auto& r : net.resistances) joined.unite(r.a, r.b);
    for (const auto& d : net.drops) joined.unite(d.from, d.to);
    for (std::size_t i = 0; i < rail_.size(); ++i)
        if (rail_[i] && joined.same(number[i], DcNetwork::ground)) volts_[i] = solution.volts[at(number[i])];
}

/// Lines from outside and from the module, outputs of chips.
void BenchState::make_drivers() {
    const auto& b = *c_.board;
    line_driver_.assign(b.driven.size(), -1);
    const auto driver = [&](int node, double ohm) {
        drivers_.push_back({node, 0, ohm, true});
        return static_cast<int>(drivers_.size()) - 1;
    };
    for (std::size_t i = 0; i < b.driven.size(); ++i) {
        if (c_.driven_node[i] < 0) continue;
        const auto* t = b.find(ref_in(b.driven[i].lead));
        const bool module = t != nullptr && t->kind == ThingKind::module;
        line_driver_[i] = driver(c_.driven_node[i], module ? driver_ohm : line_ohm);
    }
    for (std::size_t i = 0; i < b.things.size(); ++i) {
        const auto& t = b.things[i];
        if (t.kind != ThingKind::logic || c_.gone[i]) continue;
        Chip chip;
        chip.thing = i;
        const auto node_of = [&](const std::string& name) {
            for (std::size_t k = 0; k < t.pins.size(); ++k)
                if (t.pins[k].name == name) return c_.node[i][k];
            return -1;
        };
        for (const auto& name : t.logic->inputs) chip.inputs.push_back(node_of(name));
        for (const auto& o : t.logic->outputs) chip.outputs.push_back(at(driver(node_of(o.pin), driver_ohm)));
        chips_.push_back(std::move(chip));
    }
}

/// Signals that only supplies join are solved apart.
void BenchState::make_groups() {
    make_drivers();
    Unions joined(volts_.size());
    for (const auto& e : edges_)
        if (e.a >= 0 && e.b >= 0 && !is_rail(e.a) && !is_rail(e.b)) joined.unite(e.a, e.b);
    group_of_.assign(volts_.size(), -1);
    std::map<int, int> of_root;
    for (int n = 0; n < static_cast<int>(volts_.size()); ++n) {
        if (is_rail(n)) continue;
        const auto [it, fresh] = of_root.emplace(joined.find(n), static_cast<int>(groups_.size()));
        if (fresh) groups_.emplace_back();
        group_of_[at(n)] = it->second;
        groups_[at(it->second)].nodes.push_back(n);
    }
    for (std::size_t i = 0; i < edges_.size(); ++i) {
        const auto& e = edges_[i];
        const bool inside = e.a >= 0 && e.b >= 0 && !(is_rail(e.a) && is_rail(e.b));
        if (!inside) continue;
        auto& g = groups_[at(group_of_[at(is_rail(e.a) ? e.b : e.a)])];
        g.edges.push_back(i);
        if (!e.drop && (is_rail(e.a) || is_rail(e.b))) g.held_by_edge = true;
    }
    for (std::size_t i = 0; i < drivers_.size(); ++i)
        if (drivers_[i].node >= 0 && !is_rail(drivers_[i].node))
            groups_[at(group_of_[at(drivers_[i].node)])].drivers.push_back(i);
}

void BenchState::make_chips() {
    const auto& b = *c_.board;
    for (auto& chip : chips_) {
        std::optional<double> plus, minus;
        for (const auto& p : b.things[chip.thing].pins) {
            if (feeds(p.name)) plus = pin_volts(chip.thing, p.name);
            if (grounds(p.name) && !minus) minus = pin_volts(chip.thing, p.name);
        }
        chip.powered = plus && minus && *plus - *minus >= works_v;
        chip.vcc = plus.value_or(0);
        chip.gnd = minus.value_or(0);
        chip.level.assign(chip.inputs.size(), unknown_level);
        chip.before = chip.level;
        chip.bits.assign(b.things[chip.thing].logic->bits.size(), unknown_level);
        for (const auto o : chip.outputs) drivers_[o].on = chip.powered;
        const auto& logic = *b.things[chip.thing].logic;
        for (const auto& o : logic.outputs) {
            chip.values.push_back(term_of(o.value, logic));
            chip.enables.push_back(term_of(o.enable, logic));
        }
        for (const auto& r : logic.rules) {
            Chip::Rule rule{
                static_cast<std::size_t>(std::find(logic.inputs.begin(), logic.inputs.end(), r.pin) -
                                         logic.inputs.begin()),
                term_of(r.condition, logic),
                {}};
            for (const auto& [bit, value] : r.set) rule.set.emplace_back(at(bit), term_of(value, logic));
            chip.rules.push_back(std::move(rule));
        }
    }
    // A module that is not fed drives nothing and tells nothing.
    tells_.assign(b.watched.size(), true);
    for (std::size_t k = 0; k < b.things.size(); ++k) {
        const auto& t = b.things[k];
        if (t.kind != ThingKind::module) continue;
        const auto plus = pin_volts(k, "VIN"), minus = pin_volts(k, "GND");
        const bool on = !c_.gone[k] && plus && minus && *plus - *minus >= module_works_v;
        for (std::size_t i = 0; i < b.driven.size(); ++i)
            if (ref_in(b.driven[i].lead) == t.ref && line_driver_[i] >= 0)
                drivers_[at(line_driver_[i])].on = on;
        for (std::size_t i = 0; i < b.watched.size(); ++i)
            if (ref_in(b.watched[i].lead) == t.ref) tells_[i] = on;
    }
}

}  // namespace grayrelic
