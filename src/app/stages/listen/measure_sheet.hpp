// SPDX-License-Identifier: GPL-3.0-or-later
// Figures of the selected signal, between the cursors or in view: high, low, period, rate, duty.
#pragma once

#include <QGridLayout>

#include "app/stages/listen/wave_view.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class MeasureSheet : public Sheet {
    Q_OBJECT
  public:
    explicit MeasureSheet(QWidget* parent = nullptr);
    void measure(const WaveView& view);
    [[nodiscard]] QString cell(int row, int column) const;

  private:
    void set_cell(int row, int column, const QString& text);
    QGridLayout* grid_;
    QLabel* rate_;
};

}  // namespace grayrelic::app
