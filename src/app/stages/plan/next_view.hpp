// SPDX-License-Identifier: GPL-3.0-or-later
// The job on one page: its gates, what to settle next, this evening's list, what is ordered, and the dates.
// While nothing is known of the job, what somebody may want to build.
#pragma once

#include <QPushButton>
#include <QStackedWidget>

#include "app/shell/document.hpp"
#include "app/stages/plan/gate_strip.hpp"
#include "app/stages/plan/job_outlook.hpp"
#include "app/widgets/bar_list.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/fact_row.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class NextView : public QWidget {
    Q_OBJECT
  public:
    NextView(Document& document, JobOutlook& outlook, JobSchedule& schedule, QPushButton* example,
             QWidget* parent = nullptr);
    void refresh();
    void show_question(const QString& id);
    [[nodiscard]] GateStrip& gates() { return *gates_; }
    [[nodiscard]] BarList& questions() { return *questions_; }
    [[nodiscard]] BarList& kinds() { return *kinds_; }
    [[nodiscard]] FactTable& evening() { return *evening_; }
    [[nodiscard]] FactTable& parcels() { return *parcels_; }
    [[nodiscard]] CalendarChart& calendar() { return *calendar_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] Field& reason() { return *reason_; }
    [[nodiscard]] Field& minutes() { return *minutes_; }
    [[nodiscard]] Field& chance() { return *chance_; }
    [[nodiscard]] Field& takes() { return *takes_; }
    [[nodiscard]] FactRow& answer() { return *answer_; }
    [[nodiscard]] bool asks_what_to_build() const { return whole_->currentIndex() == 0; }
    [[nodiscard]] QString calendar_says() const { return calendar_sheet_->about(); }

  Q_SIGNALS:
    void place_wanted(Stage stage, const FindingPlace& place);
    void kind_chosen(const QString& id);  ///< "I want to build this"
    void open_wanted();
    void sheet_wanted(const QString& question);
    void view_wanted(const QString& id);

  private:
    QWidget* make_kinds(QPushButton* example);
    QWidget* make_gates();
    QWidget* make_questions();
    QWidget* make_details();
    QWidget* make_side();
    void fill_kinds();
    void fill_gates();
    void fill_gate_line();
    void fill_questions();
    void fill_details();
    void fill_evening();
    void fill_parcels();
    void fill_calendar();
    void open_gate(JobGate gate);
    [[nodiscard]] const OpenQuestion* picked() const;
    /// What the person says of the picked question.
    void say(const QString& what, const std::function<void(PlanQuestion&)>& change);
    Document& document_;
    JobOutlook& outlook_;
    JobSchedule& schedule_;
    QStackedWidget* whole_;
    Sheet *kinds_sheet_, *gates_sheet_, *questions_sheet_, *evening_sheet_, *parcels_sheet_, *calendar_sheet_;
    BarList *kinds_, *questions_;
    QPushButton *begin_, *go_, *sheet_, *drop_;
    GateStrip* gates_;
    QLabel* arithmetic_;
    Field *reason_, *entry_, *minutes_, *chance_, *takes_;
    ChoiceBox* stake_;
    FactRow* answer_;
    FactTable *evening_, *parcels_;
    CalendarChart* calendar_;
    bool gate_chosen_ = false;  // else the one that the headline speaks of
};

}  // namespace grayrelic::app
