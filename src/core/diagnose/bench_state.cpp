// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/bench_state.hpp"

#include <algorithm>
#include <array>

#include "core/base/unions.hpp"

namespace grayrelic {
namespace {

constexpr double solder_ohm = 0.2, source_ohm = 0.2, driver_ohm = 40, line_ohm = 100, diode_ohm = 2,
                 lamp_ohm = 10, reverse_ohm = 1, logic_a = 0.002, module_a = 0.04, works_v = 2.7,
                 limit_a = 0.5, module_works_v = 2.5, between_v = 1.4, least_edge_ohm = 0.01;
constexpr int most_rounds = 48, watched_rounds = 6;
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
    for (std::size_t i = 0; i < groups_.size(); ++i) stale_.push_back(i);
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
    // What nothing leads to from any supply floats.
    Unions joined(at(net.nodes));
    for (const auto& f : net.feeds) joined.unite(DcNetwork::ground, f.node);
    for (const auto& r : net.resistances) joined.unite(r.a, r.b);
    for (const auto& d : net.drops) joined.unite(d.from, d.to);
    for (std::size_t i = 0; i < rail_.size(); ++i)
        if (rail_[i] && joined.same(number[i], DcNetwork::ground)) volts_[i] = solution.volts[at(number[i])];
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
        const auto& logic = *b.things[chip.thing].logic;
        for (const auto& o : logic.outputs) {
            chip.values.push_back(term_of(o.value, logic));
            chip.enables.push_back(term_of(o.enable, logic));
        }
        for (const auto& r : logic.rules) {
            Chip::Rule rule{static_cast<std::size_t>(std::find(logic.inputs.begin(), logic.inputs.end(), r.pin) -
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

Levels BenchState::level_at(int node, double low_max, double high_min) const {
    if (node < 0 || !volts_[at(node)]) return unknown_level;
    const double v = *volts_[at(node)];
    return v <= low_max ? low_level : v >= high_min ? high_level : unknown_level;
}

BenchState::Term BenchState::term_of(const Expression& e, const PartLogic& logic) {
    constexpr int nowhere = 1'000'000;
    Term out{&e, {}};
    out.names.reserve(e.names().size());
    for (const auto& name : e.names()) {
        const auto bit = std::find(logic.bits.begin(), logic.bits.end(), name);
        const auto pin = std::find(logic.inputs.begin(), logic.inputs.end(), name);
        out.names.push_back(bit != logic.bits.end()     ? -1 - static_cast<int>(bit - logic.bits.begin())
                            : pin != logic.inputs.end() ? static_cast<int>(pin - logic.inputs.begin())
                                                        : nowhere);
    }
    return out;
}

Levels BenchState::value_of(const Term& term, const Chip& chip) {
    std::array<Levels, 64> values;
    const auto n = std::min(term.names.size(), values.size());
    for (std::size_t i = 0; i < n; ++i) {
        const int at_name = term.names[i];
        values[i] = at_name < 0                     ? chip.bits[at(-1 - at_name)]
                    : at(at_name) < chip.level.size() ? chip.level[at(at_name)]
                                                    : unknown_level;
    }
    auto out = term.expression->evaluate({values.data(), n});
    out.one &= 1U;
    out.zero &= 1U;
    return out;
}

void BenchState::set_driver(std::size_t driver, double volts, bool on) {
    auto& d = drivers_[driver];
    if (d.volts == volts && d.on == on) return;
    d.volts = volts;
    d.on = on;
    if (noting_) restless_.push_back(driver);
    if (d.node < 0 || is_rail(d.node)) return;
    auto& g = groups_[at(group_of_[at(d.node)])];
    if (g.stale) return;
    g.stale = true;
    stale_.push_back(at(group_of_[at(d.node)]));
}

void BenchState::set_output(Chip& chip, std::size_t output) {
    const auto& enable_term = chip.enables[output];
    const auto enable = enable_term.expression->steps().empty() ? high_level : value_of(enable_term, chip);
    const bool on = chip.powered && !says_zero(enable);
    const auto level = says_one(enable) ? value_of(chip.values[output], chip) : unknown_level;
    drivers_[chip.outputs[output]].unknown = on && !says_one(level) && !says_zero(level);
    set_driver(chip.outputs[output],
               says_one(level)    ? chip.vcc
               : says_zero(level) ? chip.gnd
                                  : chip.gnd + between_v,
               on);
}

/// Kirchhoff's law at each node of a group, by elimination: a group has few nodes.
std::vector<double> BenchState::solve_linear(const Group& g, const std::vector<double>& now) const {
    const auto n = g.nodes.size();
    // The columns of the unknown volts, and last of the currents; a little leak holds what nothing holds.
    std::vector<double> m(n * (n + 1), 0.0);
    const auto row = [&](int node) {
        return static_cast<std::size_t>(std::find(g.nodes.begin(), g.nodes.end(), node) - g.nodes.begin());
    };
    const auto cell = [&](std::size_t r, std::size_t c) -> double& { return m[r * (n + 1) + c]; };
    for (std::size_t r = 0; r < n; ++r) cell(r, r) = 1e-12;
    const auto hold = [&](int node, double v, double ohm) {
        const auto r = row(node);
        cell(r, r) += 1 / ohm;
        cell(r, n) += v / ohm;
    };
    for (const auto i : g.edges) {
        const auto& e = edges_[i];
        const double ohm = std::max(e.ohm, least_edge_ohm);
        if (is_rail(e.a) || is_rail(e.b)) {
            if (is_rail(e.a) && is_rail(e.b)) continue;
            const int inner = is_rail(e.a) ? e.b : e.a, rail = is_rail(e.a) ? e.a : e.b;
            hold(inner, volts_[at(rail)].value_or(0), ohm);
            continue;
        }
        const auto a = row(e.a), b = row(e.b);
        if (a == b) continue;
        cell(a, a) += 1 / ohm;
        cell(b, b) += 1 / ohm;
        cell(a, b) -= 1 / ohm;
        cell(b, a) -= 1 / ohm;
    }
    for (std::size_t k = 0; k < g.drivers.size(); ++k)
        if (drivers_[g.drivers[k]].on) hold(drivers_[g.drivers[k]].node, now[k], drivers_[g.drivers[k]].ohm);
    // Diagonally dominant: no pivots are needed.
    for (std::size_t k = 0; k < n; ++k)
        for (std::size_t r = k + 1; r < n; ++r) {
            if (cell(r, k) == 0) continue;
            const double f = cell(r, k) / cell(k, k);
            for (std::size_t c = k; c <= n; ++c) cell(r, c) -= f * cell(k, c);
        }
    std::vector<double> volts(n, 0.0);
    for (std::size_t k = n; k-- > 0;) {
        double v = cell(k, n);
        for (std::size_t c = k + 1; c < n; ++c) v -= cell(k, c) * volts[c];
        volts[k] = v / cell(k, k);
    }
    return volts;
}

std::vector<double> BenchState::solve_drops(const Group& g, const std::vector<double>& now) const {
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
    const auto solution = grayrelic::solve(net);
    std::vector<double> volts;
    volts.reserve(g.nodes.size());
    for (const int n : g.nodes) volts.push_back(solution.volts[at(number.at(n))]);
    return volts;
}

void BenchState::solve(Group& g) {
    std::vector<double> now;
    now.reserve(g.drivers.size());
    for (const auto i : g.drivers) now.push_back(drivers_[i].on ? drivers_[i].volts : -1000.0);
    const auto show = [&](const std::vector<double>& volts) {
        for (std::size_t i = 0; i < g.nodes.size(); ++i)
            volts_[at(g.nodes[i])] = volts.empty() ? std::nullopt : std::optional(volts[i]);
    };
    if (const auto it = g.known.find(now); it != g.known.end()) return show(it->second);
    const bool held = g.held_by_edge ||
                      std::any_of(now.begin(), now.end(), [](double v) { return v > -999; });
    const bool linear = std::none_of(g.edges.begin(), g.edges.end(),
                                     [&](std::size_t i) { return edges_[i].drop.has_value(); });
    std::vector<double> volts;
    if (held) volts = linear ? solve_linear(g, now) : solve_drops(g, now);
    show(volts);
    if (g.known.size() < 256) g.known.emplace(std::move(now), std::move(volts));
}

bool BenchState::spread() {
    bool changed = false;
    for (const auto i : stale_) {
        groups_[i].stale = false;
        solve(groups_[i]);
    }
    stale_.clear();
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
        const auto set = [&](const Chip::Rule& rule, bool sure) {
            for (const auto& [b, value] : rule.set) {
                if (done[b]) continue;
                const auto v = value_of(value, chip);
                bits[b] = sure || v == chip.bits[b] ? v : unknown_level;
                done[b] = sure;
            }
        };
        for (std::size_t r = 0; chip.powered && r < logic.rules.size(); ++r) {
            const auto& rule = logic.rules[r];
            if (rule.kind == PartRule::Kind::when) {
                const auto c = value_of(chip.rules[r].condition, chip);
                if (!says_zero(c)) set(chip.rules[r], says_one(c));
                continue;
            }
            const auto k = chip.rules[r].pin;
            if (k >= chip.level.size()) continue;
            const auto was = rule.kind == PartRule::Kind::rise ? chip.before[k] : chip.level[k];
            const auto is = rule.kind == PartRule::Kind::rise ? chip.level[k] : chip.before[k];
            if (chip.before[k] == chip.level[k] || says_one(was) || says_zero(is)) continue;
            set(chip.rules[r], says_zero(was) && says_one(is));
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
    restless_.clear();
    for (int round = 0; round < most_rounds; ++round) {
        noting_ = round >= most_rounds - watched_rounds;
        if (spread()) continue;
        if (!update_bits()) {
            noting_ = false;
            return;
        }
        // New bits show at the outputs, and the next round sees them.
        for (auto& chip : chips_)
            for (std::size_t o = 0; chip.powered && o < chip.outputs.size(); ++o) set_output(chip, o);
    }
    // What never came to rest has no level.
    noting_ = false;
    for (const auto d : restless_) drivers_[d].unknown = true;
    oscillates_ = true;
}

void BenchState::drive(std::size_t line, bool high) {
    if (line_driver_[line] < 0) return;
    auto& d = drivers_[at(line_driver_[line])];
    set_driver(at(line_driver_[line]), high ? c_.board->driven[line].high : 0, d.on);
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
    if (unknown(node)) return 'x';
    const auto level = level_at(node, 0.8, 2.0);
    return says_one(level) ? '1' : says_zero(level) ? '0' : 'x';
}

}  // namespace grayrelic
