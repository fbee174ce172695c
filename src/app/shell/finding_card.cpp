// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/finding_card.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"

namespace grayrelic::app {

FindingCard::FindingCard(QWidget* parent) : QAbstractButton(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Minimum);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

void FindingCard::show_finding(const Shown& shown) {
    if (shown == shown_) return;
    shown_ = shown;
    const auto& f = shown_.finding;
    setText(to_q(f.says));
    setAccessibleName(QStringLiteral("%1: %2").arg(to_q(word(f.severity)), to_q(f.says)));
    auto about = to_q(f.why + " " + f.todo);
    if (shown_.more > 0)
        about += QStringLiteral(" And %1 more of this kind: arrow right shows them.").arg(shown_.more);
    setAccessibleDescription(about);
    setToolTip(shown_.more > 0
                   ? QStringLiteral("Show where this is; the last line shows the others of its kind (arrow "
                                    "right and left)")
                   : QStringLiteral("Show where this is"));
    setMinimumHeight(heightForWidth(std::max(200, width())));
    updateGeometry();
    update();
}

void FindingCard::set_current(bool current) {
    if (current == current_) return;
    current_ = current;
    update();
}

int FindingCard::lay_out(QPainter* p, int width, int* more_top) const {
    const int left = shown_.inner ? 38 : 28;
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
    const auto& f = shown_.finding;
    block(to_q(f.says), text_font(13, true), theme().ink);
    block(to_q(f.why), text_font(12), theme().ink2);
    block(to_q(f.todo), text_font(12), theme().ink);
    if (shown_.with_stage) block(to_q(label(f.stage)), text_font(11), theme().ink2);
    if (more_top != nullptr) *more_top = shown_.more > 0 ? y : 1 << 20;
    if (shown_.more > 0) {
        if (p != nullptr) {
            p->setPen(theme().hairline);
            p->drawLine(left, y + 1, width - 10, y + 1);
        }
        y += 5;
        block(shown_.unfolded ? QStringLiteral("Fold the %1 below").arg(shown_.more)
                              : QStringLiteral("%1 more of this kind").arg(shown_.more),
              text_font(12), theme().slate);
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

void FindingCard::mouseReleaseEvent(QMouseEvent* event) {
    int top = 0;
    (void)lay_out(nullptr, width(), &top);
    if (event->button() == Qt::LeftButton && rect().contains(event->pos()) && event->pos().y() >= top) {
        setDown(false);
        Q_EMIT fold_wanted(shown_.unfolded);
        return;
    }
    QAbstractButton::mouseReleaseEvent(event);
}

void FindingCard::keyPressEvent(QKeyEvent* event) {
    if (shown_.more > 0 && (event->key() == Qt::Key_Right || event->key() == Qt::Key_Left)) {
        Q_EMIT fold_wanted(event->key() == Qt::Key_Left);
        return;
    }
    QAbstractButton::keyPressEvent(event);
}

void FindingCard::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setPen(hasFocus() ? theme().slate : theme().hairline);
    p.setBrush(current_ ? theme().selection : theme().sheet);
    p.drawRect(rect().adjusted(shown_.inner ? 10 : 0, 0, -1, -1));
    draw_severity(p, QPointF(shown_.inner ? 25 : 15, 18), shown_.finding.severity);
    lay_out(&p, width());
}

}  // namespace grayrelic::app
