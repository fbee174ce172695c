// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/rail.hpp"

#include <QPainter>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

StageButton::StageButton(Stage stage, QWidget* parent) : QAbstractButton(parent), stage_(stage) {
    setText(to_q(label(stage)));
    const auto key = stage_key(stage);
    setToolTip(key.isEmpty() ? text() : QStringLiteral("%1 (%2)").arg(text(), key));
    setCheckable(true);
    setAutoExclusive(false);  // the rail does: Plan and the nine stand in boxes of their own
    setMinimumHeight(42);
    setMaximumHeight(54);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Preferred);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
}

void StageButton::show_dossier(const QString& name, const QString& state) {
    setText(name);
    line_ = state;
    setToolTip(QStringLiteral("%1: Plan (%2)").arg(name, stage_key(stage_)));
    setAccessibleName(QStringLiteral("Plan of %1, %2: %3").arg(name, to_q(word(verdict_)), state));
    update();
}

void StageButton::show_state(Verdict verdict, const QString& line) {
    verdict_ = verdict;
    needed_ = true;
    if (stage_ == Stage::plan) {  // its lines are the dossier's
        update();
        return;
    }
    line_ = line;
    setAccessibleName(QStringLiteral("%1, %2: %3").arg(text(), to_q(word(verdict)), line));
    update();
}

void StageButton::show_unneeded(const QString& line) {
    verdict_ = Verdict::unknown;
    needed_ = false;
    line_ = line;
    setAccessibleName(QStringLiteral("%1, %2").arg(text(), line));
    update();
}

void StageButton::paintEvent(QPaintEvent*) {
    QPainter p(this);
    if (isChecked()) {
        p.fillRect(rect(), theme().sheet);
        p.fillRect(QRect(0, 0, 4, height()), theme().ink);
    } else if (underMouse()) {
        p.fillRect(rect(), theme().panel);
    }
    if (hasFocus()) {
        p.setPen(QPen(theme().slate, 1));
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
    // With many stages in a low window a row is less high: the two lines stay together in its middle.
    const int top = (height() - 38) / 2;
    if (needed_)
        draw_verdict(p, QPointF(22, top + 12), verdict_);
    else
        p.fillRect(QRectF(17, top + 11, 10, 3), theme().ink2);
    p.setPen(needed_ ? theme().ink : theme().ink2);
    p.setFont(text_font(14, isChecked() || stage_ == Stage::plan));
    draw_text(p, QRectF(40, top, width() - 44, 22), Qt::AlignLeft | Qt::AlignVCenter, text());
    p.setPen(theme().ink2);
    p.setFont(text_font(11));
    draw_text(p, QRectF(40, top + 20, width() - 46, 18), Qt::AlignLeft | Qt::AlignVCenter, line_);
}

QString stage_key(Stage stage) {
    const auto n = number(stage);
    return n ? QStringLiteral("Ctrl+%1").arg(*n) : QString();
}

Rail::Rail(QWidget* parent) : QWidget(parent) {
    setFixedWidth(172);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 14, 0, 12);
    layout->setSpacing(0);
    name_ = new QLabel;
    name_->setFont(text_font(14, true));
    name_->setWordWrap(true);
    name_->setContentsMargins(16, 0, 8, 0);
    state_ = secondary_label({});
    state_->setContentsMargins(16, 2, 8, 12);
    layout->addWidget(name_);
    layout->addWidget(state_);
    layout->addStretch(1);
}

void Rail::add_stage(Stage stage) {
    auto* button = new StageButton(stage, this);
    // Name, state, the stages before the stretch; behind it Practice. Plan's row says name and state itself.
    auto* box = static_cast<QVBoxLayout*>(layout());
    if (stage == Stage::plan) {
        name_->hide();
        state_->hide();
    }
    int place = stage == Stage::practice ? box->count() : 2;
    for (const auto& [other, there] : stages_)
        if (other < stage && stage != Stage::practice) ++place;
    box->insertWidget(place, button);
    // A click on the one that is shown leaves it so.
    connect(button, &QAbstractButton::clicked, this, [this, button, stage] {
        button->setChecked(true);
        Q_EMIT selected(stage);
    });
    connect(button, &QAbstractButton::toggled, this, [this, button](bool on) {
        if (!on) return;
        for (const auto& [other, b] : stages_)
            if (b != button) b->setChecked(false);
    });
    stages_.emplace(stage, button);
}

void Rail::show_dossier(const QString& name, const QString& state) {
    name_->setText(name);
    state_->setText(state);
    if (const auto plan = stages_.find(Stage::plan); plan != stages_.end())
        plan->second->show_dossier(name, state);
}

void Rail::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().rail);
}

}  // namespace grayrelic::app
