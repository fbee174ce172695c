// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/wire/cable_links.hpp"

#include <fmt/format.h>

#include <algorithm>
#include <map>

#include "core/dossier/pin_fields.hpp"

namespace grayrelic {
namespace {

/// Contacts of both ports that wires join, as nets "W1", "W2" …
class CableText {
  public:
    CableText(const Cable& cable, const Port& a, const Port& b) : a_(a), b_(b) {
        for (const auto& w : cable.wires) {
            const int x = net_of(true, w.a), y = net_of(false, w.b);
            net_of_wire_.push_back(x);
            if (x == y) continue;
            for (auto& [contact, net] : nets_)
                if (net == y) net = x;
            for (auto& net : net_of_wire_)
                if (net == y) net = x;
        }
    }
    [[nodiscard]] std::string text() const {
        std::string out;
        for (const bool first : {true, false}) {
            out += fmt::format("port {}:", (first ? a_ : b_).id);
            for (const auto& [contact, net] : nets_)
                if (contact.first == first) out += fmt::format(" {}=W{}", contact.second, net);
            out += "\n";
        }
        return out + pulls();
    }
    [[nodiscard]] int net(std::size_t wire) const { return net_of_wire_[wire]; }

  private:
    int net_of(bool first, const std::string& contact) {
        const auto key = std::pair(first, contact);
        const auto it = nets_.find(key);
        if (it != nets_.end()) return it->second;
        return nets_[key] = ++last_;
    }

    /// The pulls that the ports' facts tell, to the highest logic supply that the same port shows.
    [[nodiscard]] std::string pulls() const {
        std::string out;
        int n = 0;
        for (const auto& [contact, net] : nets_) {
            const auto& port = contact.first ? a_ : b_;
            const auto* pin = port.find_pin(contact.second);
            if (pin == nullptr || (pin->pull.value != "up" && pin->pull.value != "down")) continue;
            const bool up = pin->pull.value == "up";
            constexpr double usual_pull_ohm = 10e3;
            const double ohm = pin->pull_ohm.value ? pin->pull_ohm.value->value() : usual_pull_ohm;
            out +=
                fmt::format("RP{} resistor {:.6g}: 1=W{} 2={}\n", ++n, ohm, net, supply(contact.first, up));
            if (!up) continue;
            const auto v = volts(port);
            if (v > 0) out += rail(contact.first, v);
        }
        return out;
    }
    [[nodiscard]] static double volts(const Port& port) {
        double best = 0;
        for (const auto& p : port.pins)
            if (role_of(p) == PinRole::rail)
                if (const auto v = rail_volts(p); v && *v >= 1.5 && *v <= 6) best = std::max(best, *v);
        // A pull without a rail at the port hangs on the usual supply.
        return best > 0 ? best : port.side == Side::relic ? 5.0 : 3.3;
    }
    [[nodiscard]] static std::string supply(bool first, bool up) {
        return up ? fmt::format("VP{}", first ? 1 : 2) : std::string("GND");
    }
    [[nodiscard]] std::string rail(bool first, double v) const {
        auto& said = first ? first_rail_ : second_rail_;
        if (said) return {};
        said = true;
        return fmt::format("rail {} {:.6g}V ±5%\n", supply(first, true), v);
    }

    const Port& a_;
    const Port& b_;
    std::map<std::pair<bool, std::string>, int> nets_;
    std::vector<int> net_of_wire_;
    int last_ = 0;
    mutable bool first_rail_ = false, second_rail_ = false;
};

/// A port that is fed through the cable comes and goes with what feeds it.
void share_supply(const Cable& cable, const Port& a, const Port& b, Circuit& circuit) {
    const bool fed = std::any_of(cable.wires.begin(), cable.wires.end(), [&](const CableWire& w) {
        const auto *x = a.find_pin(w.a), *y = b.find_pin(w.b);
        return x != nullptr && y != nullptr && role_of(*x) == PinRole::rail && role_of(*y) == PinRole::rail;
    });
    if (!fed) return;
    for (auto* list : {&circuit.drivers, &circuit.receivers})
        for (auto& end : *list)
            if (end.supply_origin == "port " + b.id) end.supply_origin = "port " + a.id;
}

bool plain(const std::string& contact) {
    return !contact.empty() && std::all_of(contact.begin(), contact.end(), [](unsigned char c) {
        return (c >= '0' && c <= '9') || (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z') || c == '_';
    });
}

}  // namespace

std::vector<CableLinks> study_cables(const Dossier& dossier, const Circuit& bridge, const CircuitData& data) {
    std::vector<CableLinks> out;
    // Each cable is looked at by itself: nothing leads on from its ends.
    Dossier alone = dossier;
    alone.cables = {};
    for (const auto& cable : *dossier.cables) {
        const auto *a = dossier.find_port(cable.a.port), *b = dossier.find_port(cable.b.port);
        if (a == nullptr || b == nullptr || a == b || cable.wires.empty()) continue;
        const bool in_bridge =
            std::any_of(bridge.network.ports.begin(), bridge.network.ports.end(), [&](const auto& p) {
                return (p.port == a->id && a->side == Side::modern) ||
                       (p.port == b->id && b->side == Side::modern);
            });
        const bool names = plain(a->id) && plain(b->id) &&
                           std::all_of(cable.wires.begin(), cable.wires.end(),
                                       [](const CableWire& w) { return plain(w.a) && plain(w.b); });
        if (in_bridge || !names) continue;
        const CableText text(cable, *a, *b);
        CableLinks made;
        made.cable = cable.id;
        BridgeText bridge_text;
        bridge_text.text = text.text();
        made.circuit = build_circuit(alone, std::move(bridge_text), data);
        share_supply(cable, *a, *b, made.circuit);
        made.study = judge_links(made.circuit);
        made.wires.resize(made.study.lines.size());
        for (std::size_t w = 0; w < cable.wires.size(); ++w)
            for (std::size_t n = 0; n < made.circuit.nets.size(); ++n)
                if (made.circuit.nets[n].name == fmt::format("W{}", text.net(w)) &&
                    made.study.line_by_net[n] >= 0)
                    made.wires[static_cast<std::size_t>(made.study.line_by_net[n])].push_back(w);
        out.push_back(std::move(made));
    }
    return out;
}

}  // namespace grayrelic
