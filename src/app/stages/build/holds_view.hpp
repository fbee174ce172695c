// SPDX-License-Identifier: GPL-3.0-or-later
// The bring-up of a unit, hold by hold: what the meter should say, what it said, and what that opens.
#pragma once

#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "app/shell/latest.hpp"
#include "app/stages/build/assembly_view.hpp"
#include "core/diagnose/holds.hpp"

namespace grayrelic::app {

class HoldsView : public QWidget {
    Q_OBJECT
  public:
    explicit HoldsView(Document& document, QWidget* parent = nullptr);
    /// `bench` may be null; `unit` empty: then nothing can be entered.
    void show_bench(const Bench_ptr& bench, const UnitBuild& unit);
    void select(const QString& hold, const QString& point);
    [[nodiscard]] FactTable& holds() { return *holds_; }
    [[nodiscard]] FactTable& points() { return *points_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] Field& reason() { return *reason_; }
    [[nodiscard]] Field& tie() { return *tie_; }
    [[nodiscard]] QString says() const { return holds_sheet_->about(); }
    [[nodiscard]] QString question() const { return question_->text(); }
    /// Today as YYYY-MM-DD; replaced by tests.
    std::function<QString()> today;

  private:
    struct Made {
        std::shared_ptr<const BenchBoard> board;
        std::vector<Hold> holds;
    };
    void made(const Made& now);
    void fill_holds();
    void fill_points();
    void ask();
    void show_cautions();
    [[nodiscard]] const Hold* chosen_hold() const;
    [[nodiscard]] const HoldPoint* chosen_point() const;
    [[nodiscard]] std::optional<QString> take(const QString& text);
    [[nodiscard]] std::optional<QString> pass(const QString& reason);
    [[nodiscard]] std::optional<QString> put_tie(const QString& text);
    void tie_off();
    void next_point();

    Document& document_;
    Bench_ptr bench_;
    UnitBuild unit_;
    Made made_;
    Versions made_from_;
    std::string made_for_;
    BringUp up_;
    std::string hold_, point_;
    bool filling_ = false;
    Sheet *holds_sheet_, *points_sheet_;
    FactTable *holds_, *points_;
    QLabel* question_;
    Field *entry_, *reason_, *tie_;
    QPushButton* off_;
    CautionLine* cautions_;
    Latest<Made> latest_{this};
};

}  // namespace grayrelic::app
