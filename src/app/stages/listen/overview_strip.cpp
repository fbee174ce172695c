// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/listen/overview_strip.hpp"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

#include "app/paint/theme.hpp"

#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {

OverviewStrip::OverviewStrip(QWidget* parent) : QWidget(parent) {
    setFixedHeight(34);
    setAccessibleName(tr("Whole capture"));
    setToolTip(tr("The whole capture; click to move the view"));
    setCursor(Qt::PointingHandCursor);
}

void OverviewStrip::show_capture(std::shared_ptr<const CaptureAnalysis> capture) {
    if (capture_ && capture && capture_->capture == capture->capture) return;
    capture_ = std::move(capture);
    count_activity();
}

void OverviewStrip::show_window(Span window) {
    window_ = window;
    update();
}

void OverviewStrip::resizeEvent(QResizeEvent*) {
    count_activity();
}

void OverviewStrip::count_activity() {
    activity_.assign(static_cast<std::size_t>(std::max(1, width() / 3)), 0);
    if (capture_ && capture_->capture) {
        std::vector<Column> columns(activity_.size());
        for (const auto& s : capture_->capture->signals) {
            if (!s.digital) continue;
            fill_columns(*s.digital, capture_->capture->extent.from, capture_->capture->extent.to, columns);
            for (std::size_t i = 0; i < columns.size(); ++i) activity_[i] += columns[i].edge_count;
        }
    }
    update();
}

void OverviewStrip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().sheet);
    p.setPen(theme().hairline);
    p.drawRect(rect().adjusted(0, 0, -1, -1));
    if (!capture_ || !capture_->capture) return;
    const double most =
        static_cast<double>(std::max<std::size_t>(1, *std::max_element(activity_.begin(), activity_.end())));
    const double w = static_cast<double>(width()) / static_cast<double>(activity_.size());
    for (std::size_t i = 0; i < activity_.size(); ++i) {
        if (activity_[i] == 0) continue;
        // Logarithmic: a few edges among bursts of thousands still show.
        const double h = 4.0 + 18.0 * std::log1p(static_cast<double>(activity_[i])) / std::log1p(most);
        p.fillRect(QRectF(w * static_cast<double>(i), (height() - h) / 2, std::max(1.0, w - 1.0), h),
                   theme().ink2);
    }
    const auto extent = capture_->capture->extent;
    const double whole = static_cast<double>(std::max<std::int64_t>(1, extent.length().count()));
    const double x0 = static_cast<double>((window_.from - extent.from).count()) / whole * width();
    const double x1 = static_cast<double>((window_.to - extent.from).count()) / whole * width();
    const double wide = std::max(6.0, x1 - x0);
    const double left = std::clamp((x0 + x1 - wide) / 2, 1.0, width() - 2.0 - std::min(wide, width() - 3.0));
    p.setPen(QPen(theme().ink, 1.5));
    p.setBrush(Qt::NoBrush);
    p.drawRect(QRectF(left, 2, std::min(wide, width() - 3.0), height() - 5));
}

void OverviewStrip::mousePressEvent(QMouseEvent* e) {
    if (!capture_ || !capture_->capture) return;
    const auto extent = capture_->capture->extent;
    Q_EMIT wanted(extent.from + Time::ps(std::llround(e->position().x() / width() *
                                                      static_cast<double>(extent.length().count()))));
}

void OverviewStrip::mouseMoveEvent(QMouseEvent* e) {
    if ((e->buttons() & Qt::LeftButton) != 0) mousePressEvent(e);
}

}  // namespace grayrelic::app
