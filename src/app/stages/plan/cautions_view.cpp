// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/plan/cautions_view.hpp"

#include "core/job/outlook.hpp"

#include <QVBoxLayout>

#include "app/paint/marks.hpp"

namespace grayrelic::app {

CautionsView::CautionsView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    box_ = new CautionBox(tr("What can hurt you or the machine in this job"));
    whole->addWidget(box_, 1);
}

void CautionsView::refresh() {
    const auto& data = document_.data();
    const auto& bench = document_.person().bench;
    const auto list = cautions_of_job(data.cautions, data.families, document_.dossier(), &bench,
                                      kind_cautions(document_.analysis()));
    titles_.clear();
    for (const auto* c : list) titles_ << to_q(c->title);
    box_->show_by_stage(list);
    box_->set_about(
        bench == Bench{}
            ? tr("By ports, parts and donors. Enter your bench, and those of its tools stand here too.")
            : tr("By ports, parts, donors, and the tools and processes of your bench."));
}

}  // namespace grayrelic::app
