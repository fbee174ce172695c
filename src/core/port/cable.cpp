// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/port/cable.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

#include "core/base/text.hpp"
#include "core/port/contact_map.hpp"

namespace grayrelic {
namespace {

constexpr std::array<const char*, 10> colours{"brown", "red",    "orange", "yellow", "green",
                                              "blue",  "violet", "grey",   "white",  "black"};

Result<CableSide> side_of(const Dossier& d, const CableEnd& end, const ConnectorLibrary& library) {
    CableSide out;
    out.half = end.half;
    out.port = d.find_port(end.port);
    if (out.port == nullptr && !end.port.empty())
        return fail_usage("port " + in_quotes(end.port), "a port of the dossier");
    const auto id = out.port != nullptr ? out.port->connector : end.connector;
    auto connector = library.find(id);
    if (!connector) return fail(connector.error());
    out.connector = std::move(*connector);
    if (out.port != nullptr) out.numbering = out.port->numbering;
    return out;
}

std::vector<std::string> numbers(const CableSide& s) {
    return s.connector.numbering(s.numbering).numbers;
}

/// In counting order where the numbers are numbers, so that "last" means the highest.
std::vector<std::string> counted(const CableSide& s) {
    auto n = numbers(s);
    std::stable_sort(n.begin(), n.end(), [](const std::string& a, const std::string& b) {
        return a.size() != b.size() ? a.size() < b.size() : a < b;
    });
    return n;
}

using Pairs = std::vector<std::pair<std::string, std::string>>;

Pairs straight(const CableView& v) {
    Pairs out;
    const auto b = numbers(v.b);
    for (const auto& n : counted(v.a))
        if (std::find(b.begin(), b.end(), n) != b.end()) out.emplace_back(n, n);
    return out;
}

Pairs rolled(const CableView& v) {
    Pairs out;
    const auto a = counted(v.a), b = counted(v.b);
    const auto n = std::min(a.size(), b.size());
    for (std::size_t i = 0; i < n; ++i) out.emplace_back(a[i], b[n - 1 - i]);
    return out;
}

Pairs mirrored(const CableView& v) {
    Pairs out;
    const auto landing = land(v.a.connector, v.b.connector, {true, false, 0, 0});
    const auto a = numbers(v.a), b = numbers(v.b);
    for (const auto& n : counted(v.a)) {
        const auto i = static_cast<std::size_t>(std::find(a.begin(), a.end(), n) - a.begin());
        if (landing[i]) out.emplace_back(n, b[*landing[i]]);
    }
    return out;
}

/// True when this port's machine drives the pin.
bool drives(const Port& port, const Pin& pin) {
    const auto d = pin.driver.value;
    return d == Driver::both || d == (port.side == Side::relic ? Driver::relic : Driver::bridge);
}

bool is_signal(const Pin& p) {
    return role_of(p) == PinRole::signal;
}

/// Two records of one rail: within a tenth, or one of them without a voltage.
bool alike(std::optional<double> a, std::optional<double> b) {
    return !a || !b || std::abs(*a - *b) <= 0.1 * std::max(std::abs(*a), std::abs(*b));
}

/// Supplies to supplies of the same voltage and grounds to grounds, outputs to inputs in order.
Pairs crossed(const CableView& v) {
    if (v.a.port == nullptr || v.b.port == nullptr) return straight(v);
    Pairs out;
    std::vector<bool> used(v.b.port->pins.size());
    const auto take = [&](const Pin& a, auto fits) {
        for (std::size_t i = 0; i < used.size(); ++i) {
            const auto& b = v.b.port->pins[i];
            if (used[i] || !fits(b)) continue;
            used[i] = true;
            out.emplace_back(a.number, b.number);
            return;
        }
    };
    for (const auto& a : v.a.port->pins) {
        if (is_signal(a))
            take(a,
                 [&](const Pin& b) { return is_signal(b) && drives(*v.a.port, a) != drives(*v.b.port, b); });
        else if (role_of(a) == PinRole::ground)
            take(a, [](const Pin& b) { return role_of(b) == PinRole::ground; });
        else if (role_of(a) == PinRole::rail)
            take(a, [&](const Pin& b) {
                return role_of(b) == PinRole::rail && alike(rail_volts(a), rail_volts(b));
            });
    }
    return out;
}

Pairs pairs_of(CableLay lay, const CableView& v) {
    switch (lay) {
        case CableLay::crossed: return crossed(v);
        case CableLay::rolled: return rolled(v);
        case CableLay::mirrored: return mirrored(v);
        default: return straight(v);
    }
}

}  // namespace

std::string_view word(CableLay lay) {
    constexpr std::array<std::string_view, 5> words{"straight", "crossed", "rolled", "mirrored", "other"};
    return words[static_cast<std::size_t>(lay)];
}

Result<CableView> view_cable(const Dossier& dossier, const Cable& cable, const ConnectorLibrary& library) {
    auto a = side_of(dossier, cable.a, library);
    if (!a) return fail(a.error());
    auto b = side_of(dossier, cable.b, library);
    if (!b) return fail(b.error());
    return CableView{std::move(*a), std::move(*b)};
}

std::vector<CableWire> wires_of(CableLay lay, const CableView& view) {
    std::vector<CableWire> out;
    for (const auto& [a, b] : pairs_of(lay, view))
        out.push_back({a, b, colours[out.size() % colours.size()], ""});
    return out;
}

CableLay lay_of(const std::vector<CableWire>& wires, const CableView& view) {
    if (wires.empty()) return CableLay::other;
    for (const auto lay : {CableLay::straight, CableLay::rolled, CableLay::mirrored, CableLay::crossed}) {
        std::map<std::string, std::string> to;
        for (const auto& [a, b] : pairs_of(lay, view)) to[a] = b;
        const bool all = std::all_of(wires.begin(), wires.end(), [&](const CableWire& w) {
            const auto it = to.find(w.a);
            return it != to.end() && it->second == w.b;
        });
        if (all) return lay;
    }
    return CableLay::other;
}

namespace {

/// What the far end says of a contact, where the port itself says nothing.
void take_told(Port& port, const std::string& number, const Pin* far) {
    if (far == nullptr || role_of(*far) == PinRole::unknown) return;
    const auto at =
        std::find_if(port.pins.begin(), port.pins.end(), [&](const Pin& p) { return p.number == number; });
    if (at != port.pins.end() && role_of(*at) != PinRole::unknown) return;
    Pin told = *far;
    told.number = number;
    if (told.name.value.empty()) told.name.value = far->number;
    if (at == port.pins.end()) {
        port.pins.push_back(std::move(told));
        return;
    }
    if (!at->name.value.empty()) told.name = at->name;
    *at = std::move(told);
}

}  // namespace

Port known_through_cables(const Port& port, const Dossier& dossier, const ConnectorLibrary& library) {
    Port out = port;
    for (const auto& cable : *dossier.cables) {
        const auto view = view_cable(dossier, cable, library);
        if (!view) continue;
        for (const bool first : {true, false}) {
            const auto &here = first ? view->a : view->b, &there = first ? view->b : view->a;
            if (here.port == nullptr || here.port->id != port.id || there.port == nullptr) continue;
            for (const auto& w : cable.wires)
                take_told(out, first ? w.a : w.b, there.port->find_pin(first ? w.b : w.a));
        }
    }
    return out;
}

}  // namespace grayrelic
