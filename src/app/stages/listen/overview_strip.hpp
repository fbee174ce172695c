// SPDX-License-Identifier: GPL-3.0-or-later
// The whole capture in one strip: where there is activity, and which part is in view. Click or drag moves the
// view.
#pragma once

#include <QWidget>

#include <memory>

#include "core/analysis/analysis.hpp"
#include "core/listen/listen_analysis.hpp"

namespace grayrelic::app {

class OverviewStrip : public QWidget {
    Q_OBJECT
  public:
    explicit OverviewStrip(QWidget* parent = nullptr);
    void show_capture(std::shared_ptr<const CaptureAnalysis> capture);
    void show_window(Span window);

  Q_SIGNALS:
    void wanted(Time middle);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

  private:
    void count_activity();
    std::shared_ptr<const CaptureAnalysis> capture_;
    Span window_;
    std::vector<std::size_t> activity_;
};

}  // namespace grayrelic::app
