// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/trace/circuit_view.hpp"

#include <QHBoxLayout>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/view_keys.hpp"
#include "render/pdf.hpp"

#include "core/trace/trace_analysis.hpp"

namespace grayrelic::app {

PaperView::PaperView(QWidget* parent) : QWidget(parent) {
    setMinimumSize(240, 170);
    setAccessibleName(tr("The circuit sheet"));
    setFocusPolicy(Qt::StrongFocus);
    setToolTip(tr("Ctrl+wheel zooms, wheel or drag pans; + - Home"));
    const auto group = tr("Circuit sheet");
    add_view_key(this, group, tr("Zoom in"), {"+", "="}, [this] { zoom_by(1.25, rect().center()); });
    add_view_key(this, group, tr("Zoom out"), {"-"}, [this] { zoom_by(0.8, rect().center()); });
    add_view_key(this, group, tr("The whole sheet"), {"Home"}, [this] {
        touched_ = true;
        fit();
    });
    add_view_key(this, group, tr("As large as it reads"), {"1"}, [this] { read(); });
    for (const auto& [key, by] : {std::pair{"Left", QPointF(60, 0)},
                                  {"Right", QPointF(-60, 0)},
                                  {"Up", QPointF(0, 60)},
                                  {"Down", QPointF(0, -60)}})
        add_view_key(this, group, tr("Pan"), {key}, [this, by = by] { pan_by(by); });
}

void PaperView::show_svg(const std::string& svg) {
    auto text = QByteArray::fromStdString(svg);
    text.replace("B612, sans-serif", "Relic Text");
    svg_ = text;
    load();
    read();
}

/// The sheet's own colours are those of the day; at night they are the theme's.
void PaperView::load() {
    auto text = svg_;
    if (theme().dark)
        for (const auto& [day, night] : {std::pair<std::string_view, QColor>{paper::sheet, theme().sheet},
                                         {paper::ink, theme().ink},
                                         {paper::ink2, theme().ink2},
                                         {paper::hairline, theme().hairline},
                                         {paper::umber, theme().umber},
                                         {paper::slate, theme().slate},
                                         {paper::oxide, theme().oxide},
                                         {paper::brass, theme().brass},
                                         {paper::verdigris, theme().verdigris}})
            text.replace(QByteArray(day.data(), static_cast<qsizetype>(day.size())),
                         night.name().toUpper().toLatin1());
    renderer_.load(text);
    update();
}

void PaperView::changeEvent(QEvent* event) {
    QWidget::changeEvent(event);
    if (event->type() == QEvent::PaletteChange && !svg_.isEmpty()) load();
}

/// As near as its smallest letters need to be read, on the sheet's middle at the top.
void PaperView::read() {
    constexpr double smallest_letters_pt = 7, readable_px = 9.5;
    if (!renderer_.isValid() || width() < 10) return;
    zoom_ = 1.0;
    const double px_a_point = page().width() / renderer_.viewBoxF().width();
    zoom_ = std::clamp(readable_px / (smallest_letters_pt * px_a_point), 1.0, 4.0);
    middle_ = {0.5, 0.0};
    settle();
}

void PaperView::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (!touched_) read();
}

QRectF PaperView::page() const {
    const auto size = renderer_.viewBoxF().size().scaled(QSizeF(this->size()), Qt::KeepAspectRatio) * zoom_;
    // What is larger than the view stays over all of it; what is smaller stands in the middle.
    const auto place = [](double middle, double length, double room) {
        return length <= room ? (room - length) / 2
                              : std::clamp(room / 2 - middle * length, room - length, 0.0);
    };
    return {QPointF(place(middle_.x(), size.width(), width()), place(middle_.y(), size.height(), height())),
            size};
}

void PaperView::zoom_by(double factor, QPointF at) {
    touched_ = true;
    const auto before = page();
    const QPointF on_page((at.x() - before.left()) / before.width(),
                          (at.y() - before.top()) / before.height());
    zoom_ = std::clamp(zoom_ * factor, 1.0, 8.0);
    const auto after = page();
    // The place under the pointer stays there.
    middle_ = {on_page.x() + (width() / 2.0 - at.x()) / after.width(),
               on_page.y() + (height() / 2.0 - at.y()) / after.height()};
    settle();
}

void PaperView::pan_by(QPointF pixels) {
    touched_ = true;
    const auto p = page();
    middle_ -= QPointF(pixels.x() / p.width(), pixels.y() / p.height());
    settle();
}

void PaperView::fit() {
    zoom_ = 1.0;
    middle_ = {0.5, 0.5};
    update();
}

void PaperView::settle() {
    const auto p = page();
    middle_ = {(width() / 2.0 - p.left()) / p.width(), (height() / 2.0 - p.top()) / p.height()};
    update();
}

void PaperView::paintEvent(QPaintEvent*) {
    if (!renderer_.isValid()) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto where = page();
    renderer_.render(&p, where);
    p.setPen(theme().hairline);
    p.drawRect(where);
}

void PaperView::wheelEvent(QWheelEvent* event) {
    const auto steps = event->angleDelta();
    if (event->modifiers().testFlag(Qt::ControlModifier))
        zoom_by(std::pow(1.25, steps.y() / 120.0), event->position());
    else
        pan_by(QPointF(steps) / 2.0);
    event->accept();
}

void PaperView::mousePressEvent(QMouseEvent* event) {
    pressed_ = event->position();
}

void PaperView::mouseMoveEvent(QMouseEvent* event) {
    pan_by(event->position() - pressed_);
    pressed_ = event->position();
}

CircuitView::CircuitView(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(12);
    auto* left = new Sheet(tr("Sheets"));
    list_ = new QListWidget;
    list_->setAccessibleName(tr("Circuit sheets"));
    list_->setTextElideMode(Qt::ElideRight);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    left->body()->addWidget(list_, 1);
    auto* write = new QPushButton(tr("Write PDF or SVG…"));
    connect(write, &QPushButton::clicked, this, &CircuitView::write_wanted);
    left->body()->addWidget(write);
    left->setFixedWidth(168);
    row->addWidget(left);
    sheet_ = new Sheet(tr("The recovered circuit"));
    paper_ = new PaperView;
    sheet_->body()->addWidget(paper_, 1);
    row->addWidget(sheet_, 1);
    connect(list_, &QListWidget::currentRowChanged, this, &CircuitView::show_sheet);
}

void CircuitView::refresh() {
    const auto& t = document_.analysis().trace;
    if (t == made_of_ && t) return;
    made_of_ = t;
    if (!t) return show_sheets({});
    // The one that is shown stays until the next is drawn.
    sheet_->set_about(tr("The circuit is being drawn …"));
    drawing_.ask([t, dossier = document_.analysis().dossier, data = document_.analysis().data](
                     Progress&) { return circuit_sheets(*t, dossier, data->parts); },
                 [this](const std::vector<CircuitSheet>& sheets) { show_sheets(sheets); });
}

void CircuitView::show_sheets(std::vector<CircuitSheet> sheets) {
    const int before = std::max(0, list_->currentRow());
    sheets_ = std::move(sheets);
    {
        const QSignalBlocker block(list_);
        list_->clear();
        for (const auto& s : sheets_) {
            auto* item = new QListWidgetItem(to_q(s.title));
            item->setToolTip(
                tr("%1: %2 wires, %3 not proven").arg(to_q(s.title)).arg(s.wires).arg(s.unproven));
            list_->addItem(item);
        }
        list_->setCurrentRow(std::min(before, list_->count() - 1));
    }
    show_sheet(list_->currentRow());
}

void CircuitView::show_sheet(int row) {
    if (row < 0 || row >= static_cast<int>(sheets_.size())) {
        sheet_->set_about(tr("Nothing to draw yet: add parts, and probe."));
        paper_->show_svg({});
        return;
    }
    const auto& s = sheets_[static_cast<std::size_t>(row)];
    sheet_->set_about(s.wires == 0
                          ? QString()
                          : tr("%1 wires, %2 of them not proven by readings").arg(s.wires).arg(s.unproven));
    paper_->show_svg(s.picture.finish());
}

QString CircuitView::write_to(const QString& path) const {
    if (sheets_.empty()) return tr("There is nothing to draw yet.");
    Card card;
    card.width_mm = 297;
    card.height_mm = 210;
    for (const auto& s : sheets_) card.pages.push_back(s.picture.finish());
    const auto written = render::write_card(card, path.toStdString(), document_.dossier().about->name);
    return written ? QString() : to_q(written.error().message());
}

}  // namespace grayrelic::app
