// SPDX-License-Identifier: GPL-3.0-or-later
// The job in the report: its gates, what is open, its musts, and what ways and hedges are worth. Dates are
// not in it: a report has no today.
#include <fmt/format.h>

#include "core/base/text.hpp"
#include "core/job/outlook.hpp"
#include "core/report/html.hpp"
#include "core/report/report_sections.hpp"

namespace grayrelic {
namespace {

using namespace html;

void write_ready(const Analysis& a, std::string& out) {
    const auto o = outlook(a, std::nullopt);
    if (o.kind != nullptr) out += paragraph(e(o.kind->name + ". " + o.kind->about), true);
    out += paragraph("<b>" + e(o.sentence) + "</b>");
    Table t({{"Gate"}, {"In the way"}});
    for (const auto& g : o.ready) {
        std::string why = !g.needed ? "not needed" : g.blocked_by.empty() ? "nothing" : "";
        if (!g.passed_with.empty()) why += "gone on: " + e(g.passed_with) + "<br>";
        for (const auto& b : g.blocked_by) why += e(b.says) + "<br>";
        t.row({mark(g.verdict) + e(label(g.gate)), why});
    }
    out += t.html();
}

void write_questions(const Analysis& a, std::string& out) {
    const auto o = outlook(a, std::nullopt);
    const auto& s = o.stakes;
    out += paragraph(
        fmt::format(
            "By what being wrong costs for each minute of work. A board made again: {:.2f} {}{}, {:.6g} "
            "days{}; a day: {:.6g}{}.",
            s.respin_money, e(s.currency), s.money_taken ? " (taken, nobody said)" : "", s.respin_days,
            s.days_taken ? " (taken, nobody said)" : "", s.day_worth,
            s.day_taken ? " (taken, nobody said)" : ""),
        true);
    Table t({{"Question"}, {"If wrong"}, {"Loss"}, {"Minutes", true}, {"Settled by"}});
    for (std::size_t i = 0; i < std::min(o.questions.open.size(), most_rows); ++i) {
        const auto& q = o.questions.open[i];
        t.row({"<b>" + e(q.says) + "</b><br>" + sub(e(q.why)), e(wrong_cost(q, s)), sub(e(q.arithmetic)),
               fmt::format("{:.6g}", q.minutes), e(q.how)});
    }
    out += t.html() + more_rows(o.questions.open.size());
    Table done({{"Settled"}, {"Answer"}, {"Evidence"}});
    for (const auto& q : o.questions.settled)
        done.row({e(q.says), e(q.answer.value), evidence(q.answer.evidence)});
    out += done.html();
}

void write_musts(const Analysis& a, std::string& out) {
    Table t({{"Must"}, {"Shown by"}});
    for (const auto& m : outlook(a, std::nullopt).musts) t.row({mark(m.verdict) + e(m.must.says), e(m.why)});
    out += t.html();
}

void write_ways(const Analysis& a, std::string& out) {
    const auto o = outlook(a, std::nullopt);
    Table ways({{"Way"}, {"In all"}, {"Licence"}, {"Would have to change"}});
    for (const auto& w : o.ways)
        ways.row({"<b>" + e(w.way.says) + "</b><br>" + sub(e(w.way.link)),
                  w.total ? e(w.arithmetic) : "missing: " + e(w.missing), e(w.way.licence), e(w.way.change)});
    out += ways.html();
    Table hedges({{"Hedge"}, {"Worth it"}, {"Chance × loss avoided − price"}});
    for (const auto& h : o.hedges)
        hedges.row({e(h.hedge.says), h.worth ? (*h.worth > 0 ? "yes" : "no") : "open", e(h.arithmetic)});
    out += hedges.html();
    Table boards({{"Open in"}, {"Breadboard first?"}, {"Saved against spent"}});
    for (const auto& b : o.breadboards)
        boards.row(
            {e(label(b.stage)), b.breadboard_first() ? "yes" : "straight to a board", e(b.arithmetic)});
    out += boards.html();
}

bool planned(const Analysis& a) {
    return *a.dossier.plan != JobPlan{};
}

}  // namespace

std::vector<ReportSection> job_sections() {
    return {
        {Stage::plan, "plan-ready", "Ready?", planned, write_ready},
        {Stage::plan, "plan-questions", "Settle next", planned, write_questions},
        {Stage::plan, "plan-musts", "Musts", planned, write_musts},
        {Stage::plan, "plan-ways", "Ways, hedges, breadboards", planned, write_ways},
    };
}

}  // namespace grayrelic
