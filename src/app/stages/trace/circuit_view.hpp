// SPDX-License-Identifier: GPL-3.0-or-later
// The recovered circuit as sheets that draw themselves.
#pragma once

#include <QListWidget>
#include <QSvgRenderer>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/shell/latest.hpp"
#include "app/widgets/pan_zoom.hpp"
#include "app/widgets/sheet.hpp"
#include "core/report/circuit_sheets.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic::app {

/// One sheet of paper: whole at first, then zoomed and moved.
class PaperView : public QWidget {
    Q_OBJECT
  public:
    explicit PaperView(QWidget* parent = nullptr);
    void show_svg(const std::string& svg);
    [[nodiscard]] const PlaneWindow& plane() const { return plane_; }
    void fit();                         ///< all of it
    void read();                        ///< so near that the smallest letters can be read
    [[nodiscard]] QRectF page() const;  ///< where the sheet lies in the view
    [[nodiscard]] QSize sizeHint() const override { return {640, 450}; }

  protected:
    void paintEvent(QPaintEvent* event) override;
    void changeEvent(QEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

  private:
    void settle();
    void moved();
    void load();
    [[nodiscard]] double whole_scale() const;  ///< at which all of it is seen
    QByteArray svg_;                           ///< in the day's colours
    bool touched_ = false;                     ///< the person has moved it
    QSvgRenderer renderer_;
    PlaneWindow plane_;  ///< pixels to the sheet's own unit
    QPointF pressed_;
};

class CircuitView : public QWidget {
    Q_OBJECT
  public:
    explicit CircuitView(Document& document, QWidget* parent = nullptr);
    void refresh();
    [[nodiscard]] QListWidget& list() { return *list_; }
    [[nodiscard]] PaperView& paper() const { return *paper_; }
    /// PDF, SVG or PNG, by the ending; says what went wrong.
    [[nodiscard]] QString write_to(const QString& path) const;

  Q_SIGNALS:
    void write_wanted();

  private:
    void show_sheet(int row);
    void show_sheets(std::vector<CircuitSheet> sheets);
    Document& document_;
    Sheet* sheet_;
    QListWidget* list_;
    PaperView* paper_;
    std::vector<CircuitSheet> sheets_;
    Latest<std::vector<CircuitSheet>> drawing_{this};
    std::shared_ptr<const TraceAnalysis> made_of_;
};

}  // namespace grayrelic::app
