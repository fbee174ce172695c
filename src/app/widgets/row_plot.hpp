// SPDX-License-Identifier: GPL-3.0-or-later
// Rows over one axis of time: a name beside each, what the row draws in its lane, an axis below. Wheel, drag
// and keys move and zoom, as in every plot over time (pan_zoom.hpp). A plot says its rows and draws one.
#pragma once

#include <QColor>
#include <QWidget>

#include <optional>

#include "app/widgets/pan_zoom.hpp"

namespace grayrelic::app {

class RowPlot : public QWidget {
    Q_OBJECT
  public:
    /// `group` names the plot's keys in Help.
    RowPlot(const QString& name, const QString& group, QWidget* parent = nullptr);
    [[nodiscard]] Span window() const { return time_.span(); }
    /// Kept inside of the whole.
    void set_window(Span window);
    [[nodiscard]] double x_of(Time t) const;
    [[nodiscard]] Time time_at(double x) const;
    /// Where the row's lane is drawn.
    [[nodiscard]] QRectF lane(int row) const;

  protected:
    struct RowName {
        QString text;
        QColor ink;
    };
    struct Look {
        double names_width = 84;
        double least_row = 26, most_row = 1e6;  ///< height of a row; rows share the room between
        double above = 5, below = 5;            ///< free in a row over and under its lane
        bool hairlines = false;                 ///< between rows
    };
    void set_look(const Look& look) { look_ = look; }
    /// The whole that can be seen, and the least that the window can show of it.
    void set_whole(Span whole, Time least = Time::ns(1)) { time_.set_whole(whole, least); }
    [[nodiscard]] Span whole() const { return time_.whole(); }
    void rows_changed();  ///< their number
    [[nodiscard]] int row_at(double y) const;

    [[nodiscard]] virtual int row_count() const = 0;
    [[nodiscard]] virtual RowName row_name(int row) const = 0;
    virtual void paint_row(QPainter& painter, int row, const QRectF& lane) = 0;
    virtual void paint_over(QPainter&) {}  ///< over all rows, clipped to the lanes
    virtual void clicked(QPointF, Qt::KeyboardModifiers) {}
    virtual void window_moved() {}
    /// What stands there while there is no row.
    [[nodiscard]] virtual QString empty_text() const { return {}; }

    void paintEvent(QPaintEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

  private:
    void moved();
    [[nodiscard]] double row_height() const;
    [[nodiscard]] double lane_width() const;
    Look look_;
    TimeWindow time_;
    std::optional<QPointF> pressed_;
    Span pressed_window_;
    bool dragging_ = false;
};

}  // namespace grayrelic::app
