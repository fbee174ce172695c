// SPDX-License-Identifier: GPL-3.0-or-later
// From the text's parts to what computes.
#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "core/logic/network_parts.hpp"

namespace grayrelic {
namespace {

LogicNet& net_at(Network& n, int net) {
    return n.nets[static_cast<std::size_t>(net)];
}

/// The pin's name; the text may give its number.
std::string name_of(const PartType& type, const std::string& pin) {
    if (type.find_name(pin) != nullptr) return pin;
    const auto* by_number = type.find_pin(pin);
    return by_number == nullptr ? pin : by_number->name;
}

PinNet net_of(const ListedPart& part, const std::string& pin) {
    for (const auto& [said, net] : part.pins)
        if (name_of(*part.type, said) == pin) return net;
    return std::nullopt;
}

/// Something other than this part drives the net, for certain or at times.
bool driven_by_others(const Network& n, int net, int part) {
    const auto& item = n.nets[static_cast<std::size_t>(net)];
    if (item.input || item.held) return true;
    return std::any_of(item.drivers.begin(), item.drivers.end(),
                       [&](const auto& d) { return d.first != part; });
}

void join_pins(Network& n, int index, const ListedPart& listed) {
    auto& part = n.parts[static_cast<std::size_t>(index)];
    part.inputs.clear();
    part.outputs.clear();
    for (const auto& pin : part.logic->inputs) part.inputs.push_back(net_of(listed, pin));
    for (std::size_t o = 0; o < part.logic->outputs.size(); ++o) {
        part.outputs.push_back(net_of(listed, part.logic->outputs[o].pin));
        if (const auto net = part.outputs.back())
            net_at(n, *net).drivers.emplace_back(index, static_cast<int>(o));
    }
}

void leave(Network& n, int index) {
    for (auto& net : n.nets) std::erase_if(net.drivers, [&](const auto& d) { return d.first == index; });
}

/// Switches pass both ways: each is turned so that it leads away from what drives. False: nothing to turn.
bool turn(Network& n, const ListedPart& listed) {
    const int index = *listed.logic;
    const auto& logic = *n.parts[static_cast<std::size_t>(index)].logic;
    std::vector<std::size_t> groups;
    for (std::size_t g = 0; g < logic.reverse.size(); ++g) {
        const auto& r = logic.reverse[g];
        const auto any_driven = [&](const auto& pins, auto pin_of) {
            return std::any_of(pins.begin(), pins.end(), [&](const auto& p) {
                const auto net = net_of(listed, pin_of(p));
                return net && driven_by_others(n, *net, index);
            });
        };
        const bool forward_ends = any_driven(r.of, [](const std::string& p) { return p; });
        const bool reverse_ends = any_driven(r.outputs, [](const PartOutput& o) { return o.pin; });
        if (forward_ends && !reverse_ends) groups.push_back(g);
    }
    if (groups.empty()) return false;
    n.turned.push_back(std::make_shared<const PartLogic>(logic.turned(groups)));
    leave(n, index);
    n.parts[static_cast<std::size_t>(index)].logic = n.turned.back().get();
    join_pins(n, index, listed);
    return true;
}

/// A series part as what it does to levels: it passes on what stands before it.
const PartLogic& wire() {
    static const PartLogic logic = [] {
        PartLogic l;
        l.id = l.name = "passes on";
        PartOutput out;
        out.pin = "2";
        out.value = *Expression::parse("a");
        l.inputs = {"a"};
        l.outputs.push_back(std::move(out));
        return l;
    }();
    return logic;
}

const PartDelays& no_delay() {
    static const PartDelays delays = [] {
        PartDelays d;
        const Delay least{Time::ps(1), Time::ps(1), Time::ps(1)};
        d.gates = d.storage = {least, least, least};
        return d;
    }();
    return delays;
}

bool is_series(std::string_view function) {
    return function == "resistor" || function == "fuse" || function == "ferrite" || function == "inductor" ||
           function == "jumper";
}

/// The level of a net that is a supply or a ground.
std::optional<bool> rail_level(const Network& n, int net) {
    const auto& item = n.nets[static_cast<std::size_t>(net)];
    if (item.held) return item.held;
    for (const auto& r : n.rails)
        if (r.net == net) return r.volts > 0.5;
    for (const auto& p : n.all)
        for (const auto& [pin, at] : p.pins) {
            if (at != net) continue;
            const auto* known =
                p.type->find_name(pin) != nullptr ? p.type->find_name(pin) : p.type->find_pin(pin);
            if (known == nullptr) continue;
            if (known->kind == PinKind::supply || known->kind == PinKind::source) return true;
            if (known->kind == PinKind::ground) return false;
        }
    return std::nullopt;
}

struct Series {
    const ListedPart* part;
    int a, b;
};

/// Pulls, and the list of what may pass a level on.
std::vector<Series> pulls(Network& n) {
    std::vector<Series> out;
    for (const auto& p : n.all) {
        if (p.logic) continue;
        for (const auto& [pin, net] : p.pins) net_at(n, net).excused = true;
        if (!is_series(p.type->function) || p.pins.size() != 2) continue;
        const int a = p.pins[0].second, b = p.pins[1].second;
        const auto level_a = rail_level(n, a), level_b = rail_level(n, b);
        if (level_a && level_b) continue;
        if (level_a || level_b) {
            auto& pulled = net_at(n, level_a ? b : a);
            // Of two pulls the stronger wins on the board; here the first that is said.
            if (!pulled.pull) pulled.pull = level_a ? *level_a : *level_b;
        } else {
            out.push_back({&p, a, b});
        }
    }
    return out;
}

void pass_on(Network& n, std::vector<Series>& series) {
    const auto driven = [&](int net) {
        const auto& item = n.nets[static_cast<std::size_t>(net)];
        return item.input || item.held || !item.drivers.empty();
    };
    for (bool found = true; found;) {
        found = false;
        for (auto it = series.begin(); it != series.end();) {
            const bool a = driven(it->a), b = driven(it->b);
            if (a == b) {
                ++it;
                continue;
            }
            NetworkPart part;
            part.ref = it->part->ref;
            part.logic = &wire();
            part.delays = &no_delay();
            part.line = it->part->line;
            part.inputs = {a ? it->a : it->b};
            part.outputs = {a ? it->b : it->a};
            net_at(n, *part.outputs[0]).drivers.emplace_back(static_cast<int>(n.parts.size()), 0);
            n.parts.push_back(std::move(part));
            it = series.erase(it);
            found = true;
        }
    }
}

/// What comes from a port, is read and nobody drives is the capture's signal of that name.
void take_from_ports(Network& n, const std::vector<Series>& series, bool through_series) {
    for (const auto& port : n.ports)
        for (const auto& contact : port.contacts) {
            const int net = contact.second;
            auto& item = net_at(n, net);
            item.excused = true;
            const bool read =
                through_series
                    ? std::any_of(series.begin(), series.end(),
                                  [&](const Series& s) { return s.a == net || s.b == net; })
                    : std::any_of(n.parts.begin(), n.parts.end(), [&](const NetworkPart& p) {
                          return std::find(p.inputs.begin(), p.inputs.end(), PinNet(net)) != p.inputs.end();
                      });
            if (!read || item.input || item.held || item.output || !item.drivers.empty() ||
                rail_level(n, net))
                continue;
            item.input = static_cast<int>(n.inputs.size());
            n.inputs.push_back({net, NetworkInput::From::signal, false, 0});
        }
}

void turn_all(Network& n) {
    for (bool turned = true; turned;) {
        turned = false;
        for (const auto& p : n.all)
            if (p.logic && turn(n, p)) turned = true;
    }
}

}  // namespace

void join_logic(Network& n) {
    for (const auto& p : n.all)
        if (p.logic) join_pins(n, *p.logic, p);
    auto series = pulls(n);
    for (const bool through_series : {false, true}) {
        take_from_ports(n, series, through_series);
        turn_all(n);
        pass_on(n, series);
    }
}

}  // namespace grayrelic
