// SPDX-License-Identifier: GPL-3.0-or-later
// Build: a unit on the bench, put together in the right order, proven joint by joint, brought up
// hold by hold, and found at fault.
#pragma once

#include "app/shell/stage_entry.hpp"
#include "app/shell/tabbed_page.hpp"
#include "app/stages/build/assembly_view.hpp"
#include "app/stages/build/fault_view.hpp"
#include "app/stages/build/holds_view.hpp"
#include "app/stages/build/joints_view.hpp"
#include "app/stages/build/work_view.hpp"
#include "app/widgets/choice_box.hpp"

namespace grayrelic::app {

class BuildPage : public TabbedPage {
    Q_OBJECT
  public:
    explicit BuildPage(const StageContext& context);
    QString sentence() const override;
    QString detail() const override;
    QString rail_line() const override;
    bool has_content() const override;
    void show_place(const FindingPlace& place) override;
    [[nodiscard]] AssemblyView& assembly() { return *assembly_; }
    [[nodiscard]] JointsView& joints() { return *joints_; }
    [[nodiscard]] HoldsView& holds() { return *holds_; }
    [[nodiscard]] FaultView& faults() { return *faults_; }
    [[nodiscard]] WorkView& work() { return *work_; }
    [[nodiscard]] ChoiceBox& units() { return *units_; }
    [[nodiscard]] ChoiceBox& boards() { return *boards_; }
    /// A unit of the chosen board, on the bench.
    void begin_unit();

  protected:
    void refresh_page() override;

  private:
    void make_empty();
    void choose_unit();
    void choose_board();
    void refresh_bench();
    /// The unit on the bench, else none of the chosen board.
    [[nodiscard]] UnitBuild seen_unit() const;
    [[nodiscard]] const UnitBuild* build() const;
    Document& document_;
    Sheet* empty_;
    ChoiceBox *units_, *boards_;
    AssemblyView* assembly_;
    JointsView* joints_;
    HoldsView* holds_;
    FaultView* faults_;
    WorkView* work_;
    Bench_ptr bench_;
};

}  // namespace grayrelic::app
