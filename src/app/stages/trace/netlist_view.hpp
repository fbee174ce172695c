// SPDX-License-Identifier: GPL-3.0-or-later
// The board held against a netlist: what is the same, what differs, and why it may.
#pragma once

#include <QCheckBox>
#include <QLabel>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/item_chooser.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class NetlistView : public QWidget {
    Q_OBJECT
  public:
    explicit NetlistView(Document& document, QWidget* parent = nullptr);
    void refresh();
    /// Says what went wrong; empty when it was taken.
    [[nodiscard]] QString take_netlist(const std::string& text, const QString& name);
    [[nodiscard]] FactTable& table() { return *table_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }
    [[nodiscard]] Field& reason() { return *reason_; }
    [[nodiscard]] QCheckBox& by_wiring() { return *wiring_; }
    void show_difference(const QString& subject);

  Q_SIGNALS:
    void load_wanted();
    void write_wanted();

  private:
    void make_chooser();
    void add_row(Verdict verdict, const QString& kind, const QString& subject, const QString& says);
    void deviate(const QString& reason);
    Document& document_;
    Sheet* sheet_;
    ItemChooser* which_;
    QLabel* verdict_;
    FactTable* table_;
    std::vector<TableRow> rows_;  ///< while they are being put together
    Field* reason_;
    QCheckBox* wiring_;
};

}  // namespace grayrelic::app
