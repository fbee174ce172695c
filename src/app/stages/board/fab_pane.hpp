// SPDX-License-Identifier: GPL-3.0-or-later
// The sheet with the board on it, which every view of Board has at its left: which side, what lies under the
// pointer.
#pragma once

#include <QButtonGroup>
#include <QPushButton>

#include "app/shell/document.hpp"
#include "app/stages/board/fab_canvas.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class FabPane : public Sheet {
    Q_OBJECT
  public:
    explicit FabPane(Document& document, QWidget* parent = nullptr);
    /// The set of files of that id, as it is now.
    void show_board(const std::string& id);
    void show_side(bool back);
    /// A line below the board that names the pad which was clicked last, and with it its part's.
    void allow_naming();
    [[nodiscard]] Field* naming() { return naming_; }
    [[nodiscard]] FabCanvas& canvas() { return *canvas_; }
    [[nodiscard]] const std::shared_ptr<const FabricationAnalysis>& board() const { return board_; }
    [[nodiscard]] QPushButton& front() { return *front_; }
    [[nodiscard]] QPushButton& back() { return *back_; }

  private:
    void say_resting();
    [[nodiscard]] std::optional<QString> name_pad(const QString& text);
    Document& document_;
    FabCanvas* canvas_;
    QPushButton *front_, *back_;
    QLabel* naming_title_ = nullptr;
    Field* naming_ = nullptr;
    std::optional<BoardXY> picked_;
    std::shared_ptr<const FabricationAnalysis> board_;
};

}  // namespace grayrelic::app
