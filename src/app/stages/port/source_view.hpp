// SPDX-License-Identifier: GPL-3.0-or-later
// A second source held against the port: pin by pin, and how it would read mirrored, turned or renumbered.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include <functional>

#include "app/shell/document.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/item_chooser.hpp"
#include "app/widgets/sheet.hpp"
#include "core/port/pin_compare.hpp"

namespace grayrelic::app {

class SourceView : public QWidget {
    Q_OBJECT
  public:
    explicit SourceView(Document& document, QWidget* parent = nullptr);
    void show_port(const QString& port);
    void show_source(const QString& id);
    [[nodiscard]] FactTable& table() { return *table_; }
    [[nodiscard]] QPushButton& read_button() { return *read_; }
    [[nodiscard]] QString verdict() const { return verdict_->text(); }

  Q_SIGNALS:
    void load_wanted();
    void paste_wanted();

  private:
    void refresh();
    void take_over(bool all);
    void read_so();
    void make_chooser();
    void change(const QString& what, const std::function<void(Port&)>& edit);
    [[nodiscard]] const Port* port() const;
    [[nodiscard]] const PinSource* source() const;
    Document& document_;
    QString port_;
    Sheet* sheet_;
    ItemChooser* which_;
    QLabel *verdict_, *accepts_;
    FactTable* table_;
    QPushButton *take_, *take_all_, *read_;
    TableComparison comparison_;
};

}  // namespace grayrelic::app
