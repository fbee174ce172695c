// SPDX-License-Identifier: GPL-3.0-or-later
// Trace in the report: how much is proven, the ledger, parts, scans, the netlist, the circuit, donors.
#include <fmt/format.h>

#include <algorithm>

#include "core/base/quantity.hpp"
#include "core/base/text.hpp"
#include "core/dossier/reading_text.hpp"
#include "core/dossier/stage_content.hpp"
#include "core/report/circuit_sheets.hpp"
#include "core/report/html.hpp"
#include "core/report/report_sections.hpp"

namespace grayrelic {
namespace {

using namespace html;

std::string many(std::size_t n) {
    return print_count(static_cast<long long>(n));
}

void write_state(const Analysis& a, std::string& out) {
    const auto& t = *a.trace;
    out += paragraph(
        fmt::format("{} of the board is proven: {} points in {} nets, {} readings, about {} "
                    "probes left; probing every pair would take {}.",
                    e(print_share(t.state.proven())), many(t.state.net_of.size()), many(t.state.nets.size()),
                    many(a.dossier.readings->size()), many(static_cast<std::size_t>(t.plan.remaining)),
                    many(static_cast<std::size_t>(t.plan.every_pair))));
    Table next({{"Next probe"}, {"Against"}, {"Why"}});
    for (const auto& p : t.plan.next) next.row({e(t.name(p.a)), e(t.name(p.b)), e(p.why)});
    out += next.html();
    Table wrong({{"Contradiction"}, {"Readings that join them"}});
    for (const auto& c : t.state.contradictions) {
        std::vector<int> rows;
        for (const int r : c.chain) rows.push_back(r + 1);
        wrong.row({e(fmt::format("{} and {} are said to be apart by reading {}", t.name(c.a), t.name(c.b),
                                 c.apart + 1)),
                   fmt::format("{}", fmt::join(rows, ", "))});
    }
    out += wrong.html();
    Table issues({{"What the parts' pins do not allow"}, {"Why"}});
    for (const auto& i : t.issues) issues.row({e(i.says), e(i.why)});
    out += issues.html();
}

void write_ledger(const Analysis& a, std::string& out) {
    const auto& readings = *a.dossier.readings;
    Table t({{"No.", true}, {"From"}, {"To"}, {"Reading", true}, {"With, when"}, {"Note"}});
    for (std::size_t i = 0; i < std::min(readings.size(), most_rows); ++i) {
        const auto& r = readings[i];
        auto how = r.tool;
        if (!r.date.empty()) how += (how.empty() ? "" : ", ") + r.date;
        auto note = r.note;
        if (!r.set_aside.empty()) note += (note.empty() ? "" : "; ") + ("set aside: " + r.set_aside);
        t.row({std::to_string(i + 1), e(r.a), e(r.b), e(show_reading(r)), e(how), e(note)});
    }
    out += t.html() + more_rows(readings.size());
}

void write_parts(const Analysis& a, std::string& out) {
    const auto& trace = *a.dossier.trace;
    Table t({{"Part"}, {"What it is"}, {"Value"}, {"Where (mm)", true}, {"Evidence"}});
    for (const auto& p : trace.parts)
        t.row({"<b>" + e(p.ref) + "</b>", e(p.type + (p.package.empty() ? "" : ", " + p.package)), e(p.value),
               p.x_mm && p.y_mm ? fmt::format("{:.1f}, {:.1f} {}", *p.x_mm, *p.y_mm, word(p.side)) : "·",
               evidence(p.evidence)});
    out += t.html();
    Table donors({{"Donor part"}, {"From"}, {"To"}, {"Solderings", true}, {"State"}});
    for (const auto& d : trace.donors) {
        constexpr int usual_limit = 3;
        auto state = d.verdict;
        for (const auto& more : {d.condition, d.cleaning, d.note})
            if (!more.empty()) state += (state.empty() ? "" : "; ") + more;
        donors.row({"<b>" + e(d.part) + "</b>", e(d.from), e(d.to),
                    fmt::format("{} of {}", d.heat_cycles, d.heat_limit > 0 ? d.heat_limit : usual_limit),
                    e(state)});
    }
    if (!donors.empty()) out += h3("Taken from donors") + donors.html();
}

void write_scans(const Analysis& a, std::string& out) {
    Table t({{"Scan"}, {"Side"}, {"Corrections", true}, {"What came of it"}});
    const auto* made = a.trace ? a.trace->scan.get() : nullptr;
    for (std::size_t i = 0; i < a.dossier.trace->scans.size(); ++i) {
        const auto& s = a.dossier.trace->scans[i];
        std::string says = "not read";
        if (made != nullptr && i < made->problems.size())
            says = made->problems[i].empty() ? "read" : made->problems[i];
        t.row({"<b>" + e(s.title) + "</b>", std::string(word(s.side)), many(s.strokes.size()), e(says)});
    }
    out += t.html();
    if (made == nullptr) return;
    if (!made->problem.empty()) out += paragraph(e(made->problem));
    if (made->scanned)
        out += paragraph(
            fmt::format("The board is {:.2f} × {:.2f} mm, with {} holes, {} pads and {} nets of copper.",
                        made->scanned->width_mm, made->scanned->height_mm, many(made->scanned->holes.size()),
                        many(made->scanned->pads.size()), made->scanned->nets));
}

void write_netlist(const Analysis& a, std::string& out) {
    const auto& trace = *a.dossier.trace;
    for (const auto& s : trace.netlists)
        out += paragraph(
            e(fmt::format("{}: {} nets{}", s.name, many(s.nets.size()), s.note.empty() ? "" : ", " + s.note)),
            &s != trace.reference());
    if (a.trace && a.trace->comparison) {
        const auto& c = *a.trace->comparison;
        out += paragraph(e(plural(c.same, "net is", "nets are") + " as in the netlist."));
        Table t({{"Difference"}, {"What"}});
        for (const auto& s : c.swapped)
            t.row({s.harmless ? "exchanged, harmless" : "exchanged", e(s.a + " and " + s.b)});
        for (const auto& p : c.turned) t.row({e(p.how), e(p.ref)});
        const auto merges = [&](const char* what, const std::vector<NetMerge>& list) {
            for (const auto& m : list)
                t.row({what, e(fmt::format("{}: {}", m.net, fmt::join(m.nets, ", ")))});
        };
        merges("one net here", c.joined);
        merges("apart here", c.split);
        merges("not proven", c.unproven);
        const auto points = [&](const char* what, const std::vector<PointOfNet>& list) {
            for (const auto& p : list) t.row({what, e(p.point + " of " + p.net)});
        };
        points("in the netlist only", c.missing);
        points("on the board only", c.extra);
        out += t.html();
    }
    Table deviations({{"Departs on purpose"}, {"What"}, {"Why"}});
    for (const auto& d : trace.deviations) deviations.row({e(d.subject), e(d.says), e(d.reason)});
    out += deviations.html();
}

void write_circuit(const Analysis& a, std::string& out) {
    Table nets({{"Net"}, {"Points"}});
    const auto list = recovered_nets(*a.trace);
    for (std::size_t i = 0; i < std::min(list.size(), most_rows); ++i)
        nets.row({"<b>" + e(list[i].name) + "</b>", e(fmt::format("{}", fmt::join(list[i].points, " ")))});
    out += nets.html() + more_rows(list.size());
    if (!a.data) return;
    for (const auto& s : circuit_sheets(*a.trace, a.dossier, a.data->parts)) {
        out += h3(s.title);
        out +=
            paragraph(fmt::format("{} wires, {} of them not proven by readings", s.wires, s.unproven), true);
        out += s.picture.finish() + "\n";
    }
}

bool traced(const Analysis& a) {
    return has_content(a.dossier, Stage::trace) && a.trace && !a.trace->empty();
}

}  // namespace

std::vector<ReportSection> trace_sections() {
    return {
        {Stage::trace, "trace-probe", "What is proven", traced, write_state},
        {Stage::trace, "trace-ledger", "Ledger",
         [](const Analysis& a) { return !a.dossier.readings->empty(); }, write_ledger},
        {Stage::trace, "trace-board", "Scans",
         [](const Analysis& a) { return !a.dossier.trace->scans.empty(); }, write_scans},
        {Stage::trace, "trace-netlist", "Netlist",
         [](const Analysis& a) {
             return !a.dossier.trace->netlists.empty() || !a.dossier.trace->deviations.empty();
         },
         write_netlist},
        {Stage::trace, "trace-circuit", "Recovered circuit", traced, write_circuit},
        {Stage::trace, "trace-parts", "Parts",
         [](const Analysis& a) {
             return !a.dossier.trace->parts.empty() || !a.dossier.trace->donors.empty();
         },
         write_parts},
    };
}

}  // namespace grayrelic
