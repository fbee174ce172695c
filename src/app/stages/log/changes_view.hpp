// SPDX-License-Identifier: GPL-3.0-or-later
// Revisions: complaints and what closes them, changes by hand that the next files must have, decisions, stock
// that became useless.
#pragma once

#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/bar_list.hpp"
#include "app/widgets/card_fields.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class ChangesView : public QWidget {
    Q_OBJECT
  public:
    explicit ChangesView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void select(const QString& complaint);
    /// The chosen change by hand becomes a complaint that takes it into the next files.
    void carry();
    [[nodiscard]] BarList& complaints() { return *complaints_; }
    [[nodiscard]] FactTable& bodges() { return *bodges_; }
    [[nodiscard]] FactTable& revisions() { return *revisions_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] Field& bodge_entry() { return *bodge_entry_; }
    [[nodiscard]] Field* field(const QString& label) const { return fields_->field(label); }
    [[nodiscard]] QString says() const { return list_sheet_->about(); }
    std::function<QString()> today;  ///< replaced by tests

  private:
    QWidget* make_card();
    void fill_card();
    void fill_bodges();
    void fill_revisions();
    [[nodiscard]] std::optional<QString> enter(const QString& text);
    [[nodiscard]] std::optional<QString> enter_bodge(const QString& text);
    [[nodiscard]] std::optional<QString> enter_revision(const QString& text);
    Document& document_;
    Sheet *list_sheet_, *card_sheet_, *bodge_sheet_, *revision_sheet_;
    BarList* complaints_;
    std::unique_ptr<CardFields<Complaint>> fields_;
    ChoiceBox *kind_, *evidence_;
    FactTable *bodges_, *revisions_;
    Field *entry_, *bodge_entry_, *revision_entry_;
    QPushButton *carry_, *remove_;
};

}  // namespace grayrelic::app
