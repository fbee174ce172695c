// SPDX-License-Identifier: GPL-3.0-or-later
// Trials: what was varied against how it went, what goes with failure, and the next run that tells most.
#pragma once

#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/widgets/drawing_view.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/record/trial_study.hpp"

namespace grayrelic::app {

class TrialsView : public QWidget {
    Q_OBJECT
  public:
    explicit TrialsView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void select(const QString& trial) { pick(trial); }
    /// Trials from CSV; says what went wrong.
    [[nodiscard]] QString take_file(const QString& path);
    /// A trial is entered with the proposed setup, its outcome still open.
    void begin_next();
    [[nodiscard]] FactTable& runs() { return *runs_; }
    [[nodiscard]] DrawingView& matrix() { return *matrix_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] QString says() const { return matrix_sheet_->about(); }
    std::function<QString()> today;  ///< replaced by tests

  private:
    void pick(const QString& trial);
    /// A table with what it says: the one points into the other.
    struct Studied {
        TrialTable table;
        TrialStudy study;
    };
    void show_study(Studied studied);
    void fill_runs();
    void change(const QString& id, int column, const QString& text);
    [[nodiscard]] std::optional<QString> enter(const QString& text);
    Document& document_;
    TrialTable table_;
    TrialStudy study_;
    Latest<Studied> later_;
    Sheet *matrix_sheet_, *runs_sheet_;
    DrawingView* matrix_;
    FactTable* runs_;
    Field* entry_;
    QPushButton *next_, *remove_;
};

}  // namespace grayrelic::app
