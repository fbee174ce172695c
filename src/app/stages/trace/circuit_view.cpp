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

#include "core/base/palette.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic::app {

PaperView::PaperView(QWidget* parent) : QWidget(parent) {
    setMinimumSize(240, 170);
    setAccessibleName(tr("The circuit sheet"));
    setFocusPolicy(Qt::StrongFocus);
    setToolTip(tr("Ctrl+wheel zooms, wheel or drag pans; + - Home"));
    const auto group = tr("Circuit sheet");
    const auto whole = [this] {
        touched_ = true;
        fit();
    };
    add_plane_keys(this, group, {&plane_, [this] { moved(); }, whole});
    add_view_key(this, group, tr("As large as it reads"), {"1"}, [this] { read(); });
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
    const auto text =
        theme().dark
            ? QByteArray::fromStdString(at_night({svg_.data(), static_cast<std::size_t>(svg_.size())}))
            : svg_;
    renderer_.load(text);
    update();
}

void PaperView::changeEvent(QEvent* event) {
    QWidget::changeEvent(event);
    if (event->type() == QEvent::PaletteChange && !svg_.isEmpty()) load();
}

double PaperView::whole_scale() const {
    const auto sheet = renderer_.viewBoxF();
    return std::min(width() / std::max(1.0, sheet.width()), height() / std::max(1.0, sheet.height()));
}

/// As near as its smallest letters need to be read, on the sheet's middle at the top.
void PaperView::read() {
    constexpr double smallest_letters = 7, readable_px = 9.5;
    if (!renderer_.isValid() || width() < 10) return;
    const double all = whole_scale(), scale = std::clamp(readable_px / smallest_letters, all, 4.0 * all);
    plane_.set_limits(all, 8.0 * all);
    const auto sheet = renderer_.viewBoxF();
    plane_.set(scale, QPointF(width() / 2.0 - sheet.center().x() * scale, -sheet.top() * scale));
    settle();
}

void PaperView::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (!touched_) return read();
    // What stood in the middle stays there.
    const auto before = QPointF(event->oldSize().width(), event->oldSize().height()) / 2.0;
    plane_.pan(QPointF(width() / 2.0, height() / 2.0) - before);
    plane_.set_limits(whole_scale(), 8.0 * whole_scale());
    plane_.zoom(1.0, {width() / 2.0, height() / 2.0});
    settle();
}

QRectF PaperView::page() const {
    const auto sheet = renderer_.viewBoxF();
    return {plane_.to_view(sheet.topLeft()), sheet.size() * plane_.scale()};
}

void PaperView::fit() {
    plane_.set_limits(whole_scale(), 8.0 * whole_scale());
    plane_.fit(renderer_.viewBoxF(), size());
    update();
}

void PaperView::moved() {
    touched_ = true;
    settle();
}

void PaperView::settle() {
    plane_.confine(renderer_.viewBoxF(), size());
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
    plane_.wheel(*event);
    moved();
    event->accept();
}

void PaperView::mousePressEvent(QMouseEvent* event) {
    pressed_ = event->position();
}

void PaperView::mouseMoveEvent(QMouseEvent* event) {
    plane_.pan(event->position() - pressed_);
    pressed_ = event->position();
    moved();
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
    auto* write = new QPushButton(tr("Write sheets…"));
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
