// SPDX-License-Identifier: GPL-3.0-or-later
// The switch matrix: held by clicking, its likely ghosts, three ways to live with them, pins and scan.
#pragma once

#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/stages/map/matrix_canvas.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class MatrixView : public QWidget {
    Q_OBJECT
  public:
    explicit MatrixView(Document& document, QWidget* parent = nullptr);
    void refresh();
    /// A table of what a meter joined while keys were held (key, a, b); a message.
    [[nodiscard]] QString take_probes(const std::string& text, const QString& name);
    [[nodiscard]] MatrixCanvas& canvas() { return *canvas_; }
    [[nodiscard]] FactTable& worst() { return *worst_; }
    [[nodiscard]] FactTable& ways() { return *ways_; }
    [[nodiscard]] FactTable& numbers() { return *numbers_; }
    [[nodiscard]] Field& walk() { return *walk_; }
    [[nodiscard]] QPushButton& chord() { return *chord_; }
    [[nodiscard]] QPushButton& budgets() { return *budgets_; }
    [[nodiscard]] QPushButton& recording() { return *recording_; }
    [[nodiscard]] QString says() const { return sheet_->about(); }

  Q_SIGNALS:
    void key_wanted(const QString& id);

  private:
    QWidget* make_left();
    QWidget* make_right();
    void fill_worst();
    void fill_ways();
    void fill_numbers();
    void edit_number(int row, int column, const QString& text);
    void name_chord();
    void make_budgets();
    void fill_walks();
    void take_walk_of(const QString& capture);
    std::optional<QString> add_position(const QString& text);
    void change_matrix(const QString& what, const std::function<void(SwitchMatrix&)>& how);
    Document& document_;
    Sheet *sheet_, *worst_sheet_, *ways_sheet_, *numbers_sheet_;
    MatrixCanvas* canvas_;
    FactTable *worst_, *ways_, *numbers_;
    Field* walk_;
    ChoiceBox *guard_, *drive_;
    QPushButton *chord_, *budgets_, *recording_;
    QString problem_;
};

}  // namespace grayrelic::app
