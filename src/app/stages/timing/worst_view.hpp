// SPDX-License-Identifier: GPL-3.0-or-later
// An option's worst reply as a waveform against the original: the trigger, what the original answered, what
// this option would have answered, and when the host looks.
#pragma once

#include <QWidget>

#include "app/shell/latest.hpp"
#include "core/analysis/analysis.hpp"
#include "core/report/worst_figure.hpp"

namespace grayrelic::app {

class WorstView : public QWidget {
    Q_OBJECT
  public:
    explicit WorstView(QWidget* parent = nullptr);
    void show_option(const Analysis& analysis, const std::string& option);
    /// Told when the slowest reply has been found: when its question was asked; nothing when there is none.
    std::function<void(std::optional<Time> trigger)> found;
    [[nodiscard]] QSize sizeHint() const override { return {320, 190}; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {200, 130}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    WorstReply shown_;
    Latest<WorstReply> looking_{this};  ///< goes through every reply, so it is done beside the window
    bool soon_ = false;
};

}  // namespace grayrelic::app
