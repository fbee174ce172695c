// SPDX-License-Identifier: GPL-3.0-or-later
// What a calendar chart scrolls; for calendar_chart only.
#pragma once

#include "app/widgets/calendar_chart.hpp"

namespace grayrelic::app {

class CalendarSheet : public QWidget {
    Q_OBJECT
  public:
    using QWidget::QWidget;
    void set(std::vector<CalendarRow> rows, const CalendarDates& dates);
    void choose(int row);
    [[nodiscard]] QString words(int row) const;
    [[nodiscard]] int row_of(const QString& id) const;
    std::vector<CalendarRow> rows;
    CalendarDates dates;
    int picked = 0;
    QSize minimumSizeHint() const override;

  Q_SIGNALS:
    void chosen(const QString& id);
    void moved(int row);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

  private:
    void paint_grid(QPainter& p) const;
    void paint_finish(QPainter& p) const;
    void paint_row(QPainter& p, int row) const;
    [[nodiscard]] double x_of(double day) const;
    [[nodiscard]] double names_width() const;
    [[nodiscard]] double last_day() const;
    [[nodiscard]] int row_at(double y) const;
};

}  // namespace grayrelic::app
