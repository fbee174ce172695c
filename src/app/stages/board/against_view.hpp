// SPDX-License-Identifier: GPL-3.0-or-later
// The board held against what is known: its nets against the circuit or a netlist, its connectors against the
// ports that they meet, its footprints against the packages.
#pragma once

#include <QWidget>

#include "app/stages/board/fab_pane.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/drawing_view.hpp"
#include "app/widgets/fact_table.hpp"

namespace grayrelic::app {

class FabAgainstView : public QWidget {
    Q_OBJECT
  public:
    explicit FabAgainstView(Document& document, QWidget* parent = nullptr);
    void show_board(const std::string& id);
    /// "face:J1", "open:RESET" …: as a finding names it.
    void select(const QString& thing);
    [[nodiscard]] FabPane& pane() { return *pane_; }
    [[nodiscard]] FactTable& nets() { return *nets_; }
    [[nodiscard]] FactTable& faces() { return *faces_; }
    [[nodiscard]] ChoiceBox& against() { return *against_; }
    [[nodiscard]] ChoiceBox& port() { return *port_; }
    [[nodiscard]] ChoiceBox& half() { return *half_; }
    [[nodiscard]] ChoiceBox& side() { return *side_; }
    [[nodiscard]] ChoiceBox& mates() { return *mates_; }
    [[nodiscard]] DrawingView& picture() { return *picture_; }
    [[nodiscard]] QString says() const { return nets_sheet_->about(); }
    [[nodiscard]] QString face_says() const { return faces_sheet_->about(); }

  private:
    QWidget* make_nets();
    QWidget* make_faces();
    void fill_against();
    void fill_nets();
    void fill_faces();
    void fill_mates();
    void show_net(int row);
    void show_face(int row);
    void change_connector(const QString& what, const std::function<void(FabConnector&)>& how);
    [[nodiscard]] const Fabrication* fabrication() const;
    [[nodiscard]] const BoardFace* chosen_face() const;
    Document& document_;
    std::string id_;
    FabPane* pane_;
    Sheet *nets_sheet_, *faces_sheet_;
    ChoiceBox *against_, *port_, *half_, *side_, *mates_;
    FactTable *nets_, *faces_;
    DrawingView* picture_;
};

}  // namespace grayrelic::app
