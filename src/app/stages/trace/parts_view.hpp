// SPDX-License-Identifier: GPL-3.0-or-later
// The parts of the board with their pin-outs and places, and the parts that come from donors, with the
// cautions of taking them out.
#pragma once

#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/caution_box.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class PartsView : public QWidget {
    Q_OBJECT
  public:
    explicit PartsView(Document& document, QWidget* parent = nullptr);
    void refresh();
    /// One line: "U3 74x138 86.4 15.2 90 back", what is left out stays open.
    std::optional<QString> enter_part(const QString& line);
    [[nodiscard]] FactTable& parts() { return *parts_; }
    [[nodiscard]] FactTable& donors() { return *donors_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] CautionBox& cautions() { return *cautions_; }
    void show_donor(const QString& id);

  private:
    void change_part(int row, int column, const QString& typed);
    void change_donor(int row, int column, const QString& typed);
    void remove_chosen();
    Document& document_;
    Sheet *parts_sheet_, *donor_sheet_;
    Field* entry_;
    FactTable *parts_, *donors_;
    CautionBox* cautions_;
};

}  // namespace grayrelic::app
