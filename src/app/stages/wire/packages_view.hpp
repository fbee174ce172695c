// SPDX-License-Identifier: GPL-3.0-or-later
// Can I solder this? Every package of the circuit against what the person has soldered, what would be easier,
// and a card of them at true size.
#pragma once

#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/caution_box.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class PackagesView : public QWidget {
    Q_OBJECT
  public:
    explicit PackagesView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void select(const QString& ref);
    /// The chosen parts get this package.
    void change_package(const QString& package);
    [[nodiscard]] QString write_card(const QString& path);
    [[nodiscard]] FactTable& packages() { return *packages_; }
    [[nodiscard]] ChoiceBox& choice() { return *choice_; }
    [[nodiscard]] QString says() const { return detail_->text(); }
    /// Where the card goes; empty when the person changed their mind. Replaced by tests.
    std::function<QString()> ask_file;

  private:
    void fill_detail();
    Document& document_;
    Sheet* sheet_;
    FactTable* packages_;
    ChoiceBox* choice_;
    QLabel* detail_;
    CautionLine* cautions_;
    QPushButton* card_;
    std::string selected_;  ///< the first ref of the row
};

}  // namespace grayrelic::app
