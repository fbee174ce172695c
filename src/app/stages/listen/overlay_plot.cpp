// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/overlay_plot.hpp"

#include <QMouseEvent>
#include <QPainter>

#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/quantity.hpp"

namespace grayrelic::app {

constexpr double names_width = 76, axis_height = 22, reach_px = 5;

OverlayPlot::OverlayPlot(QWidget* parent) : QWidget(parent) {
    setMouseTracking(true);
    setMinimumSize(260, 120);
    setAccessibleName(tr("Transactions laid over one another"));
}

void OverlayPlot::show_overlay(std::shared_ptr<const Overlay> overlay, Time before, Time after, std::vector<Driver> drivers) {
    overlay_ = std::move(overlay);
    before_ = before;
    after_ = after;
    drivers_ = std::move(drivers);
    update();
}

QRectF OverlayPlot::row_box(std::size_t line) const {
    const auto n = static_cast<double>(overlay_ ? std::max<std::size_t>(1, overlay_->lines.size()) : 1);
    const double each = (height() - axis_height) / n;
    return {names_width, static_cast<double>(line) * each + 6, width() - names_width - 6, each - 12};
}

double OverlayPlot::x_of(double seconds) const {
    const double whole = (before_ + after_).seconds();
    return names_width + (width() - names_width - 6) * (seconds + before_.seconds()) / (whole > 0 ? whole : 1);
}

void OverlayPlot::paintEvent(QPaintEvent*) {
    QPainter p(this);
    if (!overlay_ || overlay_->lines.empty()) return;
    for (std::size_t l = 0; l < overlay_->lines.size(); ++l) {
        const auto& line = overlay_->lines[l];
        const auto lane = row_box(l);
        const QColor ink = theme().driver(l < drivers_.size() ? drivers_[l] : Driver::unknown);
        p.setFont(text_font(12));
        p.setPen(ink);
        p.drawText(QRectF(0, lane.top(), names_width - 8, lane.height()), Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(to_q(short_name(line.signal)), Qt::ElideRight, static_cast<int>(names_width - 8)));
        const auto n = line.high.size();
        const double step = lane.width() / static_cast<double>(std::max<std::size_t>(1, n));
        p.setPen(Qt::NoPen);
        for (std::size_t c = 0; c < n; ++c) {
            const double x = lane.left() + step * static_cast<double>(c);
            const auto band = [&](double share, double y, double h) {
                if (share <= 0) return;
                auto colour = ink;
                // A single one of thousands must still be seen.
                colour.setAlphaF(static_cast<float>(std::clamp(0.18 + 0.82 * share, 0.0, 1.0)));
                p.fillRect(QRectF(x, y, step + 0.5, h), colour);
            };
            band(line.high[c], lane.top(), 3);
            band(1.0 - static_cast<double>(line.high[c]), lane.bottom() - 3, 3);
            band(std::min(1.0F, line.edges[c]), lane.top() + 3, line.edges[c] > 0 ? lane.height() - 6 : 0);
        }
    }
    // The moment all are aligned on, and the axis.
    const double zero = x_of(0);
    p.setPen(theme().hairline);
    p.drawLine(QPointF(zero, 0), QPointF(zero, height() - axis_height));
    p.setPen(theme().ink2);
    p.setFont(figure_font(11, false));
    const double whole = (before_ + after_).seconds();
    const double rough = whole / std::max(1.0, (width() - names_width) / 110.0);
    const double decade = std::pow(10.0, std::floor(std::log10(rough)));
    const double tick = decade * (rough / decade > 5 ? 10 : rough / decade > 2 ? 5 : rough / decade > 1 ? 2 : 1);
    for (double t = std::ceil(-before_.seconds() / tick) * tick; t < after_.seconds(); t += tick) {
        const double x = x_of(t);
        if (x < names_width + 4 || x > width() - 44) continue;
        p.drawLine(QPointF(x, height() - axis_height), QPointF(x, height() - axis_height + 4));
        p.drawText(QRectF(x - 40, height() - axis_height + 4, 80, 16), Qt::AlignCenter, std::abs(t) < tick / 1000 ? QStringLiteral("0") : to_q(print_number(t, Unit::second)));
    }
}

const EdgeSpread* OverlayPlot::edge_at(QPointF at) const {
    if (!overlay_) return nullptr;
    for (std::size_t l = 0; l < overlay_->lines.size(); ++l) {
        if (!row_box(l).adjusted(0, -6, 0, 6).contains(at)) continue;
        const EdgeSpread* best = nullptr;
        double least = 1e9;
        for (const auto& e : overlay_->lines[l].spread) {
            if (at.x() < x_of(e.min_s) - reach_px || at.x() > x_of(e.max_s) + reach_px) continue;
            if (const double d = std::abs(at.x() - x_of(e.mean_s)); d < least) least = d, best = &e;
        }
        return best;
    }
    return nullptr;
}

QString OverlayPlot::text_at(QPointF at) const {
    const auto* e = edge_at(at);
    if (e == nullptr) return {};
    const auto t = [](double s) { return to_q(print_number(s, Unit::second)); };
    return tr("%1 after %2 to %3, mean %4, deviation %5, in %6").arg(e->rises ? tr("rises") : tr("falls"), t(e->min_s), t(e->max_s), t(e->mean_s), t(e->sd_s)).arg(e->n);
}

void OverlayPlot::mouseMoveEvent(QMouseEvent* event) {
    setToolTip(text_at(event->position()));
}

void OverlayPlot::mousePressEvent(QMouseEvent* event) {
    const auto* e = edge_at(event->position());
    if (e == nullptr || event->button() != Qt::LeftButton) return;
    const bool early = event->modifiers().testFlag(Qt::ShiftModifier);
    Q_EMIT outlier_wanted(early ? e->min_span : e->max_span, early);
}

}  // namespace grayrelic::app
