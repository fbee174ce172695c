// SPDX-License-Identifier: GPL-3.0-or-later
// The fabrication files: what each is taken for, the board's size, its holes.
#pragma once

#include <QWidget>

#include "app/stages/board/fab_pane.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/fact_table.hpp"

namespace grayrelic::app {

class FabFilesView : public QWidget {
    Q_OBJECT
  public:
    explicit FabFilesView(Document& document, QWidget* parent = nullptr);
    void show_board(const std::string& id);
    [[nodiscard]] FabPane& pane() { return *pane_; }
    [[nodiscard]] FactTable& files() { return *files_; }
    [[nodiscard]] FactTable& holes() { return *holes_; }
    [[nodiscard]] ChoiceBox& role() { return *role_; }
    [[nodiscard]] QString says() const { return files_sheet_->about(); }

  private:
    void fill_files();
    void fill_holes();
    void show_role();
    void set_role(const QString& role);
    Document& document_;
    std::string id_;
    FabPane* pane_;
    Sheet *files_sheet_, *holes_sheet_;
    FactTable *files_, *holes_;
    ChoiceBox* role_;
};

}  // namespace grayrelic::app
