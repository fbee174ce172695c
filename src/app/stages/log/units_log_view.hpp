// SPDX-License-Identifier: GPL-3.0-or-later
// What happened to a unit, where it is, and which image it runs; images with their sums.
#pragma once

#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/widgets/bar_list.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/record/unit_history.hpp"

namespace grayrelic::app {

class UnitsLogView : public QWidget {
    Q_OBJECT
  public:
    explicit UnitsLogView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void select(const QString& thing);
    /// A file as an image: its sum is computed beside the window, then it is entered.
    void take_image(const QString& path);
    [[nodiscard]] BarList& units() { return *units_; }
    [[nodiscard]] FactTable& events() { return *events_; }
    [[nodiscard]] FactTable& images() { return *images_; }
    [[nodiscard]] Field& place() { return *place_; }
    [[nodiscard]] QString says() const { return images_sheet_->about(); }
    std::function<QString()> today, ask_image;  ///< replaced by tests

  private:
    void fill_events();
    void fill_images();
    void run_image();
    void change_image(const QString& id, int column, const QString& text);
    Document& document_;
    Sheet *units_sheet_, *events_sheet_, *images_sheet_;
    BarList* units_;
    FactTable *events_, *images_;
    Field* place_;
    QPushButton* runs_;
    std::vector<UnitHistory> histories_;
    Dossier shown_;  ///< what the histories point into
    Latest<Result<std::string>> sum_;
};

}  // namespace grayrelic::app
