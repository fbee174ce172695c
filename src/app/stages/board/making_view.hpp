// SPDX-License-Identifier: GPL-3.0-or-later
// How the board is made, what that can't do of it, and nets that must keep apart.
#pragma once

#include <QWidget>

#include "app/stages/board/fab_pane.hpp"
#include "app/widgets/caution_box.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"

namespace grayrelic::app {

class FabMakingView : public QWidget {
    Q_OBJECT
  public:
    explicit FabMakingView(Document& document, QWidget* parent = nullptr);
    void show_board(const std::string& id);
    void select_rule(const QString& rule);
    [[nodiscard]] FabPane& pane() { return *pane_; }
    [[nodiscard]] ChoiceBox& process() { return *process_; }
    [[nodiscard]] FactTable& places() { return *places_; }
    [[nodiscard]] FactTable& nets() { return *nets_; }
    [[nodiscard]] ChoiceBox& kind() { return *kind_; }
    [[nodiscard]] QString says() const { return rules_->about(); }
    [[nodiscard]] QString to_do() const { return to_do_->text(); }

  private:
    void fill_processes();
    void fill_places();
    void fill_nets();
    void show_place(int row);
    void show_kind();
    Document& document_;
    std::string id_;
    FabPane* pane_;
    Sheet *rules_, *apart_;
    ChoiceBox *process_, *kind_;
    FactTable *places_, *nets_;
    QLabel* to_do_;
    CautionLine* cautions_;
};

}  // namespace grayrelic::app
