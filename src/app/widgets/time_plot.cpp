// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/time_plot.hpp"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

#include "app/paint/axis.hpp"
#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "app/widgets/view_keys.hpp"
#include "core/base/quantity.hpp"
#include "core/signal/measure.hpp"

namespace grayrelic::app {

TimePlot::TimePlot(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Over time"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    const auto group = tr("Lengths over time");
    add_view_key(this, group, tr("The length before"), {"Left"}, [this] { step(-1); });
    add_view_key(this, group, tr("The next length"), {"Right"}, [this] { step(1); });
}

void TimePlot::show_intervals(std::shared_ptr<const std::vector<Interval>> intervals, Driver driver,
                              std::optional<double> deadline_s) {
    intervals_ = std::move(intervals);
    driver_ = driver;
    deadline_ = deadline_s;
    picked_.reset();
    stale_ = true;
    update();
}

void TimePlot::clear() {
    show_intervals(nullptr, Driver::unknown, std::nullopt);
}

QRectF TimePlot::plot() const {
    return QRectF(84, 8, std::max(10, width() - 90), std::max(10, height() - 34));
}

void TimePlot::resizeEvent(QResizeEvent*) {
    stale_ = true;
}

void TimePlot::rebuild() {
    if (!stale_) return;
    stale_ = false;
    cells_.assign(static_cast<std::size_t>(plot().width()), {});
    if (!intervals_ || intervals_->empty()) return;
    const auto& list = *intervals_;
    const auto first = list.front().from;
    const double span = std::max(1e-12, (list.back().from - first).seconds());
    for (std::size_t i = 0; i < list.size(); ++i) {
        const auto x =
            std::min(cells_.size() - 1, static_cast<std::size_t>((list[i].from - first).seconds() / span *
                                                                 static_cast<double>(cells_.size() - 1)));
        auto& c = cells_[x];
        if (!c.any) c = {i, i, true};
        if (list[i].length() < list[c.least].length()) c.least = i;
        if (list[i].length() > list[c.most].length()) c.most = i;
    }
    Time least = Time::max(), most = Time::min();
    for (const auto& c : cells_)
        if (c.any)
            least = std::min(least, list[c.least].length()), most = std::max(most, list[c.most].length());
    low_ = least.seconds();
    high_ = most.seconds();
    if (deadline_ && *deadline_ < low_ + 3 * (high_ - low_)) high_ = std::max(high_, *deadline_);
    const double spare = std::max((high_ - low_) * 0.08, high_ * 1e-6 + 1e-12);
    low_ -= spare;
    high_ += spare;
    setAccessibleDescription(
        tr("%1 lengths from %2 to %3").arg(list.size()).arg(to_q(print(least)), to_q(print(most))));
}

QPointF TimePlot::point_of(const Interval& i) const {
    const auto box = plot();
    const auto& list = *intervals_;
    const double span = std::max(1e-12, (list.back().from - list.front().from).seconds());
    return {box.left() + (i.from - list.front().from).seconds() / span * (box.width() - 1),
            box.bottom() - (i.length().seconds() - low_) / (high_ - low_) * box.height()};
}

void TimePlot::paintEvent(QPaintEvent*) {
    rebuild();
    QPainter p(this);
    const auto box = plot();
    if (!intervals_ || intervals_->empty()) {
        p.setPen(theme().ink2);
        p.setFont(text_font(12));
        p.drawText(rect(), Qt::AlignCenter, tr("nothing measured"));
        return;
    }
    const auto& list = *intervals_;
    // Three round levels are enough to read a height by.
    p.setFont(figure_font(11));
    // As many digits as tell them apart.
    const int digits = std::clamp(
        static_cast<int>(std::ceil(2 + std::log10(std::max(1.0, std::abs(high_) / (high_ - low_))))), 3, 9);
    for (int k = 0; k <= 2; ++k) {
        const double v = low_ + (high_ - low_) * (0.1 + 0.4 * k);
        const double y = box.bottom() - (v - low_) / (high_ - low_) * box.height();
        p.setPen(theme().hairline);
        p.drawLine(QPointF(box.left(), y), QPointF(box.right(), y));
        p.setPen(theme().ink2);
        p.drawText(QRectF(0, y - 8, box.left() - 6, 16), Qt::AlignRight | Qt::AlignVCenter,
                   to_q(print_number(v, Unit::second, digits)));
    }
    p.setPen(QPen(theme().driver(driver_), 1));
    for (std::size_t x = 0; x < cells_.size(); ++x) {
        if (!cells_[x].any) continue;
        const double at = box.left() + static_cast<double>(x) + 0.5;
        const double top = point_of(list[cells_[x].most]).y(), bottom = point_of(list[cells_[x].least]).y();
        p.drawLine(QPointF(at, top - 1), QPointF(at, bottom + 1));
    }
    if (deadline_ && *deadline_ <= high_) {
        const double y = box.bottom() - (*deadline_ - low_) / (high_ - low_) * box.height();
        p.setPen(QPen(theme().ink, 1.5, Qt::DashLine));
        p.drawLine(QPointF(box.left(), y), QPointF(box.right(), y));
    }
    if (picked_ && *picked_ < list.size()) {
        p.setPen(QPen(theme().ink, 1.5));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(point_of(list[*picked_]), 5, 5);
    }
    p.setPen(theme().ink2);
    p.drawLine(box.bottomLeft(), box.bottomRight());
    draw_time_axis(p, QRectF(box.left(), box.bottom(), box.width(), 22), list.front().from.seconds(),
                   std::max(list.back().from.seconds(), list.front().from.seconds() + 1e-9), {false, {}, 90});
    if (hasFocus()) {
        p.setPen(QPen(theme().slate, 1, Qt::DotLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void TimePlot::pick(std::size_t place) {
    picked_ = place;
    update();
    Q_EMIT picked((*intervals_)[place]);
}

void TimePlot::step(int direction) {
    if (!intervals_ || intervals_->empty()) return;
    const auto n = intervals_->size();
    if (!picked_) return pick(direction > 0 ? 0 : n - 1);
    if (direction > 0 ? *picked_ + 1 < n : *picked_ > 0) pick(direction > 0 ? *picked_ + 1 : *picked_ - 1);
}

void TimePlot::mousePressEvent(QMouseEvent* e) {
    if (!intervals_ || intervals_->empty()) return;
    rebuild();
    // The nearest end of a column, within a few pixels.
    const auto x = static_cast<long>(e->position().x() - plot().left());
    std::optional<std::size_t> best;
    double nearest = 14.0;
    for (long c = std::max(0L, x - 8); c <= std::min(static_cast<long>(cells_.size()) - 1, x + 8); ++c) {
        const auto& cell = cells_[static_cast<std::size_t>(c)];
        if (!cell.any) continue;
        for (const auto i : {cell.least, cell.most}) {
            const auto d = point_of((*intervals_)[i]) - e->position();
            const double far = std::hypot(d.x(), d.y());
            if (far < nearest) nearest = far, best = i;
        }
    }
    if (best) pick(*best);
}

}  // namespace grayrelic::app
