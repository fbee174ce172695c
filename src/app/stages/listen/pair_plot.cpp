// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/pair_plot.hpp"

#include <QPainter>

#include "app/paint/theme.hpp"
#include "app/paint/wave.hpp"

namespace grayrelic::app {

PairPlot::PairPlot(QWidget* parent)
    : RowPlot(tr("Original and replica over one another"), tr("Original and replica"), parent) {
    Look look;
    look.names_width = 96;
    look.least_row = 46;
    look.most_row = 84;
    look.hairlines = true;
    set_look(look);
}

void PairPlot::show_rows(std::vector<Row> rows, Time shift, Span whole) {
    rows_ = std::move(rows);
    shift_ = shift;
    moment_.reset();
    set_whole(whole, Time::ns(10));
    rows_changed();
}

void PairPlot::show_moment(Time at, Time width) {
    moment_ = at;
    set_window({at - width / 2, at + width / 2});
    update();
}

PairPlot::RowName PairPlot::row_name(int row) const {
    return {rows_[static_cast<std::size_t>(row)].name, theme().ink};
}

void PairPlot::paint_row(QPainter& p, int row, const QRectF& lane) {
    const auto& r = rows_[static_cast<std::size_t>(row)];
    const double h = lane.height() / 2 - 4;
    if (r.original)
        draw_wave(p, *r.original, window(), QRectF(lane.left(), lane.top(), lane.width(), h), theme().umber);
    if (r.replica)
        draw_wave(p, *r.replica, {window().from - shift_, window().to - shift_},
                  QRectF(lane.left(), lane.bottom() - h, lane.width(), h), theme().slate);
}

void PairPlot::paint_over(QPainter& p) {
    if (!moment_) return;
    p.setPen(QPen(theme().brass, 1, Qt::DashLine));
    const double x = x_of(*moment_);
    p.drawLine(QPointF(x, 0), QPointF(x, height()));
}

}  // namespace grayrelic::app
