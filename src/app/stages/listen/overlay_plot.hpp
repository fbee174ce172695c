// SPDX-License-Identifier: GPL-3.0-or-later
// Many transactions in one picture: for each line, the darker the ink the more of them were high (above) or low
// (below) at that moment; hairlines mark where each edge falls, as wide as it spreads.
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
    void show_overlay(std::shared_ptr<const Overlay> overlay, Time before, Time after, std::vector<Driver> drivers);
    [[nodiscard]] const Overlay* overlay() const { return overlay_.get(); }
    /// What lies under the pointer: the edge and its spread; empty where there is none.
    [[nodiscard]] QString text_at(QPointF at) const;
    [[nodiscard]] QSize sizeHint() const override { return {480, 220}; }

  Q_SIGNALS:
    /// The transaction with the latest (or earliest, when `early`) edge of those under the pointer.
    void outlier_wanted(std::size_t span, bool early);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

  private:
    [[nodiscard]] QRectF row_box(std::size_t line) const;
    [[nodiscard]] const EdgeSpread* edge_at(QPointF at) const;
    [[nodiscard]] double x_of(double seconds) const;
    std::shared_ptr<const Overlay> overlay_;
    Time before_, after_;
    std::vector<Driver> drivers_;
};

}  // namespace grayrelic::app
