// SPDX-License-Identifier: GPL-3.0-or-later
// An option's worst reply as a waveform against the original: the trigger, what the original answered, what
// this option would have answered, and when the host looks.
#pragma once

#include <QWidget>

#include "core/analysis/analysis.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {

class WorstView : public QWidget {
    Q_OBJECT
  public:
    explicit WorstView(QWidget* parent = nullptr);
    void show_option(const Analysis& analysis, const OptionAnalysis* option);
    [[nodiscard]] QSize sizeHint() const override { return {320, 190}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {200, 130}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    struct Row {
        QString name;
        QString about;
        Driver driver;
        DigitalWaveform waveform;
    };
    std::vector<Row> rows_;
    Span window_;
    Time trigger_, deadline_;
    std::optional<Time> reply_;
};

}  // namespace grayrelic::app
