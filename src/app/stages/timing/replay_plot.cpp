// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/replay_plot.hpp"

#include "app/paint/theme.hpp"
#include "app/paint/wave.hpp"

namespace grayrelic::app {

ReplayPlot::ReplayPlot(QWidget* parent)
    : RowPlot(tr("Replayed nets over time"), tr("Replay of a network"), parent) {
    Look look;
    look.most_row = 40;
    set_look(look);
    rows_changed();
}

void ReplayPlot::show_rows(std::vector<Row> rows, Span whole, Span window) {
    rows_ = std::move(rows);
    set_whole(whole);
    rows_changed();
    set_window(window);
}

ReplayPlot::RowName ReplayPlot::row_name(int row) const {
    const auto& r = rows_[static_cast<std::size_t>(row)];
    return {r.name, theme().driver(r.driver)};
}

void ReplayPlot::paint_row(QPainter& p, int row, const QRectF& lane) {
    const auto& r = rows_[static_cast<std::size_t>(row)];
    draw_wave(p, *r.waveform, window(), lane, theme().driver(r.driver));
}

QString ReplayPlot::empty_text() const {
    return tr("Choose a capture whose signals drive the inputs.");
}

}  // namespace grayrelic::app
