// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/paint/drawing_paint.hpp"

#include <QImage>
#include <QPainter>
#include <QPainterPath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"

namespace grayrelic::app {
namespace {

void fill(QPainter& p, const Drawing::Fill& f) {
    auto ink = ink_colour(f.ink);
    if (f.strength >= 1) {
        p.setRenderHint(QPainter::Antialiasing, false);
        for (const auto& r : f.rects) p.fillRect(to_q(r), ink);
        p.setRenderHint(QPainter::Antialiasing);
        return;
    }
    ink.setAlphaF(static_cast<float>(f.strength));
    QPainterPath all;
    all.setFillRule(Qt::WindingFill);
    for (const auto& r : f.rects) all.addRect(to_q(r));
    p.fillPath(all, ink);
}

void paint_areas(QPainter& p, const Drawing& d) {
    p.setBrush(Qt::NoBrush);
    for (const auto& i : d.images)
        p.drawImage(to_q(i.at), QImage::fromData(reinterpret_cast<const uchar*>(i.png.data()),
                                                 static_cast<int>(i.png.size()), "PNG"));
    for (const auto& a : d.areas) {
        QPainterPath area;
        area.setFillRule(Qt::OddEvenFill);
        for (const auto& ring : a.rings) {
            QPolygonF polygon;
            for (const auto& [x, y] : ring) polygon << QPointF(x, y);
            area.addPolygon(polygon);
            area.closeSubpath();
        }
        auto ink = ink_colour(a.ink);
        ink.setAlphaF(static_cast<float>(a.strength));
        if (a.strength > 0) p.fillPath(area, ink);
        if (a.edge)
            p.strokePath(
                area, QPen(ink_colour(*a.edge), a.edge_width, a.edge_dashed ? Qt::DashLine : Qt::SolidLine));
    }
    for (const auto& f : d.fills) fill(p, f);
    p.setBrush(Qt::NoBrush);
}

void paint_lines(QPainter& p, const Drawing& d) {
    p.setBrush(Qt::NoBrush);
    for (const auto& b : d.bands) {
        QPen pen(ink_colour(b.ink), b.width, b.dashed ? Qt::DashLine : Qt::SolidLine);
        pen.setCapStyle(Qt::FlatCap);
        p.setPen(pen);
        const double middle = (b.x1 + b.x2) / 2;
        QPainterPath way(QPointF(b.x1, b.y1));
        way.cubicTo(QPointF(middle, b.y1), QPointF(middle, b.y2), QPointF(b.x2, b.y2));
        p.drawPath(way);
    }
    for (const auto& l : d.lines) {
        p.setPen(QPen(ink_colour(l.ink), l.width, l.dashed ? Qt::DashLine : Qt::SolidLine));
        p.drawLine(QPointF(l.x1, l.y1), QPointF(l.x2, l.y2));
    }
    p.setBrush(Qt::NoBrush);
    for (const auto& s : d.strokes) {
        QPen pen(ink_colour(s.ink), s.width, s.dashed ? Qt::DashLine : Qt::SolidLine);
        pen.setJoinStyle(Qt::RoundJoin);
        p.setPen(pen);
        QPolygonF way;
        for (const auto& [x, y] : s.points) way << QPointF(x, y);
        p.drawPolyline(way);
    }
    for (const auto& c : d.circles) {
        p.setPen(c.filled ? QPen(Qt::NoPen) : QPen(ink_colour(c.ink), c.width));
        p.setBrush(c.filled ? QBrush(ink_colour(c.ink)) : QBrush(Qt::NoBrush));
        p.drawEllipse(QPointF(c.x, c.y), c.r, c.r);
    }
    for (const auto& b : d.boxes) {
        p.setPen(QPen(ink_colour(b.ink), 1));
        p.setBrush(theme().sheet);
        p.drawRoundedRect(QRectF(b.x + 0.5, b.y + 0.5, b.w, b.h), 2, 2);
    }
}

void paint_signs(QPainter& p, const Drawing& d) {
    p.setPen(Qt::NoPen);
    for (const auto& a : d.arrows) {
        const double s = a.right ? -1 : 1;
        p.setBrush(ink_colour(a.ink));
        p.drawPolygon(
            QPolygonF{QPointF(a.x, a.y), QPointF(a.x + 6 * s, a.y - 2.6), QPointF(a.x + 6 * s, a.y + 2.6)});
    }
    for (const auto& m : d.marks) draw_verdict(p, QPointF(m.x, m.y), m.verdict);
}

void paint_texts(QPainter& p, const Drawing& d) {
    for (const auto& t : d.texts) {
        auto font = t.figure ? figure_font(t.size, t.bold) : text_font(t.size, t.bold);
        font.setItalic(t.italic);
        p.setFont(font);
        p.setPen(ink_colour(t.ink));
        const auto text = to_q(t.text);
        const double w = p.fontMetrics().horizontalAdvance(text);
        const double x = t.anchor == Drawing::Anchor::start    ? t.x
                         : t.anchor == Drawing::Anchor::middle ? t.x - w / 2
                                                               : t.x - w;
        if (t.backed) p.fillRect(QRectF(x - 1, t.y - t.size, w + 2, t.size + 3), theme().sheet);
        p.drawText(QPointF(x, t.y), text);
    }
}

}  // namespace

QColor ink_colour(Ink ink) {
    switch (ink) {
        case Ink::ink:
        case Ink::both: return theme().ink;
        case Ink::ink2: return theme().ink2;
        case Ink::hairline: return theme().hairline;
        case Ink::relic: return theme().umber;
        case Ink::bridge: return theme().slate;
        case Ink::stop: return theme().oxide;
        case Ink::doubt: return theme().brass;
        case Ink::holds: return theme().verdigris;
        case Ink::sheet: return theme().sheet;
        case Ink::shade: return theme().selection;
    }
    return theme().ink;
}

void paint_drawing(QPainter& p, const Drawing& d) {
    p.setRenderHint(QPainter::Antialiasing);
    paint_areas(p, d);
    paint_lines(p, d);
    paint_signs(p, d);
    paint_texts(p, d);
}

}  // namespace grayrelic::app
