// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/map/curve_plot.hpp"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/input/pointer.hpp"

namespace grayrelic::app {
namespace {

constexpr double left_of_plot = 54, below_plot = 20, above_plot = 8, right_of_plot = 10;
constexpr qint64 drawn_poll_ms = 8;
constexpr std::size_t most_drawn = 4000;

QString axis_figure(double v) {
    return std::abs(v) >= 1000 ? QString::number(v, 'f', 0) : QString::number(v, 'g', 3);
}

/// The frame, with the least and most at its ends.
void paint_frame(QPainter& p, const QRectF& plot, double low, double high, const QString& from,
                 const QString& to, const QString& what) {
    p.setPen(QPen(theme().hairline, 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(plot);
    p.setFont(figure_font(11));
    p.setPen(theme().ink2);
    p.drawText(QRectF(0, plot.top() - 2, left_of_plot - 5, 14), Qt::AlignRight, axis_figure(high));
    p.drawText(QRectF(0, plot.bottom() - 12, left_of_plot - 5, 14), Qt::AlignRight, axis_figure(low));
    p.drawText(QRectF(plot.left(), plot.bottom() + 3, plot.width(), 16), Qt::AlignLeft, from);
    p.drawText(QRectF(plot.left(), plot.bottom() + 3, plot.width(), 16), Qt::AlignRight, to);
    p.setFont(text_font(11));
    p.drawText(QRectF(plot.left(), plot.bottom() + 3, plot.width(), 16), Qt::AlignHCenter, what);
}

}  // namespace

CurvePlot::CurvePlot(QWidget* parent) : QWidget(parent) {
    setMinimumSize(200, 120);
    setAccessibleName(tr("The old side's curve"));
}

void CurvePlot::show_curve(const MoveCurve& curve, bool sound) {
    curve_ = curve;
    sound_ = sound;
    update();
}

void CurvePlot::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().sheet);
    if (!sound_) return;
    const QRectF plot = QRectF(rect()).adjusted(left_of_plot, above_plot, -right_of_plot, -below_plot);
    const double most = speed_of(curve_, curve_.limit);
    paint_frame(p, plot, 0, most, QStringLiteral("0"), QString::number(curve_.limit),
                tr("position, steps a poll"));
    const auto at = [&](long out) {
        return QPointF(
            plot.left() + plot.width() * static_cast<double>(out) / static_cast<double>(curve_.limit),
            plot.bottom() - plot.height() * speed_of(curve_, out) / most);
    };
    // What moves nothing is hatched.
    long dead = 0;
    while (dead < curve_.limit && speed_of(curve_, dead + 1) <= 0) ++dead;
    if (dead > 0)
        p.fillRect(QRectF(plot.topLeft(), QPointF(at(dead).x(), plot.bottom())),
                   QBrush(theme().hairline, Qt::BDiagPattern));
    QPainterPath path(at(0));
    const long step = std::max(1L, curve_.limit / 600);
    for (long out = step; out <= curve_.limit; out += step) path.lineTo(at(out));
    p.setPen(QPen(theme().umber, 2));
    p.drawPath(path);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().umber);
    for (const auto& point : curve_.table)
        if (point.out >= 0 && point.out <= static_cast<double>(curve_.limit))
            p.drawEllipse(at(static_cast<long>(point.out)), 3, 3);
}

MovePlot::MovePlot(QWidget* parent) : QWidget(parent) {
    setMinimumSize(200, 130);
    setCursor(Qt::CrossCursor);
    setAccessibleName(tr("A movement, with the curve and without"));
}

void MovePlot::show_movement(std::vector<double> wished, std::vector<double> with,
                             std::vector<double> without) {
    wished_ = std::move(wished);
    with_ = std::move(with);
    without_ = std::move(without);
    update();
}

void MovePlot::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().sheet);
    const QRectF plot = QRectF(rect()).adjusted(left_of_plot, above_plot + 16, -right_of_plot, -below_plot);
    if (wished_.empty()) {
        p.setPen(theme().ink2);
        p.setFont(text_font(12));
        p.drawText(rect().adjusted(8, 0, -8, 0), Qt::AlignCenter | Qt::TextWordWrap,
                   tr("Press here and move the mouse: the movement is taken as the modern pointer's."));
        return;
    }
    double low = 0, high = 0;
    for (const auto* list : {&wished_, &with_, &without_})
        for (const double v : *list) {
            low = std::min(low, v);
            high = std::max(high, v);
        }
    if (high - low < 1) high = low + 1;
    paint_frame(p, plot, low, high, QStringLiteral("0"), QString::number(wished_.size()), tr("polls, steps"));
    const auto draw = [&](const std::vector<double>& list, const QColor& ink, double width,
                          Qt::PenStyle style) {
        QPainterPath path;
        const auto n = list.size();
        // A picture has so many columns: each shows its last value.
        const auto columns = static_cast<std::size_t>(std::max(2.0, plot.width()));
        const auto points = std::min(n, columns);
        for (std::size_t i = 0; i < points; ++i) {
            const auto at = points == n ? i : i * (n - 1) / (points - 1);
            const QPointF to(
                plot.left() + plot.width() * static_cast<double>(at + 1) / static_cast<double>(n),
                plot.bottom() - plot.height() * (list[at] - low) / (high - low));
            if (i == 0)
                path.moveTo(to);
            else
                path.lineTo(to);
        }
        p.setPen(QPen(ink, width, style));
        p.setBrush(Qt::NoBrush);
        p.drawPath(path);
    };
    draw(without_, theme().ink2, 1.5, Qt::DashLine);
    draw(wished_, theme().slate, 3, Qt::SolidLine);
    draw(with_, theme().umber, 1.5, Qt::SolidLine);
    p.setFont(text_font(11));
    double x = plot.left();
    for (const auto& [says, ink] :
         {std::pair(tr("hand"), theme().slate), std::pair(tr("old side"), theme().umber),
          std::pair(tr("without"), theme().ink2)}) {
        p.setPen(ink);
        p.drawText(QPointF(x, 14), says);
        x += p.fontMetrics().horizontalAdvance(says) + 16;
    }
}

void MovePlot::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    drawing_.clear();
    last_x_ = event->position().x();
    clock_.start();
}

void MovePlot::take(double x) {
    const auto poll = static_cast<std::size_t>(clock_.elapsed() / drawn_poll_ms);
    if (poll >= most_drawn) return;
    if (drawing_.size() <= poll) drawing_.resize(poll + 1, 0);
    const long counts = std::lround(x - last_x_);
    drawing_[poll] += counts;
    last_x_ += static_cast<double>(counts);
}

void MovePlot::mouseMoveEvent(QMouseEvent* event) {
    if ((event->buttons() & Qt::LeftButton) != 0 && clock_.isValid()) take(event->position().x());
}

void MovePlot::mouseReleaseEvent(QMouseEvent* event) {
    if (!clock_.isValid() || event->button() != Qt::LeftButton) return;
    take(event->position().x());
    clock_.invalidate();
    if (std::any_of(drawing_.begin(), drawing_.end(), [](long c) { return c != 0; })) Q_EMIT drawn(drawing_);
}

}  // namespace grayrelic::app
