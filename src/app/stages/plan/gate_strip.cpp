// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/plan/gate_strip.hpp"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"

namespace grayrelic::app {

QString gate_line(const GateState& g) {
    if (!g.needed) return QObject::tr("not needed here");
    if (!g.passed_with.empty()) return QObject::tr("gone on: %1").arg(to_q(g.passed_with));
    if (g.blocked_by.empty()) return QObject::tr("nothing in the way");
    if (g.blocked_by.size() > 1 && g.verdict != Verdict::unknown)
        return QObject::tr("%1 things in the way").arg(g.blocked_by.size());
    return to_q(g.verdict == Verdict::unknown ? g.blocked_by.back().says : g.blocked_by.front().says);
}

GateStrip::GateStrip(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Gates"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void GateStrip::show_gates(std::vector<GateState> gates) {
    gates_ = std::move(gates);
    QStringList said;
    for (const auto& g : gates_) said << said_of(g.gate);
    setAccessibleDescription(said.join(QLatin1Char('\n')));
    update();
}

void GateStrip::pick(JobGate gate) {
    picked_ = static_cast<int>(gate);
    update();
}

QString GateStrip::said_of(JobGate gate) const {
    for (const auto& g : gates_) {
        if (g.gate != gate) continue;
        auto out = tr("%1: %2").arg(to_q(label(g.gate)), to_q(word(g.verdict)));
        if (!g.needed) return tr("%1: not needed here").arg(to_q(label(g.gate)));
        if (!g.passed_with.empty()) out += tr(", gone on: %1").arg(to_q(g.passed_with));
        for (const auto& b : g.blocked_by) out += QLatin1Char('\n') + to_q(b.says);
        return out;
    }
    return {};
}

QRectF GateStrip::box(int gate) const {
    const double each = width() / static_cast<double>(std::max<std::size_t>(gates_.size(), 1));
    return {gate * each, 0, each, static_cast<double>(height())};
}

int GateStrip::gate_at(double x) const {
    const int n = static_cast<int>(gates_.size());
    return n == 0 ? -1 : std::clamp(static_cast<int>(x * n / std::max(width(), 1)), 0, n - 1);
}

void GateStrip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    for (int i = 0; i < static_cast<int>(gates_.size()); ++i) {
        const auto& g = gates_[static_cast<std::size_t>(i)];
        const auto b = box(i);
        if (i == picked_) p.fillRect(b.adjusted(0, 0, -10, 0), theme().selection);
        draw_verdict(p, b.topLeft() + QPointF(14, 14), g.needed ? g.verdict : Verdict::unknown);
        p.setPen(g.needed ? theme().ink : theme().ink2);
        p.setFont(text_font(13, true));
        draw_text(p, QRectF(b.left() + 26, 3, b.width() - 46, 22), Qt::AlignLeft | Qt::AlignVCenter,
                  to_q(label(g.gate)));
        p.setPen(theme().ink2);
        p.setFont(text_font(11));
        draw_text(p, QRectF(b.left() + 26, 24, b.width() - 40, 18), Qt::AlignLeft | Qt::AlignVCenter,
                  gate_line(g));
        if (i > 0) {
            p.setPen(QPen(theme().hairline, 1.4));
            const double x = b.left() - 8;
            p.drawPolyline(QPolygonF({QPointF(x, 9), QPointF(x + 5, 15), QPointF(x, 21)}));
        }
    }
    if (hasFocus()) {
        p.setRenderHint(QPainter::Antialiasing, false);
        p.setPen(QPen(theme().slate, 1));
        p.drawRect(box(picked_).adjusted(0, 0, -11, -1));
    }
}

void GateStrip::choose(int gate) {
    if (gate < 0 || gate >= static_cast<int>(gates_.size())) return;
    picked_ = gate;
    update();
    Q_EMIT chosen(picked());
}

void GateStrip::mousePressEvent(QMouseEvent* e) {
    choose(gate_at(e->position().x()));
}

void GateStrip::mouseDoubleClickEvent(QMouseEvent*) {
    Q_EMIT opened(picked());
}

void GateStrip::keyPressEvent(QKeyEvent* e) {
    switch (e->key()) {
        case Qt::Key_Right: return choose(picked_ + 1);
        case Qt::Key_Left: return choose(picked_ - 1);
        case Qt::Key_Return:
        case Qt::Key_Enter: Q_EMIT opened(picked()); return;
        default: QWidget::keyPressEvent(e);
    }
}

bool GateStrip::event(QEvent* e) {
    if (e->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(e);
        const int gate = gate_at(help->pos().x());
        if (gate >= 0)
            QToolTip::showText(help->globalPos(),
                               said_of(static_cast<JobGate>(gate))
                                   .toHtmlEscaped()
                                   .replace(QLatin1Char('\n'), QStringLiteral("<br>")),
                               this);
        return true;
    }
    return QWidget::event(e);
}

}  // namespace grayrelic::app
