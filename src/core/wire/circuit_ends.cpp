// SPDX-License-Identifier: GPL-3.0-or-later
// What drives and what reads each net, and what is wrong with the circuit as such.
#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/base/text.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/wire/circuit_parts.hpp"

namespace grayrelic {
namespace {

/// 0, 1 or not known: of nets that never change.
Levels constant_level(const CircuitWork& w, int net) {
    if (const auto held = w.c.network.nets[static_cast<std::size_t>(net)].held)
        return known(*held ? ~0ULL : 0);
    if (const auto& s = w.supply(net)) return known(s->ground ? 0 : ~0ULL);
    return {};
}

Levels value_of(const CircuitWork& w, const NetworkPart& part, const Expression& e) {
    std::vector<Levels> in;
    for (const auto& name : e.names()) {
        const auto& inputs = part.logic->inputs;
        const auto at = std::find(inputs.begin(), inputs.end(), name);
        const auto net =
            at == inputs.end() ? PinNet{} : part.inputs[static_cast<std::size_t>(at - inputs.begin())];
        in.push_back(net ? constant_level(w, *net) : Levels{});
    }
    return e.evaluate(in);
}

/// The family and the supply of a part's pin.
NetEnd end_of_part(const CircuitWork& w, std::size_t i, const std::string& pin_name, int net) {
    const auto& p = w.part(i);
    NetEnd end;
    end.part = i;
    end.pin = pin_name;
    end.net = net;
    const auto family = p.logic && !p.words.empty() ? p.words.front() : p.type->electrical.family;
    const auto* pin = p.type->find_name(pin_name);
    end.family = w.data.families->find(pin != nullptr && !pin->family.empty() ? pin->family : family);
    // Its own supply pin where it has several; else the part's supply, or what a module makes for itself.
    std::vector<const PartPin*> candidates;
    for (const auto& other : p.type->pins) {
        const bool own = pin != nullptr && !pin->supply.empty();
        if (own ? other.name == pin->supply
                : other.kind == PinKind::source ||
                      (other.kind == PinKind::supply && !p.type->electrical.output_v))
            candidates.push_back(&other);
    }
    for (const auto* candidate : candidates)
        if (const auto at = w.net_of(p, *candidate); at && w.supply(*at) && !w.supply(*at)->ground) {
            const auto& s = *w.supply(*at);
            end.supply = {s.least, s.most};
            end.supply_spread = s.spread;
            end.supply_origin = s.origin;
            end.supply_said = true;
            return end;
        }
    const auto usual = p.type->electrical.output_v ? *p.type->electrical.output_v
                       : end.family != nullptr     ? end.family->supply_typ_v
                                                   : 5.0;
    end.supply = around(usual, 0.05);
    if (p.type->electrical.output_v) {
        // A module makes its own pins' supply from what feeds it.
        end.supply_said = true;
        end.supply_origin = p.ref;
        for (const auto& other : p.type->pins)
            if (other.kind == PinKind::supply)
                if (const auto at = w.net_of(p, other); at && w.supply(*at) && !w.supply(*at)->ground)
                    end.supply_origin = w.supply(*at)->origin;
    }
    return end;
}

void ends_of_logic(CircuitWork& w, std::size_t i) {
    const auto& listed = w.part(i);
    if (listed.type->function == "switch") return;  // it conducts, and drives nothing by itself
    const auto& part = w.c.network.parts[static_cast<std::size_t>(*listed.logic)];
    std::set<std::string> only_out;
    for (std::size_t o = 0; o < part.outputs.size(); ++o) {
        const auto& out = part.logic->outputs[o];
        if (!part.outputs[o]) continue;
        auto end = end_of_part(w, i, out.pin, *part.outputs[o]);
        const auto* pin = listed.type->find_name(out.pin);
        if (pin != nullptr && pin->kind == PinKind::open_collector) {
            end.style = DriveStyle::pulls_low;
        } else if (!out.enable.steps().empty()) {
            const auto enabled = value_of(w, part, out.enable);
            if (enabled == known(0)) continue;  // never on
            end.style = enabled == known(~0ULL) ? DriveStyle::firm : DriveStyle::may_rest;
        }
        if (end.style == DriveStyle::firm) only_out.insert(out.pin);
        w.c.drivers.push_back(std::move(end));
    }
    for (std::size_t k = 0; k < part.inputs.size(); ++k) {
        const auto& pin = part.logic->inputs[k];
        if (part.inputs[k] && only_out.count(pin) == 0)
            w.c.receivers.push_back(end_of_part(w, i, pin, *part.inputs[k]));
    }
}

/// "A3" of "B3", and the other way round.
std::string partner(const std::string& pin) {
    if (pin.size() < 2) return {};
    if (pin[0] == 'A') return "B" + pin.substr(1);
    if (pin[0] == 'B') return "A" + pin.substr(1);
    return {};
}

bool drives_from_outside(const CircuitWork& w, int net) {
    return std::any_of(w.c.drivers.begin(), w.c.drivers.end(),
                       [&](const NetEnd& d) { return d.net == net && d.style != DriveStyle::firmware; });
}

void ends_of_plain(CircuitWork& w, std::size_t i, bool translators) {
    const auto& p = w.part(i);
    if ((p.type->function == "translator") != translators) return;
    const bool module = p.type->function == "module";
    for (const auto& pin : p.type->pins) {
        const auto net = w.net_of(p, pin);
        if (!net) continue;
        auto end = end_of_part(w, i, pin.name, *net);
        const auto add_driver = [&](DriveStyle style) {
            end.style = style;
            w.c.drivers.push_back(end);
        };
        switch (pin.kind) {
            case PinKind::output: add_driver(DriveStyle::firm); break;
            case PinKind::three_state: add_driver(DriveStyle::may_rest); break;
            case PinKind::open_collector: add_driver(DriveStyle::pulls_low); break;
            case PinKind::input: w.c.receivers.push_back(end); break;
            case PinKind::both: {
                if (module) {
                    add_driver(DriveStyle::firmware);
                    w.c.receivers.push_back(end);
                    break;
                }
                // A translator drives the side away from what drives it.
                const auto* other = p.type->find_name(partner(pin.name));
                const auto far = other == nullptr ? std::nullopt : w.net_of(p, *other);
                if (far && drives_from_outside(w, *far) && !drives_from_outside(w, *net)) {
                    add_driver(DriveStyle::firm);
                } else {
                    if (!drives_from_outside(w, *net)) add_driver(DriveStyle::may_rest);
                    w.c.receivers.push_back(end);
                }
                break;
            }
            default: break;
        }
    }
}

/// The supply of the circuit behind a port: its highest rail that a signal could have.
void supply_of_port(const CircuitWork& w, const CircuitContact& c, NetEnd& end) {
    const auto* port = w.dossier.find_port(c.far_port);
    std::optional<double> best_least, best_most;
    if (port != nullptr)
        for (const auto& p : port->pins) {
            if (role_of(p) != PinRole::rail) continue;
            const auto v = rail_volts(p);
            // Logic stands on 1.5 V to 6 V; a 12 V rail feeds something else.
            if (!v || *v < 1.5 || *v > 6 || (best_most && *best_most <= *v)) continue;
            best_most = *v;
            best_least = p.volts_min.value ? p.volts_min.value->value() : 0.9 * *v;
            // The port's own chip works there: what nobody measured is not taken below what it needs.
            if (!p.volts_min.value && end.family != nullptr && *v >= end.family->works_min_v)
                best_least = std::max(*best_least, end.family->works_min_v);
        }
    end.supply_origin = "port " + c.far_port;
    end.supply_said = best_most.has_value();
    if (best_most)
        end.supply = {*best_least, *best_most};
    else
        end.supply = around(end.family != nullptr ? end.family->supply_typ_v : 5.0, 0.05);
}

void ends_of_contact(CircuitWork& w, std::size_t i) {
    const auto& c = w.c.contacts[i];
    const auto role = role_of(c.pin);
    if (role != PinRole::signal) return;
    NetEnd end;
    end.contact = i;
    end.net = c.net;
    end.family = w.data.families->find(c.pin.family.value);
    supply_of_port(w, c, end);
    if (c.pin.volts_max.value) end.highest_v = c.pin.volts_max.value->value();
    const auto reader = c.side == Side::relic ? Driver::bridge : Driver::relic;
    // An input of a family that works at less, seen at no more, may well stand on that: as bad as plausible.
    if (end.family != nullptr && end.family->clamps && end.highest_v && c.pin.driver.value == reader &&
        *end.highest_v >= end.family->works_min_v && *end.highest_v < end.family->supply_min_v &&
        *end.highest_v < end.supply.least) {
        end.supply = around(*end.highest_v, 0.05);
        end.supply_said = true;
    }
    if (c.pin.volts_min.value) end.lowest_v = c.pin.volts_min.value->value();
    const auto own = c.side == Side::relic ? Driver::relic : Driver::bridge;
    const auto d = c.pin.driver.value;
    const bool out = d == own || d == Driver::both;
    const bool in = d != own;  // also what nobody knows
    const bool collector =
        c.pin.output.value == "open-collector" || (end.family != nullptr && end.family->open_collector);
    if (out) {
        end.style = collector           ? DriveStyle::pulls_low
                    : d == Driver::both ? DriveStyle::may_rest
                                        : DriveStyle::firm;
        w.c.drivers.push_back(end);
    }
    if (in || d == Driver::both) w.c.receivers.push_back(end);
}

/// The circuit's only supply, or only ground, by name; where there is none or a choice, a word for it.
std::string only_supply(const Circuit& c, bool ground) {
    std::string found;
    for (const auto& n : c.nets) {
        if (!n.supply || n.supply->ground != ground || n.name == "0") continue;
        if (!found.empty()) return ground ? "GROUND" : "SUPPLY";
        found = n.name;
    }
    return !found.empty() ? found : ground ? "GROUND" : "SUPPLY";
}

}  // namespace

const Family& unknown_family() {
    static const Family family = [] {
        Family f;
        f.id = f.name = "unknown";
        f.source = "the most fragile, weak and demanding of what could be there";
        f.supply_min_v = 4.5;
        f.supply_typ_v = 5;
        f.supply_max_v = 5.5;
        f.works_min_v = 0;
        f.works_max_v = 1000;
        f.output_high_min_v = 2.4;
        f.output_low_max_v = 0.5;
        f.output_high_max_v = 5.5;
        f.high_loads = {{0.0001, 2.4, false, 0}};
        f.low_loads = {{0.0016, 0.5, false, 0}};
        f.levels = {{2.0, 1.5, 0.4}, {5.0, 3.5, 0.8}};
        f.input_high_a = 40e-6;
        f.input_low_a = 1.6e-3;
        f.input_farad = 15e-12;
        f.limit_above_supply_v = 0.3;
        f.limit_low_v = -0.3;
        f.clamps = true;
        return f;
    }();
    return family;
}

void add_ends(CircuitWork& w) {
    for (std::size_t i = 0; i < w.c.contacts.size(); ++i) ends_of_contact(w, i);
    for (std::size_t i = 0; i < w.c.network.all.size(); ++i)
        if (w.part(i).logic) ends_of_logic(w, i);
    for (const bool translators : {false, true})
        for (std::size_t i = 0; i < w.c.network.all.size(); ++i)
            if (!w.part(i).logic) ends_of_plain(w, i, translators);
}

void add_faults(CircuitWork& w) {
    auto& c = w.c;
    for (const auto& p : c.network.problems)
        c.faults.push_back({p.fatal ? Verdict::stop : Verdict::doubt, "network-text",
                            "line " + std::to_string(p.line), fmt::format("Found {}.", p.says),
                            fmt::format("Expected {}.", p.expected), p.line});
    std::set<std::string> unsaid;
    for (std::size_t i = 0; i < c.network.all.size(); ++i) {
        const auto& p = w.part(i);
        if (const auto v = part_value(p); !v)
            c.faults.push_back({Verdict::stop, "value", "part " + p.ref,
                                fmt::format("Found {}.", v.error().found),
                                fmt::format("Expected {}.", v.error().expected), p.line});
        else if (!*v && (p.type->function == "resistor" || p.type->function == "capacitor"))
            c.faults.push_back({Verdict::doubt, "value", "part " + p.ref,
                                fmt::format("{} has no value.", p.ref),
                                fmt::format("Write it behind the part: {} {} {}.", p.ref, p.type->id,
                                            p.type->function == "resistor" ? "4k7" : "100n"),
                                p.line});
    }
    for (const auto* list : {&c.drivers, &c.receivers})
        for (const auto& end : *list)
            if (end.part && !end.supply_said) unsaid.insert(w.part(*end.part).ref);
    if (!unsaid.empty()) {
        const auto names = fmt::format("{}", fmt::join(unsaid, " "));
        c.faults.push_back(
            {Verdict::doubt, "supply", "supply of " + *unsaid.begin(),
             fmt::format("From which supply {} {} fed is not said: each is judged at what is usual of "
                         "its family.",
                         names, unsaid.size() == 1 ? "is" : "are"),
             fmt::format("Add a line: power {} {}: {}", only_supply(c, false), only_supply(c, true), names),
             0});
    }
    const bool grounded = std::any_of(c.nets.begin(), c.nets.end(),
                                      [](const CircuitNet& n) { return n.supply && n.supply->ground; });
    if (!c.empty() && !grounded)
        c.faults.push_back({Verdict::stop, "no-ground", "ground", "No net of the circuit is a ground.",
                            "Join the ground contacts of both sides to one net, such as GND.", 0});
}

}  // namespace grayrelic
