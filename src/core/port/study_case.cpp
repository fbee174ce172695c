// SPDX-License-Identifier: GPL-3.0-or-later
// One wrong way as two circuits, with or without what would protect them.
#include <algorithm>
#include <cmath>

#include "core/port/misinsert.hpp"

namespace grayrelic {

bool goes_into(const Connector& plug, const Connector& socket) {
    if (plug.shape == socket.shape) return true;
    if (std::find(plug.also_into.begin(), plug.also_into.end(), socket.shape) != plug.also_into.end())
        return true;
    // Rows without a shell go onto longer ones of their pitch.
    const auto open = [](const Connector& c) { return c.id.starts_with("header-"); };
    const auto depth = [](const Connector& c) { return c.row_pitch_mm() > 0 ? 2 : 1; };
    return open(plug) && open(socket) && std::abs(plug.pitch_mm() - socket.pitch_mm()) < 0.05 &&
           depth(plug) <= depth(socket) && plug.contacts.size() <= socket.contacts.size();
}

PluggedCase circuits_of(const WrongCase& c, const Face& socket, const Face& plug,
                        const FamilyLibrary& families) {
    PluggedCase out;
    for (std::size_t i = 0; i < socket.connector->contacts.size(); ++i)
        out.socket.terminals.push_back(
            terminal(socket.pin_at(i), socket.number_at(i), socket.side, true, families));
    for (std::size_t i = 0; i < plug.connector->contacts.size(); ++i)
        out.plug.terminals.push_back(terminal(plug.pin_at(i), plug.number_at(i), plug.side, false, families));
    out.plug.machine = false;
    out.plug.called = "plug";
    out.touches = c.touches;
    out.shells_join = socket.connector->metal_shell && plug.connector->metal_shell;
    return out;
}

namespace {

void fit(CircuitSide& side, const Shield& shield) {
    for (auto& t : side.terminals) {
        const bool rail = t.kind == Terminal::Kind::load || t.kind == Terminal::Kind::source;
        const bool signal = t.kind == Terminal::Kind::input || t.kind == Terminal::Kind::output;
        if (rail && shield.rails.any()) t.protection = shield.rails;
        if (signal && shield.signals.any()) t.protection = shield.signals;
    }
}

}  // namespace

PluggedStudy study_case(const WrongCase& c, const Face& socket, const Face& plug,
                        const FamilyLibrary& families, const Shield& shield, bool quick) {
    auto both = circuits_of(c, socket, plug, families);
    fit(both.plug, shield);
    if (socket.side == Side::modern) fit(both.socket, shield);
    auto out = study_plugged(both, quick);
    const bool own_supply = std::none_of(both.plug.terminals.begin(), both.plug.terminals.end(),
                                         [](const auto& t) { return t.kind == Terminal::Kind::load; });
    if (!own_supply) return out;
    // Nobody knows whether what is plugged in has its own supply on.
    both.plug.powered = false;
    auto off = study_plugged(both, quick);
    for (std::size_t i = 0; i < out.touch_a.size(); ++i)
        out.touch_a[i] = std::max(out.touch_a[i], off.touch_a[i]);
    for (auto& f : off.faults) {
        const bool said = std::any_of(out.faults.begin(), out.faults.end(), [&](const PathFault& x) {
            return x.kind == f.kind && x.touches == f.touches && worse(x.verdict, f.verdict) == x.verdict;
        });
        if (!said) out.faults.push_back(std::move(f));
    }
    out.verdict = worse(out.verdict, off.verdict);
    return out;
}

}  // namespace grayrelic
