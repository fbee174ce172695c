// SPDX-License-Identifier: GPL-3.0-or-later
// The board as the scan shows it, in millimetres: points and outlines of the parts over it, the net of the
// chosen point, and what was found in the picture.
#pragma once

#include <QImage>
#include <QTransform>
#include <QWidget>

#include <functional>
#include <memory>

#include "app/widgets/pan_zoom.hpp"
#include "core/trace/scan_look.hpp"
#include "core/trace/trace_analysis.hpp"

namespace grayrelic::app {

class BoardCanvas : public QWidget {
    Q_OBJECT
  public:
    /// The last five say what the picture shows where one clicks.
    enum class Tool { probe, measure, cut, join, unknown, reference, copper, pad, board, silk, hole };
    [[nodiscard]] static std::optional<ClickKind> said_by(Tool tool);
    explicit BoardCanvas(QWidget* parent = nullptr);
    void show_board(std::shared_ptr<const TraceAnalysis> trace, BoardSide side);
    void set_tool(Tool tool);
    void set_found_shown(bool shown);
    void choose(const QString& point);
    /// What a click makes of the part in sight, until the whole is read again.
    void show_sight(const ScanSight& sight);
    void clear_sight();
    /// The part of the board that is in sight.
    [[nodiscard]] BoardWindow seen() const;
    void fit();
    [[nodiscard]] QString chosen() const { return chosen_; }
    /// Where a point of the board stands in the widget.
    [[nodiscard]] QPointF to_widget(double x_mm, double y_mm) const;
    [[nodiscard]] QPointF to_board(QPointF at) const;
    [[nodiscard]] QSize sizeHint() const override { return {640, 480}; }

  Q_SIGNALS:
    void picked(const QString& point);
    /// A line drawn on the board with one of the stroke or measuring tools, in mm.
    void drawn(QPointF from, QPointF to);
    /// A place in the picture, in its pixels.
    void marked(QPointF pixel);
    /// What a click with one of the saying tools says, in mm.
    void said(ClickKind kind, QPointF at);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

  private:
    [[nodiscard]] int point_at(QPointF at) const;
    [[nodiscard]] bool shown_here(const BoardPoint& p) const;
    void make_found();
    void paint_found(QPainter& p, const QTransform& board) const;
    void paint_points(QPainter& p) const;
    void paint_questions(QPainter& p) const;
    std::shared_ptr<const TraceAnalysis> trace_;
    BoardSide side_ = BoardSide::front;
    std::optional<std::size_t> scan_;
    QImage picture_, found_, sight_;
    QTransform sight_to_mm_;
    const Raster* pixels_of_ = nullptr;
    const ScannedBoard* found_of_ = nullptr;
    BoardSide found_side_ = BoardSide::front;
    Tool tool_ = Tool::probe;
    bool found_shown_ = false, fitted_ = false;
    PlaneWindow plane_;  ///< widget pixels to the millimetre
    QString chosen_, hovered_;
    QPointF press_, last_;
    bool dragging_ = false, panning_ = false;
};

}  // namespace grayrelic::app
