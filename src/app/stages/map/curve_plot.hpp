// SPDX-License-Identifier: GPL-3.0-or-later
// Two plots of movement: what the old side makes of each position, and where a movement gets to, with the
// curve and without. In the second a movement is drawn by hand: pressed, the mouse is the modern pointer.
#pragma once

#include <QElapsedTimer>
#include <QWidget>

#include <vector>

#include "core/dossier/map.hpp"

namespace grayrelic::app {

class CurvePlot : public QWidget {
    Q_OBJECT
  public:
    explicit CurvePlot(QWidget* parent = nullptr);
    void show_curve(const MoveCurve& curve, bool sound);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    MoveCurve curve_;
    bool sound_ = false;  ///< the curve has no problem
};

class MovePlot : public QWidget {
    Q_OBJECT
  public:
    explicit MovePlot(QWidget* parent = nullptr);
    /// Steps behind each poll: wished for, with the curve, without.
    void show_movement(std::vector<double> wished, std::vector<double> with, std::vector<double> without);
    [[nodiscard]] std::size_t polls() const { return wished_.size(); }
    [[nodiscard]] bool has_before() const { return !without_.empty(); }

  Q_SIGNALS:
    void drawn(const std::vector<long>& counts);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

  private:
    void take(double x);
    std::vector<double> wished_, with_, without_;
    QElapsedTimer clock_;
    double last_x_ = 0;
    std::vector<long> drawing_;
};

}  // namespace grayrelic::app
