// SPDX-License-Identifier: GPL-3.0-or-later
// Cables: outputs joined to outputs, supplies led astray, grounds that are missing, ribbons that mirror what
// they join, and the levels of what they carry.
#include <fmt/format.h>

#include <algorithm>

#include "core/checks/line_findings.hpp"
#include "core/checks/registry.hpp"
#include "core/port/cable.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

/// Subjects by what stays when other wires change.
std::string subject(const Cable& cable, const CableFault& f) {
    if (f.wires.empty()) return fmt::format("cable {} {}", cable.id, f.says);
    return fmt::format("cable {} wire {}", cable.id, cable.wires[f.wires.front()].a);
}

/// Says whether transmit is wired to transmit: what reads nobody then follows from it.
bool check_faults(const Cable& cable, const CableView& view, const DataLibrary& data, Findings& out) {
    bool uncrossed = false;
    for (const auto& f : judge_cable(cable, view, data.families)) {
        uncrossed = uncrossed || f.kind == CableFault::Kind::transmit_to_transmit;
        out.push_back({std::string(word(f.kind)),
                       f.verdict == Verdict::stop ? Severity::stop : Severity::doubt,
                       Stage::port,
                       f.kind == CableFault::Kind::path || f.kind == CableFault::Kind::transmit_to_transmit
                           ? subject(cable, f)
                           : fmt::format("{} {}", subject(cable, f), word(f.kind)),
                       f.says,
                       f.why,
                       f.todo,
                       {"cable", cable.id}});
    }
    return uncrossed;
}

/// Levels, pulls and inputs of the wires, as links.
void check_wires(const Cable& cable, const CableLinks& links, bool uncrossed, Findings& out) {
    for (std::size_t i = 0; i < links.study.lines.size(); ++i) {
        const auto& line = links.study.lines[i];
        Findings found;
        bool pull = false, fights = false;
        for (const auto& f : line.faults) {
            pull = pull || f.kind == LineFault::no_pull;
            // Two that drive are said of the cable itself.
            const bool drive = f.kind == LineFault::contention || f.kind == LineFault::may_contend;
            fights = fights || drive;
            if (drive || f.verdict == Verdict::holds) continue;
            if (uncrossed && f.kind == LineFault::floats && line.drivers.empty()) continue;
            found.push_back(
                {id_of(f.kind), severity_of_link(f.verdict), Stage::port, {}, f.says, f.why, f.todo, {}});
        }
        if (!fights) find_levels(links.circuit, links.study, line, pull, found);
        for (auto& f : found) {
            f.stage = Stage::port;
            f.subject = fmt::format("cable {} line {} {}", cable.id, line.name, f.id);
            f.says = fmt::format("{}: {}", cable.name, f.says);
            f.place = {"cable", cable.id};
            out.push_back(std::move(f));
        }
    }
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
        const bool uncrossed = check_faults(cable, *view, *a.data, out);
        if (!a.wire) continue;
        for (const auto& links : a.wire->cables)
            if (links.cable == cable.id) check_wires(cable, links, uncrossed, out);
    }
}

}  // namespace grayrelic
