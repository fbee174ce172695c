// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/build/hand_wires.hpp"

#include <algorithm>
#include <array>

#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

constexpr std::array usual_colours{"yellow", "green", "blue", "white", "orange", "violet", "grey", "brown"};

/// What the hunt called the bit that a net of Wire's circuit is.
std::string label_of(const Analysis& a, const std::string& net) {
    if (!a.wire) return {};
    const auto& network = a.wire->circuit.network;
    for (const auto& input : network.inputs) {
        if (input.from != NetworkInput::From::bit || network.net_name(input.net) != net) continue;
        const auto at = static_cast<std::size_t>(std::max(input.bit, 1)) - 1;
        for (const auto& c : *a.dossier.captures)
            if (at < c.decode.bits.size() && !c.decode.bits[at].empty()) return c.decode.bits[at];
        return "bit " + std::to_string(input.bit);
    }
    return {};
}

}  // namespace

std::vector<HandWire> hand_wires(const Analysis& a, const BuildBoard& board) {
    std::vector<HandWire> out;
    std::vector<const Net*> nets;
    for (const auto& n : board.nets)
        if (n.points.size() > 1) nets.push_back(&n);
    std::stable_sort(nets.begin(), nets.end(), [&](const Net* x, const Net* y) {
        return board.volts.count(x->name) > board.volts.count(y->name);
    });
    std::size_t turn = 0;
    for (const auto* n : nets) {
        std::string colour;
        bool of_cable = false;
        for (const auto& p : n->points) {
            const std::string ref(ref_in(p));
            const auto* port = a.dossier.find_port(ref);
            const auto* pin = port == nullptr || p.size() <= ref.size()
                                  ? nullptr
                                  : port->find_pin(p.substr(ref.size() + 1));
            if (pin != nullptr && !pin->colour.value.empty()) {
                colour = pin->colour.value;
                of_cable = true;
            }
        }
        const auto volts = board.volts.find(n->name);
        if (colour.empty())
            colour = volts == board.volts.end() ? usual_colours[turn++ % usual_colours.size()]
                     : volts->second == 0       ? "black"
                                                : "red";
        const auto label = board.of_wire ? label_of(a, n->name) : std::string();
        for (std::size_t i = 1; i < n->points.size(); ++i)
            out.push_back({n->points[i - 1], n->points[i], n->name, label, colour, of_cable});
    }
    return out;
}

}  // namespace grayrelic
