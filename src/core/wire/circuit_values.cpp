// SPDX-License-Identifier: GPL-3.0-or-later
// Values of parts, what conducts between two nets, and which nets are supplies.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/text.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/wire/circuit_parts.hpp"

namespace grayrelic {
namespace {

struct ValueRange {
    const char* function;
    Unit unit;
    double least, most;
    const char* expected;
};
constexpr ValueRange value_ranges[] = {
    {"resistor", Unit::ohm, 1e-3, 1e9, "a resistance from 1 mΩ to 1 GΩ, such as 4k7"},
    {"capacitor", Unit::farad, 1e-13, 1, "a capacitance from 0.1 pF to 1 F, such as 100n"},
    {"regulator", Unit::volt, 0.5, 48, "a voltage from 0.5 V to 48 V, such as 3V3"},
};

double conducting_ohm(const PartType& t) {
    return t.electrical.ohm.value_or(t.function == "switch" ? 100 : 0.1);
}

bool is_short(std::string_view function) {
    return function == "fuse" || function == "ferrite" || function == "inductor" || function == "jumper";
}

void add_edge(CircuitWork& w, CircuitEdge e) {
    if (e.a == e.b) return;
    const auto index = w.c.edges.size();
    w.c.nets[static_cast<std::size_t>(e.a)].edges.push_back(index);
    w.c.nets[static_cast<std::size_t>(e.b)].edges.push_back(index);
    w.c.edges.push_back(e);
}

std::optional<int> net_named(const CircuitWork& w, const ListedPart& p, std::string_view pin) {
    const auto* known = p.type->find_name(pin);
    return known == nullptr ? std::nullopt : w.net_of(p, *known);
}

void join(CircuitWork& w, std::size_t i, std::string_view from, std::string_view to, CircuitEdge::Kind kind,
          double ohm) {
    const auto a = net_named(w, w.part(i), from), b = net_named(w, w.part(i), to);
    if (a && b) add_edge(w, {kind, i, *a, *b, ohm, 0, 0});
}

void edges_of(CircuitWork& w, std::size_t i) {
    const auto& p = w.part(i);
    const auto& f = p.type->function;
    const auto& e = p.type->electrical;
    if ((f == "resistor" || is_short(f)) && p.pins.size() == 2) {
        const auto value = part_value(p);
        const double ohm = is_short(f)                   ? conducting_ohm(*p.type)
                           : value && value->has_value() ? **value
                                                         : 10e3;
        add_edge(w, {CircuitEdge::Kind::resistor, i, p.pins[0].second, p.pins[1].second, ohm, 0, 0});
    } else if (f == "diode" || f == "led") {
        const auto a = net_named(w, p, "A"), k = net_named(w, p, "K");
        if (a && k)
            add_edge(w, {CircuitEdge::Kind::drop, i, *a, *k, 0, e.drop_min_v.value_or(0),
                         e.drop_max_v.value_or(1.2)});
    } else if (f == "mosfet-n" || f == "translator-drain") {
        // A channel whose gate rests on a supply passes lows both ways; highs come from the pulls on each
        // side.
        for (const auto& pin : p.type->pins)
            if (pin.name.starts_with('A') && pin.name.size() > 1)
                join(w, i, pin.name, "B" + pin.name.substr(1), CircuitEdge::Kind::low_only,
                     conducting_ohm(*p.type));
        const auto source = net_named(w, p, "S");
        const auto gate = net_named(w, p, "G");
        const auto constant = [&](int net) {
            return std::any_of(w.c.network.rails.begin(), w.c.network.rails.end(),
                               [&](const auto& r) { return r.net == net && r.volts > 0; }) ||
                   std::any_of(w.c.nets[static_cast<std::size_t>(net)].pins.begin(),
                               w.c.nets[static_cast<std::size_t>(net)].pins.end(), [&](const auto& at) {
                                   const auto* pin = w.part(at.first).type->find_name(at.second);
                                   return pin != nullptr &&
                                          (pin->kind == PinKind::source || pin->kind == PinKind::supply);
                               });
        };
        if (source && gate && constant(*gate))
            join(w, i, "S", "D", CircuitEdge::Kind::low_only, conducting_ohm(*p.type));
    }
    if (const auto* logic = w.data.logic->find(p.type->id))
        for (const auto& r : logic->reverse)
            for (const auto& from : r.of)
                for (const auto& to : r.outputs)
                    join(w, i, from, to.pin, CircuitEdge::Kind::switched, conducting_ohm(*p.type));
}

void set_supply(CircuitWork& w, int net, NetSupply s) {
    auto& at = w.c.nets[static_cast<std::size_t>(net)].supply;
    if (!at) at = std::move(s);
}

NetSupply ground(std::string because) {
    NetSupply s;
    s.ground = true;
    s.because = std::move(because);
    return s;
}

void supply_of_contact(CircuitWork& w, const CircuitContact& c) {
    const auto role = role_of(c.pin);
    if (role == PinRole::ground) return set_supply(w, c.net, ground(c.place() + " " + c.name()));
    const auto volts = rail_volts(c.pin);
    if (role != PinRole::rail || !volts) return;
    NetSupply s;
    const auto least = c.pin.volts_min.value, most = c.pin.volts_max.value;
    s.most = *volts;
    s.assumed = !least || !most;
    s.least = least && most ? std::min(least->value(), most->value()) : 0.9 * *volts;
    s.most = std::max(s.most, s.least);
    s.typical = (s.least + s.most) / 2;
    s.origin = "port " + c.far_port;
    s.because = c.place() + " " + c.name();
    if (c.pin.current_max.value) s.limit_a = c.pin.current_max.value->value();
    set_supply(w, c.net, std::move(s));
}

/// A regulator's or a module's own output.
bool supply_of_source(CircuitWork& w, std::size_t i, const PartPin& pin) {
    const auto& p = w.part(i);
    const auto net = w.net_of(p, pin);
    if (!net || w.supply(*net)) return false;
    const auto said = part_value(p);
    const auto volts = said && *said ? *said : p.type->electrical.output_v;
    if (!volts) return false;
    NetSupply s;
    constexpr double usual_tolerance = 0.05;
    s.typical = *volts;
    s.least = *volts * (1 - usual_tolerance);
    s.most = *volts * (1 + usual_tolerance);
    s.because = p.ref + "'s output";
    s.origin = p.ref;
    for (const auto& other : p.type->pins)
        if (other.kind == PinKind::supply)
            if (const auto in = w.net_of(p, other); in && w.supply(*in) && !w.supply(*in)->ground)
                s.origin = w.supply(*in)->origin;
    set_supply(w, *net, std::move(s));
    return true;
}

/// One of its supply pins stands on a supply that is known.
bool is_fed(const CircuitWork& w, std::size_t i) {
    const auto& p = w.part(i);
    return std::any_of(p.type->pins.begin(), p.type->pins.end(), [&](const PartPin& pin) {
        if (pin.kind != PinKind::supply) return false;
        const auto net = w.net_of(p, pin);
        return net && w.supply(*net) && !w.supply(*net)->ground;
    });
}

/// Behind a fuse, a ferrite or a diode. True when a net has become a supply.
bool supply_behind(CircuitWork& w, const CircuitEdge& e) {
    const auto& p = w.part(e.part);
    const bool passes = e.kind == CircuitEdge::Kind::resistor && (is_short(p.type->function) || e.ohm <= 10);
    const bool drops = e.kind == CircuitEdge::Kind::drop && p.type->function == "diode";
    if (!passes && !drops) return false;
    const auto from_to = [&](int from, int to) {
        const auto& s = w.supply(from);
        if (!s || s->ground || w.supply(to)) return false;
        NetSupply out = *s;
        if (drops) {
            out.least -= e.drop_max;
            out.most -= e.drop_min;
            out.typical -= (e.drop_min + e.drop_max) / 2;
            out.spread += e.drop_max - e.drop_min;
        }
        out.because = w.c.nets[static_cast<std::size_t>(from)].name + " behind " + p.ref;
        set_supply(w, to, std::move(out));
        return true;
    };
    return from_to(e.a, e.b) || (passes && from_to(e.b, e.a));
}

}  // namespace

Result<std::optional<double>> part_value(const ListedPart& part) {
    for (const auto& range : value_ranges) {
        if (part.type->function != range.function) continue;
        if (part.words.empty()) return std::optional<double>{};
        const auto v = parse_number(part.words.front(), range.unit);
        if (!v || !(*v >= range.least && *v <= range.most))
            return fail_usage(in_quotes(part.words.front()) + " as the value of " + part.ref, range.expected);
        return std::optional(*v);
    }
    return std::optional<double>{};
}

double part_tolerance(const ListedPart& part) {
    for (const auto& word : part.words)
        if (word.ends_with('%'))
            if (const auto t = parse_tolerance(word)) return *t;
    return part.type->function == "capacitor" ? 0.10 : 0.05;
}

void add_edges(CircuitWork& w) {
    for (std::size_t i = 0; i < w.c.network.all.size(); ++i) edges_of(w, i);
}

void add_supplies(CircuitWork& w) {
    for (const auto& r : w.c.network.rails) {
        const auto because = fmt::format("line {} of the text", r.line);
        if (r.volts == 0) {
            set_supply(w, r.net, ground(because));
            continue;
        }
        const auto range = around(r.volts, r.tolerance);
        NetSupply s;
        s.least = std::min(range.least, range.most);
        s.most = std::max(range.least, range.most);
        s.typical = r.volts;
        s.origin = "rail " + w.c.nets[static_cast<std::size_t>(r.net)].name;
        s.because = because;
        set_supply(w, r.net, std::move(s));
    }
    for (const auto& c : w.c.contacts) supply_of_contact(w, c);
    for (std::size_t n = 0; n < w.c.nets.size(); ++n)
        if (w.c.nets[n].name == "0" || is_ground_name(w.c.nets[n].name))
            set_supply(w, static_cast<int>(n), ground("its name"));
    for (std::size_t i = 0; i < w.c.network.all.size(); ++i)
        for (const auto& pin : w.part(i).type->pins)
            if (pin.kind == PinKind::ground)
                if (const auto net = w.net_of(w.part(i), pin))
                    set_supply(w, *net, ground(w.part(i).ref + "'s ground"));
    // What a source gives comes from what feeds it, so that is looked for first.
    const auto behind = [&] {
        bool any = false;
        for (const auto& e : w.c.edges) any = supply_behind(w, e) || any;
        return any;
    };
    const auto sources = [&](bool unfed) {
        bool any = false;
        for (std::size_t i = 0; i < w.c.network.all.size(); ++i)
            for (const auto& pin : w.part(i).type->pins)
                if (pin.kind == PinKind::source && (unfed || is_fed(w, i)))
                    any = supply_of_source(w, i, pin) || any;
        return any;
    };
    while (behind() || sources(false) || sources(true)) {
    }
}

}  // namespace grayrelic
