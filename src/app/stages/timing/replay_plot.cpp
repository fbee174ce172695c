// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/timing/replay_plot.hpp"

#include <QPainter>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

#include "app/paint/axis.hpp"
#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/paint/wave.hpp"
#include "app/widgets/view_keys.hpp"

namespace grayrelic::app {
namespace {

constexpr double name_width = 84, row_height = 26;

}  // namespace

ReplayPlot::ReplayPlot(QWidget* parent) : QWidget(parent) {
    setAccessibleName(tr("Replayed nets over time"));
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(80);
    const auto group = tr("Replay of a network");
    add_view_key(this, group, tr("Zoom in"), {"Ctrl++", "+"}, [this] { zoom(0.5, 0.5); });
    add_view_key(this, group, tr("Zoom out"), {"Ctrl+-", "-"}, [this] { zoom(2.0, 0.5); });
    add_view_key(this, group, tr("Earlier"), {"Left"}, [this] { pan(-0.2); });
    add_view_key(this, group, tr("Later"), {"Right"}, [this] { pan(0.2); });
}

void ReplayPlot::show_rows(std::vector<Row> rows, Span whole, Span window) {
    rows_ = std::move(rows);
    whole_ = whole;
    window_ = window;
    setMinimumHeight(static_cast<int>(row_height * static_cast<double>(rows_.size()) + 30));
    update();
}

void ReplayPlot::zoom(double factor, double share) {
    const double length = std::clamp(static_cast<double>(window_.length().count()) * factor, 1000.0,
                                     std::max(2000.0, static_cast<double>(whole_.length().count())));
    const double at =
        static_cast<double>(window_.from.count()) + share * static_cast<double>(window_.length().count());
    window_.from = Time::ps(std::llround(at - share * length));
    window_.to = window_.from + Time::ps(std::llround(length));
    pan(0);
}

void ReplayPlot::pan(double share) {
    const Time length = window_.length();
    Time from = window_.from + Time::ps(std::llround(share * static_cast<double>(length.count())));
    from = std::clamp(from, whole_.from, std::max(whole_.from, whole_.to - length));
    window_ = {from, from + length};
    update();
}

void ReplayPlot::wheelEvent(QWheelEvent* event) {
    const double steps = event->angleDelta().y() / 120.0;
    if ((event->modifiers() & Qt::ControlModifier) != 0)
        zoom(
            std::pow(0.8, steps),
            std::clamp((event->position().x() - name_width) / std::max(1.0, width() - name_width), 0.0, 1.0));
    else
        pan(-0.1 * steps);
    event->accept();
}

void ReplayPlot::paintEvent(QPaintEvent*) {
    QPainter p(this);
    if (rows_.empty()) {
        p.setPen(theme().ink2);
        p.setFont(text_font(12));
        p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap,
                   tr("Choose a capture whose signals drive the inputs."));
        return;
    }
    const QRectF plot(name_width, 2, width() - name_width - 8,
                      row_height * static_cast<double>(rows_.size()));
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const double y = plot.top() + row_height * static_cast<double>(i);
        p.setPen(theme().driver(rows_[i].driver));
        p.setFont(figure_font(12, true));
        draw_text(p, QRectF(4, y, name_width - 8, row_height), Qt::AlignVCenter, rows_[i].name);
        draw_wave(p, *rows_[i].waveform, window_, QRectF(plot.left(), y + 5, plot.width(), row_height - 10),
                  theme().driver(rows_[i].driver));
    }
    draw_time_axis(p, QRectF(plot.left(), plot.bottom() + 2, plot.width(), 22), window_.from.seconds(),
                   window_.to.seconds(), {false, {}, 70});
}

}  // namespace grayrelic::app
