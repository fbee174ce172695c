// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/trace/circuit_view.hpp"

#include <QHBoxLayout>
#include <QPainter>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "render/pdf.hpp"

namespace grayrelic::app {

PaperView::PaperView(QWidget* parent) : QWidget(parent) {
    setMinimumSize(240, 170);
    setAccessibleName(tr("The circuit sheet"));
}

void PaperView::show_svg(const std::string& svg) {
    auto text = QByteArray::fromStdString(svg);
    text.replace("B612, sans-serif", "Relic Text");
    renderer_.load(text);
    update();
}

void PaperView::paintEvent(QPaintEvent*) {
    if (!renderer_.isValid()) return;
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const auto size = renderer_.viewBoxF().size().scaled(QSizeF(this->size()), Qt::KeepAspectRatio);
    const QRectF page(QPointF((width() - size.width()) / 2, (height() - size.height()) / 2), size);
    renderer_.render(&p, page);
    p.setPen(theme().hairline);
    p.drawRect(page);
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
    left->setFixedWidth(210);
    row->addWidget(left);
    sheet_ = new Sheet(tr("The recovered circuit"));
    paper_ = new PaperView;
    sheet_->body()->addWidget(paper_, 1);
    row->addWidget(sheet_, 1);
    connect(list_, &QListWidget::currentRowChanged, this, &CircuitView::show_sheet);
}

void CircuitView::refresh() {
    const auto& t = document_.analysis().trace;
    if (t.get() == made_of_ && t) return;
    made_of_ = t.get();
    const int before = std::max(0, list_->currentRow());
    sheets_ = t ? circuit_sheets(*t, document_.analysis().dossier, document_.data().parts) : std::vector<CircuitSheet>{};
    {
        const QSignalBlocker block(list_);
        list_->clear();
        for (const auto& s : sheets_) {
            auto* item = new QListWidgetItem(to_q(s.title));
            item->setToolTip(tr("%1: %2 wires, %3 not proven").arg(to_q(s.title)).arg(s.wires).arg(s.unproven));
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
    sheet_->set_about(s.wires == 0 ? QString() : tr("%1 wires, %2 of them not proven by readings").arg(s.wires).arg(s.unproven));
    paper_->show_svg(s.picture.finish());
}

QString CircuitView::write_to(const QString& path) const {
    if (sheets_.empty()) return tr("There is nothing to draw yet.");
    Card card;
    card.width_mm = 297;
    card.height_mm = 210;
    for (const auto& s : sheets_)
        card.pages.push_back(s.picture.finish());
    const auto written = render::write_card(card, path.toStdString(), document_.dossier().about->name);
    return written ? QString() : to_q(written.error().message());
}

}  // namespace grayrelic::app
