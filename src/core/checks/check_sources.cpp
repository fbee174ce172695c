// SPDX-License-Identifier: GPL-3.0-or-later
// Second sources that contradict the port, and what would make them agree. Facts of a port that nobody has
// measured although a verdict rests on them.
#include <fmt/format.h>

#include "core/base/text.hpp"
#include "core/checks/registry.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/port/pin_compare.hpp"

namespace grayrelic {
namespace {

void check_source(const Analysis& a, const Port& port, const PinSource& source, Findings& out) {
    std::optional<Connector> connector;
    if (a.data)
        if (auto found = a.data->connectors.find(port.connector)) connector = std::move(*found);
    const auto c = compare_tables(port.pins, source.pins, connector ? &*connector : nullptr, port.numbering);
    if (c.contradict == 0) return;
    std::string which;
    long shown = 0;
    for (const auto& p : c.pins)
        if (p.agreement == Agreement::contradict && shown++ < 4)
            which += fmt::format("{}{}: {} or {}", which.empty() ? "" : "; ", p.number, p.first, p.second);
    Finding f{"source-contradicts",
              Severity::doubt,
              Stage::port,
              fmt::format("source {}/{}", port.id, source.id),
              fmt::format("{}: {} contradicts the port at {}", port.id, source.name,
                          plural(c.contradict, "pin", "pins")),
              which + (shown > 4 ? " …" : "."),
              "Measure one of these pins; it decides which source is right.",
              {"source", port.id + "/" + source.id}};
    if (const auto& best = c.best(); best.kind != TableInterpretation::Kind::straight) {
        f.why +=
            fmt::format(" It would agree at {} of {} if it is {}.", best.matched, best.compared, best.how);
        f.todo = "Find out from which side it was drawn, then read it so and take it over pin by pin.";
    }
    out.push_back(std::move(f));
}

/// Supplies decide whether something burns; drivers decide what meets what.
void check_assumed_facts(const Port& port, Findings& out) {
    std::string names;
    long n = 0;
    for (const auto& p : port.pins) {
        const bool rail =
            role_of(p) == PinRole::rail && (p.volts_max.value || p.volts_min.value) &&
            (p.volts_max.value ? p.volts_max : p.volts_min).evidence.kind == EvidenceKind::assumed;
        const bool driver =
            p.driver.value != Driver::unknown && p.driver.evidence.kind == EvidenceKind::assumed;
        if (rail || driver)
            names += fmt::format("{}{} {}", n++ == 0 ? "" : ", ",
                                 p.name.value.empty() ? p.number : p.name.value, rail ? "voltage" : "driver");
    }
    if (n == 0) return;
    out.push_back({"rests-on-assumed",
                   Severity::doubt,
                   Stage::port,
                   "port " + port.id + " assumed",
                   fmt::format("{} rests on {}", port.id, n == 1 ? "an assumed fact" : "assumed facts"),
                   names + ".",
                   "Measure it: what may be plugged in is judged by it.",
                   {"port", port.id}});
}

}  // namespace

void check_sources(const Analysis& a, Findings& out) {
    for (const auto& port : *a.dossier.ports) {
        check_assumed_facts(port, out);
        for (const auto& source : port.sources)
            if (source.id != "earlier") check_source(a, port, source, out);
    }
}

}  // namespace grayrelic
