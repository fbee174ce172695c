// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/drawing_view.hpp"

#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QFileDialog>
#include <QMenu>
#include <QMessageBox>
#include <QPainter>
#include <QPainterPath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/view_keys.hpp"
#include "render/pdf.hpp"

namespace grayrelic::app {
namespace {

QColor colour(Ink ink) {
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
    }
    return theme().ink;
}

}  // namespace

DrawingView::DrawingView(const QString& name, QWidget* parent) : QWidget(parent) {
    setAccessibleName(name);
    setToolTip(tr("E or right click: save as SVG, PNG or PDF; Ctrl+C: copy as picture"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Minimum);
    setFocusPolicy(Qt::StrongFocus);
    ask_file = [this] {
        return QFileDialog::getSaveFileName(this, tr("Save the drawing"), QStringLiteral("drawing.svg"),
                                            tr("SVG (*.svg);;PNG (*.png);;PDF (*.pdf)"));
    };
    const auto group = tr("Drawing");
    add_view_key(this, group, tr("Save the drawing"), {"E"}, [this] { save_as(); });
    add_view_key(this, group, tr("Copy it as a picture"), {"Ctrl+C"}, [this] { copy(); });
}

void DrawingView::show_drawing(Drawing drawing) {
    drawing_ = std::move(drawing);
    setMinimumHeight(static_cast<int>(drawing_.height));
    setMinimumWidth(redraw ? least_width : static_cast<int>(drawing_.width));
    updateGeometry();
    update();
}

QSize DrawingView::sizeHint() const {
    return {static_cast<int>(drawing_.width), static_cast<int>(drawing_.height)};
}

QPoint DrawingView::middle_of(const std::string& id) const {
    for (const auto& p : drawing_.places)
        if (p.id == id) return QPointF(p.x + p.w / 2, p.y + p.h / 2).toPoint();
    return {};
}

void DrawingView::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (!redraw || drawing_again_) return;
    drawing_again_ = true;
    show_drawing(redraw(width()));
    drawing_again_ = false;
}

void DrawingView::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    const QPointF at = event->position();
    for (const auto& p : drawing_.places)
        if (QRectF(p.x, p.y, p.w, p.h).contains(at)) {
            Q_EMIT picked(to_q(p.id));
            return;
        }
}

void DrawingView::contextMenuEvent(QContextMenuEvent* event) {
    QMenu menu(this);
    const auto* save = menu.addAction(tr("Save as SVG, PNG or PDF …"));
    const auto* copied = menu.addAction(tr("Copy as picture"));
    const auto* picked = menu.exec(event->globalPos());
    if (picked == save)
        save_as();
    else if (picked == copied)
        copy();
}

void DrawingView::copy() {
    QApplication::clipboard()->setPixmap(grab());
}

QString DrawingView::write_to(const QString& path) const {
    constexpr double mm_a_pixel = 25.4 / 96;
    Card card;
    card.pages = {drawing_svg(drawing_, accessibleName().toStdString())};
    card.width_mm = drawing_.width * mm_a_pixel;
    card.height_mm = drawing_.height * mm_a_pixel;
    const auto written = render::write_card(card, path.toStdString(), accessibleName().toStdString());
    return written ? QString() : to_q(written.error().message());
}

void DrawingView::save_as() {
    const auto path = ask_file();
    if (path.isEmpty()) return;
    if (const auto problem = write_to(path); !problem.isEmpty())
        QMessageBox::warning(this, tr("Save the drawing"), problem);
}

void DrawingView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setBrush(Qt::NoBrush);
    for (const auto& a : drawing_.areas) {
        QPainterPath area;
        area.setFillRule(Qt::OddEvenFill);
        for (const auto& ring : a.rings) {
            QPolygonF polygon;
            for (const auto& [x, y] : ring) polygon << QPointF(x, y);
            area.addPolygon(polygon);
            area.closeSubpath();
        }
        auto ink = colour(a.ink);
        ink.setAlphaF(static_cast<float>(a.strength));
        p.fillPath(area, ink);
    }
    for (const auto& b : drawing_.bands) {
        QPen pen(colour(b.ink), b.width, b.dashed ? Qt::DashLine : Qt::SolidLine);
        pen.setCapStyle(Qt::FlatCap);
        p.setPen(pen);
        const double middle = (b.x1 + b.x2) / 2;
        QPainterPath way(QPointF(b.x1, b.y1));
        way.cubicTo(QPointF(middle, b.y1), QPointF(middle, b.y2), QPointF(b.x2, b.y2));
        p.drawPath(way);
    }
    for (const auto& l : drawing_.lines) {
        p.setPen(QPen(colour(l.ink), l.width, l.dashed ? Qt::DashLine : Qt::SolidLine));
        p.drawLine(QPointF(l.x1, l.y1), QPointF(l.x2, l.y2));
    }
    for (const auto& c : drawing_.circles) {
        p.setPen(c.filled ? QPen(Qt::NoPen) : QPen(colour(c.ink), c.width));
        p.setBrush(c.filled ? QBrush(colour(c.ink)) : QBrush(Qt::NoBrush));
        p.drawEllipse(QPointF(c.x, c.y), c.r, c.r);
    }
    for (const auto& b : drawing_.boxes) {
        p.setPen(QPen(colour(b.ink), 1));
        p.setBrush(theme().sheet);
        p.drawRoundedRect(QRectF(b.x + 0.5, b.y + 0.5, b.w, b.h), 2, 2);
    }
    p.setPen(Qt::NoPen);
    for (const auto& a : drawing_.arrows) {
        const double s = a.right ? -1 : 1;
        p.setBrush(colour(a.ink));
        p.drawPolygon(
            QPolygonF{QPointF(a.x, a.y), QPointF(a.x + 6 * s, a.y - 2.6), QPointF(a.x + 6 * s, a.y + 2.6)});
    }
    for (const auto& m : drawing_.marks) draw_verdict(p, QPointF(m.x, m.y), m.verdict);
    for (const auto& t : drawing_.texts) {
        auto font = t.figure ? figure_font(t.size, t.bold) : text_font(t.size, t.bold);
        font.setItalic(t.italic);
        p.setFont(font);
        p.setPen(colour(t.ink));
        const auto text = to_q(t.text);
        const double w = p.fontMetrics().horizontalAdvance(text);
        p.drawText(QPointF(t.anchor == Drawing::Anchor::start    ? t.x
                           : t.anchor == Drawing::Anchor::middle ? t.x - w / 2
                                                                 : t.x - w,
                           t.y),
                   text);
    }
    if (hasFocus()) {
        p.setPen(QPen(theme().slate, 1, Qt::DotLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

}  // namespace grayrelic::app
