// SPDX-License-Identifier: GPL-3.0-or-later
// Compare: the options side by side by what matters, with how each is counted; linear or switching, through
// the board or on it, module or bare chip.
#pragma once

#include <QGridLayout>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/sheet.hpp"
#include "core/job/schools.hpp"

namespace grayrelic::app {

class SchoolsView : public QWidget {
    Q_OBJECT
  public:
    explicit SchoolsView(Document& document, QWidget* parent = nullptr);
    void refresh();
    [[nodiscard]] FactTable& options() { return *options_; }
    [[nodiscard]] FactTable& regulators() { return *regulators_; }
    [[nodiscard]] FactTable& mounts() { return *mounts_; }
    [[nodiscard]] FactTable& module() { return *module_; }

  private:
    void fill_options();
    void fill_regulators();
    void fill_mounts();
    void fill_module();
    void edit_cell(int row, int column, const QString& text);
    Document& document_;
    QGridLayout* grid_;
    Sheet *options_sheet_, *regulators_sheet_, *mounts_sheet_, *module_sheet_;
    FactTable *options_, *regulators_, *mounts_, *module_;
    SchoolTable table_;
    std::vector<std::string> shown_;  ///< columns
    QString problem_;
};

}  // namespace grayrelic::app
