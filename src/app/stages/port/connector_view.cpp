// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/port/connector_view.hpp"

#include <QMouseEvent>
#include <QPainter>

#include <cmath>
#include <numbers>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/view_keys.hpp"

namespace grayrelic::app {

ConnectorView::ConnectorView(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Connector"));
    setToolTip(tr("Click a contact, or walk with the arrow keys"));
    add_keys();
}

void ConnectorView::show_port(const Port& port, std::optional<Connector> connector, const QString& problem) {
    port_ = port;
    connector_ = std::move(connector);
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

double ConnectorView::scale() const {
    return (std::min(width(), height()) - 44.0) / connector_->shell_diameter_mm;
}

QPointF ConnectorView::point(const Contact& c) const {
    const auto place = place_of(c, viewpoint_);
    return {width() / 2.0 + place.x_mm * scale(), height() / 2.0 - place.y_mm * scale() + 4};
}

QPointF ConnectorView::place(const QString& number) const {
    if (connector_)
        for (const auto& c : connector_->contacts)
            if (c.number == number.toStdString()) return point(c);
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
    p.setRenderHint(QPainter::Antialiasing);
    const double r = connector_->shell_diameter_mm / 2.0 * scale();
    const QPointF middle(width() / 2.0, height() / 2.0 + 4);
    auto body = theme().selection;
    body.setAlphaF(0.45F);
    p.setPen(QPen(theme().ink2, 2));
    p.setBrush(body);
    p.drawEllipse(middle, r, r);
    double angle = connector_->key_angle_deg * std::numbers::pi / 180.0;
    if (is_mirrored(viewpoint_)) angle = std::numbers::pi - angle;
    const double kw = connector_->key_width_mm * scale();
    p.setBrush(theme().sheet);
    p.drawRect(QRectF(middle.x() + r * std::cos(angle) - kw / 2.0, middle.y() - r * std::sin(angle) - 6.0, kw,
                      12.0));

    const double radius = std::max(11.0, connector_->contact_diameter_mm / 2.0 * scale());
    for (const auto& c : connector_->contacts) {
        const auto* pin = port_.find_pin(c.number);
        const auto at = point(c);
        const auto colour = pin == nullptr ? theme().hairline : theme().driver(pin->driver.value);
        const bool known = pin != nullptr && !pin->name.value.empty();
        if (selected_ == to_q(c.number)) {
            p.setPen(QPen(theme().ink, hasFocus() ? 2.5 : 1.5));
            p.setBrush(theme().selection);
            p.drawEllipse(at, radius + 5, radius + 5);
        }
        p.setPen(QPen(colour, 2));
        p.setBrush(known ? QBrush(colour) : QBrush(theme().sheet));
        p.drawEllipse(at, radius, radius);
        p.setPen(known ? theme().sheet : theme().ink2);
        p.setFont(figure_font(12, true));
        p.drawText(QRectF(at.x() - radius, at.y() - radius, 2 * radius, 2 * radius), Qt::AlignCenter,
                   to_q(c.number));
        if (pin == nullptr) continue;
        p.setPen(known ? theme().ink : theme().ink2);
        p.setFont(text_font(11, false, !known));
        p.drawText(QRectF(at.x() - 40 + shift_of(c, radius), at.y() + radius + 4, 80, 16), Qt::AlignCenter,
                   known ? to_q(pin->name.value) : tr("not known"));
    }
}

double ConnectorView::shift_of(const Contact& c, double radius) const {
    // Names that would touch give way to the sides, each by half.
    const QFontMetricsF metrics(text_font(11));
    const auto width_of = [&](const Contact& x) {
        return metrics.horizontalAdvance(to_q(port_.find_pin(x.number)->name.value));
    };
    double shift = 0;
    for (const auto& other : connector_->contacts) {
        if (other.number == c.number || port_.find_pin(c.number) == nullptr ||
            port_.find_pin(other.number) == nullptr)
            continue;
        const auto d = point(c) - point(other);
        const double overlap = (width_of(c) + width_of(other)) / 2 + 6 - std::abs(d.x());
        if (std::abs(d.y()) < radius && overlap > 0) shift += d.x() < 0 ? -overlap / 2 : overlap / 2;
    }
    return shift;
}

void ConnectorView::mousePressEvent(QMouseEvent* e) {
    if (!connector_) return;
    const Contact* best = nullptr;
    double distance = 24.0;
    for (const auto& c : connector_->contacts) {
        const auto d = point(c) - e->position();
        if (const double length = std::hypot(d.x(), d.y()); length < distance) {
            distance = length;
            best = &c;
        }
    }
    if (best != nullptr) Q_EMIT picked(to_q(best->number));
}

void ConnectorView::walk(double dx, double dy) {
    const auto from = place(selected_);
    const Contact* best = nullptr;
    double least = 1e9;
    for (const auto& c : connector_->contacts) {
        const auto d = point(c) - from;
        const double along = d.x() * dx + d.y() * dy;
        const double across = std::abs(d.x() * dy) + std::abs(d.y() * dx);
        if (along < 2.0) continue;
        if (const double cost = along + 2.0 * across; cost < least) {
            least = cost;
            best = &c;
        }
    }
    if (best != nullptr) Q_EMIT picked(to_q(best->number));
}

void ConnectorView::add_keys() {
    const auto go = [this](int dx, int dy) {
        if (!connector_ || connector_->contacts.empty()) return;
        if (selected_.isEmpty()) selected_ = to_q(connector_->contacts.front().number);
        walk(dx, dy);
    };
    const auto group = tr("Connector");
    add_view_key(this, group, tr("Contact on the left"), {"Left"}, [go] { go(-1, 0); });
    add_view_key(this, group, tr("Contact on the right"), {"Right"}, [go] { go(1, 0); });
    add_view_key(this, group, tr("Contact above"), {"Up"}, [go] { go(0, -1); });
    add_view_key(this, group, tr("Contact below"), {"Down"}, [go] { go(0, 1); });
}

}  // namespace grayrelic::app
