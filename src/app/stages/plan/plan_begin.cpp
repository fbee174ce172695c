// SPDX-License-Identifier: GPL-3.0-or-later
// How a job begins, and the sheets that leave it.
#include <QFileDialog>

#include "app/paint/marks.hpp"
#include "app/shell/busy_dialog.hpp"
#include "app/stages/plan/plan_page.hpp"
#include "core/dossier/edits.hpp"
#include "core/report/question_sheet.hpp"
#include "render/report_pdf.hpp"

namespace grayrelic::app {

bool PlanPage::is_planned() const {
    return document_.is_open() && *document_.dossier().plan != JobPlan{};
}

/// In an empty window this begins a dossier.
void PlanPage::begin_kind(const QString& id) {
    if (!document_.is_open()) files_.make_new();
    if (!document_.is_open()) return;
    auto plan = *document_.dossier().plan;
    plan.kind = id.toStdString();
    document_.apply(tr("kind of job"), put(document_.dossier(), std::move(plan)));
    show_view(QStringLiteral("job"));
    name_->setFocus();
    name_->selectAll();
}

void PlanPage::write_sheet(const QString& question) {
    const auto path = ask_sheet(QStringLiteral("question.pdf"));
    if (path.isEmpty()) return;
    const bool paper = path.endsWith(QLatin1String(".pdf"), Qt::CaseInsensitive);
    const auto name = document_.dossier().about->name;
    auto text = question_sheet(document_.analysis(), outlook_.now(), question.toStdString());
    Status written = fail_cancelled();
    const auto ran = run_with_progress(this, tr("Writing the sheet"), [&](Progress& progress) {
        if (text && paper) text = render::report_pdf(*text, name, progress);
        written = text ? write_atomically(disk(), path.toStdString(), *text) : fail(text.error());
    });
    if (!ran) return tell(to_q(ran.error().message()));
    tell(written ? tr("Written to %1.").arg(path) : to_q(written.error().message()));
}

}  // namespace grayrelic::app
