// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/histogram_view.hpp"

#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>

#include "app/paint/drawing_paint.hpp"
#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/view_keys.hpp"
#include "core/base/quantity.hpp"

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
    chart_ = histogram_chart(values_, deadline_, finest_, width(), height());
    const auto& bars = chart_.histogram;
    if (!chart_.empty())
        setAccessibleDescription(tr("%1 values from %2 to %3")
                                     .arg(values_.n())
                                     .arg(to_q(print_number(bars.low, Unit::second)),
                                          to_q(print_number(bars.edge(bars.bars.size()), Unit::second))));
    update();
}

void HistogramView::resizeEvent(QResizeEvent*) {
    rebuild();
}

QRectF HistogramView::bar_rect(std::size_t bar) const {
    return to_q(chart_.bar(bar));
}

void HistogramView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    if (chart_.empty()) {
        p.setPen(theme().ink2);
        p.setFont(text_font(12));
        p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, empty_);
        return;
    }
    p.setRenderHint(QPainter::Antialiasing, false);
    paint_drawing(p, histogram_drawing(chart_, driver_, anchor_ < 0 ? -1 : std::min(anchor_, last_),
                                       std::max(anchor_, last_)));
    if (hasFocus()) {
        p.setPen(QPen(theme().slate, 1, Qt::DotLine));
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

int HistogramView::bar_at(double x) const {
    const auto bar = chart_.bar_at(x);
    return bar ? static_cast<int>(*bar) : -1;
}

void HistogramView::select(int from, int to) {
    anchor_ = from;
    last_ = to;
    update();
    if (from < 0) {
        Q_EMIT picked(0.0, 0.0);
        return;
    }
    Q_EMIT picked(chart_.histogram.edge(static_cast<std::size_t>(std::min(from, to))),
                  chart_.histogram.edge(static_cast<std::size_t>(std::max(from, to)) + 1));
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
    QToolTip::showText(e->globalPosition().toPoint(),
                       tr("%1 from %2 to %3")
                           .arg(to_q(print_count(chart_.histogram.bars[i])),
                                to_q(print_number(chart_.histogram.edge(i), Unit::second)),
                                to_q(print_number(chart_.histogram.edge(i + 1), Unit::second))),
                       this);
}

void HistogramView::step(int direction, bool extend) {
    const int n = static_cast<int>(chart_.histogram.bars.size());
    if (n == 0) return;
    int next = last_ < 0 ? (direction > 0 ? 0 : n - 1) : std::clamp(last_ + direction, 0, n - 1);
    // Empty bars are stepped over.
    while (!extend && next + direction >= 0 && next + direction < n &&
           chart_.histogram.bars[static_cast<std::size_t>(next)] == 0)
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
