// SPDX-License-Identifier: GPL-3.0-or-later
// Destructive ways to plug a port that no key prevents, and ports of one shape that take each other's plugs.
#include <fmt/format.h>

#include <cmath>

#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/port/port_analysis.hpp"

namespace grayrelic {
namespace {

std::string first_stop(const WrongCase& c) {
    for (const auto& x : c.collisions)
        if (x.verdict == Verdict::stop) return x.why;
    return {};
}

void check_own(const WrongWays& w, Findings& out) {
    const auto& port = w.port;
    std::string ways, why;
    long n = 0;
    for (const auto& c : w.cases) {
        // Forced ways are said with the drawing; only what goes in easily is a finding.
        if (c.verdict != Verdict::stop || c.possible != Possible::easy) continue;
        ways += (n++ == 0 ? "" : "; ") + c.says;
        if (why.empty()) why = first_stop(c);
    }
    if (n == 0) return;
    const auto& help = w.help;
    out.push_back({"misinsert-destroys",
                   Severity::doubt,
                   Stage::port,
                   "port " + port.id + " wrong ways",
                   fmt::format("{} can be destroyed by plugging: no key", port.id),
                   ways + ". " + why,
                   help.empty() ? "Mark both halves, and plug with the power off."
                   : help.front().stops_after > 0
                       ? help.front().says + " Mark both halves all the same, and plug with the power off."
                       : help.front().says,
                   {"wrong-ways", port.id}});
}

/// A jack that a usual supply destroys; whether one of the right size but the wrong way round does weighs
/// most.
void check_bricks(const WrongWays& w, Findings& out) {
    const auto wants = jack_wants(w.port, w.connector);
    if (!wants) return;
    const BrickCase* worst = nullptr;
    long stops = 0;
    bool turned = false;
    for (const auto& b : w.bricks) {
        if (b.verdict != Verdict::stop) continue;
        ++stops;
        const bool small = !b.brick.alternating && std::abs(b.brick.volts) <= std::abs(wants->volts) * 1.12;
        if (worst == nullptr || (small && !turned)) worst = &b;
        turned = turned || small;
    }
    if (worst == nullptr) return;
    out.push_back(
        {"brick-destroys",
         turned ? Severity::doubt : Severity::note,
         Stage::port,
         "port " + w.port.id + " supplies",
         fmt::format("{}: {} of {} usual supplies with this plug destroy it", w.port.id, stops,
                     w.bricks.size()),
         fmt::format("{}: {}", worst->brick.name, worst->says),
         turned ? "Put a P-channel transistor or a diode behind the jack, or mark it with volts and polarity."
                : "Mark the jack with its volts; a clamp or a fuse behind it keeps the larger ones out.",
         {"wrong-ways", w.port.id}});
}

void check_pair(const Port& a, const Connector& ca, const Port& b, const Connector& cb,
                const DataLibrary& data, Findings& out) {
    if (!goes_into(cb, ca)) return;
    const Face socket{&ca, a.numbering, &a.pins, a.side}, plug{&cb, b.numbering, &b.pins, b.side};
    for (const auto& c : wrong_cases(socket, plug, data.families)) {
        if (c.id != "wrong-port" || c.verdict != Verdict::stop) continue;
        out.push_back({"misinsert-destroys",
                       Severity::doubt,
                       Stage::port,
                       fmt::format("ports {} {}", a.id, b.id),
                       fmt::format("What belongs into {} also fits {}", b.id, a.id),
                       first_stop(c),
                       "Mark the ports, or give one of the cables another shell.",
                       {"wrong-ways", a.id}});
    }
}

}  // namespace

void check_misinsert(const Analysis& a, Findings& out) {
    if (!a.data) return;
    struct Known {
        const Port* port;
        Connector connector;
    };
    std::vector<Known> known;
    for (const auto& port : *a.dossier.ports)
        if (auto c = a.data->connectors.find(port.connector)) known.push_back({&port, std::move(*c)});
    for (const auto& w : a.port->wrong_ways) {
        check_own(*w, out);
        check_bricks(*w, out);
    }
    for (const auto& x : known)
        for (const auto& y : known)
            if (&x != &y && x.port->side == y.port->side && known.size() <= 20)
                check_pair(*x.port, x.connector, *y.port, y.connector, *a.data, out);
}

}  // namespace grayrelic
