// SPDX-License-Identifier: GPL-3.0-or-later
// Tasks as bars along dates: work filled, waits hollow, today at the left, likely and late finish as lines.
// One row is picked, with mouse or keys.
#pragma once

#include <QDate>
#include <QScrollArea>
#include <QWidget>

#include <optional>
#include <vector>

namespace grayrelic::app {

struct CalendarRow {
    QString id;
    double from = 0, to = 0, wait_to = 0;  ///< in days from today
    bool holds_up = false;                 ///< of the longest chain
    QString wait;                          ///< beside the wait: "in the post, 12 to 26 days"
};

struct CalendarDates {
    QDate today;
    std::optional<int> likely, late, deadline;  ///< in days from today
};

class CalendarSheet;

class CalendarChart : public QScrollArea {
    Q_OBJECT
  public:
    explicit CalendarChart(const QString& name, QWidget* parent = nullptr);
    void show_rows(std::vector<CalendarRow> rows, const CalendarDates& dates);
    void pick(const QString& id);
    [[nodiscard]] QString picked() const;
    [[nodiscard]] int count() const;
    /// All that a row says, for tooltips, screen readers and tests.
    [[nodiscard]] QString said_of(const QString& id) const;
    [[nodiscard]] QWidget& sheet() const;

  Q_SIGNALS:
    void chosen(const QString& id);

  private:
    CalendarSheet* sheet_;
};

}  // namespace grayrelic::app
