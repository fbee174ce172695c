// SPDX-License-Identifier: GPL-3.0-or-later
// Nets of a replayed network over time, with wheel and keys to move and zoom.
#pragma once

#include <QWidget>

#include <memory>
#include <vector>

#include "core/dossier/port.hpp"
#include "core/signal/waveform.hpp"

namespace grayrelic::app {

class ReplayPlot : public QWidget {
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
    [[nodiscard]] Span window() const { return window_; }

  protected:
    void paintEvent(QPaintEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

  private:
    void zoom(double factor, double at_share);
    void pan(double share);
    std::vector<Row> rows_;
    Span whole_, window_;
};

}  // namespace grayrelic::app
