// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/bench_state.hpp"

#include <algorithm>

#include "core/base/unions.hpp"

namespace grayrelic {
namespace {

constexpr double solder_ohm = 0.2, source_ohm = 0.2, driver_ohm = 40, line_ohm = 100, diode_ohm = 2,
                 lamp_ohm = 10, reverse_ohm = 1, logic_a = 0.002, module_a = 0.04, works_v = 2.7,
                 limit_a = 0.5, module_works_v = 2.5, between_v = 1.4;
constexpr int most_rounds = 200;
const Levels unknown_level{0, 0}, low_level{0, 1}, high_level{1, 0};

std::size_t at(int node) {
    return static_cast<std::size_t>(node);
}
bool says_one(const Levels& l) {
    return (l.one & 1U) != 0;
}
bool says_zero(const Levels& l) {
    return (l.zero & 1U) != 0;
}

/// Pins by which a part is fed: of a logic part those that have no level of its own.
bool feeds(std::string_view name) {
    return name == "VCC" || name == "VDD" || name == "VIN" || name == "V+";
}
bool grounds(std::string_view name) {
    return name.starts_with("GND") || name == "VSS";
}

}  // namespace

BenchState::BenchState(const BenchCircuit& circuit) : c_(circuit) {
    gather();
    solve_supplies();
    make_groups();
    make_chips();
    for (std::size_t i = 0; i < c_.board->driven.size(); ++i) {
        if (line_driver_[i] < 0) continue;
        auto& d = drivers_[at(line_driver_[i])];
        d.volts = c_.board->driven[i].idle ? c_.board->driven[i].high : 0;
    }
    settle();
}

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

void BenchState::solve_supplies() {
    const auto& b = *c_.board;
    const auto mark = [&](int node) {
        if (node >= 0) rail_[at(node)] = true;
    };
    for (std::size_t i = 0; i < b.nets.size(); ++i)
        if (b.nets[i].volts) rail_[i] = true;
    // A lead that came off a supply, a supply that comes in at the wrong place.
    for (std::size_t i = 0; i < b.things.size(); ++i)
        for (std::size_t k = 0; k < b.things[i].pins.size(); ++k)
            if (b.nets[at(b.things[i].pins[k].net)].volts) mark(c_.node[i][k]);
    for (const int node : c_.supply_node) mark(node);
    for (bool more = true; more;) {
        more = false;
        for (const auto& e : edges_)
            if (!e.drop && e.ohm < 2 && is_rail(e.a) != is_rail(e.b)) {
                // Solder to a signal is the signal's affair: the supply holds it.
                if (e.ohm == solder_ohm) continue;
                mark(e.a);
                mark(e.b);
                more = true;
            }
    }
    DcNetwork net;
    std::vector<int> number(rail_.size(), 0);
    for (std::size_t i = 0; i < rail_.size(); ++i)
        if (rail_[i]) number[i] = net.add_node();
    const auto both = [&](int a, int z) { return a >= 0 && z >= 0 && is_rail(a) && is_rail(z); };
    for (std::size_t i = 0; i < c_.supply_node.size(); ++i)
        if (c_.supply_node[i] >= 0)
            net.feeds.push_back({number[at(c_.supply_node[i])], c_.supply_v[i],
                                 c_.supply_v[i] == 0 ? 0.02 : source_ohm,
                                 c_.supply_v[i] == 0 ? DcNetwork::no_limit : limit_a, c_.supply_v[i] == 0});
    for (const auto& e : edges_) {
        if (!both(e.a, e.b)) continue;
        if (e.drop)
            net.drops.push_back({number[at(e.a)], number[at(e.b)], *e.drop, e.ohm});
        else
            net.resistances.push_back({number[at(e.a)], number[at(e.b)], e.ohm});
    }
    for (std::size_t i = 0; i < b.things.size(); ++i) {
        const auto& t = b.things[i];
        if (c_.gone[i] || (t.kind != ThingKind::logic && t.kind != ThingKind::module &&
                           t.kind != ThingKind::regulator))
            continue;
        int plus = -1, minus = -1, out = -1;
        for (std::size_t k = 0; k < t.pins.size(); ++k) {
            const auto& name = t.pins[k].name;
            if (feeds(name) || (t.kind == ThingKind::regulator && name == "IN")) plus = c_.node[i][k];
            // Of several grounds one that leads on.
            if (grounds(name) && (minus < 0 || !is_rail(minus))) minus = c_.node[i][k];
            if (name == "3V3" || (t.kind == ThingKind::regulator && name == "OUT")) out = c_.node[i][k];
        }
        if (!both(plus, minus)) continue;
        net.draws.push_back({number[at(plus)], number[at(minus)],
                             t.kind == ThingKind::module ? module_a : logic_a, 5.0});
        net.drops.push_back({number[at(minus)], number[at(plus)], 0.7, reverse_ohm});
        if (out >= 0 && is_rail(out))
            net.regulators.push_back({number[at(plus)], number[at(out)],
                                      t.kind == ThingKind::regulator ? c_.value[i] : 3.3, 0.2});
    }
    const auto solution = grayrelic::solve(net);
    for (std::size_t i = 0; i < rail_.size(); ++i)
        if (rail_[i]) volts_[i] = solution.volts[at(number[i])];
}

void BenchState::make_groups() {
    const auto& b = *c_.board;
    line_driver_.assign(b.driven.size(), -1);
    const auto driver = [&](int node, double ohm) {
        drivers_.push_back({node, 0, ohm, true});
        return static_cast<int>(drivers_.size()) - 1;
    };
    for (std::size_t i = 0; i < b.driven.size(); ++i)
        if (c_.driven_node[i] >= 0)
            line_driver_[i] = driver(c_.driven_node[i],
                                     ref_in(b.driven[i].lead)[0] == 'M' ? driver_ohm : line_ohm);
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
        for (const auto& o : t.logic->outputs)
            chip.outputs.push_back(at(driver(node_of(o.pin), driver_ohm)));
        chips_.push_back(std::move(chip));
    }
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
        if (e.a < 0 || e.b < 0) continue;
        const int inner = !is_rail(e.a) ? e.a : !is_rail(e.b) ? e.b : -1;
        if (inner < 0) continue;
        auto& g = groups_[at(group_of_[at(inner)])];
        g.edges.push_back(i);
        if (!e.drop && (is_rail(e.a) || is_rail(e.b))) g.held_by_edge = true;
    }
    for (std::size_t i = 0; i < drivers_.size(); ++i)
        if (drivers_[i].node >= 0 && !is_rail(drivers_[i].node))
            groups_[at(group_of_[at(drivers_[i].node)])].drivers.push_back(i);
}

std::optional<double> BenchState::pin_volts(std::size_t thing, std::string_view name) const {
    const auto& t = c_.board->things[thing];
    for (std::size_t k = 0; k < t.pins.size(); ++k)
        if (t.pins[k].name == name && c_.node[thing][k] >= 0) return volts_[at(c_.node[thing][k])];
    return std::nullopt;
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

Levels BenchState::level_at(int node, double low_max, double high_min) const {
    if (node < 0 || !volts_[at(node)]) return unknown_level;
    const double v = *volts_[at(node)];
    return v <= low_max ? low_level : v >= high_min ? high_level : unknown_level;
}

Levels BenchState::value_of(const Expression& e, const Chip& chip, const std::vector<Levels>& in) const {
    const auto& logic = *c_.board->things[chip.thing].logic;
    std::vector<Levels> values;
    values.reserve(e.names().size());
    for (const auto& name : e.names()) {
        const auto bit = std::find(logic.bits.begin(), logic.bits.end(), name);
        const auto pin = std::find(logic.inputs.begin(), logic.inputs.end(), name);
        if (bit != logic.bits.end())
            values.push_back(chip.bits[static_cast<std::size_t>(bit - logic.bits.begin())]);
        else if (pin != logic.inputs.end())
            values.push_back(in[static_cast<std::size_t>(pin - logic.inputs.begin())]);
        else
            values.push_back(unknown_level);
    }
    auto out = e.evaluate(values);
    out.one &= 1U;
    out.zero &= 1U;
    return out;
}

void BenchState::set_output(Chip& chip, std::size_t output) {
    const auto& o = c_.board->things[chip.thing].logic->outputs[output];
    auto& d = drivers_[chip.outputs[output]];
    const auto enable = o.enable.steps().empty() ? high_level : value_of(o.enable, chip, chip.level);
    d.on = chip.powered && !says_zero(enable);
    const auto level = says_one(enable) ? value_of(o.value, chip, chip.level) : unknown_level;
    d.unknown = d.on && !says_one(level) && !says_zero(level);
    d.volts = says_one(level) ? chip.vcc : says_zero(level) ? chip.gnd : chip.gnd + between_v;
}

void BenchState::solve(Group& g) {
    std::vector<double> now;
    now.reserve(g.drivers.size());
    for (const auto i : g.drivers) now.push_back(drivers_[i].on ? drivers_[i].volts : -1000.0);
    if (now == g.last && !g.last.empty()) return;
    g.last = now;
    const auto show = [&](const std::vector<double>& volts) {
        for (std::size_t i = 0; i < g.nodes.size(); ++i)
            volts_[at(g.nodes[i])] = volts.empty() ? std::nullopt : std::optional(volts[i]);
    };
    if (const auto it = g.known.find(now); it != g.known.end()) return show(it->second);
    const bool held = g.held_by_edge ||
                      std::any_of(now.begin(), now.end(), [](double v) { return v > -999; });
    std::vector<double> volts;
    if (held || !g.edges.empty()) {
        DcNetwork net;
        std::map<int, int> number;
        const auto node = [&](int n) {
            const auto [it, fresh] = number.emplace(n, 0);
            if (fresh) {
                it->second = net.add_node();
                if (is_rail(n)) net.feeds.push_back({it->second, volts_[at(n)].value_or(0), 0.01});
            }
            return it->second;
        };
        for (const int n : g.nodes) (void)node(n);
        for (const auto i : g.edges) {
            const auto& e = edges_[i];
            if (e.drop)
                net.drops.push_back({node(e.a), node(e.b), *e.drop, e.ohm});
            else
                net.resistances.push_back({node(e.a), node(e.b), e.ohm});
        }
        for (std::size_t k = 0; k < g.drivers.size(); ++k)
            if (drivers_[g.drivers[k]].on)
                net.feeds.push_back({node(drivers_[g.drivers[k]].node), now[k], drivers_[g.drivers[k]].ohm});
        if (held) {
            const auto solution = grayrelic::solve(net);
            for (const int n : g.nodes) volts.push_back(solution.volts[at(number.at(n))]);
        }
    }
    show(volts);
    if (g.known.size() < 256) g.known.emplace(std::move(now), std::move(volts));
}

bool BenchState::spread() {
    bool changed = false;
    for (auto& g : groups_) solve(g);
    for (auto& chip : chips_) {
        const auto& t = c_.board->things[chip.thing];
        for (std::size_t i = 0; i < chip.inputs.size(); ++i) {
            const auto level = chip.powered ? level_at(chip.inputs[i], t.low_max_v, t.high_min_v) : unknown_level;
            if (level == chip.level[i]) continue;
            chip.level[i] = level;
            changed = true;
        }
        if (!chip.powered) continue;
        for (std::size_t o = 0; o < chip.outputs.size(); ++o) set_output(chip, o);
    }
    return changed;
}

/// Rules by what all inputs showed; all parts at once.
bool BenchState::update_bits() {
    bool changed = false;
    std::vector<std::vector<Levels>> all;
    all.reserve(chips_.size());
    for (auto& chip : chips_) {
        const auto& logic = *c_.board->things[chip.thing].logic;
        auto bits = chip.bits;
        std::vector<bool> done(bits.size(), false);
        const auto set = [&](const PartRule& rule, bool sure) {
            for (const auto& [bit, value] : rule.set) {
                const auto b = static_cast<std::size_t>(bit);
                if (done[b]) continue;
                const auto v = value_of(value, chip, chip.level);
                bits[b] = sure || v == chip.bits[b] ? v : unknown_level;
                done[b] = sure;
            }
        };
        for (const auto& rule : logic.rules) {
            if (!chip.powered) break;
            if (rule.kind == PartRule::Kind::when) {
                const auto c = value_of(rule.condition, chip, chip.level);
                if (!says_zero(c)) set(rule, says_one(c));
                continue;
            }
            const auto pin = std::find(logic.inputs.begin(), logic.inputs.end(), rule.pin);
            if (pin == logic.inputs.end()) continue;
            const auto k = static_cast<std::size_t>(pin - logic.inputs.begin());
            const auto was = rule.kind == PartRule::Kind::rise ? chip.before[k] : chip.level[k];
            const auto is = rule.kind == PartRule::Kind::rise ? chip.level[k] : chip.before[k];
            if (chip.before[k] == chip.level[k] || says_one(was) || says_zero(is)) continue;
            set(rule, says_zero(was) && says_one(is));
        }
        changed = changed || bits != chip.bits;
        all.push_back(std::move(bits));
    }
    for (std::size_t i = 0; i < chips_.size(); ++i) {
        chips_[i].bits = std::move(all[i]);
        chips_[i].before = chips_[i].level;
    }
    return changed;
}

void BenchState::settle() {
    for (int round = 0; round < most_rounds; ++round) {
        if (spread()) continue;
        if (!update_bits()) return;
        // New bits show at the outputs, and the next round sees them.
        for (auto& chip : chips_)
            for (std::size_t o = 0; chip.powered && o < chip.outputs.size(); ++o) set_output(chip, o);
    }
    oscillates_ = true;
}

void BenchState::drive(std::size_t line, bool high) {
    if (line_driver_[line] < 0) return;
    drivers_[at(line_driver_[line])].volts = high ? c_.board->driven[line].high : 0;
    settle();
}

std::optional<double> BenchState::volts(int node) const {
    return node < 0 ? std::nullopt : volts_[at(node)];
}

bool BenchState::unknown(int node) const {
    if (node < 0 || is_rail(node) || group_of_[at(node)] < 0) return false;
    const auto& drivers = groups_[at(group_of_[at(node)])].drivers;
    return std::any_of(drivers.begin(), drivers.end(), [&](auto d) { return drivers_[d].unknown; });
}

char BenchState::seen(std::size_t watched) const {
    const auto& w = c_.board->watched[watched];
    const int node = c_.watched_node[watched];
    if (w.lamp) {
        const auto* t = c_.board->find(ref_in(w.lead));
        const auto a = pin_volts(static_cast<std::size_t>(t - c_.board->things.data()), "A"),
                   k = pin_volts(static_cast<std::size_t>(t - c_.board->things.data()), "K");
        const bool there = !c_.gone[static_cast<std::size_t>(t - c_.board->things.data())];
        return there && a && k && *a - *k > 0.95 * t->value ? '1' : '0';
    }
    if (!tells_[watched]) return '-';
    const auto level = level_at(node, 0.8, 2.0);
    return says_one(level) ? '1' : says_zero(level) ? '0' : 'x';
}

}  // namespace grayrelic
