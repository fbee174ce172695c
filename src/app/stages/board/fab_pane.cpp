// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/board/fab_pane.hpp"

#include <cmath>

#include "app/paint/marks.hpp"
#include "app/widgets/compact_button.hpp"
#include "core/report/fab_figure.hpp"

namespace grayrelic::app {

FabPane::FabPane(Document& document, QWidget* parent) : Sheet(tr("The board"), parent), document_(document) {
    front_ = compact_button(tr("Front"), tr("The front, as one looks at it"));
    back_ = compact_button(tr("Back"), tr("The back, as one looks at it: the mirror image of the files"));
    auto* group = new QButtonGroup(this);
    for (auto* b : {front_, back_}) {
        b->setCheckable(true);
        group->addButton(b);
        add_to_title(b);
    }
    front_->setChecked(true);
    auto* whole = compact_button(tr("All of it"), tr("Fits the board into the sheet (F)"));
    add_to_title(whole);
    canvas_ = new FabCanvas;
    body()->addWidget(canvas_, 1);
    connect(front_, &QPushButton::clicked, this, [this] { show_side(false); });
    connect(back_, &QPushButton::clicked, this, [this] { show_side(true); });
    connect(whole, &QPushButton::clicked, canvas_, &FabCanvas::fit);
    connect(canvas_, &FabCanvas::pointed, this, [this](const QString& says) { set_about(says); });
    connect(canvas_, &FabCanvas::measured, this, [this](double dx, double dy) {
        set_about(tr("%1 mm across, %2 mm up, %3 mm straight")
                      .arg(dx, 0, 'f', 3)
                      .arg(dy, 0, 'f', 3)
                      .arg(std::hypot(dx, dy), 0, 'f', 3));
    });
    say_resting();
}

void FabPane::say_resting() {
    set_about(tr("Point at copper, click for its net, drag to measure"));
}

void FabPane::show_board(const std::string& id) {
    board_ = nullptr;
    if (const auto& a = document_.analysis().board)
        for (const auto& b : a->boards)
            if (b->id == id) board_ = b;
    canvas_->show_board(board_, board_ ? std::make_shared<const std::vector<Driver>>(
                                             drivers_of_nets(*board_, document_.dossier()))
                                       : nullptr);
}

void FabPane::show_side(bool back) {
    (back ? back_ : front_)->setChecked(true);
    canvas_->show_side(back);
}

}  // namespace grayrelic::app
