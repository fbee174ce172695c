// SPDX-License-Identifier: GPL-3.0-or-later
// In which order the parts go on, why, how, and what to check; ticked off part by part, with what is printed
// on each.
#pragma once

#include <QLabel>
#include <QWidget>

#include <memory>

#include "app/shell/document.hpp"
#include "app/widgets/caution_box.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"
#include "core/build/unit_state.hpp"

namespace grayrelic::app {

using Bench_ptr = std::shared_ptr<const UnitOnBench>;

class AssemblyView : public QWidget {
    Q_OBJECT
  public:
    explicit AssemblyView(Document& document, QWidget* parent = nullptr);
    /// `unit` may be empty: then nothing is ticked.
    void show_bench(const Bench_ptr& bench, const std::string& unit);
    void select(const QString& ref);
    [[nodiscard]] FactTable& steps() { return *steps_; }
    [[nodiscard]] FactTable& parts() { return *parts_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] Field& hand() { return *hand_; }
    [[nodiscard]] QString says() const { return step_sheet_->about(); }
    /// Ticks the chosen part, or the first of the step that is not on, and goes on to the next.
    void tick();
    /// Today as YYYY-MM-DD; replaced by tests.
    std::function<QString()> today;

  private:
    void fill_steps();
    void fill_parts();
    [[nodiscard]] TableRow part_row(const PartOnUnit& part) const;
    void show_cautions();
    void untick();
    [[nodiscard]] std::optional<QString> take_marking(const QString& text);
    [[nodiscard]] std::optional<QString> take_step(const QString& text);
    [[nodiscard]] const PartOnUnit* chosen_part() const;
    void change(const QString& what, const std::function<void(UnitBuild&)>& how);
    Document& document_;
    Bench_ptr bench_;
    std::string unit_, ref_;
    int step_ = 0;
    bool filling_ = false;
    Sheet *steps_sheet_, *step_sheet_;
    FactTable *steps_, *parts_;
    QLabel* how_;
    Field *entry_, *hand_;
    CautionLine* cautions_;
};

}  // namespace grayrelic::app
