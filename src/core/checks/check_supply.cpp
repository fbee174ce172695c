// SPDX-License-Identifier: GPL-3.0-or-later
// Supplies and grounds of a port: a limit for each supply, grounds enough, and what stands beside them. Also
// pins whose connector has no such contact.
#include <fmt/format.h>
#include <algorithm>

#include <cmath>
#include <set>

#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/port/cable.hpp"

namespace grayrelic {
namespace {

/// One ground contact carries the return of about this many signals before they disturb one another.

void check_limits(const Port& port, Findings& out) {
    std::set<std::string> said;  // several contacts of one rail are one finding
    for (const auto& pin : port.pins)
        if (role_of(pin) == PinRole::rail && pin.current_max.value && !pin.name.value.empty())
            said.insert(pin.name.value);
    for (const auto& pin : port.pins) {
        if (role_of(pin) != PinRole::rail || pin.current_max.value) continue;
        if (!pin.name.value.empty() && !said.insert(pin.name.value).second) continue;
        out.push_back({"supply-without-limit",
                       Severity::doubt,
                       Stage::port,
                       fmt::format("pin {}/{} limit", port.id, pin.number),
                       fmt::format("{} {}: no limit recorded", port.id,
                                   pin.name.value.empty() ? pin.number : pin.name.value),
                       "How much current it may give is not known.",
                       "Find its fuse, its regulator or its documented limit before anything draws from it.",
                       {"pin", port.id + "/" + pin.number}});
    }
}

/// A bare matrix's lines: contacts between them only, and nothing to have a ground for.
bool only_matrix_lines(const Port& port, const SwitchMatrix& matrix) {
    const auto has = [&](const std::string& name) {
        return std::find(matrix.rows.begin(), matrix.rows.end(), name) != matrix.rows.end() ||
               std::find(matrix.columns.begin(), matrix.columns.end(), name) != matrix.columns.end();
    };
    return !port.pins.empty() &&
           std::all_of(port.pins.begin(), port.pins.end(), [&](const Pin& p) { return has(p.name.value); });
}

void check_grounds(const Port& port, const SwitchMatrix& matrix, Findings& out) {
    if (only_matrix_lines(port, matrix)) return;
    long grounds = 0, signals = 0, used = 0;
    for (const auto& pin : port.pins) {
        const auto role = role_of(pin);
        grounds += role == PinRole::ground ? 1 : 0;
        signals += role == PinRole::signal ? 1 : 0;
        used += role == PinRole::signal || role == PinRole::rail ? 1 : 0;
    }
    if (used > 0 && grounds == 0)
        out.push_back(
            {"ground-missing",
             Severity::doubt,
             Stage::port,
             "port " + port.id + " ground",
             fmt::format("{} has no ground", port.id),
             fmt::format("{} recorded, none of them is ground.", plural(used, "pin is", "pins are")),
             "Find the ground first: beep against the shell, a shield or a regulator's middle leg.",
             {"port", port.id}});
    else if (grounds == 1 && signals > signals_per_ground)
        out.push_back({"ground-single",
                       Severity::note,
                       Stage::port,
                       "port " + port.id + " ground",
                       fmt::format("{}: one ground for {} signals", port.id, signals),
                       fmt::format("More than {} signals share one return; edges disturb each other.",
                                   signals_per_ground),
                       "Keep the cable short, slow the edges, or look for a second ground.",
                       {"port", port.id}});
}

/// With its part at its highest supply.
std::optional<double> endures(const Terminal& t) {
    return t.family == nullptr ? std::nullopt
                               : std::optional(t.family->input_limit_v(t.family->supply_max_v));
}

bool is_sensitive(const Terminal& t, double rail) {
    const auto most = endures(t);
    return t.kind == Terminal::Kind::input && most && (rail > *most || rail < t.family->limit_low_v);
}

void check_neighbours(const Port& port, const Connector& c, const FamilyLibrary& families, Findings& out) {
    const double reach = 1.3 * c.pitch_mm();
    for (const auto& rail : port.pins) {
        const auto volts = rail_volts(rail);
        const auto i = c.contact_numbered(rail.number, port.numbering);
        if (role_of(rail) != PinRole::rail || !volts || !i) continue;
        for (const auto& pin : port.pins) {
            const auto j = c.contact_numbered(pin.number, port.numbering);
            if (!j || i == j) continue;
            const auto &a = c.contacts[*i], &b = c.contacts[*j];
            if (std::hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm) > reach) continue;
            const auto t = terminal(&pin, pin.number, port.side, true, families);
            if (!is_sensitive(t, *volts)) continue;
            out.push_back(
                {"supply-beside-input",
                 Severity::note,
                 Stage::port,
                 fmt::format("pin {}/{} beside {}", port.id, pin.number, rail.number),
                 fmt::format("{} {} stands beside {}", port.id, t.name, rail.name.value),
                 fmt::format("It endures {}; {} is one slipped probe or one whisker away.",
                             print_number(*endures(t), Unit::volt), print_number(*volts, Unit::volt)),
                 "Sleeve the solder cups, and probe them with insulated tips.",
                 {"pin", port.id + "/" + pin.number}});
        }
    }
}

/// What nobody can read protects nothing.
void check_protection(const Port& port, Findings& out) {
    for (const auto& pin : port.pins) {
        const auto read = protection_from_text(pin.protection.value);
        if (read) continue;
        out.push_back({"protection-unread",
                       Severity::doubt,
                       Stage::port,
                       fmt::format("pin {}/{} protection", port.id, pin.number),
                       fmt::format("{}/{}: its protection is not understood", port.id, pin.number),
                       fmt::format("Found {}, expected {}.", read.error().found, read.error().expected),
                       "Write it so; until then the contact is judged as not protected.",
                       {"pin", port.id + "/" + pin.number}});
    }
}

void check_contacts(const Port& port, const Connector& c, Findings& out) {
    std::string strangers;
    for (const auto& pin : port.pins)
        if (!c.contact_numbered(pin.number, port.numbering))
            strangers += (strangers.empty() ? "" : ", ") + pin.number;
    if (strangers.empty()) return;
    out.push_back({"pin-not-in-connector",
                   Severity::doubt,
                   Stage::port,
                   "port " + port.id + " numbers",
                   fmt::format("{}: pins that {} does not have", port.id, c.name),
                   strangers + ".",
                   "Correct the numbers, or choose the connector's kind or numbering.",
                   {"port", port.id}});
}

}  // namespace

void check_supply(const Analysis& a, Findings& out) {
    for (const auto& port : *a.dossier.ports) {
        check_limits(port, out);
        check_grounds(port, a.dossier.map->matrix, out);
        check_protection(port, out);
        if (!a.data || port.connector.empty()) continue;
        const auto connector = a.data->connectors.find(port.connector);
        if (!connector) {
            out.push_back({"connector-unknown",
                           Severity::doubt,
                           Stage::port,
                           "port " + port.id + " connector",
                           fmt::format("{}: connector {} is not known", port.id, in_quotes(port.connector)),
                           "Its contacts can't be drawn, and no wrong way to plug it can be judged.",
                           "Choose one of the library, or add a data file for it.",
                           {"port", port.id}});
            continue;
        }
        check_contacts(port, *connector, out);
        check_neighbours(port, *connector, a.data->families, out);
    }
}

}  // namespace grayrelic
