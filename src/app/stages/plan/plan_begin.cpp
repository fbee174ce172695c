// SPDX-License-Identifier: GPL-3.0-or-later
// How a job begins.
#include "app/paint/marks.hpp"
#include "app/stages/plan/plan_page.hpp"
#include "core/dossier/edits.hpp"

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

}  // namespace grayrelic::app
