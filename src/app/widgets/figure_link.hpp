// SPDX-License-Identifier: GPL-3.0-or-later
// A figure that leads to what is behind it: a click, or Enter while it has the focus.
#pragma once

#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>

#include <functional>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"

namespace grayrelic::app {

class FigureLink : public QLabel {
  public:
    explicit FigureLink(const QString& text = {}) : QLabel(text) { setFont(figure_font(12)); }
    std::function<void()> follow;
    /// Without a figure there is nothing to follow.
    void show_figure(const QString& text, bool leads) {
        setText(text);
        leads_ = leads && follow != nullptr;
        setCursor(leads_ ? Qt::PointingHandCursor : Qt::ArrowCursor);
        setFocusPolicy(leads_ ? Qt::TabFocus : Qt::NoFocus);
        underline(false);
    }

  protected:
    void enterEvent(QEnterEvent*) override { underline(leads_); }
    void leaveEvent(QEvent*) override { underline(hasFocus()); }
    void focusInEvent(QFocusEvent*) override { underline(leads_); }
    void focusOutEvent(QFocusEvent*) override { underline(false); }
    void mouseReleaseEvent(QMouseEvent* e) override {
        if (leads_ && e->button() == Qt::LeftButton && rect().contains(e->pos())) follow();
    }
    void keyPressEvent(QKeyEvent* e) override {
        if (leads_ && (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter || e->key() == Qt::Key_Space))
            follow();
        else
            QLabel::keyPressEvent(e);
    }

  private:
    void underline(bool on) {
        auto f = font();
        f.setUnderline(on);
        setFont(f);
    }
    bool leads_ = false;
};

}  // namespace grayrelic::app
