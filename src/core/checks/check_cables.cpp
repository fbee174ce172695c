// SPDX-License-Identifier: GPL-3.0-or-later
// Cables: outputs joined to outputs, supplies led astray, and ribbons that mirror what they join.
#include <fmt/format.h>

#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/port/cable.hpp"

namespace grayrelic {
namespace {

void check_wires(const Cable& cable, const CableView& view, const DataLibrary& data, Findings& out) {
    for (const auto& w : judge_cable(cable, view, data.families)) {
        if (w.meeting.verdict != Verdict::stop && !w.two_outputs) continue;
        const auto& wire = cable.wires[w.wire];
        if (w.two_outputs && w.meeting.verdict == Verdict::holds) continue;  // open collectors may share
        out.push_back({w.two_outputs ? "transmit-to-transmit" : "cable-destroys",
                       w.meeting.verdict == Verdict::stop ? Severity::stop : Severity::doubt,
                       Stage::port,
                       fmt::format("cable {} wire {}", cable.id, wire.a),
                       w.two_outputs ? fmt::format("{}: transmit is wired to transmit", cable.name)
                                     : fmt::format("{}: wire {} to {} does harm", cable.name, wire.a, wire.b),
                       fmt::format("Pin {} of {} goes to pin {} of {}. {}", wire.a, view.a.port->id, wire.b,
                                   view.b.port->id, w.meeting.why),
                       w.two_outputs ? "Cross the pair: each output belongs to the other's input."
                                     : "Lead this wire elsewhere, or leave it out.",
                       {"cable", cable.id}});
    }
}

void check_lay(const Cable& cable, const CableView& view, Findings& out) {
    const bool same_half = cable.a.half == cable.b.half;
    const auto lay = lay_of(cable.wires, view);
    if (lay == CableLay::mirrored && view.a.connector.id == view.b.connector.id)
        out.push_back({"cable-mirrors",
                       Severity::doubt,
                       Stage::port,
                       "cable " + cable.id + " lay",
                       fmt::format("{} mirrors: pin 1 does not reach pin 1", cable.name),
                       same_half ? "Both ends are of the same gender and joined place by place."
                                 : "Its wires go place by place, as seen from the two faces.",
                       "Wire it number by number, or turn one connector to the other side of the ribbon.",
                       {"cable", cable.id}});
}

void check_numbers(const Cable& cable, const CableView& view, Findings& out) {
    std::string strangers;
    for (const auto& w : cable.wires) {
        if (!view.a.connector.contact_numbered(w.a, view.a.numbering))
            strangers += (strangers.empty() ? "" : ", ") + w.a + " (first end)";
        if (!view.b.connector.contact_numbered(w.b, view.b.numbering))
            strangers += (strangers.empty() ? "" : ", ") + w.b + " (second end)";
    }
    if (!strangers.empty())
        out.push_back({"pin-not-in-connector",
                       Severity::doubt,
                       Stage::port,
                       "cable " + cable.id + " numbers",
                       fmt::format("{}: wires to contacts that are not there", cable.name),
                       strangers + ".",
                       "Correct the numbers, or the connectors of its ends.",
                       {"cable", cable.id}});
}

}  // namespace

void check_cables(const Analysis& a, Findings& out) {
    if (!a.data) return;
    for (const auto& cable : *a.dossier.cables) {
        const auto view = view_cable(a.dossier, cable, a.data->connectors);
        if (!view) {
            out.push_back({"connector-unknown",
                           Severity::doubt,
                           Stage::port,
                           "cable " + cable.id,
                           fmt::format("{}: an end is not known", cable.name),
                           fmt::format("Found {}, expected {}.", view.error().found, view.error().expected),
                           "Choose the connector or the port of each end.",
                           {"cable", cable.id}});
            continue;
        }
        check_wires(cable, *view, *a.data, out);
        check_lay(cable, *view, out);
        check_numbers(cable, *view, out);
    }
}

}  // namespace grayrelic
