// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/drawing_view.hpp"

#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QFileDialog>
#include <QMenu>
#include <QMessageBox>
#include <QPainter>

#include "app/paint/drawing_paint.hpp"
#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/view_keys.hpp"
#include "render/pdf.hpp"

namespace grayrelic::app {
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
    paint_drawing(p, drawing_);
    if (hasFocus()) {
        p.setPen(QPen(theme().slate, 1, Qt::DotLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

}  // namespace grayrelic::app
