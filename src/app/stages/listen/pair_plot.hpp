// SPDX-License-Identifier: GPL-3.0-or-later
// Two recordings of the mapped signals around one moment: in each row the original above, the replica below.
#pragma once

#include <memory>
#include <optional>
#include <vector>

#include "app/widgets/row_plot.hpp"
#include "core/signal/waveform.hpp"

namespace grayrelic::app {

class PairPlot : public RowPlot {
    Q_OBJECT
  public:
    explicit PairPlot(QWidget* parent = nullptr);
    struct Row {
        QString name;
        std::shared_ptr<const DigitalWaveform> original, replica;
    };
    /// `shift` takes the replica's time to the original's; `whole` is what can be seen of both.
    void show_rows(std::vector<Row> rows, Time shift, Span whole);
    /// Marks the moment and shows it, as wide as that.
    void show_moment(Time at, Time width);
    [[nodiscard]] QSize sizeHint() const override { return {480, 220}; }

  protected:
    [[nodiscard]] int row_count() const override { return static_cast<int>(rows_.size()); }
    [[nodiscard]] RowName row_name(int row) const override;
    void paint_row(QPainter& painter, int row, const QRectF& lane) override;
    void paint_over(QPainter& painter) override;

  private:
    std::vector<Row> rows_;
    Time shift_;
    std::optional<Time> moment_;
};

}  // namespace grayrelic::app
