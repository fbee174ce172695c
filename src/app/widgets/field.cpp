// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/field.hpp"

#include <QKeyEvent>
#include <QStyle>
#include <QToolTip>

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
    style()->unpolish(this);
    style()->polish(this);
    if (!text.isEmpty() && isVisible()) QToolTip::showText(mapToGlobal(QPoint(0, height())), text, this);
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
