// SPDX-License-Identifier: GPL-3.0-or-later
// A measured length over time: what drifts and what jitters. Each pixel column shows the least and the
// greatest of the lengths that begin in it. A click, or the arrow keys, go to the one behind it.
#pragma once

#include <QWidget>

#include <memory>
#include <optional>
#include <vector>

#include "core/dossier/port.hpp"
#include "core/signal/measure.hpp"

namespace grayrelic::app {

class TimePlot : public QWidget {
    Q_OBJECT
  public:
    explicit TimePlot(QWidget* parent = nullptr);
    /// In order of time.
    void show_intervals(std::shared_ptr<const std::vector<Interval>> intervals, Driver driver,
                        std::optional<double> deadline_s);
    void clear();
    [[nodiscard]] QSize sizeHint() const override { return {420, 190}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {200, 90}; }
    /// Where an interval is drawn.
    [[nodiscard]] QPointF point_of(const Interval& i) const;

  Q_SIGNALS:
    void picked(const Interval& interval);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    struct Cell {
        std::size_t least = 0, most = 0;  ///< places in the list
        bool any = false;
    };
    void rebuild();
    bool stale_ = true;  ///< the cells: made when they are painted
    void pick(std::size_t place);
    void step(int direction);
    [[nodiscard]] QRectF plot() const;
    std::shared_ptr<const std::vector<Interval>> intervals_;
    std::vector<Cell> cells_;  ///< one a pixel column
    Driver driver_ = Driver::unknown;
    std::optional<double> deadline_;
    double low_ = 0, high_ = 1;
    std::optional<std::size_t> picked_;
};

}  // namespace grayrelic::app
