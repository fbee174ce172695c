// SPDX-License-Identifier: GPL-3.0-or-later
// Figures of the selected signal, between the cursors, in view or over the whole: high, low, period, rate,
// duty. The least and the most lead to where they are.
#pragma once

#include <QGridLayout>
#include <QPushButton>

#include "app/shell/latest.hpp"
#include "app/stages/listen/wave_view.hpp"
#include "app/widgets/sheet.hpp"
#include "core/listen/listen_analysis.hpp"
#include "core/signal/measure.hpp"

namespace grayrelic::app {

class MeasureSheet : public Sheet {
    Q_OBJECT
  public:
    explicit MeasureSheet(QWidget* parent = nullptr);
    /// `capture` may be null; its word at cursor A, else the first in view, is shown.
    void measure(const WaveView& view, const CaptureAnalysis* capture);
    [[nodiscard]] QString cursor_text() const { return cursors_->text(); }
    [[nodiscard]] QString word_text() const { return word_->text(); }
    [[nodiscard]] QString cell(int row, int column) const;
    void set_low(bool low);  ///< the window has little height
    void measure_whole(bool on) { whole_->setChecked(on); }
    /// As a click on the least (column 2) or most (4) of high, low or period (rows 1 to 3).
    void follow(int row, int column);

  Q_SIGNALS:
    void place_wanted(const Interval& where);
    void scope_changed();

  private:
    void show_pulses(const PulseMeasurement& m);
    void set_cell(int row, int column, const QString& text);
    void fit_word();
    bool low_ = false;
    [[nodiscard]] QLabel* label(int row, int column) const;
    QGridLayout* grid_;
    QPushButton* whole_;
    std::shared_ptr<const Capture> owner_;  ///< keeps the waveform
    const DigitalWaveform* waveform_ = nullptr;
    Span window_;
    void show_cursors(const WaveView& view);
    void show_word(const WaveView& view, const CaptureAnalysis* capture);
    QLabel* rate_;
    QLabel* cursors_;
    QLabel* word_title_;
    QLabel* word_;
    Latest<PulseMeasurement> measuring_{this};
};

}  // namespace grayrelic::app
