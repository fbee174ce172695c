// SPDX-License-Identifier: GPL-3.0-or-later
// Dimensions: lengths with tolerance and evidence, drawn to one scale.
#pragma once

#include <QPushButton>

#include <memory>

#include "app/shell/document.hpp"
#include "app/widgets/bar_list.hpp"
#include "app/widgets/card_fields.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/fact_row.hpp"

namespace grayrelic::app {

class DimensionsView : public QWidget {
    Q_OBJECT
  public:
    explicit DimensionsView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void show_dimension(const QString& id);
    /// "lid height 12.4 ± 0.1", as read from a caliper.
    std::optional<QString> enter(const QString& text);
    [[nodiscard]] BarList& list() { return *list_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] FactRow& size() { return *size_; }
    [[nodiscard]] Field* field(const QString& label) const { return fields_->field(label); }

  private:
    QWidget* make_card();
    void change(const QString& what, Dimension dimension);
    void fill_card();
    Document& document_;
    Sheet *list_sheet_, *card_sheet_;
    BarList* list_;
    Field* entry_;
    FactRow* size_;
    ChoiceBox* unit_;
    QPushButton* remove_;
    std::unique_ptr<CardFields<Dimension>> fields_;
};

}  // namespace grayrelic::app
