// SPDX-License-Identifier: GPL-3.0-or-later
// The values of the bridge: a list with the figure that counts, its spread and verdict; below it the chosen
// one's numbers, what follows, and what a wrong part in its place would do.
#pragma once

#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/drawing_view.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/sheet.hpp"
#include "core/wire/wire_analysis.hpp"

namespace grayrelic::app {

class ValuesView : public QWidget {
    Q_OBJECT
  public:
    explicit ValuesView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void select(const QString& value);
    void add(ValueKind kind);
    /// Takes what was found in the circuit into the dossier, so that its numbers can be changed.
    void keep();
    [[nodiscard]] FactTable& values() { return *values_; }
    [[nodiscard]] FactTable& numbers() { return *numbers_; }
    [[nodiscard]] FactTable& results() { return *results_; }
    [[nodiscard]] FactTable& wrong() { return *wrong_; }
    [[nodiscard]] DrawingView& levels() { return *levels_; }
    [[nodiscard]] QPushButton& keep_button() { return *keep_; }
    [[nodiscard]] QString says() const { return detail_sheet_->about(); }

  private:
    QWidget* make_list();
    QWidget* make_detail();
    void fill_list();
    void fill_detail();
    void fill_numbers(const ValueStudy& v);
    void fill_results(const ValueStudy& v);
    void edit_cell(int row, int column, const QString& text);
    [[nodiscard]] std::optional<QString> take(WireValue& v, const std::string& key, int column,
                                              const QString& text) const;
    [[nodiscard]] const ValueStudy* chosen() const;
    Document& document_;
    Sheet *list_sheet_, *detail_sheet_, *result_sheet_;
    FactTable *values_, *numbers_, *results_, *wrong_;
    DrawingView* levels_;
    QPushButton *add_, *remove_, *keep_;
    std::string selected_;
    QString problem_;
};

}  // namespace grayrelic::app
