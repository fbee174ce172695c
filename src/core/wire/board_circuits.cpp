// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/board_circuits.hpp"

#include <fmt/format.h>

#include "core/wire/begin.hpp"

namespace grayrelic {
namespace {

PinAction action_of(DriveStyle style) {
    switch (style) {
        case DriveStyle::may_rest: return PinAction::may_rest;
        case DriveStyle::pulls_low: return PinAction::pulls_low;
        case DriveStyle::firmware: return PinAction::firmware;
        default: return PinAction::drives;
    }
}

PinAction action_of(PinKind kind, bool module) {
    switch (kind) {
        case PinKind::output: return PinAction::drives;
        case PinKind::three_state: return PinAction::may_rest;
        case PinKind::both: return module ? PinAction::firmware : PinAction::may_rest;
        case PinKind::open_collector: return PinAction::pulls_low;
        case PinKind::input: return PinAction::reads;
        case PinKind::supply: return PinAction::takes;
        case PinKind::source: return PinAction::gives;
        case PinKind::ground: return PinAction::ground;
        default: return PinAction::passive;
    }
}

void pins_of_type(const std::string& ref, const PartType& type, BoardCircuit& into) {
    for (const auto& pin : type.pins)
        if (pin.kind != PinKind::unknown)
            into.pins[ref + "." + pin.number] = action_of(pin.kind, type.function == "module");
}

}  // namespace

std::shared_ptr<const BoardCircuit> board_circuit_of(std::shared_ptr<const Circuit> circuit,
                                                     std::string name) {
    auto out = std::make_shared<BoardCircuit>();
    out->name = std::move(name);
    out->nets = board_netlist(*circuit);
    for (const auto& p : circuit->network.all) {
        if (p.type == nullptr) continue;
        const auto& package = p.package.empty() ? p.type->package : p.package;
        if (!package.empty()) out->packages_of.emplace(p.ref, package);
        pins_of_type(p.ref, *p.type, *out);
    }
    // What the circuit found goes before what the pin could do: an output that is never switched on, a
    // contact of a port.
    for (const auto& c : circuit->contacts) {
        auto& action = out->pins[c.port + "." + c.contact];
        action = PinAction::passive;
        if (const auto& net = circuit->nets[static_cast<std::size_t>(c.net)]; net.supply)
            action = net.supply->ground                              ? PinAction::ground
                     : net.supply->because.starts_with(c.port + "/") ? PinAction::gives
                                                                     : PinAction::takes;
    }
    const auto point_of = [&](const NetEnd& e) -> std::string {
        if (e.contact)
            return circuit->contacts[*e.contact].port + "." + circuit->contacts[*e.contact].contact;
        if (!e.part) return {};
        const auto& p = circuit->network.all[*e.part];
        const auto* pin =
            p.type->find_name(e.pin) != nullptr ? p.type->find_name(e.pin) : p.type->find_pin(e.pin);
        return p.ref + "." + (pin == nullptr ? e.pin : pin->number);
    };
    for (const auto& r : circuit->receivers) out->pins[point_of(r)] = PinAction::reads;
    for (const auto& d : circuit->drivers) out->pins[point_of(d)] = action_of(d.style);
    for (const auto& n : circuit->nets)
        if (n.supply) out->volts.emplace(n.name, n.supply->ground ? 0.0 : n.supply->typical);
    out->circuit = std::move(circuit);
    return out;
}

std::shared_ptr<const BoardCircuit> board_circuit_of(const NetSource& list, const Trace& trace,
                                                     const PartLibrary& parts) {
    auto out = std::make_shared<BoardCircuit>();
    out->name = list.name.empty() ? list.id : list.name;
    out->nets = list.nets;
    for (const auto& p : trace.parts) {
        const auto* type = parts.find(p.type);
        const auto package = !p.package.empty() ? p.package : type != nullptr ? type->package : std::string();
        if (!package.empty()) out->packages_of.emplace(p.ref, package);
        if (type != nullptr) pins_of_type(p.ref, *type, *out);
    }
    for (const auto& n : out->nets)
        for (const auto& p : n.points)
            if (const auto it = out->pins.find(p); it != out->pins.end() && it->second == PinAction::ground)
                out->volts.emplace(n.name, 0.0);
    return out;
}

BoardCircuits board_circuits(const Dossier& d, const std::shared_ptr<const Circuit>& wire,
                             const PartLibrary& parts, const CircuitData& data) {
    BoardCircuits out;
    for (const auto& b : *d.boards) {
        const auto key = b.against == "wire" ? std::string() : b.against;
        if (out.count(key) != 0) continue;
        if (key.empty()) {
            if (wire && !wire->empty()) out.emplace(key, board_circuit_of(wire, "Wire"));
        } else if (const auto* list = d.trace->find_netlist(key)) {
            out.emplace(key, board_circuit_of(*list, *d.trace, parts));
        } else if (const auto* network = d.timing->find_network(key)) {
            BridgeText text;
            text.common_id = network->id;
            text.text = network->text;
            text.common_lines = 1'000'000'000;
            out.emplace(key, board_circuit_of(std::make_shared<const Circuit>(build_circuit(d, text, data)),
                                              network->name.empty() ? network->id : network->name));
        }
    }
    return out;
}

BoardCircuits kept_circuits(BoardCircuits now, const BoardCircuits& before) {
    for (auto& [key, circuit] : now) {
        const auto it = before.find(key);
        if (it == before.end()) continue;
        const auto &a = *circuit, &b = *it->second;
        const bool texts = (a.circuit == nullptr) == (b.circuit == nullptr) &&
                           (a.circuit == nullptr || a.circuit->text == b.circuit->text);
        if (texts && a.name == b.name && a.nets == b.nets && a.packages_of == b.packages_of &&
            a.pins == b.pins && a.volts == b.volts)
            circuit = it->second;
    }
    return now;
}

}  // namespace grayrelic
