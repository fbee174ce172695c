// SPDX-License-Identifier: GPL-3.0-or-later
// Timing: will my reply arrive in time?
#pragma once

#include <QPushButton>
#include <QStackedWidget>

#include "app/shell/stage_entry.hpp"
#include "app/shell/tabbed_page.hpp"
#include "app/stages/timing/budget_view.hpp"
#include "app/stages/timing/clock_view.hpp"
#include "app/stages/timing/contract_editor.hpp"
#include "app/stages/timing/logic_view.hpp"
#include "app/stages/timing/option_axis.hpp"
#include "app/stages/timing/option_card.hpp"
#include "app/stages/timing/option_study.hpp"
#include "app/stages/timing/question_bar.hpp"
#include "app/stages/timing/replica_view.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class TimingPage : public TabbedPage {
    Q_OBJECT
  public:
    explicit TimingPage(const StageContext& context);
    QString sentence() const override;
    QString detail() const override;
    QString rail_line() const override;
    bool has_content() const override;
    QList<QWidget*> header_widgets() override;
    void show_place(const FindingPlace& place) override;

    void select_option(const QString& id);
    /// The option's card, brought to the front; null for one that is not there.
    [[nodiscard]] OptionCard* card(const QString& id);
    [[nodiscard]] QuestionBar& question() { return *question_; }
    [[nodiscard]] FactRow& look() { return question_->look(); }
    [[nodiscard]] FactRow& guard() { return question_->guard(); }
    [[nodiscard]] OptionAxis& axis() { return *axis_; }
    [[nodiscard]] HistogramView& histogram() { return study_->histogram(); }
    [[nodiscard]] OptionStudy& study() { return *study_; }
    [[nodiscard]] ContractEditor& contract_editor() { return *editor_; }
    [[nodiscard]] LogicView& logic_view() { return *logic_; }
    [[nodiscard]] ClockView& clock_view() { return *clocks_; }
    [[nodiscard]] BudgetView& budget_view() { return *budgets_; }
    [[nodiscard]] ReplicaView& replica_view() { return *replica_; }
    void add_option(OptionKind kind);

  protected:
    void refresh_page() override;

  private:
    void add_views();
    [[nodiscard]] QWidget* make_reply_view();
    [[nodiscard]] QWidget* make_options_sheet();
    void remove_option();
    void refresh_reply();
    void refresh_cards();
    Document& document_;
    Sheet* empty_;
    QWidget* filled_;
    QuestionBar* question_;
    Sheet* options_sheet_;
    OptionAxis* axis_;
    QPushButton* remove_;
    QStackedWidget* cards_;
    QList<OptionCard*> list_;
    OptionStudy* study_;
    ContractEditor* editor_;
    LogicView* logic_;
    ClockView* clocks_;
    BudgetView* budgets_;
    ReplicaView* replica_;
    QPushButton* add_;
    std::string selected_;
};

}  // namespace grayrelic::app
