// SPDX-License-Identifier: GPL-3.0-or-later
// What works with what: titles, keys, devices and modes against the functions that they use, one's own
// results and those of others.
#pragma once

#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/record/cover_study.hpp"

namespace grayrelic::app {

class CoverView : public QWidget {
    Q_OBJECT
  public:
    explicit CoverView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void select(const QString& item);
    /// What somebody else found out; the source is asked for.
    [[nodiscard]] QString take_file(const QString& path);
    [[nodiscard]] FactTable& items() { return *items_; }
    [[nodiscard]] FactTable& functions() { return *functions_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] QString says() const { return functions_sheet_->about(); }
    std::function<QString()> today, ask_source, ask_file;  ///< replaced by tests

  private:
    void fill_functions(const CoverStudy& study);
    void change(const QString& id, int column, const QString& text);
    [[nodiscard]] std::optional<QString> enter(const QString& text);
    Document& document_;
    Sheet *items_sheet_, *functions_sheet_;
    FactTable *items_, *functions_;
    Field* entry_;
};

}  // namespace grayrelic::app
