// SPDX-License-Identifier: GPL-3.0-or-later
// To publish: whose what is and what allows it, what is missing, the pack, and the page for whoever will use
// the thing.
#pragma once

#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/record/release_pack.hpp"

namespace grayrelic::app {

class PublishView : public QWidget {
    Q_OBJECT
  public:
    explicit PublishView(Document& document, QWidget* parent = nullptr);
    void refresh();
    [[nodiscard]] FactTable& rights() { return *rights_; }
    [[nodiscard]] FactTable& problems() { return *problems_; }
    [[nodiscard]] FactTable& card() { return *card_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] Field& version() { return *version_; }
    [[nodiscard]] Field& private_words() { return *private_; }
    [[nodiscard]] Field& card_entry() { return *card_entry_; }
    [[nodiscard]] ChoiceBox& card_kind() { return *card_kind_; }
    [[nodiscard]] QString says() const { return problems_sheet_->about(); }
    /// Both say what became of it.
    QString write_pack_to(const QString& path);
    QString write_card_to(const QString& path);
    std::function<QString()> ask_pack, ask_card, today;  ///< replaced by tests

  private:
    QWidget* make_rights();
    QWidget* make_card();
    void fill_problems();
    void show_problems(const std::vector<PackProblem>& missing);
    Document& document_;
    Sheet *rights_sheet_, *problems_sheet_, *card_sheet_;
    FactTable *rights_, *problems_, *card_;
    Field *entry_, *version_, *private_, *card_entry_;
    ChoiceBox* card_kind_;
    QString said_;  ///< what became of the last pack or card
    Latest<std::vector<PackProblem>> missing_;
};

}  // namespace grayrelic::app
