// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/bar_list.hpp"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/bar_list_sheet.hpp"

namespace grayrelic::app {
namespace {

constexpr int row_height = 38;

QColor colour_of(BarPiece::Ink ink) {
    switch (ink) {
        case BarPiece::Ink::holds: return theme().verdigris;
        case BarPiece::Ink::doubt: return theme().brass;
        case BarPiece::Ink::stop: return theme().oxide;
        default: return theme().ink2;
    }
}

void paint_bar(QPainter& p, const BarRow& row, const QRectF& track) {
    p.fillRect(track, theme().panel);
    for (const auto& piece : row.pieces) {
        const auto x = [&](double v) {
            return track.left() + track.width() * std::clamp(v / row.full, 0.0, 1.0);
        };
        QRectF box(x(piece.from), track.top(), x(piece.to) - x(piece.from), track.height());
        if (piece.ink == BarPiece::Ink::hollow) {
            p.setPen(QPen(theme().ink2, 1, Qt::DashLine));
            p.drawRect(box.adjusted(0.5, 0.5, -0.5, -0.5));
        } else {
            p.fillRect(box, colour_of(piece.ink));
        }
    }
}

}  // namespace

QString words_of(const BarRow& row) {
    QStringList out;
    if (row.verdict) out << to_q(word(*row.verdict));
    for (const auto& text : {row.title, row.about, row.figures, row.more})
        if (!text.isEmpty()) out << text;
    return out.join(QStringLiteral(" · "));
}

BarListSheet::BarListSheet(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Minimum);
}

void BarListSheet::show_rows(std::vector<BarRow> rows) {
    const auto was = picked_ >= 0 ? rows_[static_cast<std::size_t>(picked_)].id : QString();
    rows_ = std::move(rows);
    picked_ = find(was);
    if (picked_ < 0 && !rows_.empty()) picked_ = 0;
    setMinimumHeight(static_cast<int>(rows_.size()) * row_height);
    updateGeometry();
    update();
}

int BarListSheet::find(const QString& id) const {
    const auto at = std::find_if(rows_.begin(), rows_.end(), [&](const BarRow& r) { return r.id == id; });
    return at == rows_.end() ? -1 : static_cast<int>(at - rows_.begin());
}

void BarListSheet::pick(int row) {
    if (row < 0 || row >= static_cast<int>(rows_.size())) return;
    picked_ = row;
    setAccessibleDescription(words_of(rows_[static_cast<std::size_t>(row)]));
    update();
}

QRect BarListSheet::box(int row) const {
    return {0, row * row_height, width(), row_height};
}

QSize BarListSheet::sizeHint() const {
    return {320, static_cast<int>(rows_.size()) * row_height};
}

void BarListSheet::paintEvent(QPaintEvent* e) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const int last = std::min(e->rect().bottom() / row_height, static_cast<int>(rows_.size()) - 1);
    for (int i = std::max(0, e->rect().top() / row_height); i <= last; ++i) paint_row(p, i);
}

void BarListSheet::paint_row(QPainter& p, int i) {
    const auto& row = rows_[static_cast<std::size_t>(i)];
    const QRectF all = box(i);
    if (i == picked_ && leads_) p.fillRect(all, theme().selection);
    if (i == picked_ && hasFocus()) {
        p.setPen(QPen(theme().slate, 1));
        p.drawRect(all.adjusted(0.5, 0.5, -0.5, -0.5));
    }
    const double left = row.verdict ? 26 : 8;
    if (row.verdict) draw_verdict(p, QPointF(13, all.top() + 14), *row.verdict);
    // Name, bar, figures: the name gets the most, for it is what is looked for.
    const double room = all.width() - left - 8;
    const bool alone = row.full <= 0 && row.figures.isEmpty() && row.more.isEmpty();
    const double name = room * (alone ? 1 : row.full > 0 ? 0.38 : 0.5), bar = row.full > 0 ? room * 0.18 : 0;
    p.setPen(theme().ink);
    p.setFont(text_font(13, false, row.italic));
    draw_text(p, QRectF(left, all.top() + 2, name - 8, 20), Qt::AlignLeft | Qt::AlignVCenter, row.title);
    p.setFont(text_font(11));
    p.setPen(theme().ink2);
    draw_text(p, QRectF(left, all.top() + 20, name - 8, 16), Qt::AlignLeft | Qt::AlignVCenter, row.about);
    if (bar > 0) paint_bar(p, row, QRectF(left + name, all.top() + 8, bar - 12, 8));
    const QRectF right(left + name + bar, all.top() + 2, room - name - bar, 20);
    p.setPen(theme().ink);
    p.setFont(text_font(12, false, row.italic));
    draw_text(p, right, Qt::AlignLeft | Qt::AlignVCenter, row.figures);
    p.setFont(text_font(11));
    p.setPen(theme().ink2);
    draw_text(p, right.translated(0, 18), Qt::AlignLeft | Qt::AlignVCenter, row.more);
}

void BarListSheet::mousePressEvent(QMouseEvent* e) {
    const int row = e->pos().y() / row_height;
    if (row >= 0 && row < static_cast<int>(rows_.size())) Q_EMIT moved_to(row);
}

void BarListSheet::keyPressEvent(QKeyEvent* e) {
    const int last = static_cast<int>(rows_.size()) - 1;
    int to = picked_;
    switch (e->key()) {
        case Qt::Key_Up: --to; break;
        case Qt::Key_Down: ++to; break;
        case Qt::Key_PageUp: to -= 10; break;
        case Qt::Key_PageDown: to += 10; break;
        case Qt::Key_Home: to = 0; break;
        case Qt::Key_End: to = last; break;
        default: return QWidget::keyPressEvent(e);
    }
    if (last >= 0) Q_EMIT moved_to(std::clamp(to, 0, last));
}

bool BarListSheet::event(QEvent* e) {
    if (e->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(e);
        const int row = help->pos().y() / row_height;
        if (row >= 0 && row < static_cast<int>(rows_.size()))
            QToolTip::showText(help->globalPos(), words_of(rows_[static_cast<std::size_t>(row)]), this,
                               box(row));
        return true;
    }
    return QWidget::event(e);
}

BarList::BarList(const QString& name, QWidget* parent) : QScrollArea(parent) {
    setWidgetResizable(true);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFocusPolicy(Qt::NoFocus);
    auto* sheet = new BarListSheet;
    sheet->setAccessibleName(name);
    setWidget(sheet);
    connect(sheet, &BarListSheet::moved_to, this, [this, sheet](int row) {
        sheet->pick(row);
        const auto box = sheet->box(row);
        ensureVisible(0, box.center().y(), 0, box.height());
        Q_EMIT chosen(picked());
    });
}

void BarList::show_rows(std::vector<BarRow> rows) {
    static_cast<BarListSheet*>(widget())->show_rows(std::move(rows));
}

void BarList::pick(const QString& id) {
    auto* sheet = static_cast<BarListSheet*>(widget());
    sheet->pick(sheet->find(id));
}

void BarList::set_leading(bool leads) {
    static_cast<BarListSheet*>(widget())->set_leading(leads);
}

QString BarList::picked() const {
    const auto* sheet = static_cast<BarListSheet*>(widget());
    return sheet->picked() < 0 ? QString() : sheet->rows()[static_cast<std::size_t>(sheet->picked())].id;
}

QString BarList::said_of(const QString& id) const {
    const auto* sheet = static_cast<BarListSheet*>(widget());
    const int row = sheet->find(id);
    return row < 0 ? QString() : words_of(sheet->rows()[static_cast<std::size_t>(row)]);
}

QRect BarList::row_of(const QString& id) const {
    const auto* sheet = static_cast<BarListSheet*>(widget());
    const int row = sheet->find(id);
    return row < 0 ? QRect() : sheet->box(row);
}

int BarList::count() const {
    return static_cast<int>(static_cast<BarListSheet*>(widget())->rows().size());
}

}  // namespace grayrelic::app
