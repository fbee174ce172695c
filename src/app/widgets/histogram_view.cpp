// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/histogram_view.hpp"

#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>

#include "app/paint/axis.hpp"
#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/view_keys.hpp"
#include "core/base/quantity.hpp"
#include "core/signal/measure.hpp"

namespace grayrelic::app {

HistogramView::HistogramView(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(tr("Histogram"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    add_keys();
}

void HistogramView::show_values(std::vector<double> values, Driver driver, std::optional<Marker> deadline,
                                double finest) {
    show_values(spread_of(values), driver, std::move(deadline), finest);
}

void HistogramView::show_values(Spread values, Driver driver, std::optional<Marker> deadline, double finest) {
    values_ = std::move(values);
    driver_ = driver;
    deadline_ = std::move(deadline);
    finest_ = finest;
    empty_ = tr("nothing measured");
    anchor_ = last_ = -1;
    rebuild();
}

void HistogramView::clear(const QString& why) {
    values_ = {};
    deadline_.reset();
    empty_ = why;
    anchor_ = last_ = -1;
    rebuild();
}

void HistogramView::rebuild() {
    const int wanted = std::clamp(width() / 9, 10, 90);
    int bars = wanted;
    if (deadline_ && !values_.empty()) {
        // Bars share the axis with the deadline: none is narrower than the axis can show.
        const double least = values_.items.front().value, most = values_.items.back().value;
        const double axis = std::max(most, deadline_->at_s) - std::min(least, deadline_->at_s);
        if (axis > 0.0) bars = std::max(1, static_cast<int>((most - least) / axis * 2 * wanted));
    }
    histogram_ = make_histogram(values_, static_cast<std::size_t>(bars), finest_);
    if (!histogram_.bars.empty()) {
        low_ = histogram_.low;
        high_ = histogram_.edge(histogram_.bars.size());
        if (deadline_) {
            low_ = std::min(low_, deadline_->at_s);
            high_ = std::max(high_, deadline_->at_s);
        }
        const double spare = (high_ - low_) * 0.03;
        low_ = low_ > spare || low_ < 0 ? low_ - spare : 0.0;
        high_ += spare;
        setAccessibleDescription(
            tr("%1 values from %2 to %3")
                .arg(values_.n())
                .arg(to_q(print_number(histogram_.low, Unit::second)),
                     to_q(print_number(histogram_.edge(histogram_.bars.size()), Unit::second))));
    }
    update();
}

void HistogramView::resizeEvent(QResizeEvent*) {
    rebuild();
}

QRectF HistogramView::plot() const {
    return QRectF(4, 18, width() - 8, height() - 42);
}
double HistogramView::x_of(double s) const {
    return plot().left() + (s - low_) / (high_ - low_) * plot().width();
}

QRectF HistogramView::bar_rect(std::size_t bar) const {
    const auto area = plot();
    const double tallest = static_cast<double>(std::max(1L, histogram_.tallest()));
    const double x0 = x_of(histogram_.edge(bar));
    const double x1 = x_of(histogram_.edge(bar + 1));
    const double n = static_cast<double>(histogram_.bars[bar]);
    const double h = n == 0.0 ? 0.0 : std::max(2.0, n / tallest * area.height());
    return {x0, area.bottom() - h, std::max(1.0, x1 - x0 - 1.0), h};
}

void HistogramView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    if (histogram_.bars.empty()) {
        p.setPen(theme().ink2);
        p.setFont(text_font(12));
        p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, empty_);
        return;
    }
    const auto area = plot();
    const int from = std::min(anchor_, last_);
    const int to = std::max(anchor_, last_);
    for (std::size_t i = 0; i < histogram_.bars.size(); ++i) {
        const auto bar = bar_rect(i);
        const bool selected = anchor_ >= 0 && static_cast<int>(i) >= from && static_cast<int>(i) <= to;
        if (selected)
            p.fillRect(QRectF(bar.left(), area.top(), bar.width() + 1, area.height()), theme().selection);
        const bool late = deadline_ && histogram_.edge(i) >= deadline_->at_s;
        p.fillRect(bar, late ? theme().oxide : theme().driver(driver_));
    }
    p.setPen(theme().ink2);
    p.drawLine(QPointF(area.left(), area.bottom()), QPointF(area.right(), area.bottom()));
    draw_time_axis(p, QRectF(area.left(), area.bottom(), area.width(), 22), low_, high_, {false, {}, 70});
    if (deadline_) {
        const double x = x_of(deadline_->at_s);
        p.setPen(QPen(theme().ink, 1.5, Qt::DashLine));
        p.drawLine(QPointF(x, area.top() - 2), QPointF(x, area.bottom()));
        p.setPen(theme().ink);
        p.setFont(text_font(11));
        const double w = p.fontMetrics().horizontalAdvance(deadline_->text) + 2;
        const double left = x + w + 6 > area.right() ? std::max(area.left(), x - w - 6) : x + 6;
        p.drawText(QRectF(left, 0, w, 16), Qt::AlignVCenter, deadline_->text);
    }
    if (hasFocus()) {
        p.setPen(QPen(theme().slate, 1, Qt::DotLine));
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

int HistogramView::bar_at(double x) const {
    if (histogram_.bars.empty()) return -1;
    const double s = low_ + (x - plot().left()) / plot().width() * (high_ - low_);
    if (s < histogram_.low || s >= histogram_.edge(histogram_.bars.size())) return -1;
    return static_cast<int>(histogram_.bar_of(s));
}

void HistogramView::select(int from, int to) {
    anchor_ = from;
    last_ = to;
    update();
    if (from < 0) {
        Q_EMIT picked(0.0, 0.0);
        return;
    }
    Q_EMIT picked(histogram_.edge(static_cast<std::size_t>(std::min(from, to))),
                  histogram_.edge(static_cast<std::size_t>(std::max(from, to)) + 1));
}

void HistogramView::clear_selection() {
    select(-1, -1);
}

void HistogramView::mousePressEvent(QMouseEvent* e) {
    const int bar = bar_at(e->position().x());
    if (bar >= 0 && (e->modifiers() & Qt::ShiftModifier) != 0 && anchor_ >= 0)
        select(anchor_, bar);
    else
        select(bar, bar);
}

void HistogramView::mouseMoveEvent(QMouseEvent* e) {
    const int bar = bar_at(e->position().x());
    if ((e->buttons() & Qt::LeftButton) != 0 && anchor_ >= 0 && bar >= 0 && bar != last_)
        select(anchor_, bar);
    if (bar < 0) return;
    const auto i = static_cast<std::size_t>(bar);
    QToolTip::showText(
        e->globalPosition().toPoint(),
        tr("%1 from %2 to %3")
            .arg(to_q(print_count(histogram_.bars[i])), to_q(print_number(histogram_.edge(i), Unit::second)),
                 to_q(print_number(histogram_.edge(i + 1), Unit::second))),
        this);
}

void HistogramView::step(int direction, bool extend) {
    const int n = static_cast<int>(histogram_.bars.size());
    if (n == 0) return;
    int next = last_ < 0 ? (direction > 0 ? 0 : n - 1) : std::clamp(last_ + direction, 0, n - 1);
    // Empty bars are stepped over.
    while (!extend && next + direction >= 0 && next + direction < n &&
           histogram_.bars[static_cast<std::size_t>(next)] == 0)
        next += direction;
    select(extend && anchor_ >= 0 ? anchor_ : next, next);
}

void HistogramView::add_keys() {
    const auto group = tr("Histogram");
    add_view_key(this, group, tr("Bar before"), {"Left"}, [this] { step(-1, false); });
    add_view_key(this, group, tr("Next bar"), {"Right"}, [this] { step(1, false); });
    add_view_key(this, group, tr("Extend to the bar before"), {"Shift+Left"}, [this] { step(-1, true); });
    add_view_key(this, group, tr("Extend to the next bar"), {"Shift+Right"}, [this] { step(1, true); });
    add_view_key(this, group, tr("Pick nothing"), {"Esc"}, [this] { clear_selection(); });
}

}  // namespace grayrelic::app
