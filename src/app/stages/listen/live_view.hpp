// SPDX-License-Identifier: GPL-3.0-or-later
// Following a recording while it is made: a rolling view of its last stretch, a condition at which it stops
// by itself, and the button that keeps it in the dossier. What comes is written to a file of its own from the
// first byte on.
#pragma once

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>

#include "app/shell/document.hpp"
#include "app/shell/file_flow.hpp"
#include "app/stages/listen/wave_view.hpp"
#include "app/widgets/caution_box.hpp"
#include "live/live_recording.hpp"

namespace grayrelic::app {

class LiveView : public QWidget {
    Q_OBJECT
  public:
    LiveView(Document& document, FileFlow& files, QWidget* parent = nullptr);
    ~LiveView() override;
    [[nodiscard]] bool is_running() const { return recording_ != nullptr && timer_.isActive(); }
    void refresh();  ///< the cautions of what is done here
    void start();
    void stop();
    void keep();

    enum Stop { never, length, edges, levels, order, pulse_longer, pulse_shorter, pause };
    [[nodiscard]] QLineEdit& source() { return *source_; }
    [[nodiscard]] QComboBox& stop_box() { return *stop_when_; }
    [[nodiscard]] QLineEdit& stop_field() { return *stop_text_; }
    [[nodiscard]] QPushButton& start_button() { return *start_; }
    [[nodiscard]] QPushButton& keep_button() { return *keep_; }
    [[nodiscard]] QComboBox& shown_length() { return *shown_; }
    [[nodiscard]] CautionLine& care() { return *care_; }
    [[nodiscard]] QString state_text() const { return state_->text(); }
    [[nodiscard]] WaveView& waves() { return *waves_; }

  private:
    void tick();
    void show_last();
    void end(const live::State& s);
    void fit_stop();
    /// Nothing, with what is wrong shown, when the fields can't be read.
    [[nodiscard]] std::optional<StopWhen> stop_condition();
    void say(const QString& text, bool problem = false);

    Document& document_;
    FileFlow& files_;
    QLineEdit *source_, *stop_text_, *after_;
    QComboBox *stop_when_, *shown_;
    QLabel *state_, *after_label_;
    CautionLine* care_;
    QPushButton *start_, *keep_;
    WaveView* waves_;
    QTimer timer_;
    std::unique_ptr<live::Recording> recording_;
    QString file_;       ///< where it is written
    bool kept_ = false;  ///< the file belongs to the dossier now
};

}  // namespace grayrelic::app
