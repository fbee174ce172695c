// SPDX-License-Identifier: GPL-3.0-or-later
// The bench for one network: step by hand, truth table, hazards, equality with another one, the smallest
// networks from the drawer, and the replay of a capture.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QTabBar>
#include <QWidget>

#include <memory>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/stages/timing/replay_plot.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "core/logic/equivalence.hpp"
#include "core/logic/minimise.hpp"
#include "core/logic/step_machine.hpp"
#include "core/logic/truth.hpp"
#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {

class LogicBench : public QWidget {
    Q_OBJECT
  public:
    explicit LogicBench(Document& document, QWidget* parent = nullptr);
    enum Tool { step, truth, hazards, equal, smallest, replay };
    void show_network(std::shared_ptr<const NetworkAnalysis> network);
    void show_tool(Tool tool);
    [[nodiscard]] QString answer() const { return answer_->text(); }
    [[nodiscard]] FactTable& table() { return *table_; }
    [[nodiscard]] QComboBox& other() { return *other_; }
    [[nodiscard]] QPushButton* input_button(const QString& net) const;
    [[nodiscard]] Field& drawer() { return *drawer_; }
    [[nodiscard]] ReplayPlot& plot() { return *plot_; }
    [[nodiscard]] const StepMachine* machine() const { return machine_.get(); }

  Q_SIGNALS:
    void stepped();  ///< levels have changed
    void network_wanted(const QString& name, const QString& text);

  private:
    QLayout* make_tools();
    QWidget* make_choices();
    QWidget* make_answers();
    std::optional<QString> change_drawer(const QString& text);
    void run();
    void build_inputs();
    void toggle(std::size_t input);
    [[nodiscard]] static QString shown_level(Level l);
    void run_truth();
    void show_truth(const Result<TruthTable>& table);
    void run_hazards();
    void run_equal();
    void run_smallest();
    void run_replay();
    void fill_captures();
    Document& document_;
    std::shared_ptr<const NetworkAnalysis> network_;
    std::unique_ptr<StepMachine> machine_;
    QTabBar* tools_;
    QLabel* answer_;
    QWidget *inputs_, *choices_;
    QComboBox *other_, *capture_, *corner_;
    Field* drawer_;
    QPushButton* take_;
    QStackedWidget* stack_;
    FactTable* table_;
    ReplayPlot* plot_;
    std::vector<Realisation> realisations_;
    Latest<QString> working_{this};
    Latest<Result<TruthTable>> truth_{this};
};

}  // namespace grayrelic::app
