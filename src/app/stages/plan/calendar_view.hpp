// SPDX-License-Identifier: GPL-3.0-or-later
// The tasks of the job with their hours and waits, and the dates that follow.
#pragma once

#include <QPushButton>

#include "app/shell/document.hpp"
#include "app/stages/plan/job_outlook.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class CalendarView : public QWidget {
    Q_OBJECT
  public:
    CalendarView(Document& document, JobOutlook& outlook, JobSchedule& schedule, QWidget* parent = nullptr);
    void refresh();
    /// "firmware 2-6-10 h after ports + parts, 7-21 d": a task as one line.
    std::optional<QString> enter(const QString& text);
    [[nodiscard]] QString take_table(const std::string& text, const QString& name);
    [[nodiscard]] FactTable& tasks() { return *tasks_; }
    [[nodiscard]] CalendarChart& chart() { return *chart_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] Field& hours() { return *hours_; }
    [[nodiscard]] QString says() const { return chart_sheet_->about(); }
    [[nodiscard]] QString meanwhile() const { return meanwhile_->text(); }

  Q_SIGNALS:
    void table_in_wanted();
    void table_out_wanted();

  private:
    QWidget* make_tasks();
    void edit_cell(int row, int column, const QString& text);
    void change(const QString& what,
                const std::function<std::optional<QString>(std::vector<PlanTask>&)>& edit);
    void fill_chart();
    Document& document_;
    JobOutlook& outlook_;
    JobSchedule& schedule_;
    Sheet *tasks_sheet_, *chart_sheet_;
    FactTable* tasks_;
    CalendarChart* chart_;
    Field *entry_, *hours_;
    QLabel* meanwhile_;
    QPushButton *remove_, *done_, *propose_;
};

}  // namespace grayrelic::app
