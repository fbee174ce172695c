// SPDX-License-Identifier: GPL-3.0-or-later
// Work on a unit: a timer with what earlier baths took, the log of it, how long the rest will take, and
// whether to repair, to wire around by hand or to start over.
#pragma once

#include <QElapsedTimer>
#include <QLabel>
#include <QPushButton>
#include <QTimer>
#include <QWidget>

#include "app/stages/build/assembly_view.hpp"
#include "app/widgets/choice_box.hpp"
#include "core/build/rework.hpp"

namespace grayrelic::app {

class WorkView : public QWidget {
    Q_OBJECT
  public:
    explicit WorkView(Document& document, QWidget* parent = nullptr);
    void show_bench(const Bench_ptr& bench, const UnitBuild& unit);
    [[nodiscard]] FactTable& log() { return *log_; }
    [[nodiscard]] FactTable& ways() { return *ways_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] Field& part() { return *part_; }
    [[nodiscard]] QString says() const { return log_sheet_->about(); }
    [[nodiscard]] QString clock() const { return clock_->text(); }
    [[nodiscard]] QString ways_say() const { return ways_sheet_->about(); }
    void choose_kind(WorkKind kind);
    /// Starts the timer, or stops it and writes down what it took.
    void start_or_stop();
    /// Today as YYYY-MM-DD, and how long the timer has run; replaced by tests.
    std::function<QString()> today;
    std::function<double()> elapsed_s;

  private:
    void fill();
    void fill_ways();
    void tick();
    void show_cautions();
    [[nodiscard]] std::optional<QString> take(const QString& text);
    void write_down(const std::string& unit, const WorkDone& work);
    [[nodiscard]] WorkKind kind() const;

    Document& document_;
    Bench_ptr bench_;
    UnitBuild unit_;
    std::string timed_;  ///< the unit that the timer runs for
    bool running_ = false;
    QElapsedTimer since_;
    QTimer beat_;
    Sheet *log_sheet_, *ways_sheet_;
    ChoiceBox* kinds_;
    QLabel *clock_, *guide_;
    QPushButton* start_;
    FactTable *log_, *ways_;
    Field *entry_, *part_;
    CautionLine* cautions_;
    std::string place_;
};

/// "solder 45 min 124 joints", "etch 12 min 40 °C", "drill 30 min 96 holes"; words in any order behind the
/// first.
[[nodiscard]] Result<WorkDone> work_from_text(std::string_view text);

}  // namespace grayrelic::app
