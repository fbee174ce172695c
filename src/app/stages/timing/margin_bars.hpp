// SPDX-License-Identifier: GPL-3.0-or-later
// The margins of a serial receiver, bit by bit.
#pragma once

#include <QWidget>
#include <vector>

#include "core/base/verdict.hpp"

namespace grayrelic::app {

/// The margin of each sampled bit as a bar between "too early" and "too late".
class MarginBars : public QWidget {
    Q_OBJECT
  public:
    explicit MarginBars(QWidget* parent = nullptr);
    void show_margins(std::vector<double> margins, Verdict verdict);
    [[nodiscard]] QSize minimumSizeHint() const override { return {240, 110}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    std::vector<double> margins_;
    Verdict verdict_ = Verdict::unknown;
};

}  // namespace grayrelic::app
