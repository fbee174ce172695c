// SPDX-License-Identifier: GPL-3.0-or-later
// Rails, settings, pins and ways to build in the report.
#include <fmt/format.h>

#include "core/base/quantity.hpp"
#include "core/job/schools.hpp"
#include "core/report/html.hpp"
#include "core/report/rails_figure.hpp"
#include "core/report/report_sections.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic {
namespace {

using namespace html;

std::string unit_text(double v, Unit unit) {
    return e(print_number(v, unit));
}

void write_mode(const RailStudy& s, const RailModeFigures& m, std::string& out) {
    out += h3(m.mode.empty() ? "All plugged in" : m.mode);
    out += drawing_svg(draw_rails(s.tree, m, 860), "What flows from the sources to the loads");
    Table rails({{"Rail"},
                 {"Least", true},
                 {"Volts", true},
                 {"Most", true},
                 {"Current", true},
                 {"At most", true},
                 {"Says"}});
    for (const auto& r : m.rails)
        rails.row({mark(r.verdict) + e(r.name), unit_text(r.least, Unit::volt),
                   unit_text(r.volts, Unit::volt), unit_text(r.most, Unit::volt),
                   unit_text(r.load_a, Unit::ampere),
                   r.limit_a ? unit_text(*r.limit_a, Unit::ampere) : std::string("not said"), e(r.why)});
    out += rails.html();
    Table parts({{"Part"},
                 {"Current", true},
                 {"Loss", true},
                 {"Junction", true},
                 {"To spare", true},
                 {"Says"},
                 {"From"}});
    for (std::size_t i = 0; i < m.parts.size(); ++i) {
        const auto& p = m.parts[i];
        const auto& place = s.tree.parts[i].place;
        parts.row({mark(p.verdict) + e(p.ref), unit_text(p.amps, Unit::ampere),
                   unit_text(p.loss_w, Unit::watt),
                   p.junction_c ? fmt::format("{:.0f} °C", *p.junction_c) : std::string(),
                   p.headroom_v ? unit_text(*p.headroom_v, Unit::volt) : std::string(), e(p.why),
                   e(place.line > 0 ? fmt::format("line {}", place.line) : place.because)});
    }
    out += parts.html();
}

void write_happenings(const RailStudy& s, std::string& out) {
    Table t({{"When"}, {"Says"}});
    for (const auto& b : s.back_feed) t.row({mark(b.verdict) + e(b.when), e(b.why + " " + b.todo)});
    if (s.back_feed.empty() && s.tree.sources.size() > 1)
        t.row({mark(Verdict::holds) + "any plugs in or out", "nothing flows backwards"});
    for (const auto& w : s.switched)
        for (const auto& [verdict, why] :
             {std::pair(w.conducts, w.conducts_why), std::pair(w.opens, w.opens_why),
              std::pair(w.lift, w.lift_why), std::pair(w.resets, w.resets_why)})
            if (!why.empty()) t.row({mark(verdict) + e(w.ref + " switches " + w.rail), e(why)});
    for (const auto& i : s.inrush)
        t.row({mark(i.verdict) + e(i.source + " goes in"),
               e(!i.why.empty()
                     ? i.why
                     : fmt::format("{} charged with {} at first", print_number(i.farad, Unit::farad),
                                   i.peak_a ? print_number(*i.peak_a, Unit::ampere) : std::string("?")))});
    for (const auto& o : s.orders) t.row({mark(o.verdict) + e(o.first + " before " + o.then), e(o.why)});
    for (const auto& b : s.batteries) {
        std::string text;
        for (const auto& m : b.modes)
            if (m.hours) text += fmt::format("{:.3g} h{}; ", *m.hours, m.mode.empty() ? "" : " in " + m.mode);
        if (b.threshold_v)
            text += fmt::format("shut down below {}. ", print_number(*b.threshold_v, Unit::volt));
        t.row({mark(b.verdict) + e(b.source + " runs"), e(text + b.why)});
    }
    for (const auto& h : s.harvests)
        t.row({mark(h.verdict) + e("lines feed " + h.rail),
               e(fmt::format("{} at {}. {}", print_number(h.amps, Unit::ampere),
                             print_number(h.volts, Unit::volt), h.why))});
    out += h3("Plugs, switches, batteries") + t.html();
}

void write_rails(const Analysis& a, std::string& out) {
    const auto& s = a.wire->rails;
    for (const auto& f : s.faults)
        out += paragraph(mark(Verdict::stop) +
                         e(fmt::format("Line {}: found {}, expected {}.", f.line, f.found, f.expected)));
    for (const auto& m : s.modes) write_mode(s, m, out);
    for (const auto& m : s.alone)
        if (m.verdict() != Verdict::holds) write_mode(s, m, out);
    if (!s.modes.empty()) write_happenings(s, out);
    if (!a.dossier.wire->rails.empty())
        out += h3("In words") + "<pre>" + e(a.dossier.wire->rails) + "</pre>\n";
}

void write_settings(const Analysis& a, std::string& out) {
    Table t({{"Setting"}, {"Position"}, {"Volts", true}, {"Then"}, {"Says"}});
    for (const auto& s : a.wire->settings) {
        std::string says = s.problem.empty() ? s.says + " " + s.todo : s.problem;
        if (s.setting.back)
            says += fmt::format(" Put back to {}.", print_number(*s.setting.back, Unit::volt));
        t.row(
            {mark(s.verdict) + e(s.setting.name), e(s.setting.where),
             s.setting.now.value ? unit_text(*s.setting.now.value, Unit::volt) : std::string("not measured"),
             s.setting.now.value ? evidence(s.setting.now.evidence) : std::string(), e(says)});
        for (const auto& x : s.tries) {
            std::string then;
            for (const auto& d : x.dies) then += (then.empty() ? "dies: " : "; dies: ") + d;
            for (const auto& d : x.starves)
                then += (then.empty() ? "does not work: " : "; does not work: ") + d;
            t.row({{},
                   mark(x.verdict) + e(x.name),
                   unit_text(x.volts, Unit::volt),
                   e(then.empty() ? "holds" : then),
                   {}});
        }
    }
    out += t.html();
}

void write_module_pins(const Analysis& a, std::string& out) {
    const auto& s = a.wire->pins;
    Table t({{"Signal"}, {"Asks"}, {"Pin"}, {"Says"}});
    for (const auto& p : s.places)
        t.row(
            {mark(p.verdict) + e(p.name), e(word(p.use)), e(p.pin.empty() ? "none left" : p.pin), e(p.why)});
    out += paragraph(e(fmt::format("{}: {} of {} pins free.", s.module, s.free.size(), s.pins))) + t.html();
    for (const auto& r : s.remedies) out += paragraph(e(r));
    Table more({{"Provide for"}, {"Where"}, {"Why"}});
    for (const auto& p : s.proposals) more.row({e(p.what), e(p.where), e(p.why)});
    out += more.html();
    if (const auto header = pin_header(s, a.dossier.wire->pins.form))
        out += h3("For the firmware") + "<pre>" + e(*header) + "</pre>\n";
}

void write_table(const SchoolTable& table, std::string& out) {
    std::vector<html::Column> columns{{"By"}};
    for (const auto& name : table.names) columns.push_back({name});
    columns.push_back({"How it is counted"});
    Table t(columns);
    for (const auto& r : table.rows) {
        std::vector<std::string> row{e(r.name)};
        for (const auto& c : r.cells)
            row.push_back((c.verdict == Verdict::unknown ? "" : mark(c.verdict)) +
                          (c.best ? "<strong>" + e(c.text) + "</strong>" : e(c.text)));
        row.push_back(e(r.rule));
        t.row(row);
    }
    out += t.html();
}

void write_schools(const Analysis& a, std::string& out) {
    write_table(compare_options(a), out);
    const auto regulators = compare_regulators(a);
    if (!regulators.empty()) {
        Table t({{"Regulator"}, {"Linear loses", true}, {"Switching loses", true}, {"Now"}, {"Says"}});
        for (const auto& c : regulators)
            t.row({e(c.ref), mark(c.linear.verdict) + unit_text(c.linear.loss_w, Unit::watt),
                   mark(c.switching.verdict) + unit_text(c.switching.loss_w, Unit::watt),
                   c.linear_now ? "linear" : "switching", e(c.says)});
        out += h3("Linear or switching") + t.html();
    }
    const auto module = compare_module(a);
    if (!module.rows.empty()) {
        out += h3("Module or bare chip");
        write_table(module, out);
    }
}

}  // namespace

std::vector<ReportSection> rail_sections() {
    return {{Stage::wire, "wire-rails", "Rails",
             [](const Analysis& a) {
                 return a.wire && (!a.wire->rails.tree.empty() || !a.wire->rails.faults.empty());
             },
             write_rails},
            {Stage::wire, "wire-settings", "Settings",
             [](const Analysis& a) { return a.wire && !a.wire->settings.empty(); }, write_settings},
            {Stage::wire, "wire-pins", "Pins of the module",
             [](const Analysis& a) { return a.wire && !a.wire->pins.places.empty(); }, write_module_pins},
            {Stage::wire, "wire-compare", "Ways to build",
             [](const Analysis& a) { return a.wire && !a.dossier.timing->options.empty(); }, write_schools}};
}

}  // namespace grayrelic
