// SPDX-License-Identifier: GPL-3.0-or-later
// The recovered circuit as sheets that draw themselves.
#pragma once

#include <QListWidget>
#include <QSvgRenderer>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/sheet.hpp"
#include "core/report/circuit_sheets.hpp"

namespace grayrelic::app {

/// One sheet of paper, as large as it fits.
class PaperView : public QWidget {
    Q_OBJECT
  public:
    explicit PaperView(QWidget* parent = nullptr);
    void show_svg(const std::string& svg);
    [[nodiscard]] QSize sizeHint() const override { return {640, 450}; }

  protected:
    void paintEvent(QPaintEvent* event) override;

  private:
    QSvgRenderer renderer_;
};

class CircuitView : public QWidget {
    Q_OBJECT
  public:
    explicit CircuitView(Document& document, QWidget* parent = nullptr);
    void refresh();
    [[nodiscard]] QListWidget& list() { return *list_; }
    /// PDF or SVG, by the ending; says what went wrong.
    [[nodiscard]] QString write_to(const QString& path) const;

  Q_SIGNALS:
    void write_wanted();

  private:
    void show_sheet(int row);
    Document& document_;
    Sheet* sheet_;
    QListWidget* list_;
    PaperView* paper_;
    std::vector<CircuitSheet> sheets_;
    const TraceAnalysis* made_of_ = nullptr;
};

}  // namespace grayrelic::app
