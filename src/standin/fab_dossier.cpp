// SPDX-License-Identifier: GPL-3.0-or-later
#include "standin/fab_dossier.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/wire/begin.hpp"
#include "core/wire/circuit.hpp"

namespace grayrelic::standin {
namespace {

constexpr double room = 3.0, board_margin = 5.0, widest_board = 98.0, grid = 0.635, more_room = 10.16;

MadePad hole_pad(const std::string& pin, double x, double y, double pad, double hole) {
    MadePad p;
    p.pin = pin;
    p.x = x;
    p.y = y;
    p.width = p.height = pad;
    p.hole = hole;
    return p;
}

struct Box {
    double left = 1e9, right = -1e9, low = 1e9, high = -1e9;
    void add(const MadePad& p) {
        left = std::min(left, p.x - p.width / 2);
        right = std::max(right, p.x + p.width / 2);
        low = std::min(low, p.y - p.height / 2);
        high = std::max(high, p.y + p.height / 2);
    }
};

Box box_of(const MadePart& part) {
    Box b;
    for (const auto& p : part.pads) b.add(p);
    return b;
}

/// In rows from the top, the large ones first, as a person would lay them out before thinking.
void put_in_rows(FabPlan& plan) {
    std::stable_sort(plan.parts.begin(), plan.parts.end(), [](const MadePart& a, const MadePart& b) {
        const auto one = box_of(a), other = box_of(b);
        return one.high - one.low > other.high - other.low;
    });
    double x = board_margin, y = -board_margin, deepest = 0;
    plan.width = 0;
    for (auto& part : plan.parts) {
        const auto b = box_of(part);
        const double w = b.right - b.left, h = b.high - b.low;
        if (x + w > widest_board - board_margin) {
            x = board_margin;
            y -= deepest + room;
            deepest = 0;
        }
        // First pins stand on one grid.
        const auto& first = part.pads.front();
        const double dx = std::ceil((first.x + x - b.left) / grid) * grid - first.x,
                     dy = std::floor((first.y + y - b.high) / grid) * grid - first.y;
        for (auto& p : part.pads) {
            p.x += dx;
            p.y += dy;
        }
        x += w + room;
        deepest = std::max(deepest, h);
        plan.width = std::max(plan.width, x - room + board_margin);
    }
    plan.height = std::ceil((-y + deepest + board_margin) / (8 * grid)) * 8 * grid;
    plan.width = std::ceil(plan.width);
    for (auto& part : plan.parts)
        for (auto& p : part.pads) p.y += plan.height;
}

Result<FabPlan> plan_of_circuit(const Dossier& d, const DataLibrary& data, const Circuit& circuit,
                                const Fabrication* board) {
    FabPlan plan;
    for (const auto& n : board_netlist(circuit)) plan.nets.push_back({n.name, n.points});
    for (const auto& part : circuit.network.all) {
        const auto package = data.packages.find(part.package.empty() ? part.type->package : part.package);
        if (!package)
            return fail_usage("the part " + part.ref + " without a package that is described",
                              "a package for each part");
        MadePart made{part.ref, {}};
        for (const auto& p : pads_of(*package)) {
            const bool hole = package->shape->hole > 0;
            auto pad = hole_pad(p.number, p.x, -p.y, std::min({1.6, std::max(p.length, p.width)}),
                                hole ? package->shape->hole : 0);
            if (!hole) {
                pad.width = p.length;
                pad.height = p.width;
                pad.bottom = false;
            }
            made.pads.push_back(pad);
        }
        plan.parts.push_back(std::move(made));
    }
    for (const auto& port : *d.ports) {
        const bool used = std::any_of(plan.nets.begin(), plan.nets.end(), [&](const MadeNet& n) {
            return std::any_of(n.points.begin(), n.points.end(),
                               [&](const std::string& p) { return p.starts_with(port.id + "."); });
        });
        if (!used) continue;
        const auto connector = data.connectors.find(port.connector);
        if (!connector) return fail(connector.error());
        const bool own = port.side == Side::modern;
        const bool plug = own ? port.half == Half::plug : port.half == Half::socket;
        const auto* said = board == nullptr ? nullptr : board->find_connector(port.id);
        const double hand = said != nullptr && said->side == StandsOn::bottom ? -1 : 1;
        MadePart made{port.id, {}};
        const auto& numbers = connector->numbering(port.numbering).numbers;
        for (std::size_t i = 0; i < connector->contacts.size(); ++i) {
            const auto at =
                place_of(connector->contacts[i], plug ? Viewpoint::into_plug : Viewpoint::into_socket);
            made.pads.push_back(hole_pad(numbers[i], hand * at.x_mm, at.y_mm,
                                         std::min(1.6, connector->pitch_mm() * 0.65), 0.8));
        }
        plan.parts.push_back(std::move(made));
    }
    put_in_rows(plan);
    return plan;
}

Result<FabPlan> plan_of_trace(const Dossier& d, const DataLibrary& data) {
    FabPlan plan;
    const NetSource* list = nullptr;
    for (const auto& n : d.trace->netlists)
        if (n.id == d.trace->against || list == nullptr) list = &n;
    if (list == nullptr) return fail_usage("a dossier without circuit and netlist", "one with either");
    for (const auto& n : list->nets) plan.nets.push_back({n.name, n.points});
    Box all;
    for (const auto& part : d.trace->parts) {
        const auto* type = data.parts.find(part.type);
        const auto name = !part.package.empty() ? part.package
                          : type != nullptr     ? type->package
                                                : std::string();
        const auto pins = package_pins(name);
        if (!pins)
            return fail_usage("the part " + part.ref + " in the package " + name,
                              "one whose pins are described");
        MadePart made{part.ref, {}};
        for (const auto& pin : *pins) {
            const double a = part.turn_deg * std::numbers::pi / 180;
            const double x = pin.x_mm * std::cos(a) - pin.y_mm * std::sin(a),
                         y = pin.x_mm * std::sin(a) + pin.y_mm * std::cos(a);
            auto pad =
                hole_pad(pin.number, part.x_mm.value_or(0) + x, -(part.y_mm.value_or(0) + y), 1.6, 0.8);
            if (pin.side) {
                pad.hole = 0;
                pad.width = 1.5;
                pad.height = 7;
                pad.top = *pin.side == BoardSide::front;
                pad.bottom = !pad.top;
            }
            made.pads.push_back(pad);
            all.add(pad);
        }
        plan.parts.push_back(std::move(made));
    }
    // Fingers at the lower edge, in the order in which the port's socket has its contacts; above them more
    // room than the old card has, for a layout program less patient than a person.
    plan.width = std::ceil(all.right - all.left + 2 * board_margin);
    plan.height = std::ceil(all.high - all.low + board_margin + 1 + more_room);
    for (auto& part : plan.parts) {
        const bool fingers = part.pads.front().hole <= 0;
        for (auto& p : part.pads) {
            p.x += board_margin - all.left;
            p.y += 1 - all.low + (fingers ? 0 : more_room);
        }
        const auto* port = d.find_port(part.ref);
        const auto connector = data.connectors.find(port == nullptr ? std::string() : port->connector);
        if (!fingers || !connector) continue;
        const auto b = box_of(part);
        const double middle = (b.left + b.right) / 2;
        for (auto& p : part.pads)
            if (const auto at = connector->contact_numbered(p.pin, port->numbering))
                p.x = middle + place_of(connector->contacts[*at], Viewpoint::into_plug).x_mm;
    }
    return plan;
}

}  // namespace

Result<FabPlan> fab_plan_of(const Dossier& d, const DataLibrary& data, bool faults,
                            const std::string& board) {
    auto text = bridge_text(*d.wire, *d.timing);
    const Fabrication* fab = nullptr;
    for (const auto& b : *d.boards)
        if (b.id == board) {
            fab = &b;
            if (const auto* own = d.timing->find_network(b.against)) {
                text = {};
                text.common_id = own->id;
                text.text = own->text;
                text.common_lines = 1'000'000;
            }
        }
    const auto circuit = build_circuit(d, text, {&data.logic, &data.families});
    auto plan = circuit.empty() ? plan_of_trace(d, data) : plan_of_circuit(d, data, circuit, fab);
    if (!plan || !faults) return plan;
    for (auto& part : plan->parts) {
        if (part.ref.empty() || part.ref[0] != 'J') continue;
        const auto b = box_of(part);
        // Of a card's edge the sides are exchanged: numbers where the letters belong.
        for (auto& p : part.pads)
            if (p.hole > 0)
                p.x = b.left + b.right - p.x;
            else
                std::swap(p.top, p.bottom);
        break;
    }
    std::vector<const MadeNet*> plain;
    for (const auto& n : plan->nets)
        if (n.points.size() >= 3 && n.points.size() <= 6) plain.push_back(&n);
    if (plain.size() >= 2) {
        plan->open_net = plain.front()->name;
        plan->thin_net = plain.back()->name;
    }
    return plan;
}

}  // namespace grayrelic::standin
