// SPDX-License-Identifier: GPL-3.0-or-later
// Everything in the dossier that holds some words; without words its time line.
#pragma once

#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class FindView : public QWidget {
    Q_OBJECT
  public:
    explicit FindView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void look_for(const QString& text);
    [[nodiscard]] FactTable& lines() { return *lines_; }
    [[nodiscard]] Field& words() { return *words_; }
    [[nodiscard]] QString says() const { return sheet_->about(); }

  Q_SIGNALS:
    void stage_wanted(Stage stage);

  private:
    Document& document_;
    QString looked_for_;
    Sheet* sheet_;
    FactTable* lines_;
    Field* words_;
};

}  // namespace grayrelic::app
