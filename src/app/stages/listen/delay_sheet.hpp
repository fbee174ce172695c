// SPDX-License-Identifier: GPL-3.0-or-later
// From one edge to another: how long, how often, as bars or over time. Bars, points and the extremes lead to
// the edges behind them.
#pragma once

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/stages/listen/wave_view.hpp"
#include "app/widgets/histogram_view.hpp"
#include "app/widgets/sheet.hpp"
#include "app/widgets/time_plot.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/signal/measure.hpp"
#include "core/signal/trend.hpp"
#include "core/timing/derive_contract.hpp"

namespace grayrelic::app {

class DelaySheet : public Sheet {
    Q_OBJECT
  public:
    explicit DelaySheet(Document& document, QWidget* parent = nullptr);
    void show_capture(std::shared_ptr<const CaptureAnalysis> capture, const WaveView& waves);
    [[nodiscard]] HistogramView& histogram() { return *histogram_; }
    [[nodiscard]] TimePlot& over_time() { return *over_time_; }
    [[nodiscard]] QString picked_text() const { return picked_->text(); }
    [[nodiscard]] QComboBox& from() { return *from_; }
    [[nodiscard]] QComboBox& to() { return *to_; }
    void show_over_time(bool on) { time_button_->setChecked(on); }
    /// Goes to the shortest or the longest.
    void show_extreme(bool longest);
    /// Measures between the cursors when both are set, the whole otherwise.
    void set_between_cursors(bool on) { between_->setChecked(on); }

  Q_SIGNALS:
    /// Mark these and, with a direction, go to the next of them.
    void marked(std::vector<Interval> marks, int direction);
    void step_wanted(int direction);

  protected:
    void resizeEvent(QResizeEvent* event) override;

  private:
    void place(bool narrow);
    struct Delays {
        std::shared_ptr<const std::vector<Interval>> answered =
            std::make_shared<const std::vector<Interval>>();
        long unanswered = 0;
        Statistics statistics;
        Spread lengths;
        Trend trend;
    };
    void fill_boxes();
    void find_cause();
    [[nodiscard]] QString full(const std::string& edge) const;
    [[nodiscard]] std::optional<ContractInterval> rules() const;
    void measure();
    void show_delay(const Delays& measured, const EdgeName& from, const EdgeName& to);
    void say_about();
    void pick(double low_s, double high_s);
    void set_marks(std::vector<Interval> marks, const QString& text);

    Document& document_;
    std::shared_ptr<const CaptureAnalysis> capture_;
    std::optional<Span> window_;  ///< between the cursors
    QComboBox *from_, *to_;
    QStackedWidget* plots_;
    HistogramView* histogram_;
    TimePlot* over_time_;
    QLabel* picked_;
    QHBoxLayout *upper_, *lower_;
    bool narrow_ = false;
    QPushButton *time_button_, *between_, *least_, *most_, *previous_, *next_;
    Delays delays_;
    QString about_bars_, about_time_;
    Latest<Delays> measuring_{this};
    std::shared_ptr<const Decoding> caused_of_;  ///< what `derived_` was derived from
    DerivedContract derived_;
    Latest<DerivedContract> causing_{this};
    /// What is measured; it holds the capture, so that another one can't stand in its place.
    struct Question {
        std::shared_ptr<const Capture> capture;
        std::optional<Time> sample_period;
        QString from, to;
        std::optional<Span> window;
        std::optional<ContractInterval> rules;  ///< of the contract, for these two edges
        bool operator==(const Question&) const = default;
    };
    std::optional<Question> asked_;
    std::string boxes_of_;  ///< the capture whose edges stand in the boxes
    bool chosen_ = false;   ///< by the person, in the two boxes
};

}  // namespace grayrelic::app
