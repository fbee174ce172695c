// SPDX-License-Identifier: GPL-3.0-or-later
// Several boards: which is drawn, ordered, here; how they lie over one another, and what they do to each
// other.
#pragma once

#include <QWidget>

#include <map>

#include "app/shell/document.hpp"
#include "app/widgets/caution_box.hpp"
#include "app/widgets/choice_box.hpp"
#include "app/widgets/drawing_view.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/fit/stack_analysis.hpp"

namespace grayrelic::app {

class StackView : public QWidget {
    Q_OBJECT
  public:
    explicit StackView(Document& document, QWidget* parent = nullptr);
    void show_board(const std::string& id);
    /// "calder/join/…": as a finding names it.
    void select(const QString& thing);
    [[nodiscard]] FactTable& boards() { return *boards_; }
    [[nodiscard]] FactTable& levels() { return *levels_; }
    [[nodiscard]] FactTable& troubles() { return *troubles_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] DrawingView& picture() { return *picture_; }
    [[nodiscard]] QString says() const { return picture_sheet_->about(); }
    std::function<std::string()> need_board;

  private:
    QWidget* make_boards();
    QWidget* make_levels();
    QWidget* make_troubles();
    void fill();
    void fill_boards();
    void fill_levels(const BoardStack* stack);
    [[nodiscard]] TableRow level_row(const StackLevel& level, bool lowest) const;
    [[nodiscard]] TableRow join_row(const StackJoin& join, std::size_t number) const;
    void fill_troubles(const BoardStack* stack);
    void show_entry(const QString& key);
    void remove_chosen();
    void change_gap(int row, int column, const QString& text);
    [[nodiscard]] std::optional<QString> take(const QString& text);
    [[nodiscard]] std::optional<QString> take_level(const StackLevel& level);
    [[nodiscard]] std::optional<QString> take_variant(const BoardVariant& variant);
    void change(const QString& what, const std::function<void(BoardStack&)>& how);
    [[nodiscard]] const BoardStack* stack() const;
    [[nodiscard]] std::map<std::string, std::string> hashes();
    Document& document_;
    std::string board_, stack_;
    StackResult result_;
    std::map<std::string, std::pair<QString, std::string>>
        hashed_;  ///< path to when it was changed, and its hash
    Sheet *picture_sheet_, *boards_sheet_, *levels_sheet_, *troubles_sheet_;
    ChoiceBox* stacks_;
    DrawingView* picture_;
    FactTable *boards_, *levels_, *troubles_;
    Field* entry_;
    CautionLine* cautions_;
};

}  // namespace grayrelic::app
