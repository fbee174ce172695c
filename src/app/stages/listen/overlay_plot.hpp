// SPDX-License-Identifier: GPL-3.0-or-later
// Many transactions in one picture: for each line, the darker the ink the more of them were high (above) or
// low (below) at that moment; hairlines mark where each edge falls, as wide as it spreads.
#pragma once

#include <memory>

#include "app/widgets/row_plot.hpp"
#include "core/dossier/dossier.hpp"
#include "core/signal/overlay.hpp"

namespace grayrelic::app {

class OverlayPlot : public RowPlot {
    Q_OBJECT
  public:
    explicit OverlayPlot(QWidget* parent = nullptr);
    /// `drivers` as the overlay's lines; null empties it.
    void show_overlay(std::shared_ptr<const Overlay> overlay, Time before, Time after,
                      std::vector<Driver> drivers);
    [[nodiscard]] const Overlay* overlay() const { return overlay_.get(); }
    /// A finer one of the stretch that detail_wanted() asked for. Times count from the aligned moment.
    void show_detail(std::shared_ptr<const Overlay> overlay, Span stretch);
    /// What lies under the pointer: the edge and its spread; empty where there is none.
    [[nodiscard]] QString text_at(QPointF at) const;
    [[nodiscard]] QSize sizeHint() const override { return {480, 220}; }

  Q_SIGNALS:
    /// The transaction with the latest (or earliest, when `early`) edge of those under the pointer.
    void outlier_wanted(std::size_t span, bool early);
    /// The columns at hand are wider than the pixels in view.
    void detail_wanted(Span stretch);

  protected:
    [[nodiscard]] int row_count() const override;
    [[nodiscard]] RowName row_name(int row) const override;
    void paint_row(QPainter& painter, int row, const QRectF& lane) override;
    void paint_over(QPainter& painter) override;
    void clicked(QPointF at, Qt::KeyboardModifiers modifiers) override;
    void window_moved() override;
    void mouseMoveEvent(QMouseEvent* event) override;

  private:
    /// Columns of one overlay and the stretch they cover.
    struct Layer {
        std::shared_ptr<const Overlay> overlay;
        Span stretch;
    };
    [[nodiscard]] const Layer& layer() const;  ///< the finest that covers the view
    Layer whole_, detail_;
    [[nodiscard]] const EdgeSpread* edge_at(QPointF at) const;
    std::shared_ptr<const Overlay> overlay_;
    std::vector<Driver> drivers_;
};

}  // namespace grayrelic::app
