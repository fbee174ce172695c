// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/worst_view.hpp"

#include <QPainter>

#include "app/paint/drawing_paint.hpp"
#include "app/paint/theme.hpp"

namespace grayrelic::app {

WorstView::WorstView(QWidget* parent) : QWidget(parent) {
    setAccessibleName(tr("Slowest reply"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void WorstView::show_option(const Analysis& a, const std::string& id) {
    looking_.cancel();
    soon_ = a.find_option(id) != nullptr;
    if (!soon_) shown_ = {};
    update();
    if (!soon_) return;
    looking_.ask([a, id](Progress&) { return worst_reply(a, *a.find_option(id)); },
                 [this](const WorstReply& shown) {
                     soon_ = false;
                     shown_ = shown;
                     update();
                     if (found) found(shown.rows.empty() ? std::nullopt : std::optional(shown.trigger));
                 });
}

void WorstView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    if (shown_.rows.empty() && soon_) {
        p.setPen(theme().ink2);
        p.setFont(text_font(12));
        p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, tr("Looking for the slowest reply …"));
        return;
    }
    paint_drawing(p, worst_drawing(shown_, width(), height()));
}

}  // namespace grayrelic::app
