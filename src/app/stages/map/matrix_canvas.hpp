// SPDX-License-Identifier: GPL-3.0-or-later
// The switch matrix as a grid: keys are held by a click, and what is then read is shown at once.
#pragma once

#include <QWidget>

#include <map>
#include <memory>
#include <optional>
#include <vector>

namespace grayrelic {
struct MapAnalysis;
struct MatrixStudy;
struct ScanView;
}  // namespace grayrelic

namespace grayrelic::app {

class MatrixCanvas : public QWidget {
    Q_OBJECT
  public:
    explicit MatrixCanvas(QWidget* parent = nullptr);
    void show_matrix(std::shared_ptr<const MapAnalysis> analysis);
    void hold(std::vector<std::size_t> keys);
    [[nodiscard]] const std::vector<std::size_t>& held() const { return held_; }
    [[nodiscard]] QRectF cell(std::size_t row, std::size_t column) const;
    /// "7 + 8 + 4 held; 5 seems closed."
    [[nodiscard]] QString says() const;
    [[nodiscard]] QSize sizeHint() const override { return {460, 280}; }

  Q_SIGNALS:
    void held_changed();
    void key_opened(const QString& id);

  protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    [[nodiscard]] const MatrixStudy* study() const;
    void paint_cell(QPainter& p, const MatrixStudy& s, const ScanView& view, std::size_t row,
                    std::size_t column) const;
    [[nodiscard]] std::optional<std::size_t> key_at(std::size_t row, std::size_t column) const;
    [[nodiscard]] bool place_at(QPointF at, std::size_t& row, std::size_t& column) const;
    void toggle(std::size_t row, std::size_t column);
    std::shared_ptr<const MapAnalysis> analysis_;
    std::map<std::pair<std::size_t, std::size_t>, std::size_t> at_;  ///< the first key at a position
    std::vector<std::size_t> held_;
    std::size_t row_ = 0, column_ = 0;  ///< where the keyboard stands
};

}  // namespace grayrelic::app
