// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/caution_box.hpp"

#include <QScrollArea>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"

namespace grayrelic::app {

CautionBox::CautionBox(const QString& title, QWidget* parent) : Sheet(title, parent) {
    text_ = new QLabel;
    text_->setFont(text_font(12));
    text_->setWordWrap(true);
    text_->setTextFormat(Qt::RichText);
    text_->setAlignment(Qt::AlignTop);
    text_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    auto* area = new QScrollArea;
    area->setWidgetResizable(true);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setWidget(text_);
    body()->addWidget(area, 1);
}

void CautionBox::show_by_stage(const std::vector<const Caution*>& cautions) {
    QString text;
    for (const auto* c : cautions) {
        QStringList where;
        for (const auto s : stages_of(*c))
            if (s != Stage::plan) where << to_q(label(s));
        text +=
            QStringLiteral("<p style=\"margin:0 0 8px 0\"><b>%1</b>%2<br>%3 <i>%4</i></p>")
                .arg(to_q(c->title).toHtmlEscaped(),
                     where.isEmpty() ? QString() : QStringLiteral(" · ") + where.join(QStringLiteral(", ")),
                     to_q(c->says).toHtmlEscaped(), to_q(c->defer).toHtmlEscaped());
    }
    text_->setText(text);
}

void CautionBox::show_cautions(const std::vector<const Caution*>& cautions) {
    QString text;
    for (const auto* c : cautions)
        text += QStringLiteral("<p style=\"margin:0 0 8px 0\"><b>%1.</b> %2 <i>%3</i></p>")
                    .arg(to_q(c->title).toHtmlEscaped(), to_q(c->says).toHtmlEscaped(),
                         to_q(c->defer).toHtmlEscaped());
    text_->setText(text);
    setVisible(!cautions.empty());
}

CautionLine::CautionLine(QWidget* parent) : QLabel(parent) {
    setFont(text_font(11));
    setWordWrap(true);
    setMinimumWidth(10);
    setTextFormat(Qt::PlainText);
}

void CautionLine::show_cautions(const std::vector<const Caution*>& cautions) {
    QStringList titles;
    QString whole, plain;
    for (const auto* c : cautions) {
        titles << to_q(c->title);
        whole += QStringLiteral("<p><b>%1.</b> %2 <i>%3</i></p>")
                     .arg(to_q(c->title).toHtmlEscaped(), to_q(c->says).toHtmlEscaped(),
                          to_q(c->defer).toHtmlEscaped());
        plain += QStringLiteral("%1. %2 %3 ").arg(to_q(c->title), to_q(c->says), to_q(c->defer));
    }
    setText(tr("Take care: %1. Plan, Cautions says more.").arg(titles.join(QStringLiteral("; "))));
    setToolTip(whole);
    setAccessibleDescription(plain);
    setVisible(!cautions.empty());
}

}  // namespace grayrelic::app
