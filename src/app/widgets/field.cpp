// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/field.hpp"

#include <QKeyEvent>
#include <QPainter>
#include <QStyle>
#include <QStyleOptionFrame>

#include <algorithm>

namespace grayrelic::app {

Field::Field(QWidget* parent) : QLineEdit(parent) {
    setAcceptDrops(false);  // a dropped file belongs to the window
    connect(this, &QLineEdit::editingFinished, this, &Field::finish);
}

void Field::show_value(const QString& text) {
    if (hasFocus() && isModified() && this->text() != shown_) {
        shown_ = text;
        return;
    }
    shown_ = text;
    if (this->text() != text) setText(text);
    if (!hasFocus()) setCursorPosition(0);
    // What the tip said before, and the whole of a text that does not fit.
    if (!tip_known_) {
        own_tip_ = toolTip();
        tip_known_ = true;
    }
    if (problem_.isEmpty() && (toolTip() == own_tip_ || toolTip() == shown_tip_)) {
        shown_tip_ = text.isEmpty()       ? own_tip_
                     : own_tip_.isEmpty() ? text
                                          : text + QLatin1Char('\n') + own_tip_;
        setToolTip(shown_tip_);
    }
    setModified(false);
    set_problem({});
}

void Field::finish() {
    if (text() == shown_) {
        set_problem({});
        return;
    }
    if (!commit) return;
    const auto typed = text();
    const auto before = shown_;
    if (const auto message = commit(typed)) {
        set_problem(*message);
        return;
    }
    set_problem({});
    setModified(false);
    // The document shows the value as it was understood; without an edit, what was typed stays.
    if (shown_ == before && text() == typed) shown_ = typed;
}

void Field::set_problem(const QString& text) {
    if (problem_ == text) return;
    if (problem_.isEmpty()) hint_ = toolTip();
    problem_ = text;
    setToolTip(text.isEmpty() ? hint_ : text);
    setProperty("invalid", !text.isEmpty());
    setAccessibleDescription(text);
    style()->unpolish(this);
    style()->polish(this);
    if (text.isEmpty()) {
        delete note_;
        return;
    }
    if (!note_) {
        note_ = new QLabel(window());
        note_->setObjectName(QStringLiteral("problem"));
        note_->setWordWrap(true);
        note_->setContentsMargins(6, 3, 6, 3);
        note_->setAttribute(Qt::WA_TransparentForMouseEvents);
    }
    note_->setText(text);
    place_note();
}

/// Right below the field, or above it where there is no room; as wide as it needs, within the window.
void Field::place_note() {
    if (!note_) return;
    note_->setVisible(isVisible() && !visibleRegion().isEmpty());
    constexpr int widest = 320, least = 160;
    const int width = std::clamp(note_->fontMetrics().horizontalAdvance(note_->text()) + 16, least, widest);
    note_->setFixedWidth(width);
    note_->setFixedHeight(note_->heightForWidth(width));
    auto at = mapTo(window(), QPoint(0, height() + 1));
    at.setX(std::min(at.x(), window()->width() - width - 4));
    if (at.y() + note_->height() > window()->height())
        at.setY(mapTo(window(), QPoint()).y() - note_->height() - 1);
    note_->move(at);
    note_->raise();
}

void Field::paintEvent(QPaintEvent* e) {
    if (note_ && !note_->isVisible()) place_note();  // it has come into sight again
    constexpr int frame = 6;
    const int room = width() - 2 * frame;
    if (hasFocus() || fontMetrics().horizontalAdvance(text()) <= room) {
        QLineEdit::paintEvent(e);
        return;
    }
    QPainter p(this);
    QStyleOptionFrame option;
    initStyleOption(&option);
    style()->drawPrimitive(QStyle::PE_PanelLineEdit, &option, &p, this);
    p.setFont(font());
    p.setPen(palette().color(isEnabled() ? QPalette::Active : QPalette::Disabled, QPalette::Text));
    p.drawText(QRect(frame, 0, room, height()), Qt::AlignLeft | Qt::AlignVCenter,
               fontMetrics().elidedText(text(), Qt::ElideRight, room));
}

void Field::moveEvent(QMoveEvent* e) {
    QLineEdit::moveEvent(e);
    place_note();
}

void Field::resizeEvent(QResizeEvent* e) {
    QLineEdit::resizeEvent(e);
    place_note();
}

void Field::hideEvent(QHideEvent* e) {
    QLineEdit::hideEvent(e);
    if (note_) note_->hide();
}

void Field::showEvent(QShowEvent* e) {
    QLineEdit::showEvent(e);
    place_note();
}

Field::~Field() {
    delete note_;
}

bool Field::event(QEvent* e) {
    if (e->type() == QEvent::ShortcutOverride) {
        auto* key = static_cast<QKeyEvent*>(e);
        const bool undo = key->matches(QKeySequence::Undo) && !isUndoAvailable();
        const bool redo = key->matches(QKeySequence::Redo) && !isRedoAvailable();
        if (undo || redo) {
            e->ignore();
            return true;
        }
    }
    return QLineEdit::event(e);
}

void Field::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Escape) {
        setText(shown_);
        setModified(false);
        set_problem({});
        return;
    }
    QLineEdit::keyPressEvent(e);
}

}  // namespace grayrelic::app
