// SPDX-License-Identifier: GPL-3.0-or-later
// Wire in the report: the ribbons, each line with its margins, the values, the packages.
#include <fmt/format.h>

#include "core/base/quantity.hpp"
#include "core/report/html.hpp"
#include "core/report/report_sections.hpp"
#include "core/report/wire_figure.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

using namespace html;

std::string margin_text(const std::optional<double>& v) {
    return v ? e(print_number(*v, Unit::volt)) : std::string("open");
}

void write_lines(const Analysis& a, std::string& out) {
    const auto& w = *a.wire;
    if (!w.ribbons.empty()) {
        const auto drawing = draw_ribbons(w, 860);
        out += drawing_svg(drawing, "From the old connector to the modern side");
    }
    Table t({{"Line"}, {"From"}, {"To"}, {"High margin", true}, {"Low margin", true}, {"Why"}});
    std::size_t rows = 0;
    for (const auto& line : w.study.lines) {
        for (const auto& f : line.faults)
            t.row({mark(f.verdict) + e(line.name), {}, {}, {}, {}, e(f.says + ". " + f.why)});
        for (const auto i : line.links) {
            if (++rows > most_rows) break;
            const auto& l = w.study.links[i];
            t.row({mark(l.levels.verdict) + e(line.name), e(w.circuit.name_of(w.circuit.drivers[l.driver])),
                   e(w.circuit.name_of(w.circuit.receivers[l.receiver])), margin_text(l.levels.high_margin_v),
                   margin_text(l.levels.low_margin_v), e(l.levels.why)});
        }
    }
    out += t.html() + more_rows(w.study.links.size());
    if (!w.circuit.text.text.empty()) out += h3("Netlist") + "<pre>" + e(w.circuit.text.text) + "</pre>\n";
}

void write_values(const Analysis& a, std::string& out) {
    for (const auto& v : a.wire->values) {
        out += h3(v.value.name);
        if (!v.problem.empty()) {
            out += paragraph(e(v.problem));
            continue;
        }
        out += paragraph(mark(v.verdict) + e(label(*v.kind)) + (v.why.empty() ? "" : ". " + e(v.why)));
        Table t({{"Number"}, {"Value", true}, {"Evidence"}});
        for (const auto& n : v.value.numbers)
            if (const auto* p = find_parameter(*v.kind, n.key))
                t.row({e(p->label), e(print_measure(n.value.value, p->measure)), evidence(n.value.evidence)});
        for (const auto& [key, ref] : v.value.parts)
            if (const auto* p = find_parameter(*v.kind, key); p != nullptr && v.inputs.count(key) != 0)
                t.row({e(p->label), e(print_measure(v.inputs.at(key), p->measure)), "part " + e(ref)});
        if (v.result)
            for (const auto& f : v.result->figures)
                if (f.value) t.row({e(f.label), e(print_measure(*f.value, f.measure)), "follows"});
        out += t.html();
        Table wrong({{"Fitted by mistake"}, {"Value", true}, {"Then"}});
        for (const auto& fit : v.fits)
            for (const auto& w : fit.wrong) {
                const auto* p = find_parameter(*v.kind, fit.key);
                wrong.row({mark(w.verdict) + e((fit.ref.empty() ? fit.key : fit.ref) + ": " + w.what),
                           e(print_measure(w.fitted, p->measure)), e(w.why)});
            }
        out += wrong.html();
    }
}

void write_packages(const Analysis& a, std::string& out) {
    Table t({{"Part"}, {"Which"}, {"Package"}, {"Can I solder this?"}, {"Easier"}});
    for (const auto& s : a.wire->solder) {
        std::string refs, easier;
        for (const auto& r : s.refs) refs += (refs.empty() ? "" : " ") + r;
        for (const auto& x : s.easier) easier += (easier.empty() ? "" : ", ") + x;
        for (const auto& x : s.instead) easier += (easier.empty() ? "" : ", ") + x;
        t.row({mark(s.verdict) + e(s.part), e(refs), e(s.package), e(s.why), e(easier)});
    }
    out += t.html();
}

}  // namespace

std::vector<ReportSection> wire_sections() {
    return {{Stage::wire, "wire-lines", "Lines",
             [](const Analysis& a) { return a.wire && !a.wire->circuit.empty(); }, write_lines},
            {Stage::wire, "wire-values", "Values",
             [](const Analysis& a) { return a.wire && !a.wire->values.empty(); }, write_values},
            {Stage::wire, "wire-packages", "Can I solder this?",
             [](const Analysis& a) { return a.wire && !a.wire->solder.empty(); }, write_packages}};
}

}  // namespace grayrelic
