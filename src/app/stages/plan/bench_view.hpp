// SPDX-License-Identifier: GPL-3.0-or-later
// The bench: instruments and what they reach in this job, processes, soldering, hours and currency. It is the
// person's, over all dossiers, and undo does not reach it.
#pragma once

#include <QCheckBox>
#include <QPushButton>

#include <map>

#include "app/shell/document.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class BenchView : public QWidget {
    Q_OBJECT
  public:
    explicit BenchView(Document& document, QWidget* parent = nullptr);
    void refresh();
    [[nodiscard]] FactTable& instruments() { return *instruments_; }
    [[nodiscard]] FactTable& soldering() { return *soldering_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] Field& packages() { return *packages_; }
    [[nodiscard]] Field& hours() { return *hours_; }
    [[nodiscard]] Field& hour_worth() { return *hour_worth_; }
    [[nodiscard]] Field& day_worth() { return *day_worth_; }
    [[nodiscard]] Field& currency() { return *currency_; }
    [[nodiscard]] QCheckBox& process(Process p) { return *processes_.at(p); }
    [[nodiscard]] QString reach() const { return reach_->text(); }

  private:
    QWidget* make_instruments();
    QWidget* make_processes();
    QWidget* make_soldering();
    std::optional<QString> change(const std::function<void(Bench&)>& edit);
    void edit_instrument(int row, int column, const QString& text);
    void edit_record(int row, int column, const QString& text);
    Document& document_;
    Sheet *instrument_sheet_, *solder_sheet_;
    FactTable *instruments_, *soldering_;
    Field *entry_, *packages_, *hours_, *currency_, *hour_worth_, *day_worth_;
    QLabel* reach_;
    std::map<Process, QCheckBox*> processes_;
};

}  // namespace grayrelic::app
