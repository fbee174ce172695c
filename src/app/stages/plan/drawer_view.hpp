// SPDX-License-Identifier: GPL-3.0-or-later
// The whole drawer, over all dossiers: looked through, counted, added to. Undo does not reach it.
#pragma once

#include <QPushButton>

#include "app/shell/document.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class DrawerView : public QWidget {
    Q_OBJECT
  public:
    explicit DrawerView(Document& document, QWidget* parent = nullptr);
    void refresh();
    [[nodiscard]] FactTable& parts() { return *parts_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] Field& search() { return *search_; }
    [[nodiscard]] QString says() const { return sheet_->about(); }

  Q_SIGNALS:
    void table_in_wanted();
    void table_out_wanted();

  private:
    std::optional<QString> change(const std::function<void(Drawer&)>& edit);
    void edit_cell(int row, int column, const QString& text);
    void fill();
    Document& document_;
    Sheet* sheet_;
    Field *entry_, *search_;
    FactTable* parts_;
    QPushButton* remove_;
};

}  // namespace grayrelic::app
