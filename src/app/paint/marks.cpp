// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/paint/marks.hpp"

#include <QPainter>
#include <QPainterPath>

#include "app/paint/theme.hpp"

namespace grayrelic::app {

QString to_q(const std::string& s) {
    return QString::fromStdString(s);
}
QString to_q(std::string_view s) {
    return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size()));
}

void draw_verdict(QPainter& p, QPointF m, Verdict v) {
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    const auto colour = theme().verdict(v);
    p.setPen(Qt::NoPen);
    p.setBrush(colour);
    switch (v) {
        case Verdict::stop: p.drawRect(QRectF(m.x() - 5, m.y() - 5, 10, 10)); break;
        case Verdict::doubt: {
            const QPointF points[] = {
                {m.x(), m.y() - 6}, {m.x() + 6, m.y()}, {m.x(), m.y() + 6}, {m.x() - 6, m.y()}};
            p.drawConvexPolygon(points, 4);
            break;
        }
        case Verdict::holds: p.drawEllipse(m, 5, 5); break;
        case Verdict::unknown:
            p.setBrush(Qt::NoBrush);
            p.setPen(QPen(colour, 1.5));
            p.drawEllipse(m, 4.5, 4.5);
            break;
    }
    p.restore();
}

QIcon verdict_icon(Verdict verdict) {
    QPixmap mark(36, 36);
    mark.setDevicePixelRatio(2);
    mark.fill(Qt::transparent);
    QPainter p(&mark);
    p.setRenderHint(QPainter::Antialiasing);
    draw_verdict(p, QPointF(9, 9), verdict);
    return QIcon(mark);
}

void draw_severity(QPainter& p, QPointF m, Severity s) {
    if (s != Severity::note) {
        draw_verdict(p, m, s == Severity::stop ? Verdict::stop : Verdict::doubt);
        return;
    }
    p.fillRect(QRectF(m.x() - 5, m.y() - 2, 10, 4), theme().severity(s));
}

void draw_evidence(QPainter& p, QPointF left, std::optional<EvidenceKind> kind) {
    const int filled = kind ? 4 - static_cast<int>(*kind) : 0;
    for (int i = 0; i < 4; ++i) {
        const double h = 4.0 + 2.0 * i;
        const QRectF bar(left.x() + i * 7.0, left.y() + 5.0 - h, 5.0, h);
        if (i < filled)
            p.fillRect(bar, theme().ink2);
        else {
            p.setPen(QPen(theme().hairline, 1));
            p.setBrush(Qt::NoBrush);
            p.drawRect(bar.adjusted(0.5, 0.5, -0.5, -0.5));
        }
    }
}

void draw_driver(QPainter& p, QPointF m, Driver d) {
    if (d != Driver::relic && d != Driver::bridge && d != Driver::both) return;
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme().driver(d), 1.6, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(QPointF(m.x() - 8, m.y()), QPointF(m.x() + 8, m.y()));
    const auto head = [&](double tip, double back) {
        p.drawLine(QPointF(tip, m.y()), QPointF(back, m.y() - 4));
        p.drawLine(QPointF(tip, m.y()), QPointF(back, m.y() + 4));
    };
    if (d != Driver::bridge) head(m.x() + 8, m.x() + 3);
    if (d != Driver::relic) head(m.x() - 8, m.x() - 3);
    p.restore();
}

bool draw_text(QPainter& p, const QRectF& box, int flags, const QString& text) {
    const auto shown = p.fontMetrics().elidedText(text, Qt::ElideRight, static_cast<int>(box.width()) + 1);
    p.drawText(box, flags, shown);
    return shown != text;
}

}  // namespace grayrelic::app
