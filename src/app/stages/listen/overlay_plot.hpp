// SPDX-License-Identifier: GPL-3.0-or-later
// Many transactions in one picture: for each line, the darker the ink the more of them were high (above) or
// low (below) at that moment; hairlines mark where each edge falls, as wide as it spreads.
#pragma once

#include <QWidget>

#include <memory>

#include "core/dossier/dossier.hpp"
#include "core/signal/overlay.hpp"

namespace grayrelic::app {

class OverlayPlot : public QWidget {
    Q_OBJECT
  public:
    explicit OverlayPlot(QWidget* parent = nullptr);
    /// `drivers` as the overlay's lines; null empties it.
    void show_overlay(std::shared_ptr<const Overlay> overlay, Time before, Time after,
                      std::vector<Driver> drivers);
    [[nodiscard]] const Overlay* overlay() const { return overlay_.get(); }
    /// A finer one of the stretch [from_s, to_s] that detail_wanted() asked for.
    void show_detail(std::shared_ptr<const Overlay> overlay, double from_s, double to_s);
    /// What is in view, in seconds from the aligned moment; zoom and pan stay inside of what was laid over.
    [[nodiscard]] std::pair<double, double> window() const { return {from_s_, to_s_}; }
    void set_window(double from_s, double to_s);
    /// What lies under the pointer: the edge and its spread; empty where there is none.
    [[nodiscard]] QString text_at(QPointF at) const;
    [[nodiscard]] QSize sizeHint() const override { return {480, 220}; }

  Q_SIGNALS:
    /// The transaction with the latest (or earliest, when `early`) edge of those under the pointer.
    void outlier_wanted(std::size_t span, bool early);
    /// The columns at hand are wider than the pixels in view.
    void detail_wanted(double from_s, double to_s);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

  private:
    /// Columns of one overlay and the stretch they cover.
    struct Layer {
        std::shared_ptr<const Overlay> overlay;
        double from_s = 0, to_s = 0;
    };
    void zoom(double factor, double at_s);
    void pan(double share);
    void paint_line(QPainter& p, const OverlayLine& line, const Layer& layer, const QRectF& lane,
                    const QColor& ink);
    [[nodiscard]] const Layer& layer() const;  ///< the finest that covers the view
    Layer whole_, detail_;
    double from_s_ = 0, to_s_ = 1;
    [[nodiscard]] QRectF row_box(std::size_t line) const;
    [[nodiscard]] const EdgeSpread* edge_at(QPointF at) const;
    [[nodiscard]] double x_of(double seconds) const;
    std::shared_ptr<const Overlay> overlay_;
    std::vector<Driver> drivers_;
};

}  // namespace grayrelic::app
