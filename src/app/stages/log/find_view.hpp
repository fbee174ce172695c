// SPDX-License-Identifier: GPL-3.0-or-later
// Everything in the dossier that holds some words; without words its time line; or how it differs from
// another.
#pragma once

#include <QWidget>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/record/dossier_diff.hpp"
#include "core/record/search.hpp"

namespace grayrelic::app {

class FindView : public QWidget {
    Q_OBJECT
  public:
    explicit FindView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void look_for(const QString& text);
    /// What differs from another dossier, such as the last revision's; typing words leaves it again.
    void compare_with(const QString& path);
    [[nodiscard]] FactTable& lines() { return *lines_; }
    [[nodiscard]] Field& words() { return *words_; }
    [[nodiscard]] QString says() const { return sheet_->about(); }
    std::function<QString()> ask_other;  ///< replaced by tests

  Q_SIGNALS:
    void stage_wanted(Stage stage);

  private:
    struct Found {
        std::vector<SearchHit> hits;
        std::vector<DatedEvent> events;
        std::optional<Result<std::vector<DossierChange>>> changes;
    };
    void show_found(const Found& found);
    void show_changes(const Result<std::vector<DossierChange>>& changes);
    Document& document_;
    QString looked_for_, other_;
    Sheet* sheet_;
    FactTable* lines_;
    Field* words_;
    Latest<Found> found_;
};

}  // namespace grayrelic::app
