// SPDX-License-Identifier: GPL-3.0-or-later
// Log's money and what is to be published, in the report.
#include <fmt/format.h>

#include "core/job/job_money.hpp"
#include "core/record/release_pack.hpp"
#include "core/report/html.hpp"
#include "core/report/report_sections.hpp"
#include "core/report/trial_figure.hpp"

namespace grayrelic {
namespace {

using namespace html;

bool has_money(const Analysis& a) {
    return !(a.dossier.log->money == Economics{});
}

std::string money(double value) {
    return fmt::format("{:.2f}", value);
}

void write_money(const Analysis& a, std::string& out) {
    const auto study = job_costs(a);
    out += paragraph("<b>" + e(study.says) + ".</b>");
    Table entries({{"What"}, {"Counts"}, {"Money", true}, {"From"}});
    for (const auto& c : study.entries) entries.row({e(c.says), e(word(c.per)), money(c.money), e(c.from)});
    out += entries.html();
    constexpr int drawn_to = 50;
    out += drawing_svg(cost_figure(study, a.dossier.log->money, drawn_to, 820), "What one costs");
    Table rows({{"That work", true},
                {"Begun", true},
                {"Batches", true},
                {"Cost", true},
                {"Each", true},
                {"Left over", true}});
    for (const auto& r : study.rows)
        rows.row({std::to_string(r.quantity), std::to_string(r.begun), std::to_string(r.batches),
                  money(r.cost), money(r.each), r.profit ? money(*r.profit) : ""});
    out += rows.html();
    for (const auto& m : study.missing) out += paragraph(e("Not known: " + m), true);
    const auto hours = job_hours(a, outlook(a, std::nullopt).tasks);
    Table spent({{"Task"}, {"Estimated, h", true}, {"Spent, h", true}});
    for (const auto& t : hours.tasks)
        spent.row({e(t.task), t.estimated ? number(*t.estimated, 1) : "", number(t.spent, 1)});
    out += spent.html();
    if (hours.factor)
        out += paragraph(
            e(fmt::format("What was estimated and is done took {:.2g} times as long.", *hours.factor)));
    out += paragraph(e(learned_yield(a.dossier).says + "."), true);
}

bool has_release(const Analysis& a) {
    return !(a.dossier.log->release == Release{});
}

void write_release(const Analysis& a, std::string& out) {
    const auto& release = a.dossier.log->release;
    Table rights({{"What"}, {"Whose"}, {"Licence"}});
    for (const auto& r : release.rights) rights.row({e(r.what), e(r.who), e(r.licence)});
    out += rights.html();
    Table missing({{"Before it is published"}, {"To do"}});
    for (const auto& p : missing_in_release(a.dossier)) missing.row({mark(p.verdict) + e(p.says), e(p.todo)});
    out += missing.html();
}

}  // namespace

std::vector<ReportSection> money_sections() {
    return {{Stage::log, "log-money", "Money and hours", has_money, write_money},
            {Stage::log, "log-release", "To publish", has_release, write_release}};
}

}  // namespace grayrelic
