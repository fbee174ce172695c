// SPDX-License-Identifier: GPL-3.0-or-later
// Nets of a replayed network over time.
#pragma once

#include <memory>
#include <vector>

#include "app/widgets/row_plot.hpp"
#include "core/dossier/port.hpp"
#include "core/signal/waveform.hpp"

namespace grayrelic::app {

class ReplayPlot : public RowPlot {
    Q_OBJECT
  public:
    explicit ReplayPlot(QWidget* parent = nullptr);
    struct Row {
        QString name;
        Driver driver;
        std::shared_ptr<const DigitalWaveform> waveform;
    };
    void show_rows(std::vector<Row> rows, Span whole, Span window);
    [[nodiscard]] const std::vector<Row>& rows() const { return rows_; }

  protected:
    [[nodiscard]] int row_count() const override { return static_cast<int>(rows_.size()); }
    [[nodiscard]] RowName row_name(int row) const override;
    void paint_row(QPainter& painter, int row, const QRectF& lane) override;
    [[nodiscard]] QString empty_text() const override;

  private:
    std::vector<Row> rows_;
};

}  // namespace grayrelic::app
