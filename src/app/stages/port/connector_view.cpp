// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/port/connector_view.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include <cmath>

#include "app/paint/drawing_paint.hpp"
#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/view_keys.hpp"

namespace grayrelic::app {
ConnectorView::ConnectorView(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Connector"));
    setToolTip(
        tr("Click a contact or walk with the arrow keys. Type to enter its name and what is known, "
           "such as: REPLY bridge hct 5V high"));
    entry_ = new QLineEdit(this);
    entry_->setAccessibleName(tr("What this pin is"));
    entry_->setPlaceholderText(tr("name, then what is known: bridge hct 5V high"));
    entry_->installEventFilter(this);
    entry_->hide();
    add_keys();
}

void ConnectorView::show_port(const Port& port, std::optional<Connector> connector, const QString& problem) {
    if (port.id != port_.id) entry_->hide();
    port_ = port;
    connector_ = std::move(connector);
    numbers_.clear();
    if (connector_)
        for (const auto& n : connector_->numbering(port.numbering).numbers) numbers_.push_back(to_q(n));
    problem_ = problem;
    viewpoint_ = viewpoint_named(port.viewpoint);
    update();
}

void ConnectorView::select(const QString& number) {
    selected_ = number;
    const auto* pin = port_.find_pin(number.toStdString());
    setAccessibleDescription(
        tr("Pin %1 %2").arg(number, pin == nullptr ? tr("not recorded") : to_q(pin->name.value)));
    update();
}

FaceStyle ConnectorView::style() const {
    return {static_cast<double>(width()),
            static_cast<double>(height()),
            true,
            false,
            selected_.toStdString(),
            hasFocus()};
}

FaceFit ConnectorView::fit() const {
    return fit_face(*connector_, viewpoint_, face_area(style()));
}

QPointF ConnectorView::place(const QString& number) const {
    if (connector_)
        for (std::size_t i = 0; i < numbers_.size(); ++i)
            if (numbers_[i] == number) return to_q(fit().at(i));
    return {};
}

void ConnectorView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    if (!connector_) {
        p.setPen(theme().ink2);
        p.setFont(text_font(12));
        p.drawText(rect().adjusted(12, 12, -12, -12), Qt::AlignCenter | Qt::TextWordWrap, problem_);
        return;
    }
    paint_drawing(p, face_drawing(port_, *connector_, viewpoint_, style()));
}

void ConnectorView::mousePressEvent(QMouseEvent* e) {
    if (!connector_) return;
    if (entry_->isVisible()) finish_entry(0);
    if (const auto hit = fit().contact_at(e->position().x(), e->position().y()))
        Q_EMIT picked(numbers_[*hit]);
}

void ConnectorView::keyPressEvent(QKeyEvent* e) {
    const auto typed = e->text();
    const bool plain = !(e->modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier));
    if (plain && !typed.isEmpty() && typed[0].isPrint() && !typed[0].isSpace())
        begin_entry(typed);
    else
        QWidget::keyPressEvent(e);
}

void ConnectorView::begin_entry(const QString& first) {
    if (!connector_ || !enter || port_.id.empty()) return;
    if (selected_.isEmpty()) Q_EMIT picked(numbers_.front());
    const auto at = place(selected_);
    const int w = std::min(300, width() - 8);
    const int x = std::clamp(static_cast<int>(at.x()) - w / 2, 4, std::max(4, width() - w - 4));
    const int below = static_cast<int>(at.y()) + 18;
    entry_->setGeometry(x, std::min(below, height() - 30), w, 28);
    entry_->setText(first);
    entry_->show();
    entry_->setFocus();
    if (first.isEmpty())
        if (const auto* pin = port_.find_pin(selected_.toStdString())) {
            entry_->setText(to_q(pin->name.value));
            entry_->selectAll();
        }
}

void ConnectorView::finish_entry(int by) {
    const auto line = entry_->text();
    if (const auto wrong = enter(selected_, line)) {
        QToolTip::showText(entry_->mapToGlobal(QPoint(0, entry_->height())), *wrong, entry_);
        entry_->setToolTip(*wrong);
        return;
    }
    entry_->setToolTip({});
    entry_->hide();
    setFocus();
    if (by != 0) step(by);
}

void ConnectorView::step(int by) {
    // In the order people count, which is not the order of the contacts in the file.
    auto order = numbers_;
    std::stable_sort(order.begin(), order.end(), [](const QString& a, const QString& b) {
        return a.size() != b.size() ? a.size() < b.size() : a < b;
    });
    const auto it = std::find(order.begin(), order.end(), selected_);
    if (order.empty()) return;
    const auto n = static_cast<std::ptrdiff_t>(order.size());
    const auto i = it == order.end() ? 0 : ((it - order.begin()) + by + n) % n;
    Q_EMIT picked(order[static_cast<std::size_t>(i)]);
}

void ConnectorView::resizeEvent(QResizeEvent* e) {
    entry_->hide();
    QWidget::resizeEvent(e);
}

bool ConnectorView::eventFilter(QObject* watched, QEvent* event) {
    if (watched == entry_ && event->type() == QEvent::KeyPress) {
        switch (static_cast<QKeyEvent*>(event)->key()) {
            case Qt::Key_Return:
            case Qt::Key_Enter:
            case Qt::Key_Tab:
            case Qt::Key_Down: finish_entry(1); return true;
            case Qt::Key_Backtab:
            case Qt::Key_Up: finish_entry(-1); return true;
            case Qt::Key_Escape:
                entry_->hide();
                setFocus();
                return true;
            default: break;
        }
    }
    return QWidget::eventFilter(watched, event);
}

void ConnectorView::walk(double dx, double dy) {
    const auto face = fit();
    const auto from = place(selected_);
    std::optional<std::size_t> best;
    double least = 1e9;
    for (std::size_t i = 0; i < numbers_.size(); ++i) {
        const auto d = to_q(face.at(i)) - from;
        const double along = d.x() * dx + d.y() * dy;
        const double across = std::abs(d.x() * dy) + std::abs(d.y() * dx);
        if (along < 2.0) continue;
        if (const double cost = along + 2.0 * across; cost < least) {
            least = cost;
            best = i;
        }
    }
    if (best) Q_EMIT picked(numbers_[*best]);
}

void ConnectorView::add_keys() {
    const auto go = [this](int dx, int dy) {
        if (!connector_ || numbers_.empty()) return;
        if (selected_.isEmpty()) selected_ = numbers_.front();
        walk(dx, dy);
    };
    const auto group = tr("Connector");
    add_view_key(this, group, tr("Contact on the left"), {"Left"}, [go] { go(-1, 0); });
    add_view_key(this, group, tr("Contact on the right"), {"Right"}, [go] { go(1, 0); });
    add_view_key(this, group, tr("Contact above"), {"Up"}, [go] { go(0, -1); });
    add_view_key(this, group, tr("Contact below"), {"Down"}, [go] { go(0, 1); });
    add_view_key(this, group, tr("Enter what the pin is; Enter again goes to the next number"),
                 {"Return", "Enter", "F2"}, [this] { begin_entry({}); });
    add_view_key(this, group, tr("Next number"), {"PgDown"}, [this] { step(1); });
    add_view_key(this, group, tr("Previous number"), {"PgUp"}, [this] { step(-1); });
    add_view_key(this, group, tr("Forget the pin"), {"Delete"}, [this] {
        if (enter) (void)enter(selected_, QString());
    });
}

}  // namespace grayrelic::app
