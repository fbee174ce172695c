// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/overlay_plot.hpp"

#include <QImage>
#include <QMouseEvent>
#include <QPainter>

#include <cmath>

#include "app/paint/marks.hpp"
#include "app/paint/theme.hpp"
#include "core/base/quantity.hpp"

namespace grayrelic::app {

constexpr double reach_px = 5;

OverlayPlot::OverlayPlot(QWidget* parent)
    : RowPlot(tr("Transactions laid over one another"), tr("Laid over one another"), parent) {
    setMinimumWidth(260);
    Look look;
    look.names_width = 76;
    look.least_row = 22;
    look.above = look.below = 6;
    set_look(look);
    rows_changed();
}

void OverlayPlot::show_overlay(std::shared_ptr<const Overlay> overlay, Time before, Time after,
                               std::vector<Driver> drivers) {
    const Span all{Time{} - before, after};
    const bool other = whole_.stretch != all;
    overlay_ = std::move(overlay);
    whole_ = {overlay_, all};
    drivers_ = std::move(drivers);
    set_whole(all);
    rows_changed();
    if (other || !overlay_) {
        detail_ = {};
        set_window(all);
    }
}

void OverlayPlot::show_detail(std::shared_ptr<const Overlay> overlay, Span stretch) {
    if (!overlay || !overlay_ || overlay->lines.size() != overlay_->lines.size()) return;
    detail_ = {std::move(overlay), stretch};
    update();
}

const OverlayPlot::Layer& OverlayPlot::layer() const {
    const auto seen = window();
    return detail_.overlay && detail_.stretch.from <= seen.from && detail_.stretch.to >= seen.to ? detail_
                                                                                                 : whole_;
}

int OverlayPlot::row_count() const {
    return overlay_ ? static_cast<int>(overlay_->lines.size()) : 0;
}

OverlayPlot::RowName OverlayPlot::row_name(int row) const {
    const auto l = static_cast<std::size_t>(row);
    return {to_q(short_name(overlay_->lines[l].signal)),
            theme().driver(l < drivers_.size() ? drivers_[l] : Driver::unknown)};
}

void OverlayPlot::window_moved() {
    if (row_count() == 0) return;
    const auto& l = layer();
    const auto seen = window();
    const double column = l.stretch.length().seconds() /
                          static_cast<double>(std::max<std::size_t>(1, l.overlay->lines.front().high.size()));
    // With some room on both sides, so that a pan needs no new one at once.
    if (column > seen.length().seconds() / std::max(1.0, lane(0).width()))
        Q_EMIT detail_wanted({std::max(whole_.stretch.from, seen.from - seen.length()),
                              std::min(whole_.stretch.to, seen.to + seen.length())});
}

/// Pixel by pixel from the columns at hand: the mean of the levels, the sum of the edges.
void OverlayPlot::paint_row(QPainter& p, int row, const QRectF& lane) {
    const auto& from = layer();
    const auto l = static_cast<std::size_t>(row);
    const auto& line = l < from.overlay->lines.size() ? from.overlay->lines[l] : overlay_->lines[l];
    const QColor ink = row_name(row).ink;
    const auto n = static_cast<double>(line.high.size());
    const double whole = from.stretch.length().seconds();
    if (n < 1 || !(whole > 0)) return;
    const double begins = (window().from - from.stretch.from).seconds() / whole * n,
                 shown = window().length().seconds() / whole * n;
    const auto column_at = [&](double x) { return begins + (x - lane.left()) / lane.width() * shown; };
    // One pixel high each: the share that is high, that has edges, that is low.
    const int wide = std::max(1, static_cast<int>(lane.width()));
    QImage strip(wide, 3, QImage::Format_ARGB32_Premultiplied);
    strip.fill(0);
    const auto shade = [&](double share) -> QRgb {
        // A single one of thousands must still be seen.
        return share <= 0
                   ? 0
                   : qPremultiply(qRgba(ink.red(), ink.green(), ink.blue(),
                                        static_cast<int>(255 * std::clamp(0.18 + 0.82 * share, 0.0, 1.0))));
    };
    auto* high_row = reinterpret_cast<QRgb*>(strip.scanLine(0));
    auto* edge_row = reinterpret_cast<QRgb*>(strip.scanLine(1));
    auto* low_row = reinterpret_cast<QRgb*>(strip.scanLine(2));
    for (int x = 0; x < wide; ++x) {
        const double first = column_at(lane.left() + x), last = column_at(lane.left() + x + 1);
        const auto begin = static_cast<std::size_t>(std::clamp(first, 0.0, n - 1)),
                   end = std::min(line.high.size(),
                                  std::max(begin + 1, static_cast<std::size_t>(std::clamp(last, 0.0, n))));
        double high = 0, edges = 0;
        for (auto c = begin; c < end; ++c)
            high += static_cast<double>(line.high[c]), edges += static_cast<double>(line.edges[c]);
        high /= static_cast<double>(end - begin);
        high_row[x] = shade(high);
        edge_row[x] = shade(std::min(1.0, edges));
        low_row[x] = shade(1.0 - high);
    }
    p.drawImage(QRectF(lane.left(), lane.top(), wide, 3), strip, QRectF(0, 0, wide, 1));
    p.drawImage(QRectF(lane.left(), lane.top() + 3, wide, lane.height() - 6), strip, QRectF(0, 1, wide, 1));
    p.drawImage(QRectF(lane.left(), lane.bottom() - 3, wide, 3), strip, QRectF(0, 2, wide, 1));
}

/// The moment all are aligned on.
void OverlayPlot::paint_over(QPainter& p) {
    p.setPen(theme().hairline);
    p.drawLine(QPointF(x_of(Time{}), 0), QPointF(x_of(Time{}), height()));
}

const EdgeSpread* OverlayPlot::edge_at(QPointF at) const {
    const int row = row_at(at.y());
    if (row < 0) return nullptr;
    const auto x = [this](double seconds) { return x_of(Time::from_seconds(seconds)); };
    const EdgeSpread* best = nullptr;
    double least = 1e9;
    for (const auto& e : overlay_->lines[static_cast<std::size_t>(row)].spread) {
        if (at.x() < x(e.min_s) - reach_px || at.x() > x(e.max_s) + reach_px) continue;
        if (const double d = std::abs(at.x() - x(e.mean_s)); d < least) least = d, best = &e;
    }
    return best;
}

QString OverlayPlot::text_at(QPointF at) const {
    const auto* e = edge_at(at);
    if (e == nullptr) return {};
    const auto t = [](double s) { return to_q(print_number(s, Unit::second)); };
    return tr("%1 after %2 to %3, mean %4, deviation %5, in %6")
        .arg(e->rises ? tr("rises") : tr("falls"), t(e->min_s), t(e->max_s), t(e->mean_s), t(e->sd_s))
        .arg(e->n);
}

void OverlayPlot::mouseMoveEvent(QMouseEvent* event) {
    setToolTip(text_at(event->position()));
    RowPlot::mouseMoveEvent(event);
}

void OverlayPlot::clicked(QPointF at, Qt::KeyboardModifiers modifiers) {
    const auto* e = edge_at(at);
    if (e == nullptr) return;
    const bool early = modifiers.testFlag(Qt::ShiftModifier);
    Q_EMIT outlier_wanted(early ? e->min_span : e->max_span, early);
}

}  // namespace grayrelic::app
