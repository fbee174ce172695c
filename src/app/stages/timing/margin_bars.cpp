// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/margin_bars.hpp"

#include <QPainter>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"

namespace grayrelic::app {

MarginBars::MarginBars(QWidget* parent) : QWidget(parent) {
    setAccessibleName(tr("Sampling margin bit by bit"));
    setMinimumHeight(110);
}

void MarginBars::show_margins(std::vector<double> margins, Verdict verdict) {
    margins_ = std::move(margins);
    verdict_ = verdict;
    update();
}

void MarginBars::paintEvent(QPaintEvent*) {
    QPainter p(this);
    if (margins_.empty()) {
        p.setPen(theme().ink2);
        p.setFont(text_font(12));
        p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, tr("Choose a modern clock above."));
        return;
    }
    // Each bit is a cell; the sample moves from its middle by all that is lost, and the shaded part is what
    // is left.
    const double left = 6, top = 18, bottom = height() - 20,
                 each = std::min(86.0, (width() - 12.0) / static_cast<double>(margins_.size()));
    for (std::size_t i = 0; i < margins_.size(); ++i) {
        const double m = margins_[i];
        const QRectF cell(left + each * static_cast<double>(i), top, each, bottom - top);
        const auto colour = m < 0 ? theme().oxide : m < 0.1 ? theme().brass : theme().verdigris;
        p.setPen(theme().hairline);
        p.setBrush(theme().sheet);
        p.drawRect(cell);
        auto fill = colour;
        fill.setAlpha(60);
        const double half = std::max(0.0, m) * cell.width();
        p.fillRect(QRectF(cell.center().x() - half, cell.top() + 1, 2 * half, cell.height() - 1), fill);
        const double lost = std::min(0.5 - m, 0.62) * cell.width();
        p.setPen(QPen(colour, 2));
        for (const double s : {-1.0, 1.0})
            p.drawLine(QPointF(cell.center().x() + s * lost, cell.top() + 6),
                       QPointF(cell.center().x() + s * lost, cell.bottom() - 6));
        p.setPen(theme().ink2);
        p.setFont(text_font(11));
        const auto name = i == 0                     ? tr("start")
                          : i + 1 == margins_.size() ? tr("stop")
                                                     : QString::number(i - 1);
        p.drawText(QRectF(cell.left(), 0, cell.width(), 16), Qt::AlignCenter, name);
        p.setFont(figure_font(11));
        p.setPen(colour);
        p.drawText(QRectF(cell.left(), bottom + 2, cell.width(), 16), Qt::AlignCenter,
                   QString::asprintf(each > 56 ? "%+.3f" : "%+.2f", m));
    }
}

}  // namespace grayrelic::app
