// SPDX-License-Identifier: GPL-3.0-or-later
// Settings: trimmers, jumpers, selectors and what is set on the relic; what dies when one is wrong.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic {
struct SettingStudy;
}

namespace grayrelic::app {

class SettingsView : public QWidget {
    Q_OBJECT
  public:
    explicit SettingsView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void select(const QString& setting);
    void add(SettingKind kind);
    [[nodiscard]] FactTable& list() { return *list_; }
    [[nodiscard]] FactTable& tries() { return *tries_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] Field& measure() { return *measure_; }
    [[nodiscard]] QString says() const { return says_->text(); }
    [[nodiscard]] QString problem() const { return problem_; }

  private:
    QWidget* make_list();
    QWidget* make_tries();
    void fill_list();
    void fill_tries();
    void edit_cell(int row, int column, const QString& text);
    void edit_position(int row, int column, const QString& text);
    std::optional<QString> enter(const QString& text);
    bool change(const QString& what, const std::function<std::optional<QString>(WireSetting&)>& how);
    [[nodiscard]] const SettingStudy* chosen() const;
    Document& document_;
    Sheet *list_sheet_, *tries_sheet_;
    FactTable *list_, *tries_;
    Field *entry_, *measure_;
    QLabel* says_;
    QPushButton *add_, *remove_;
    std::string selected_;
    QString problem_;
};

}  // namespace grayrelic::app
