// SPDX-License-Identifier: GPL-3.0-or-later
// What it costs for one and for many, when it pays, and hours against their estimates.
#pragma once

#include <QPushButton>
#include <QSpinBox>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/drawing_view.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/record/economics.hpp"

namespace grayrelic::app {

class MoneyView : public QWidget {
    Q_OBJECT
  public:
    explicit MoneyView(Document& document, QWidget* parent = nullptr);
    void refresh();
    [[nodiscard]] FactTable& costs() { return *costs_; }
    [[nodiscard]] FactTable& rows() { return *rows_; }
    [[nodiscard]] FactTable& hours() { return *hours_; }
    [[nodiscard]] Field& cost_entry() { return *cost_entry_; }
    [[nodiscard]] Field& hours_entry() { return *hours_entry_; }
    [[nodiscard]] Field& price() { return *price_; }
    [[nodiscard]] Field& batch() { return *batch_; }
    [[nodiscard]] QString says() const { return rows_sheet_->about(); }
    std::function<QString()> today;  ///< replaced by tests

  private:
    QLayout* make_costs();
    QWidget* make_rows();
    Field* number_field(const QString& label, const QString& tip, QLayout* into,
                        std::function<QString(const Economics&)> show,
                        std::function<std::optional<QString>(Economics&, std::optional<double>)> take);
    void fill_hours();
    Document& document_;
    CostStudy study_;
    Sheet *costs_sheet_, *rows_sheet_, *hours_sheet_;
    FactTable *costs_, *rows_, *hours_;
    DrawingView* figure_;
    Field *cost_entry_, *hours_entry_, *price_, *batch_, *original_, *ready_, *worth_;
    QPushButton* remove_;
    std::vector<std::pair<Field*, std::function<QString(const Economics&)>>> shown_;
};

}  // namespace grayrelic::app
