// SPDX-License-Identifier: GPL-3.0-or-later
// What follows for the picked option: its worst reply as a waveform; how far each number may go, the corners
// and how much is proven; all options side by side with what they cost.
#pragma once

#include <QLabel>
#include <QStackedWidget>
#include <QTabBar>

#include "app/shell/document.hpp"
#include "app/stages/timing/worst_view.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/histogram_view.hpp"
#include "app/widgets/sheet.hpp"

#include "core/timing/timing_analysis.hpp"

namespace grayrelic::app {

class OptionStudy : public Sheet {
    Q_OBJECT
  public:
    explicit OptionStudy(Document& document, QWidget* parent = nullptr);
    enum Part { worst, margin, limits, side_by_side };
    void show_option(const OptionAnalysis* option);
    void show_part(Part part);
    [[nodiscard]] FactTable& limits_table() { return *limits_; }
    [[nodiscard]] FactTable& options_table() { return *options_; }
    [[nodiscard]] HistogramView& histogram() { return *histogram_; }
    [[nodiscard]] QString proof() const { return proof_->text(); }

  private:
    void say_moment(std::optional<Time> trigger);
    void fill_limits(const OptionAnalysis& o);
    void fill_margin(const OptionAnalysis* o);
    void fill_options();
    void change_bill(int row, int column, const QString& typed);
    Document& document_;
    QTabBar* parts_;
    QStackedWidget* stack_;
    WorstView* worst_;
    HistogramView* histogram_;
    FactTable *limits_, *options_;
    QLabel* proof_;
};

}  // namespace grayrelic::app
