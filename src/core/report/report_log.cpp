// SPDX-License-Identifier: GPL-3.0-or-later
// Log in the report: trials, what works with what, revisions, units and images, evidence, the time line.
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>

#include "core/base/text.hpp"
#include "core/library/cautions.hpp"
#include "core/record/cover_study.hpp"
#include "core/record/degree.hpp"
#include "core/record/dossier_lines.hpp"
#include "core/record/log_analysis.hpp"
#include "core/record/revisions.hpp"
#include "core/record/search.hpp"
#include "core/record/trial_study.hpp"
#include "core/record/unit_history.hpp"
#include "core/report/html.hpp"
#include "core/report/report_sections.hpp"
#include "core/report/trial_figure.hpp"
#include "core/wire/device_values.hpp"

namespace grayrelic {
namespace {

using namespace html;

std::string unit_in_words(const Dossier& d, const std::string& id) {
    const auto* unit = d.find_unit(id);
    return unit == nullptr || unit->name.empty() ? id : unit->name;
}

bool has_trials(const Analysis& a) {
    return !a.dossier.log->trials.empty();
}

void write_trials(const Analysis& a, std::string& out) {
    const auto& d = a.dossier;
    const auto table = trials_of(d);
    const auto study = study_trials(table);
    if (!study.why.empty()) out += paragraph("<b>" + e(study.why) + "</b>");
    for (const auto& l : table.left_out) out += paragraph(e(l), true);
    if (!table.rows.empty()) out += drawing_svg(trial_matrix(table, study, 820), "Trials");
    std::vector<html::Column> columns{{"Trial"}, {"Day"}};
    for (const auto& f : table.factors) columns.push_back({f});
    columns.push_back({"Outcome"});
    columns.push_back({"How much"});
    Table runs(columns);
    for (const auto& row : table.rows) {
        const auto at = std::find_if(d.log->trials.begin(), d.log->trials.end(),
                                     [&](const TrialRun& t) { return t.id == row.id; });
        const auto degree = degree_state(*at);
        std::vector<std::string> cells{e(row.id), e(at->day)};
        for (const auto& v : row.values) cells.push_back(e(v));
        cells.push_back(mark(row.bad ? Verdict::stop : Verdict::holds) + e(row.outcome));
        const auto plain = degree.degree ? fmt::format("{:.4g} {}", *degree.degree, degree.of) : degree.says;
        cells.push_back((degree.verdict == Verdict::unknown ? "" : mark(degree.verdict)) +
                        e(degree.expected ? degree.says : plain));
        runs.row(std::move(cells));
    }
    out += runs.html();
    Table singles({{"With"},
                   {"failed", true},
                   {"of", true},
                   {"Without: failed", true},
                   {"of", true},
                   {"By chance", true}});
    auto sorted = study.single;
    std::stable_sort(sorted.begin(), sorted.end(),
                     [](const ValueCount& x, const ValueCount& y) { return x.by_chance < y.by_chance; });
    for (const auto& c : sorted)
        if (c.bad_with > 0)
            singles.row({mark(c.explains ? Verdict::stop : Verdict::unknown) + e(print(table, c)),
                         std::to_string(c.bad_with), std::to_string(c.with), std::to_string(c.bad_without),
                         std::to_string(c.without), number(c.by_chance, 3)});
    out += singles.html();
    if (!study.confounded.empty()) {
        std::vector<std::string> pairs;
        for (const auto& [x, y] : study.confounded)
            if (pairs.size() < most_rows) pairs.push_back(print(table, x) + " and " + print(table, y));
        out += paragraph(e(fmt::format("Never one without the other: {}.", fmt::join(pairs, "; "))));
    }
}

bool has_cover(const Analysis& a) {
    return !a.dossier.log->items.empty();
}

Verdict verdict_of(TrialOutcome o) {
    constexpr std::array verdicts{Verdict::unknown, Verdict::holds, Verdict::doubt, Verdict::stop};
    return verdicts[static_cast<std::size_t>(o)];
}

void write_cover(const Analysis& a, std::string& out) {
    const auto study = study_cover(a.dossier.log->items);
    if (!study.why.empty()) out += paragraph("<b>" + e(study.why) + "</b>");
    Table items({{"With"}, {"Kind"}, {"Seen"}, {"By"}, {"Uses"}, {"Computed"}});
    for (const auto& s : study.items) {
        std::string values, notes;
        for (const auto& v : device_values(*s.item, a.wire.get(), *a.dossier.map))
            values += mark(v.verdict) + e(v.what + " " + v.value) + "<br>";
        for (const auto& o : s.says_otherwise) notes += "<br>" + sub(e(o));
        items.row({e(s.item->name.empty() ? s.item->id : s.item->name), e(word(s.item->kind)),
                   mark(verdict_of(s.outcome)) + e(word(s.outcome)) + notes,
                   e(s.outcome == TrialOutcome::not_said ? ""
                     : s.source.empty()                  ? "own bench"
                                                         : s.source),
                   e(fmt::format("{}", fmt::join(s.item->uses, ", "))), values});
    }
    out += items.html();
    if (!study.shows_all.empty())
        out += paragraph(e(
            fmt::format("To try after a change, each function once: {}.", fmt::join(study.shows_all, ", "))));
}

bool has_changes(const Analysis& a) {
    const auto& l = *a.dossier.log;
    return !l.complaints.empty() || !l.revisions.empty() || !l.decisions.empty() ||
           !bodge_states(a.dossier).empty();
}

void write_changes(const Analysis& a, std::string& out) {
    const auto& d = a.dossier;
    Table revisions({{"Revision"}, {"Day"}, {"What it is"}});
    for (const auto& r : d.log->revisions) revisions.row({e(r.id), e(r.day), e(r.says)});
    out += revisions.html();
    Table complaints({{"Complaint"}, {"Found in"}, {"Cause"}, {"Change"}, {"Check"}, {"Closed by"}});
    for (const auto& s : complaint_states(*d.log)) {
        const auto& c = *s.complaint;
        complaints.row(
            {mark(s.verdict) + e(c.says),
             e((c.found_in ? "revision " + std::to_string(*c.found_in) : std::string()) +
               (c.unit.empty() ? "" : " " + unit_in_words(d, c.unit))),
             e(c.cause), e(c.change + (c.changed_in ? " (" + std::to_string(*c.changed_in) + ")" : "")),
             e(c.check),
             c.closed.value.empty() ? e(s.step) : e(c.closed.value) + "<br>" + evidence(c.closed.evidence)});
    }
    out += complaints.html();
    Table bodges({{"Changed by hand"}, {"On"}, {"In the next files"}});
    for (const auto& b : bodge_states(d))
        bodges.row({mark(b.is_open() ? Verdict::doubt : Verdict::holds) + e(b.what),
                    e(unit_in_words(d, b.unit)),
                    e(!b.carried.empty()    ? "by " + b.carried
                      : !b.left_out.empty() ? "no: " + b.left_out
                                            : "not yet")});
    out += bodges.html();
    Table decisions({{"Decided"}, {"Ways"}, {"Chosen"}, {"Why"}});
    for (const auto& c : d.log->decisions) {
        std::string ways;
        for (const auto& w : c.ways)
            ways += fmt::format("<b>{}</b> {}{}<br>", e(w.name), e(w.for_it),
                                w.against.empty() ? "" : "; against: " + e(w.against));
        decisions.row({e(c.says), ways, e(c.chosen), e(c.why)});
    }
    out += decisions.html();
}

bool has_histories(const Analysis& a) {
    return a.dossier.units->size() > 1 || !a.dossier.log->images.empty();
}

void write_units(const Analysis& a, std::string& out) {
    for (const auto& h : unit_histories(a.dossier)) {
        if (h.events.empty()) continue;
        auto head =
            fmt::format("{}: {}", h.unit->name.empty() ? h.unit->id : h.unit->name, word(h.unit->state));
        if (h.unit->revision) head += fmt::format(", revision {}", *h.unit->revision);
        out += h3(head);
        Table events({{"Day"}, {"What"}, {""}});
        constexpr std::size_t most_events = 40;
        const auto from = h.events.size() > most_events ? h.events.size() - most_events : 0;
        if (from > 0) out += paragraph(e(fmt::format("{} earlier entries are in the dossier.", from)), true);
        for (auto i = from; i < h.events.size(); ++i)
            events.row({e(h.events[i].day), e(h.events[i].kind), e(h.events[i].says)});
        out += events.html();
        if (h.joints_before_reflow > 0)
            out +=
                paragraph(e(fmt::format("{} taken before the last reflow prove nothing about its joints now.",
                                        plural(h.joints_before_reflow, "reading", "readings"))));
    }
    Table images({{"Image"}, {"SHA-256"}, {"Built with"}, {"Runs on"}, {"Trials"}, {"Now"}});
    for (const auto& s : image_states(a.dossier, a.log->sums))
        images.row({mark(s.verdict) + e(s.image->name + " " + s.image->version), e(s.image->sha256),
                    e(s.image->built_with), e(fmt::format("{}", fmt::join(s.units, ", "))),
                    e(fmt::format("{}", fmt::join(s.trials, ", "))), e(s.says)});
    out += images.html();
}

bool has_evidence(const Analysis& a) {
    return *a.dossier.log != JobLog{} && !a.dossier.ports->empty();
}

void write_evidence(const Analysis& a, std::string& out) {
    Table facts({{"Fact"}, {"Value"}, {"Evidence"}});
    std::size_t all = 0;
    for (const auto kind : {"assumed", "deduced", "documented", "measured"})
        for (const auto& line : dossier_lines(a.dossier)) {
            if (line.evidence != kind) continue;
            if (++all > most_rows) continue;
            const auto value = line.value.substr(0, line.value.find(" (" + line.evidence));
            facts.row({e(line.section + ": " + print(line.path)), e(value),
                       (kind == std::string("assumed") ? "<i>assumed</i>" : e(kind)) +
                           (line.source.empty() ? "" : ": " + e(line.source)) +
                           (line.day.empty() ? "" : ", " + e(line.day))});
        }
    out += facts.html() + more_rows(all);
}

void write_time(const Analysis& a, std::string& out) {
    const auto events = time_line(a.dossier);
    Table rows({{"Day"}, {"Where"}, {"What"}});
    for (std::size_t i = 0; i < std::min(events.size(), most_rows); ++i)
        rows.row({e(events[i].day),
                  e(events[i].section + (events[i].what.empty() ? "" : ": " + events[i].what)),
                  e(events[i].says)});
    out += rows.html() + more_rows(events.size());
}

bool has_log(const Analysis& a) {
    return *a.dossier.log != JobLog{};
}

}  // namespace

std::vector<ReportSection> log_sections() {
    return {{Stage::log, "log-trials", "Trials", has_trials, write_trials},
            {Stage::log, "log-cover", "What works with what", has_cover, write_cover},
            {Stage::log, "log-changes", "Revisions", has_changes, write_changes},
            {Stage::log, "log-units", "Units and images", has_histories, write_units},
            {Stage::log, "log-evidence", "Evidence", has_evidence, write_evidence},
            {Stage::log, "log-time", "Time line", has_log, write_time}};
}

}  // namespace grayrelic
