// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/findings_panel.hpp"

#include <QHBoxLayout>
#include <QPainter>
#include <QResizeEvent>
#include <QScrollArea>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

FindingCard::FindingCard(Finding finding, bool with_stage, QWidget* parent)
    : QAbstractButton(parent), finding_(std::move(finding)), with_stage_(with_stage) {
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Minimum);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
    setText(to_q(finding_.says));
    setAccessibleName(QStringLiteral("%1: %2").arg(to_q(word(finding_.severity)), to_q(finding_.says)));
    setAccessibleDescription(to_q(finding_.why + " " + finding_.todo));
    setToolTip(tr("Show where this is"));
}

void FindingCard::set_current(bool current) {
    current_ = current;
    update();
}

int FindingCard::lay_out(QPainter* p, int width) const {
    const int left = 28;
    const int text_width = width - left - 10;
    int y = 9;
    const auto block = [&](const QString& text, const QFont& font, const QColor& colour) {
        if (text.isEmpty()) return;
        const QFontMetrics metrics(font);
        const auto box = metrics.boundingRect(QRect(0, 0, text_width, 4000), Qt::TextWordWrap, text);
        if (p != nullptr) {
            p->setFont(font);
            p->setPen(colour);
            p->drawText(QRect(left, y, text_width, box.height()), Qt::TextWordWrap, text);
        }
        y += box.height() + 3;
    };
    block(to_q(finding_.says), text_font(13, true), theme().ink);
    block(to_q(finding_.why), text_font(12), theme().ink2);
    block(to_q(finding_.todo), text_font(12), theme().ink);
    if (with_stage_) {
        auto stage = to_q(finding_.stage);
        stage[0] = stage[0].toUpper();
        block(stage, text_font(11), theme().ink2);
    }
    return y + 5;
}

int FindingCard::heightForWidth(int width) const {
    return lay_out(nullptr, width);
}

void FindingCard::resizeEvent(QResizeEvent* event) {
    // A scrolled list gives its rows their least height, which it asks of them without a width.
    if (event->size().width() != event->oldSize().width())
        setMinimumHeight(heightForWidth(event->size().width()));
}

void FindingCard::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setPen(hasFocus() ? theme().slate : theme().hairline);
    p.setBrush(current_ ? theme().selection : theme().sheet);
    p.drawRect(rect().adjusted(0, 0, -1, -1));
    draw_severity(p, QPointF(15, 18), finding_.severity);
    lay_out(&p, width());
}

FindingsPanel::FindingsPanel(QWidget* parent) : QWidget(parent) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 10, 6, 8);
    layout->setSpacing(6);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(tr("Findings"));
    title->setFont(text_font(14, true));
    head->addWidget(title);
    head->addStretch(1);
    all_ = new QPushButton(tr("All stages"));
    all_->setCheckable(true);
    all_->setToolTip(tr("Show the findings of all stages (F7)"));
    connect(all_, &QPushButton::clicked, this, &FindingsPanel::rebuild);
    head->addWidget(all_);
    head->addSpacing(6);
    layout->addLayout(head);
    counts_ = secondary_label({});
    layout->addWidget(counts_);
    auto* area = new QScrollArea;
    area->setWidgetResizable(true);
    area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    area->setFocusPolicy(Qt::NoFocus);
    list_ = new QWidget;
    list_layout_ = new QVBoxLayout(list_);
    list_layout_->setContentsMargins(0, 0, 6, 0);
    list_layout_->setSpacing(8);
    list_layout_->addStretch(1);
    area->setWidget(list_);
    layout->addWidget(area, 1);
}

void FindingsPanel::show_findings(const Findings& findings, const QString& stage, bool more_to_come) {
    const bool same = stage == stage_ && std::equal(findings.begin(), findings.end(), findings_.begin(),
                                                    findings_.end(), [](const Finding& a, const Finding& b) {
                                                        return a.severity == b.severity &&
                                                               a.stage == b.stage && a.subject == b.subject &&
                                                               a.says == b.says && a.why == b.why &&
                                                               a.todo == b.todo && a.place == b.place;
                                                    });
    findings_ = findings;
    stage_ = stage;
    more_to_come_ = more_to_come;
    // Cards that say the same stay: whoever walks them by keys keeps the place.
    if (same)
        say_counts();
    else
        rebuild();
}

void FindingsPanel::toggle_all() {
    all_->toggle();
    rebuild();
}

void FindingsPanel::rebuild() {
    // The list may be rebuilt by the very click on a card: let the event finish first.
    for (auto* card : cards_) {
        card->hide();
        card->deleteLater();
    }
    cards_.clear();
    current_ = -1;
    const bool all = all_->isChecked();
    for (const auto& f : findings_) {
        if (!all && to_q(f.stage) != stage_) continue;
        auto* card = new FindingCard(f, all, list_);
        const int index = static_cast<int>(cards_.size());
        connect(card, &QAbstractButton::clicked, this, [this, index] { open(index); });
        list_layout_->insertWidget(index, card);
        cards_.append(card);
        if (current_ < 0 && f.id + f.subject == current_key_) {
            current_ = index;
            card->set_current(true);
        }
    }
    say_counts();
}

void FindingsPanel::say_counts() {
    const bool all = all_->isChecked();
    const auto here = count(findings_, all ? std::string() : stage_.toStdString());
    const bool none = here.stop + here.doubt + here.note == 0;
    const auto text = !more_to_come_ ? to_q(print(here))
                      : none         ? tr("being checked …")
                                     : tr("%1 so far").arg(to_q(print(here)));
    counts_->setText((all ? tr("all stages · %1") : tr("this stage · %1")).arg(text));
}

void FindingsPanel::step(int direction) {
    if (cards_.isEmpty()) return;
    const int n = static_cast<int>(cards_.size());
    open(current_ < 0 ? (direction > 0 ? 0 : n - 1) : (current_ + direction + n) % n);
}

void FindingsPanel::open(int index) {
    current_ = index;
    for (int i = 0; i < cards_.size(); ++i) cards_[i]->set_current(i == index);
    current_key_ = cards_[index]->finding().id + cards_[index]->finding().subject;
    const Finding finding = cards_[index]->finding();  // a copy: opening may rebuild the list
    Q_EMIT opened(finding);
}

void FindingsPanel::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().panel);
    p.setPen(theme().hairline);
    p.drawLine(0, 0, 0, height());
}

}  // namespace grayrelic::app
