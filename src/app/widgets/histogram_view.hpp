// SPDX-License-Identifier: GPL-3.0-or-later
// A histogram of times. Bars are picked with the mouse or the arrow keys (Shift extends); a deadline is drawn
// as a dashed line, and what lies beyond it in the stop colour.
#pragma once

#include <QWidget>

#include <optional>

#include "core/dossier/dossier.hpp"
#include "core/report/histogram_figure.hpp"

namespace grayrelic::app {

class HistogramView : public QWidget {
    Q_OBJECT
  public:
    explicit HistogramView(QWidget* parent = nullptr);
    using Marker = HistogramMark;
    /// Values in seconds. `finest` is the least bar width that means something (the sampling).
    void show_values(std::vector<double> values, Driver driver, std::optional<Marker> deadline,
                     double finest);
    void show_values(Spread values, Driver driver, std::optional<Marker> deadline, double finest);
    void clear(const QString& why);
    void clear_selection();
    [[nodiscard]] const Histogram& histogram() const { return chart_.histogram; }
    [[nodiscard]] QRectF bar_rect(std::size_t bar) const;
    [[nodiscard]] QSize sizeHint() const override { return {420, 190}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {200, 90}; }

  Q_SIGNALS:
    /// Values in [low, high) are picked; low == high for none.
    void picked(double low_s, double high_s);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    void add_keys();
    void step(int direction, bool extend);
    void rebuild();
    void select(int from, int to);
    [[nodiscard]] int bar_at(double x) const;
    Spread values_;
    HistogramChart chart_;
    Driver driver_ = Driver::unknown;
    std::optional<Marker> deadline_;
    double finest_ = 0.0;
    QString empty_;
    int anchor_ = -1;
    int last_ = -1;
};

}  // namespace grayrelic::app
