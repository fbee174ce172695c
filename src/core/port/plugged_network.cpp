// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/plugged_network.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/quantity.hpp"

namespace grayrelic::plugged {
namespace {

using TerminalKind = Terminal::Kind;

constexpr double contact_ohm = 0.01, supply_ohm = 0.1, diode_v = 0.7, diode_ohm = 5.0, substrate_ohm = 0.2;
constexpr double schottky_v = 0.35, transistor_v = 0.02, transistor_ohm = 0.05, fuse_ohm = 0.05;
constexpr double receiver_ohm = 3000;  // TIA-232: 3 to 7 kΩ
constexpr double unknown_supply_v = 12;
constexpr double enough = 0.7;  // of its supply, for outputs to drive

bool ground_lands(const PluggedCase& c) {
    return c.shells_join || std::any_of(c.touches.begin(), c.touches.end(), [&](const Touch& t) {
               return c.socket.terminals[t.socket].kind == TerminalKind::ground &&
                      c.plug.terminals[t.plug].kind == TerminalKind::ground;
           });
}

bool swings(const Terminal& t) {
    // What endures volts below ground has no diode to it.
    constexpr double no_diode_v = -2;
    return t.family != nullptr ? t.family->swings_below_ground() || t.family->limit_low_v < no_diode_v
                               : t.lowest.value_or(0) < -1;
}

}  // namespace

std::string called(const CircuitSide& side, const Terminal& t) {
    return fmt::format("{} ({})", t.name, side.called);
}

Branch Network::branch(Branch::Kind kind, bool socket, std::size_t i, int a, int b) const {
    Branch out;
    out.kind = kind;
    out.a = a;
    out.b = b;
    out.of_socket = socket;
    out.terminal = i;
    return out;
}

void Network::resistance(Branch b, double ohm) {
    sources_.push_back({From::resistance, net_.resistances.size()});
    net_.resistances.push_back({b.a, b.b, ohm});
    branches.push_back(std::move(b));
}

void Network::drop(Branch b, double volts, double ohm) {
    sources_.push_back({From::drop, net_.drops.size()});
    net_.drops.push_back({b.a, b.b, volts, ohm});
    branches.push_back(std::move(b));
}

void Network::feed(Branch b, double volts, double ohm, double most_a, bool takes_back) {
    sources_.push_back({From::feed, net_.feeds.size()});
    net_.feeds.push_back({b.b, volts, ohm, most_a, takes_back});
    branches.push_back(std::move(b));
}

bool Network::is_high(bool socket, std::size_t i) const {
    const bool usual = socket ? levels_.socket_high : levels_.plug_high;
    if (levels_.odd_touch >= case_.touches.size()) return usual;
    const auto& odd = case_.touches[levels_.odd_touch];
    return (socket ? odd.socket : odd.plug) == i ? !usual : usual;
}

void Network::rails(bool socket) {
    auto& s = sides_[socket ? 0 : 1];
    const auto& circuit = side(socket);
    const int ground = s.ground;
    for (std::size_t i = 0; i < circuit.terminals.size(); ++i) {
        const auto& t = circuit.terminals[i];
        if (t.kind != TerminalKind::source && t.kind != TerminalKind::load) continue;
        const double volts = t.volts.value_or(unknown_supply_v);
        const auto same = [&](const Rail& r) { return std::abs(r.wanted - volts) <= 0.05 * std::abs(volts); };
        if (std::any_of(s.rails.begin(), s.rails.end(), same)) continue;
        const Rail rail{volts, net_.add_node()};
        s.rails.push_back(rail);
        double most = 0;
        for (const auto& other : circuit.terminals)
            if (other.kind == t.kind &&
                std::abs(other.volts.value_or(unknown_supply_v) - volts) <= 0.05 * std::abs(volts))
                most = std::max(most, other.amperes.value_or(0));
        const bool gives = t.kind == TerminalKind::source && circuit.powered && (socket || tied_);
        if (gives) {
            auto b = branch(Branch::Kind::supply, socket, i, DcNetwork::ground, rail.node);
            b.says = called(circuit, t);
            feed(std::move(b), volts, supply_ohm, most > 0 ? most : DcNetwork::no_limit);
            continue;
        }
        // A circuit that takes it: an appetite, and backwards the diodes of all its parts.
        auto b = branch(Branch::Kind::input, socket, i, volts < 0 ? ground : rail.node,
                        volts < 0 ? rail.node : ground);
        b.says = fmt::format("the {}'s circuit", circuit.called);
        drop(b, 0.0, std::abs(volts) / (most > 0 ? most : unknown_load_a));
        std::swap(b.a, b.b);
        b.kind = Branch::Kind::substrate;
        b.says = fmt::format("the {}'s circuit, backwards", circuit.called);
        drop(std::move(b), diode_v, substrate_ohm);
    }
}

Network::Rail Network::logic_rail(bool socket, const Terminal& t) {
    auto& s = sides_[socket ? 0 : 1];
    const auto& circuit = side(socket);
    const double least = t.family != nullptr ? t.family->supply_min_v * 0.9 : 3.0,
                 most = t.family != nullptr ? t.family->supply_max_v * 1.1 : 5.5;
    // An input of a family that works at less, seen at no more, may well stand on that: as bad as plausible.
    const bool lower = t.kind == TerminalKind::input && t.family != nullptr && t.family->clamps &&
                       t.highest && t.pin != nullptr && t.pin->volts_max.value &&
                       *t.highest >= t.family->works_min_v && *t.highest < t.family->supply_min_v;
    if (!lower)
        for (const auto& r : s.rails)
            if (r.wanted >= least && r.wanted <= most) return r;
    const double typical = lower                 ? *t.highest
                           : t.family != nullptr ? t.family->supply_typ_v
                           : socket              ? 5.0
                                                 : 3.3;
    if (const auto it = s.logic.find(typical); it != s.logic.end()) return {typical, it->second};
    const Rail rail{typical, net_.add_node()};
    s.logic[typical] = rail.node;
    const bool fed = s.rails.empty() || socket ? circuit.powered : plug_runs_;
    auto b = branch(Branch::Kind::supply, socket, 0, DcNetwork::ground, rail.node);
    b.says = fmt::format("the {}'s own {}", circuit.called, print_number(typical, Unit::volt));
    if (fed && (socket || tied_)) feed(b, typical, supply_ohm, DcNetwork::no_limit, socket);
    b.kind = Branch::Kind::input;
    b.a = rail.node;
    b.b = s.ground;
    b.says = fmt::format("the {}'s circuit", circuit.called);
    drop(std::move(b), 0.0, typical / unknown_load_a);
    return rail;
}

int Network::through_protection(bool socket, std::size_t i, int contact) {
    const auto& t = side(socket).terminals[i];
    const auto& p = t.protection;
    int node = contact;
    const auto next = [&](double ohm, const char* what) {
        const int inner = net_.add_node();
        auto b = branch(Branch::Kind::part, socket, i, node, inner);
        b.says = what;
        resistance(std::move(b), ohm);
        node = inner;
    };
    if (p.fuse_a) next(fuse_ohm, "its fuse");
    if (p.series_ohm) next(*p.series_ohm, "its resistor");
    if (p.diode || p.p_channel) {
        const int inner = net_.add_node();
        // The way that its current should go: out of a source, into a load, and for negative volts the other
        // way.
        const bool outwards = (t.kind == TerminalKind::source) != (t.volts.value_or(1) < 0);
        auto b = branch(Branch::Kind::part, socket, i, outwards ? inner : node, outwards ? node : inner);
        b.says = p.p_channel ? "its transistor" : "its diode";
        drop(std::move(b), p.p_channel ? transistor_v : schottky_v, p.p_channel ? transistor_ohm : 0.1);
        node = inner;
    }
    if (p.clamp_v) {
        const int ground = sides_[socket ? 0 : 1].ground;
        auto b = branch(Branch::Kind::part, socket, i, node, ground);
        b.says = "its clamp";
        drop(b, *p.clamp_v, 1.0);
        std::swap(b.a, b.b);
        drop(std::move(b), diode_v, 1.0);
    }
    return node;
}

/// Diodes of the chip at a signal, and those of its protection.
void Network::diodes(bool socket, std::size_t i, int node) {
    const auto& t = side(socket).terminals[i];
    const int ground = sides_[socket ? 0 : 1].ground;
    const auto rail = (socket ? socket_logic_ : plug_logic_)[i];
    const bool shielded = t.protection.clamp_to_supply;
    if (t.clamps || shielded) {
        auto b = branch(shielded ? Branch::Kind::part : Branch::Kind::clamp_high, socket, i, node, rail.node);
        b.says = shielded ? "its clamp" : fmt::format("the input diode of {}", called(side(socket), t));
        drop(std::move(b), shielded ? schottky_v : diode_v, shielded ? 1.0 : diode_ohm);
    }
    if (swings(t)) return;
    auto b = branch(shielded || t.protection.clamp_v ? Branch::Kind::part : Branch::Kind::clamp_low, socket,
                    i, ground, node);
    b.says = fmt::format("the ground diode of {}", called(side(socket), t));
    drop(std::move(b), shielded ? schottky_v : diode_v, shielded ? 1.0 : diode_ohm);
}

void Network::output(bool socket, std::size_t i, int node) {
    const auto& t = side(socket).terminals[i];
    const auto& s = sides_[socket ? 0 : 1];
    const bool drives = socket ? case_.socket.powered : plug_runs_;
    const bool high = is_high(socket, i);
    if (!drives || (high && t.open_collector)) return;
    const auto rail = (socket ? socket_logic_ : plug_logic_)[i];
    const double short_a = t.family == nullptr ? 0.1 : high ? t.family->short_high_a : t.family->short_low_a;
    const double top = t.highest.value_or(rail.wanted);
    const double volts = high ? top : std::min(t.lowest.value_or(0.0), 0.0);
    const double ohm = std::max(std::abs(high || volts < 0 ? volts : rail.wanted), 1.0) / short_a;
    auto b = branch(Branch::Kind::drive, socket, i, DcNetwork::ground, node);
    b.high = high;
    b.says = fmt::format("{}, {}", called(side(socket), t), high ? "high" : "low");
    if (socket || tied_ || swings(t)) {
        feed(std::move(b), volts, ohm);
    } else if (high) {
        b.a = rail.node;
        drop(std::move(b), std::max(0.0, rail.wanted - top), ohm);
    } else {
        b.a = s.ground;
        resistance(std::move(b), ohm);
    }
}

void Network::place(bool socket, std::size_t i, int contact) {
    const auto& circuit = side(socket);
    const auto& t = circuit.terminals[i];
    auto& nodes = socket ? socket_node : plug_node;
    const auto& s = sides_[socket ? 0 : 1];
    const int node = nodes[i] = through_protection(socket, i, contact);
    const auto join = [&](int to) {
        auto b = branch(Branch::Kind::part, socket, i, node, to);
        resistance(std::move(b), contact_ohm / 10);
    };
    switch (t.kind) {
        case TerminalKind::open:
        case TerminalKind::unknown: return;
        case TerminalKind::ground: join(s.ground); return;
        case TerminalKind::source:
        case TerminalKind::load: {
            const double volts = t.volts.value_or(unknown_supply_v);
            for (const auto& r : s.rails)
                if (std::abs(r.wanted - volts) <= 0.05 * std::abs(volts)) {
                    join(r.node);
                    return;
                }
            return;
        }
        case TerminalKind::output:
        case TerminalKind::input: break;
    }
    (socket ? socket_logic_ : plug_logic_)[i] = logic_rail(socket, t);
    diodes(socket, i, node);
    if (t.kind == TerminalKind::output) output(socket, i, node);
    if (t.kind == TerminalKind::input && t.family != nullptr && swings(t) && !t.family->is_pair()) {
        auto b = branch(Branch::Kind::input, socket, i, node, s.ground);
        b.says = fmt::format("the receiver of {}", called(circuit, t));
        resistance(std::move(b), receiver_ohm);
    }
    if (t.pull_ohm > 0) {
        auto b = branch(Branch::Kind::pull, socket, i, node,
                        t.pull_up ? (socket ? socket_logic_ : plug_logic_)[i].node : s.ground);
        b.says = fmt::format("the pull of {}", called(circuit, t));
        resistance(std::move(b), t.pull_ohm);
    }
}

Network::Network(const PluggedCase& c, const Levels& levels, bool plug_runs, bool tied)
    : case_(c), levels_(levels), plug_runs_(plug_runs), tied_(tied || ground_lands(c)) {
    socket_node.assign(c.socket.terminals.size(), -1);
    plug_node.assign(c.plug.terminals.size(), -1);
    socket_logic_.resize(socket_node.size());
    plug_logic_.resize(plug_node.size());
    sides_[0].ground = DcNetwork::ground;
    sides_[1].ground = plug_ground = net_.add_node();
    rails(true);
    rails(false);
    if (c.shells_join || tied) {
        auto b = branch(Branch::Kind::shells, false, 0, plug_ground, DcNetwork::ground);
        b.says = c.shells_join ? "the shells" : "a ground elsewhere";
        resistance(std::move(b), contact_ohm);
    }
    for (std::size_t n = 0; n < c.touches.size(); ++n) {
        const auto& t = c.touches[n];
        const int upper = net_.add_node(), lower = net_.add_node();
        auto b = branch(Branch::Kind::touch, true, n, lower, upper);
        resistance(std::move(b), contact_ohm);
        place(true, t.socket, lower);
        place(false, t.plug, upper);
    }
}

void Network::solve() {
    solution = grayrelic::solve(net_);
    for (std::size_t i = 0; i < branches.size(); ++i) {
        const auto& s = sources_[i];
        branches[i].amps = s.from == From::feed         ? solution.feed_a[s.index]
                           : s.from == From::resistance ? solution.resistance_a[s.index]
                                                        : solution.drop_a[s.index];
    }
}

double Network::supply_of(bool socket, std::size_t i) const {
    return volts((socket ? socket_logic_ : plug_logic_)[i].node) - ground_of(socket);
}

double Network::wanted_of(bool socket, std::size_t i) const {
    return (socket ? socket_logic_ : plug_logic_)[i].wanted;
}

bool Network::plug_supplied() const {
    const auto& rails = sides_[1].rails;
    if (rails.empty()) return case_.plug.powered && tied_;
    return std::any_of(rails.begin(), rails.end(), [&](const Rail& r) {
        return (volts(r.node) - volts(plug_ground)) / r.wanted >= enough;
    });
}

}  // namespace grayrelic::plugged
