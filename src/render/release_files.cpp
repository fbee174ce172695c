// SPDX-License-Identifier: GPL-3.0-or-later
#include "render/release_files.hpp"

#include "core/plan/plan_analysis.hpp"
#include "core/record/cover_study.hpp"
#include "core/record/release_pack.hpp"
#include "core/record/trial_table.hpp"
#include "core/report/circuit_sheets.hpp"
#include "core/report/html_report.hpp"
#include "core/report/user_card.hpp"
#include "render/pdf.hpp"
#include "render/report_pdf.hpp"

namespace grayrelic::render {

Result<std::vector<PackedFile>> release_files(const Analysis& whole, Progress& progress) {
    // The report too is made without what is nobody's business.
    Analysis a = whole;
    a.dossier = public_dossier(whole.dossier);
    const auto& name = a.dossier.about->name;
    std::vector<PackedFile> out;
    auto html = html_report(a, progress);
    if (!html) return fail(html.error());
    auto pdf = report_pdf(*html, name, progress);
    if (!pdf) return fail(pdf.error());
    out.push_back({"report.html", std::move(*html)});
    out.push_back({"report.pdf", std::move(*pdf)});
    const auto add_card = [&](const Result<Card>& card, const char* file) {
        if (!card) return;
        if (auto pages = card_pdf(*card, name)) out.push_back({file, std::move(*pages)});
    };
    add_card(user_card(a), "users-card.pdf");
    if (a.trace && a.data && (!a.dossier.readings->empty() || !a.dossier.trace->parts.empty())) {
        Card sheets;
        sheets.width_mm = 297;
        sheets.height_mm = 210;
        for (const auto& s : circuit_sheets(*a.trace, a.dossier, a.data->parts))
            sheets.pages.push_back(s.picture.finish());
        if (!sheets.pages.empty()) add_card(sheets, "circuit-sheets.pdf");
    }
    if (!a.dossier.cables->empty()) add_card(wiring_card(a), "wiring-card.pdf");
    if (!a.plan->parts.rows.empty())
        out.push_back({"parts.csv", parts_to_csv(a.plan->parts, a.dossier.supply->parts)});
    if (!a.dossier.log->trials.empty()) out.push_back({"trials.csv", trials_to_csv(a.dossier)});
    if (!a.dossier.log->items.empty()) out.push_back({"works-with.csv", cover_to_csv(a.dossier.log->items)});
    return out;
}

}  // namespace grayrelic::render
