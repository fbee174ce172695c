// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/diagnose/bench_state.hpp"

#include <algorithm>
#include <array>

#include "core/diagnose/bench_state_parts.hpp"

namespace grayrelic {

using namespace bench_parts;

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

std::optional<double> BenchState::pin_volts(std::size_t thing, std::string_view name) const {
    const auto& t = c_.board->things[thing];
    for (std::size_t k = 0; k < t.pins.size(); ++k)
        if (t.pins[k].name == name && c_.node[thing][k] >= 0) return volts_[at(c_.node[thing][k])];
    return std::nullopt;
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
        values[i] = at_name < 0                       ? chip.bits[at(-1 - at_name)]
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
    const bool held =
        g.held_by_edge || std::any_of(now.begin(), now.end(), [](double v) { return v > -999; });
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
            const auto level =
                chip.powered ? level_at(chip.inputs[i], t.low_max_v, t.high_min_v) : unknown_level;
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
