// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/circuit.hpp"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/wire/circuit_parts.hpp"

namespace grayrelic {
namespace {

/// The contact of a port that the text names: by its number, else by the name of the only pin called so.
const Pin* pin_named(const Port& port, const std::string& contact) {
    if (const auto* by_number = port.find_pin(contact)) return by_number;
    const Pin* found = nullptr;
    for (const auto& p : port.pins) {
        if (p.name.value != contact) continue;
        if (found != nullptr) return nullptr;
        found = &p;
    }
    return found;
}

/// Where a cable leads on from a contact to a port of the other side.
std::optional<std::pair<const Port*, std::string>> across(const Dossier& d, const Port& port,
                                                          const std::string& number) {
    for (const auto& cable : *d.cables)
        for (const bool from_a : {true, false}) {
            const auto& here = from_a ? cable.a : cable.b;
            const auto& there = from_a ? cable.b : cable.a;
            if (here.port != port.id || there.port.empty()) continue;
            const auto* far = d.find_port(there.port);
            if (far == nullptr || far->side == port.side) continue;
            for (const auto& wire : cable.wires)
                if ((from_a ? wire.a : wire.b) == number) return std::pair(far, from_a ? wire.b : wire.a);
        }
    return std::nullopt;
}

CircuitContact contact_of(const Dossier& d, const std::string& port_id, const std::string& contact, int net) {
    CircuitContact c;
    c.port = c.far_port = port_id;
    c.contact = c.far_contact = contact;
    c.net = net;
    c.pin.number = contact;
    const auto* port = d.find_port(port_id);
    if (port == nullptr) return c;
    c.side = port->side;
    if (const auto* pin = pin_named(*port, contact)) c.pin = *pin;
    c.contact = c.far_contact = c.pin.number;
    if (port->side == Side::relic) return c;
    // A modern port at which a cable from the relic ends is the relic's, one cable further.
    if (const auto far = across(d, *port, c.pin.number)) {
        c.far_port = far->first->id;
        c.far_contact = far->second;
        c.side = far->first->side;
        if (const auto* pin = far->first->find_pin(far->second)) c.pin = *pin;
    }
    return c;
}

}  // namespace

std::string CircuitContact::name() const {
    return pin.name.value.empty() ? place() : pin.name.value;
}
std::string CircuitContact::place() const {
    return far_port + "/" + far_contact;
}

std::string Circuit::name_of(const NetEnd& end) const {
    if (end.part) return network.all[*end.part].ref + "." + end.pin;
    const auto& c = contacts[*end.contact];
    return c.pin.name.value.empty() ? c.place() : c.place() + " " + c.pin.name.value;
}

std::optional<int> CircuitWork::net_of(const ListedPart& part, const PartPin& pin) const {
    for (const auto& [said, net] : part.pins) {
        const auto* by_name = part.type->find_name(said);
        if (by_name != nullptr ? by_name->name == pin.name : said == pin.number) {
            // Several pins may share a name, as grounds do.
            return net;
        }
    }
    return std::nullopt;
}

void add_contacts(CircuitWork& w) {
    auto& c = w.c;
    for (const auto& port : c.network.ports) {
        const auto* known = w.dossier.find_port(port.port);
        if (known == nullptr)
            c.faults.push_back({Verdict::stop, "network-text", "port " + port.port,
                                fmt::format("There is no port {}.", port.port),
                                "Describe it in Port, or name one that is there.", port.line});
        for (const auto& [contact, net] : port.contacts) {
            auto made = contact_of(w.dossier, port.port, contact, net);
            if (known != nullptr && pin_named(*known, contact) == nullptr)
                c.faults.push_back(
                    {Verdict::doubt, "network-text", "port " + port.port,
                     fmt::format("{} has no contact {} that is described.", port.port, in_quotes(contact)),
                     "Give the contact's number, or describe it in Port.", port.line});
            c.nets[static_cast<std::size_t>(net)].contacts.push_back(c.contacts.size());
            c.contacts.push_back(std::move(made));
        }
    }
}

Circuit build_circuit(const Dossier& dossier, BridgeText text, const CircuitData& data) {
    Circuit c;
    c.text = std::move(text);
    if (data.logic == nullptr || data.families == nullptr || c.text.text.empty()) return c;
    c.network = read_circuit(c.text.text, *data.logic);
    for (const auto& n : c.network.nets) {
        CircuitNet net;
        net.name = n.name;
        c.nets.push_back(std::move(net));
    }
    for (std::size_t i = 0; i < c.network.all.size(); ++i)
        for (const auto& [pin, net] : c.network.all[i].pins)
            c.nets[static_cast<std::size_t>(net)].pins.emplace_back(i, pin);
    CircuitWork w{c, dossier, data};
    add_contacts(w);
    add_edges(w);
    add_supplies(w);
    add_ends(w);
    add_faults(w);
    return c;
}

}  // namespace grayrelic
