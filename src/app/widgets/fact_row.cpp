// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/fact_row.hpp"

#include <QGridLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <QSignalBlocker>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"

namespace grayrelic::app {
namespace {

constexpr EvidenceKind all_kinds[] = {EvidenceKind::measured, EvidenceKind::documented, EvidenceKind::deduced,
                                      EvidenceKind::assumed};

}  // namespace

EvidenceButton::EvidenceButton(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setFixedSize(38, 24);
    setCursor(Qt::PointingHandCursor);
    show_kind(EvidenceKind::assumed);
}

void EvidenceButton::show_kind(EvidenceKind kind, bool has_value) {
    kind_ = kind;
    has_value_ = has_value;
    const auto text = has_value ? to_q(word(kind)) : tr("none, nothing is recorded");
    setToolTip(tr("Evidence: %1. Click to change.").arg(text));
    setAccessibleName(tr("Evidence: %1").arg(text));
    update();
}

void EvidenceButton::paintEvent(QPaintEvent*) {
    QPainter p(this);
    draw_evidence(p, QPointF(6, height() / 2.0), has_value_ ? std::optional(kind_) : std::nullopt);
    if (hasFocus()) {
        p.setPen(theme().slate);
        p.setBrush(Qt::NoBrush);
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void EvidenceButton::open_menu() {
    QMenu menu(this);
    for (const auto kind : all_kinds) {
        auto* action = menu.addAction(to_q(word(kind)));
        action->setCheckable(true);
        action->setChecked(kind == kind_);
        action->setData(static_cast<int>(kind));
    }
    if (const auto* picked = menu.exec(mapToGlobal(QPoint(0, height()))))
        Q_EMIT chosen(static_cast<EvidenceKind>(picked->data().toInt()));
}

void EvidenceButton::mousePressEvent(QMouseEvent*) {
    open_menu();
}

void EvidenceButton::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Space || e->key() == Qt::Key_Return || e->key() == Qt::Key_Down) {
        open_menu();
        return;
    }
    // One letter picks: m, d (documented, then deduced), a.
    const auto typed = e->text().toLower();
    if (!typed.isEmpty())
        for (int i = 1; i <= 4; ++i) {
            const auto kind = all_kinds[(static_cast<int>(kind_) + i) % 4];
            if (to_q(word(kind)).startsWith(typed)) {
                Q_EMIT chosen(kind);
                return;
            }
        }
    QWidget::keyPressEvent(e);
}

FactRow::FactRow(const QString& label, const QStringList& choices, QWidget* parent) : QWidget(parent) {
    auto* layout = grid_ = new QGridLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setHorizontalSpacing(6);
    layout->setVerticalSpacing(1);
    layout->setColumnStretch(1, 3);
    layout->setColumnStretch(3, 4);
    auto* name = new QLabel(label);
    name->setFixedWidth(102);
    layout->addWidget(name, 0, 0);
    if (choices.isEmpty()) {
        value_ = new Field;
        value_->setMinimumWidth(70);
        value_->setAccessibleName(label);
        value_->commit = [this](const QString& text) { return send(text, evidence_now()); };
        layout->addWidget(value_, 0, 1);
        name->setBuddy(value_);
    } else {
        choice_ = new QComboBox;
        choice_->addItems(choices);
        choice_->setMinimumWidth(126);
        choice_->setAccessibleName(label);
        connect(choice_, &QComboBox::activated, this,
                [this] { (void)send(choice_->currentText(), evidence_now()); });
        layout->addWidget(choice_, 0, 1);
        name->setBuddy(choice_);
    }
    evidence_ = new EvidenceButton;
    connect(evidence_, &EvidenceButton::chosen, this, [this](EvidenceKind kind) {
        auto e = shown_;
        e.kind = kind;
        (void)send(value_text(), e);
    });
    layout->addWidget(evidence_, 0, 2);
    source_ = new Field;
    source_->setPlaceholderText(tr("source"));
    source_->setAccessibleName(tr("Source of %1").arg(label));
    source_->commit = [this](const QString& text) {
        auto e = shown_;
        e.source = text.trimmed().toStdString();
        return send(value_text(), e);
    };
    layout->addWidget(source_, 0, 3);
}

void FactRow::resizeEvent(QResizeEvent* e) {
    QWidget::resizeEvent(e);
    fit();
}

void FactRow::set_whole(bool on) {
    whole_ = on;
    source_->setMinimumWidth(on ? 10 : 0);  // the row decides where it stands, not its wish
    fit();
}

void FactRow::fit() {
    constexpr int label = 102, gaps = 3 * 6, least = 84, frame = 18;
    const int value = value_ != nullptr ? value_->minimumWidth() : choice_->minimumWidth();
    const int beside = width() - label - value - evidence_->width() - gaps;
    if (!whole_) {
        // Where there is no room for the source it stands in the tooltip only.
        source_->setVisible(beside >= least);
        return;
    }
    // The value's column takes 3 of 7 parts of what is left over, the source's 4.
    const int room = (width() - label - evidence_->width() - gaps) * 4 / 7;
    const bool below =
        room < least || QFontMetrics(text_font(13)).horizontalAdvance(source_->text()) + frame > room;
    const int row = below ? 1 : 0;
    if (int r = 0, c = 0, rs = 0, cs = 0;
        grid_->indexOf(source_) >= 0 &&
        (grid_->getItemPosition(grid_->indexOf(source_), &r, &c, &rs, &cs), r != row)) {
        grid_->removeWidget(source_);
        if (below)
            grid_->addWidget(source_, 1, 0, 1, 4);
        else
            grid_->addWidget(source_, 0, 3);
    }
    auto font = text_font(below ? 11 : 13);
    const auto too_wide = [&] {
        return QFontMetrics(font).horizontalAdvance(source_->text()) + frame > width();
    };
    // In the narrowest window a long sentence is set a little smaller, then a little closer.
    constexpr int closer_percent = 92;
    if (below && too_wide()) font = text_font(10);
    if (below && too_wide()) font.setStretch(closer_percent);
    source_->setFont(font);
    source_->setVisible(true);
}

QString FactRow::value_text() const {
    return value_ != nullptr ? value_->text() : choice_->currentText();
}

Evidence FactRow::evidence_now() const {
    return has_value_ || !new_evidence ? shown_ : new_evidence();
}

void FactRow::show_fact(const QString& value, const Evidence& evidence) {
    shown_ = evidence;
    has_value_ = !value.isEmpty() && value != QLatin1String("unknown");
    const bool assumed = evidence.kind == EvidenceKind::assumed;
    if (value_ != nullptr) {
        value_->setFont(text_font(13, false, assumed && !value.isEmpty()));
        value_->show_value(value);
    } else {
        const QSignalBlocker block(choice_);
        choice_->setCurrentText(value);
        choice_->setFont(text_font(13, false, assumed));
    }
    evidence_->show_kind(evidence.kind, !value.isEmpty() && value != QLatin1String("unknown"));
    source_->show_value(to_q(evidence.source));
    source_->setCursorPosition(0);
    if (whole_) fit();
    setToolTip(to_q(evidence.source));
    source_->setToolTip(to_q(evidence.source + (evidence.tool.empty() ? "" : ", " + evidence.tool) +
                             (evidence.date.empty() ? "" : ", " + evidence.date)));
}

std::optional<QString> FactRow::send(const QString& value, Evidence evidence) {
    return commit ? commit(value.trimmed(), evidence) : std::nullopt;
}

}  // namespace grayrelic::app
