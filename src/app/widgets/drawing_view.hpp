// SPDX-License-Identifier: GPL-3.0-or-later
// Shows a Drawing of the core in the theme's colours; its places can be clicked, and it can be saved as SVG,
// PNG or PDF.
#pragma once

#include <QWidget>

#include <functional>

#include "core/report/drawing.hpp"

namespace grayrelic::app {

class DrawingView : public QWidget {
    Q_OBJECT
  public:
    explicit DrawingView(const QString& name, QWidget* parent = nullptr);
    void show_drawing(Drawing drawing);
    [[nodiscard]] const Drawing& drawing() const { return drawing_; }
    /// The middle of a place, for tests and for keys.
    [[nodiscard]] QPoint middle_of(const std::string& id) const;
    /// Redraws for another width; set when the drawing follows it.
    std::function<Drawing(double width)> redraw;
    /// It is not made narrower than this; a scroll area around it scrolls then.
    int least_width = 300;
    /// Where it is saved; empty when the person changed their mind. Replaced by tests.
    std::function<QString()> ask_file;
    /// By the ending: SVG, PNG or PDF, in the day's colours. Says what went wrong.
    [[nodiscard]] QString write_to(const QString& path) const;
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return {300, 60}; }

  Q_SIGNALS:
    void picked(const QString& id);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

  private:
    void save_as();
    void copy();
    Drawing drawing_;
    bool drawing_again_ = false;
};

}  // namespace grayrelic::app
