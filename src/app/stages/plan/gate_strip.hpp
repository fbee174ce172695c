// SPDX-License-Identifier: GPL-3.0-or-later
// The six gates in a row, each with its verdict and what is in the way; one is picked, with mouse or keys.
#pragma once

#include <QWidget>

#include <vector>

#include "core/job/outlook.hpp"

namespace grayrelic::app {

class GateStrip : public QWidget {
    Q_OBJECT
  public:
    explicit GateStrip(QWidget* parent = nullptr);
    void show_gates(std::vector<GateState> gates);
    void pick(JobGate gate);
    [[nodiscard]] JobGate picked() const { return static_cast<JobGate>(picked_); }
    /// "Order, stop: 2 in the way: …"
    [[nodiscard]] QString said_of(JobGate gate) const;
    QSize sizeHint() const override { return {600, 46}; }
    QSize minimumSizeHint() const override { return {480, 46}; }

  Q_SIGNALS:
    void chosen(JobGate gate);
    void opened(JobGate gate);  ///< Enter, or a double click

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

  private:
    void choose(int gate);
    [[nodiscard]] QRectF box(int gate) const;
    [[nodiscard]] int gate_at(double x) const;
    std::vector<GateState> gates_;
    int picked_ = 0;
};

/// What stands below a gate's name.
[[nodiscard]] QString gate_line(const GateState& gate);

}  // namespace grayrelic::app
