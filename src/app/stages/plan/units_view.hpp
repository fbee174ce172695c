// SPDX-License-Identifier: GPL-3.0-or-later
// Units: the boards and machines of the job, what was taken on each, and where two of them differ.
#pragma once

#include <QPushButton>

#include <memory>

#include "app/shell/document.hpp"
#include "app/widgets/bar_list.hpp"
#include "app/widgets/card_fields.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/fact_table.hpp"

namespace grayrelic::app {

class UnitsView : public QWidget {
    Q_OBJECT
  public:
    explicit UnitsView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void show_unit(const QString& id);
    [[nodiscard]] BarList& units() { return *units_; }
    [[nodiscard]] FactTable& differences() { return *differences_; }
    [[nodiscard]] Field* field(const QString& label) const { return fields_->field(label); }
    [[nodiscard]] ChoiceBox& state() { return *state_; }

    /// The scan shows that unit; empty: nobody says which.
    void say_scan(const std::string& scan, const std::string& unit);
    [[nodiscard]] QPushButton& scans() { return *scans_; }

  Q_SIGNALS:
    void ledger_wanted();

  private:
    QWidget* make_card();
    QGridLayout* make_words();  ///< kind and state
    void make_scans();
    void add();
    void change(const QString& what, JobUnit unit);
    void fill_card();
    Document& document_;
    Sheet *units_sheet_, *card_sheet_, *differ_sheet_;
    BarList* units_;
    FactTable* differences_;
    ChoiceBox *kind_, *state_;
    QPushButton *look_, *remove_, *scans_;
    std::unique_ptr<CardFields<JobUnit>> fields_;
};

}  // namespace grayrelic::app
