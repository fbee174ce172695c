// SPDX-License-Identifier: GPL-3.0-or-later
// Plan in the report: parts and orders, units and where they differ, dimensions, the cautions of the job.
#include <fmt/format.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/job/outlook.hpp"
#include "core/plan/plan_analysis.hpp"
#include "core/report/html.hpp"
#include "core/report/report_sections.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic {
namespace {

using namespace html;

std::string joined(const std::vector<std::string>& list, const char* between) {
    return fmt::format("{}", fmt::join(list, between));
}

std::string unit_name(const Dossier& d, const std::string& id) {
    const auto* unit = d.find_unit(id);
    return unit == nullptr || unit->name.empty() ? id : unit->name;
}

void write_parts_list(const Analysis& a, std::string& out) {
    const auto& list = a.plan->parts;
    out += paragraph(fmt::format("For {}; what is in the drawer is as of this report.",
                                 plural(list.boards, "board", "boards")),
                     true);
    for (const auto& gap : list.gaps) out += paragraph(e(gap), true);
    Table t(
        {{"Part"}, {"Names"}, {"Need", true}, {"Spare", true}, {"Drawer", true}, {"Order", true}, {"State"}});
    for (std::size_t i = 0; i < std::min(list.rows.size(), most_rows); ++i) {
        const auto& r = list.rows[i];
        auto state = e(std::string(word(r.state)));
        if (!r.question.empty()) state += ": " + e(r.question);
        if (!r.not_to_be_had.empty()) state += "; not to be had: " + e(r.not_to_be_had);
        t.row({"<b>" + e(r.part) + "</b>", e(joined(r.refs, " ")), std::to_string(r.need),
               std::to_string(r.spare), std::to_string(r.drawer), std::to_string(r.order), state});
    }
    out += t.html() + more_rows(list.rows.size());
}

void write_orders(const Analysis& a, std::string& out) {
    Table t({{"From"}, {"What"}, {"Ordered"}, {"Expected"}, {"Arrived"}, {"Frees"}, {"Files sent"}});
    for (const auto& o : a.dossier.supply->orders) {
        std::string what, files;
        for (const auto& l : o.lines)
            what += fmt::format("{}{} × {}", what.empty() ? "" : ", ", l.count, l.part);
        for (const auto& f : o.files)
            files += fmt::format("{}{} (SHA-256 {})", files.empty() ? "" : "; ", f.name, f.sha256);
        const auto expected = o.expected_from == o.expected_to || o.expected_to.empty()
                                  ? o.expected_from
                                  : o.expected_from + " to " + o.expected_to;
        t.row({e(o.from), e(what), e(o.ordered), e(expected), e(o.arrived), e(joined(o.frees, ", ")),
               e(files)});
    }
    out += t.html();
}

void write_units(const Analysis& a, std::string& out) {
    const auto& d = a.dossier;
    Table t({{"Unit"}, {"Kind"}, {"Revision", true}, {"Number"}, {"State"}, {"Note"}});
    for (const auto& u : *d.units)
        t.row({"<b>" + e(unit_name(d, u.id)) + "</b>", e(std::string(word(u.kind))),
               u.revision ? std::to_string(*u.revision) : std::string(), e(u.number),
               e(std::string(word(u.state))), e(u.note)});
    out += t.html();
    if (!a.trace || a.trace->unit_differences.empty()) return;
    out += h3("Where they differ from " + unit_name(d, a.trace->unit));
    Table differ({{"Reading", true}, {"From"}, {"To"}, {"There"}});
    for (const auto& x : a.trace->unit_differences) {
        const auto& r = (*d.readings)[static_cast<std::size_t>(x.row)];
        differ.row({std::to_string(x.row + 1), e(r.a), e(r.b),
                    e((x.says == Says::joined ? "joined on " : "apart on ") + unit_name(d, x.unit))});
    }
    out += differ.html();
}

void write_dimensions(const Analysis& a, std::string& out) {
    Table t({{"Dimension"}, {"mm", true}, {"Evidence"}, {"Taken on"}, {"Decides"}});
    for (const auto& m : *a.dossier.dimensions) {
        auto size = m.mm.value ? fmt::format("{}", *m.mm.value) : std::string("not known");
        if (m.mm.uncertainty) size += fmt::format(" ± {}", *m.mm.uncertainty);
        t.row({"<b>" + e(m.name.empty() ? m.id : m.name) + "</b>", e(size), evidence(m.mm.evidence),
               e(unit_name(a.dossier, m.unit)), e(m.decides)});
    }
    out += t.html();
}

void write_cautions(const Analysis& a, std::string& out) {
    for (const auto* c :
         cautions_of_job(a.data->cautions, a.data->families, a.dossier, &a.person->bench, kind_cautions(a)))
        out += fmt::format("<p class=\"caution\"><b>{}.</b> {} <i>{}</i></p>\n", e(c->title), e(c->says),
                           e(c->defer));
}

}  // namespace

std::set<std::string> cautions_of_report(const Analysis& a) {
    std::set<std::string> out;
    if (a.data && (!a.dossier.units->empty() || *a.dossier.supply != Supply{}))
        for (const auto* c : cautions_of_job(a.data->cautions, a.data->families, a.dossier, &a.person->bench,
                                             kind_cautions(a)))
            out.insert(c->id);
    return out;
}

std::vector<ReportSection> plan_sections() {
    return {
        {Stage::plan, "plan-parts", "Parts", [](const Analysis& a) { return *a.dossier.supply != Supply{}; },
         write_parts_list},
        {Stage::plan, "plan-orders", "Orders",
         [](const Analysis& a) { return !a.dossier.supply->orders.empty(); }, write_orders},
        {Stage::plan, "plan-units", "Units", [](const Analysis& a) { return !a.dossier.units->empty(); },
         write_units},
        {Stage::plan, "plan-dimensions", "Dimensions",
         [](const Analysis& a) { return !a.dossier.dimensions->empty(); }, write_dimensions},
        {Stage::plan, "plan-cautions", "Cautions of the job",
         [](const Analysis& a) { return !cautions_of_report(a).empty(); }, write_cautions},
    };
}

}  // namespace grayrelic
