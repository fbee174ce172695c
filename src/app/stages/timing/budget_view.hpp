// SPDX-License-Identifier: GPL-3.0-or-later
// Budgets: a list with verdicts on the left; the picked one's numbers with their evidence, its figures, and
// what is used of what there is.
#pragma once

#include <QGridLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/fact_row.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/histogram_view.hpp"
#include "app/widgets/sheet.hpp"

#include "core/timing/budget.hpp"

namespace grayrelic::app {

/// What is used of what there is, as one bar with a mark at the limit.
class BudgetBar : public QWidget {
    Q_OBJECT
  public:
    explicit BudgetBar(QWidget* parent = nullptr);
    void show_result(const std::optional<BudgetResult>& result);

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    std::optional<BudgetResult> result_;
};

class BudgetView : public QWidget {
    Q_OBJECT
  public:
    explicit BudgetView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void select(const QString& budget);
    void add_budget(BudgetKind kind);
    [[nodiscard]] QListWidget& list() { return *list_; }
    [[nodiscard]] Field* field(const QString& key) const { return fields_.value(key); }
    [[nodiscard]] FactTable& figures() { return *figures_; }
    [[nodiscard]] QString says() const { return says_->text(); }

  private:
    QWidget* make_list();
    QWidget* make_numbers();
    QWidget* make_result();
    [[nodiscard]] const Budget* budget() const;
    void build_fields(const BudgetDescription& kind);
    std::optional<QString> change(const QString& key, const QString& text);
    Document& document_;
    std::string selected_;
    std::optional<BudgetKind> built_;  ///< whose fields stand there
    QListWidget* list_;
    QPushButton *add_, *remove_;
    Sheet *list_sheet_, *numbers_sheet_, *result_sheet_;
    QWidget* numbers_ = nullptr;
    QMap<QString, Field*> fields_;
    QMap<QString, EvidenceButton*> evidence_;
    QLabel *question_, *says_, *todo_;
    BudgetBar* bar_;
    FactTable* figures_;
    HistogramView* histogram_;
};

}  // namespace grayrelic::app
