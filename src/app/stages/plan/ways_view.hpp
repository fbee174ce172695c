// SPDX-License-Identifier: GPL-3.0-or-later
// Ways to get there: build, buy or adapt; hedges and what they are worth; breadboard first or straight to a
// board. Each figure with its arithmetic.
#pragma once

#include <QPushButton>

#include "app/shell/document.hpp"
#include "app/stages/plan/job_outlook.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class WaysView : public QWidget {
    Q_OBJECT
  public:
    WaysView(Document& document, JobOutlook& outlook, QWidget* parent = nullptr);
    void refresh();
    void show_way(const QString& id);
    [[nodiscard]] FactTable& ways() { return *ways_; }
    [[nodiscard]] FactTable& hedges() { return *hedges_; }
    [[nodiscard]] FactTable& breadboards() { return *breadboards_; }
    [[nodiscard]] Field& way_entry() { return *way_entry_; }
    [[nodiscard]] Field& hedge_entry() { return *hedge_entry_; }
    [[nodiscard]] ChoiceBox& question() { return *question_; }

  private:
    QWidget* make_ways();
    QWidget* make_hedges();
    QWidget* make_breadboards();
    void edit_way(int row, int column, const QString& text);
    void edit_hedge(int row, int column, const QString& text);
    void fill_ways();
    void fill_hedges();
    void fill_breadboards();
    void fill_questions();
    Document& document_;
    JobOutlook& outlook_;
    Sheet *ways_sheet_, *hedges_sheet_, *breadboards_sheet_;
    FactTable *ways_, *hedges_, *breadboards_;
    Field *way_entry_, *hedge_entry_;
    ChoiceBox* question_;
};

}  // namespace grayrelic::app
