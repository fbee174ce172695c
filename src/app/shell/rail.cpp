// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/rail.hpp"

#include <QPainter>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

StageButton::StageButton(const QString& name, QWidget* parent) : QAbstractButton(parent) {
    setText(name);
    setCheckable(true);
    setAutoExclusive(true);
    setFixedHeight(54);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
}

void StageButton::show_state(Verdict verdict, const QString& line) {
    verdict_ = verdict;
    line_ = line;
    setAccessibleName(QStringLiteral("%1, %2: %3").arg(text(), to_q(word(verdict)), line));
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
    draw_verdict(p, QPointF(22, 20), verdict_);
    p.setPen(theme().ink);
    p.setFont(text_font(14, isChecked()));
    p.drawText(QRect(40, 8, width() - 44, 22), Qt::AlignLeft | Qt::AlignVCenter, text());
    p.setPen(theme().ink2);
    p.setFont(text_font(11));
    draw_text(p, QRectF(40, 29, width() - 46, 18), Qt::AlignLeft | Qt::AlignVCenter, line_);
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

StageButton* Rail::add_stage(const QString& name) {
    auto* button = new StageButton(name, this);
    auto* box = static_cast<QVBoxLayout*>(layout());
    box->insertWidget(box->count() - 1, button);
    const int index = static_cast<int>(stages_.size());
    connect(button, &QAbstractButton::clicked, this, [this, index] { Q_EMIT selected(index); });
    stages_.append(button);
    return button;
}

void Rail::select(int stage) {
    stages_.at(stage)->setChecked(true);
}

void Rail::show_dossier(const QString& name, const QString& state) {
    name_->setText(name);
    state_->setText(state);
}

void Rail::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().rail);
}

}  // namespace grayrelic::app
