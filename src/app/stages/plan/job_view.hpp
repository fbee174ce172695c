// SPDX-License-Identifier: GPL-3.0-or-later
// What the job is: its kind, who is host, the stages it needs; and what the thing must do, each tied to what
// shows it.
#pragma once

#include <QCheckBox>
#include <QPushButton>

#include <map>
#include <memory>

#include "app/shell/document.hpp"
#include "app/stages/plan/job_outlook.hpp"
#include "app/widgets/bar_list.hpp"
#include "app/widgets/card_fields.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/fact_row.hpp"

namespace grayrelic::app {

class JobView : public QWidget {
    Q_OBJECT
  public:
    /// `fields`: name, purpose and both sides, above all else.
    JobView(Document& document, JobOutlook& outlook, QWidget* fields, QWidget* parent = nullptr);
    void refresh();
    void show_must(const QString& id);
    [[nodiscard]] ChoiceBox& kind() { return *kind_; }
    [[nodiscard]] BarList& musts() { return *musts_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] FactRow& met() { return *met_; }
    [[nodiscard]] ChoiceBox& tie() { return *tie_; }
    [[nodiscard]] ChoiceBox& thing() { return *thing_; }
    [[nodiscard]] Field* field(const QString& label) const;
    [[nodiscard]] QCheckBox& stage(Stage s) { return *stages_.at(s); }

  private:
    QWidget* make_job();
    QWidget* make_musts();
    QWidget* make_card();
    void make_tie();
    void add_plan_field(QGridLayout& grid, int row, const QString& label, const QString& tip,
                        std::function<QString(const JobPlan&)> show,
                        std::function<std::optional<QString>(JobPlan&, const QString&)> take);
    void change(const QString& what, const std::function<void(JobPlan&)>& edit);
    void change_must(const QString& what, Must must);
    void fill_card();
    void fill_things(const Must& must);
    [[nodiscard]] const MustState* picked() const;
    Document& document_;
    JobOutlook& outlook_;
    Sheet *job_sheet_, *musts_sheet_, *card_sheet_;
    ChoiceBox *kind_, *host_, *reversible_, *tie_, *thing_;
    QLabel* about_kind_;
    std::map<Stage, QCheckBox*> stages_;
    struct PlanField {
        Field* field;
        std::function<QString(const JobPlan&)> show;
    };
    std::vector<PlanField> plan_fields_;
    BarList* musts_;
    Field* entry_;
    FactRow* met_;
    QLabel* why_;
    QPushButton* remove_;
    std::unique_ptr<CardFields<Must>> fields_;
};

}  // namespace grayrelic::app
