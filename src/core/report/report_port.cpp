// SPDX-License-Identifier: GPL-3.0-or-later
// Port in the report: the face and every fact of the pins, other sources, wrong ways, cables.
#include <fmt/format.h>

#include "core/base/text.hpp"
#include "core/dossier/pin_fields.hpp"
#include "core/port/pin_compare.hpp"
#include "core/port/port_analysis.hpp"
#include "core/port/tap_plan.hpp"
#include "core/report/connector_figure.hpp"
#include "core/report/html.hpp"
#include "core/report/report_sections.hpp"

namespace grayrelic {
namespace {

using namespace html;

Result<Connector> connector_of(const Analysis& a, const Port& port) {
    return a.data ? a.data->connectors.find(port.connector)
                  : fail_usage("no data files", "the folder of connectors");
}

void pins_overview(const Port& port, std::string& out) {
    Table t({{"Pin"},
             {"Name"},
             {"Driven by"},
             {"Family"},
             {"Idle"},
             {"At most", true},
             {"Evidence of the driver"}});
    for (const auto& p : port.pins) {
        std::string most;
        if (p.volts_max.value) most = print(*p.volts_max.value);
        if (p.current_max.value) most += (most.empty() ? "" : ", ") + print(*p.current_max.value);
        t.row({e(p.number), "<b>" + e(p.name.value) + "</b>", std::string(word(p.driver.value)),
               e(p.family.value), e(p.idle.value), e(most), evidence(p.driver.evidence)});
    }
    out += t.html();
}

/// Every fact that is known, with its evidence.
void pin_facts(const Port& port, std::string& out) {
    Table t({{"Pin"}, {"Fact"}, {"Value", true}, {"Evidence"}});
    for (const auto& p : port.pins) {
        for (const auto& f : pin_fields())
            if (field_known(p, f))
                t.row({e(p.number + " " + p.name.value), e(f.label), e(field_text(p, f)),
                       evidence(field_evidence(p, f))});
        if (!p.note.empty()) t.row({e(p.number + " " + p.name.value), "Note", {}, e(p.note)});
    }
    if (t.empty()) return;
    out += h3("Facts of the pins of " + port.id);
    out += t.html();
}

void write_pins(const Analysis& a, std::string& out) {
    auto said = cautions_of_report(a);
    for (const auto& port : *a.dossier.ports) {
        out += h3(port.id + " · " + port.name);
        if (const auto connector = connector_of(a, port))
            out += connector_figure(port, *connector, viewpoint_named(port.viewpoint));
        else
            out += paragraph("No drawing: " + e(connector.error().message()) + ".", true);
        if (a.data)
            for (const auto* c :
                 cautions_for(a.data->cautions, a.data->families, a.dossier, Stage::port, {}, &port))
                if (said.insert(c->id).second)
                    out += fmt::format("<p class=\"caution\"><b>{}.</b> {} {}</p>\n", e(c->title), e(c->says),
                                       sub(e(c->defer)));
        pins_overview(port, out);
        pin_facts(port, out);
        for (const auto& photo : port.photos)
            out += paragraph(
                "Photo: " + e(photo.title) + ", " + e(photo.file.empty() ? photo.outside : photo.file), true);
    }
}

void write_sources(const Analysis& a, std::string& out) {
    for (const auto& port : *a.dossier.ports)
        for (const auto& s : port.sources) {
            const auto connector = connector_of(a, port);
            const auto c =
                compare_tables(port.pins, s.pins, connector ? &*connector : nullptr, port.numbering);
            out += h3(port.id + " against " + s.name);
            auto says = fmt::format("{} agree, {} contradict, {} here only, {} there only", c.agree,
                                    c.contradict, c.only_first, c.only_second);
            if (c.best().kind != TableInterpretation::Kind::straight)
                says += fmt::format("; it would agree better {}", c.best().how);
            out += paragraph(e(says + (s.note.empty() ? "" : ". " + s.note)), true);
            Table t({{"Pin"}, {"Here"}, {"There"}, {"Differs in"}});
            for (const auto& p : c.pins) {
                std::vector<std::string> differs;
                for (const auto& d : p.differences)
                    differs.push_back(fmt::format("{}: {} / {}", d.field, d.first, d.second));
                t.row({e(p.number), e(p.first), e(p.second),
                       p.agreement == Agreement::contradict && differs.empty()
                           ? "the name"
                           : e(fmt::format("{}", fmt::join(differs, "; ")))});
            }
            out += t.html();
        }
}

void write_wrong_ways(const Analysis& a, std::string& out) {
    for (const auto& w : a.port->wrong_ways) {
        Table t({{"Way"}, {"Can it happen?"}, {"What meets"}});
        for (const auto& c : w->cases) {
            std::string worst = c.verdict == Verdict::holds ? "nothing that is harmed" : "";
            if (!c.faults.empty()) worst = c.faults.front().says;
            t.row({mark(c.verdict) + "<b>" + e(c.says) + "</b>",
                   e(std::string(word(c.possible)) + (c.why_possible.empty() ? "" : ": " + c.why_possible)),
                   e(worst)});
        }
        out += h3(w->port.id + " · " + w->port.name);
        out += t.empty() ? paragraph("Turned, mirrored or shifted, none of its contacts meets another.")
                         : t.html();
        for (const auto& r : w->help) out += paragraph(e(r.says));
        if (w->bricks.empty()) continue;
        Table bricks({{"Supply with that plug"}, {"Without protection"}, {"What it does"}});
        for (const auto& b : w->bricks)
            bricks.row({mark(b.verdict) + "<b>" + e(b.brick.name) + "</b>", mark(b.unprotected), e(b.says)});
        out += h3(w->port.id + " · the wrong supply") + bricks.html();
    }
}

void write_taps(const Analysis& a, std::string& out) {
    for (const auto& port : *a.dossier.ports) {
        if (port.taps == TapPlan{} || !a.data) continue;
        const auto connector = a.data->connectors.find(port.connector);
        const auto s =
            plan_taps(port, connector ? &*connector : nullptr, a.data->families, a.data->analysers);
        out += h3(port.id + " · how to record it");
        out += paragraph(e(fmt::format(
            "{} at {}, for {}. Ground: {}", s.analyser == nullptr ? "" : s.analyser->name,
            print_number(s.rate_hz, Unit::hertz), print_number(s.seconds, Unit::second, 2), s.ground_says)));
        Table t({{"Pin"}, {"Line"}, {"How"}, {"Why"}});
        for (const auto& l : s.lines)
            t.row({e(l.pin), mark(l.verdict) + e(l.name), e(std::string(word(l.way))), e(l.says)});
        out += t.html();
        for (const auto& x : s.steps) out += paragraph(e(fmt::format("{}: {}", x.what, x.how)));
        for (const auto& d : s.doubts) out += paragraph(e(d), true);
    }
}

void write_cables(const Analysis& a, std::string& out) {
    for (const auto& cable : *a.dossier.cables) {
        out += h3("Cable " + cable.name);
        const auto end = [](const CableEnd& x) {
            return x.label.empty() ? x.port.empty() ? x.connector : x.port : x.label;
        };
        out += paragraph(e(fmt::format("from {} to {}", end(cable.a), end(cable.b)) +
                           (cable.note.empty() ? "" : ". " + cable.note)),
                         true);
        Table t({{"From"}, {"To"}, {"Colour"}, {"Note"}});
        for (const auto& w : cable.wires) t.row({e(w.a), e(w.b), e(w.colour), e(w.note)});
        out += t.html();
    }
}

}  // namespace

std::vector<ReportSection> port_sections() {
    return {
        {Stage::port, "port-pins", "Pins", [](const Analysis& a) { return !a.dossier.ports->empty(); },
         write_pins},
        {Stage::port, "port-sources", "Sources",
         [](const Analysis& a) {
             return std::any_of(a.dossier.ports->begin(), a.dossier.ports->end(),
                                [](const Port& p) { return !p.sources.empty(); });
         },
         write_sources},
        {Stage::port, "port-wrong-ways", "Wrong ways to plug",
         [](const Analysis& a) { return !a.port->wrong_ways.empty(); }, write_wrong_ways},
        {Stage::port, "port-cables", "Cables", [](const Analysis& a) { return !a.dossier.cables->empty(); },
         write_cables},
        {Stage::port, "port-taps", "How it is recorded",
         [](const Analysis& a) {
             return std::any_of(a.dossier.ports->begin(), a.dossier.ports->end(),
                                [](const Port& p) { return p.taps != TapPlan{}; });
         },
         write_taps},
    };
}

}  // namespace grayrelic
