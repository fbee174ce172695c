// SPDX-License-Identifier: GPL-3.0-or-later
// The old device as it lies on the bench: each key at its place, what it sends in umber, what it becomes in
// slate blue. A key is chosen by mouse or arrows, moved by dragging with Alt held, and takes a meaning that
// is dropped on it.
#pragma once

#include <QWidget>

#include <memory>
#include <string>
#include <vector>

#include "app/widgets/pan_zoom.hpp"
#include "core/dossier/map.hpp"

namespace grayrelic {
struct MapAnalysis;
}

namespace grayrelic::app {

/// A meaning that is dragged, as its word in UTF-8.
inline const char* const meaning_mime = "application/x-grayrelic-meaning";

class DeviceCanvas : public QWidget {
    Q_OBJECT
  public:
    explicit DeviceCanvas(QWidget* parent = nullptr);
    void show_map(const DeviceMap& map, std::shared_ptr<const MapAnalysis> analysis,
                  const std::string& chosen);
    void fit();
    /// Where a key is drawn; empty when there is no such key.
    [[nodiscard]] QRectF rect_of(const std::string& id) const;
    [[nodiscard]] std::string key_at(QPointF at) const;
    /// While on, what is pressed on the modern keyboard becomes the chosen key's meaning.
    void set_pressing(bool on);
    [[nodiscard]] bool pressing() const { return pressing_; }
    [[nodiscard]] QSize sizeHint() const override { return {560, 300}; }

  Q_SIGNALS:
    void chosen(const QString& id);
    void opened(const QString& id);                     ///< Enter or a double click: edit it
    void moved(const QString& id, double x, double y);  ///< dropped at a new place, in key widths
    void dropped(const QString& id, const QString& meaning);
    void pressed(QKeyEvent* event);  ///< while pressing is on

  protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dragMoveEvent(QDragMoveEvent* event) override;
    void dropEvent(QDropEvent* event) override;

  private:
    [[nodiscard]] QRectF whole() const;
    void paint_key(QPainter& p, const MapKey& key) const;
    void step(double dx, double dy);
    DeviceMap map_;
    std::shared_ptr<const MapAnalysis> analysis_;
    std::string chosen_, over_;
    PlaneWindow plane_;
    bool fitted_ = true, pressing_ = false;
    QPointF dragged_from_, drag_by_;
    bool dragging_ = false;
};

}  // namespace grayrelic::app
