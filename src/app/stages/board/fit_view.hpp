// SPDX-License-Identifier: GPL-3.0-or-later
// Does it fit? Stacks of heights with their tolerances, as a section and as figures; parts below the lid.
#pragma once

#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/caution_box.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/drawing_view.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/fit/fit_analysis.hpp"

namespace grayrelic::app {

class FitView : public QWidget {
    Q_OBJECT
  public:
    explicit FitView(Document& document, QWidget* parent = nullptr);
    void show_board(const std::string& id);
    /// "fit:lid", "zone:…": as a finding names it.
    void select(const QString& thing);
    [[nodiscard]] FactTable& fits() { return *fits_; }
    [[nodiscard]] FactTable& lines() { return *lines_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] ChoiceBox& kind() { return *kind_; }
    [[nodiscard]] DrawingView& section() { return *section_; }
    [[nodiscard]] QString says() const { return section_sheet_->about(); }
    /// A board to hold fits where the dossier has none yet; gives its id.
    std::function<std::string()> need_board;

  private:
    QWidget* make_fits();
    QWidget* make_lines();
    void fill_fits();
    void fill_lines();
    void add_cases(std::vector<TableRow>& rows);
    void add_zones(const Fabrication& f, std::vector<TableRow>& rows);
    void show_cautions();
    void show_case(const std::string& id);
    [[nodiscard]] const FabricationAnalysis* read_board() const;
    void add_fit();
    void remove_line();
    void remove_chosen();
    [[nodiscard]] std::optional<QString> add_zone(const QString& text);
    [[nodiscard]] std::optional<QString> add_line(const QString& text);
    void change_line(int row, int column, const QString& text);
    void change_fit(const QString& what, const std::function<void(FitCase&)>& how);
    [[nodiscard]] const Fabrication* board() const;
    [[nodiscard]] const FitCase* chosen() const;
    Document& document_;
    std::string id_, fit_;
    std::vector<FitResult> results_;
    Sheet *section_sheet_, *fits_sheet_, *lines_sheet_;
    DrawingView* section_;
    FactTable *fits_, *lines_;
    Field* entry_;
    ChoiceBox* kind_;
    CautionLine* cautions_;
};

}  // namespace grayrelic::app
