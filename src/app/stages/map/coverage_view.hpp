// SPDX-License-Identifier: GPL-3.0-or-later
// Coverage both ways: the host's side, what is wanted, what goes wrong between, and the messages that are no
// key.
#pragma once

#include <QGridLayout>
#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/fact_row.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class CoverageView : public QWidget {
    Q_OBJECT
  public:
    explicit CoverageView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void select(const QString& key_or_message);
    [[nodiscard]] FactTable& gaps() { return *gaps_; }
    [[nodiscard]] FactTable& messages() { return *messages_; }
    [[nodiscard]] Field& profiles() { return *profiles_; }
    [[nodiscard]] Field& wanted() { return *wanted_; }
    [[nodiscard]] Field& new_message() { return *new_message_; }
    [[nodiscard]] ChoiceBox& layout_box() { return *layout_; }
    [[nodiscard]] QPushButton& take() { return *take_; }
    [[nodiscard]] QPushButton& budgets() { return *budgets_; }
    [[nodiscard]] FactRow& repeat() { return *repeat_; }
    [[nodiscard]] QString says() const { return sheet_->about(); }

  Q_SIGNALS:
    void key_wanted(const QString& id);

  private:
    QWidget* make_host();
    QWidget* make_messages();
    FactRow* make_time(const QString& label, const QString& tip,
                       const std::function<void(DeviceMap&, Time, const Evidence&)>& set);
    QGridLayout* make_times();
    void make_budgets();
    void show_gap(int row);
    void fill_gaps();
    void fill_messages();
    void take_proposal();
    void edit_message(int row, int column, const QString& text);
    std::optional<QString> add_message(const QString& text);
    void change_modern(const QString& what, const std::function<void(ModernSide&)>& how);
    Document& document_;
    Sheet *sheet_, *host_, *messages_sheet_;
    QLabel* whole_;
    FactTable *gaps_, *messages_;
    ChoiceBox *layout_, *level_;
    Field *profiles_, *wanted_, *new_message_;
    FactRow *poll_, *repeat_, *hold_;
    QPushButton *take_, *go_, *remove_, *budgets_;
    QString problem_;
};

}  // namespace grayrelic::app
