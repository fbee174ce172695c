// SPDX-License-Identifier: GPL-3.0-or-later
// Movement: a modern pointer's counts through a curve to the old stick or dial, tried on a movement.
#pragma once

#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/stages/map/curve_plot.hpp"
#include "app/widgets/fact_row.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/item_chooser.hpp"
#include "app/widgets/sheet.hpp"
#include "core/input/pointer.hpp"

namespace grayrelic::app {

class MovementView : public QWidget {
    Q_OBJECT
  public:
    explicit MovementView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void select(const QString& curve);
    /// A movement (counts) or a measured curve (out, speed); a message.
    [[nodiscard]] QString take_file(const std::string& content, const QString& name);
    [[nodiscard]] ItemChooser& chooser() { return *chooser_; }
    [[nodiscard]] MovePlot& plot() { return *move_; }
    [[nodiscard]] Field& counts_per_step() { return *gain_; }
    [[nodiscard]] Field& dead() { return *dead_; }
    [[nodiscard]] Field& limit() { return *limit_; }
    [[nodiscard]] Field& exponent() { return *exponent_; }
    [[nodiscard]] FactTable& table() { return *table_; }
    [[nodiscard]] QString says() const { return move_sheet_->about(); }
    [[nodiscard]] QString counts_name() const { return counts_name_; }
    void set_counts(std::vector<long> counts, const QString& name);

  private:
    QWidget* make_curve();
    QWidget* make_movement();
    void add_curve();
    void fill_table();
    void try_movement();
    std::optional<QString> change(const QString& what, const std::function<void(MoveCurve&)>& how);
    std::optional<QString> take_number(const QString& text, double least, double most, bool whole,
                                       const std::function<void(MoveCurve&, double)>& how);
    std::optional<QString> add_point(const QString& text);
    [[nodiscard]] const MoveCurve* curve() const;

    struct Tried {
        MoveResult result;
        std::vector<double> wished, with, without;
        QString problem;
    };
    Document& document_;
    Sheet *curve_sheet_, *move_sheet_;
    ItemChooser* chooser_;
    Field *gain_, *dead_, *limit_, *exponent_, *point_;
    FactRow* known_;
    FactTable* table_;
    QPushButton *chosen_, *clear_table_;
    CurvePlot* plot_;
    MovePlot* move_;
    std::vector<long> counts_;
    QString counts_name_;
    std::string id_;
    Latest<Tried> tried_{this};
};

}  // namespace grayrelic::app
