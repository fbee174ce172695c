// SPDX-License-Identifier: GPL-3.0-or-later
// The painted inside of a BarList.
#pragma once

#include <QWidget>

#include <vector>

#include "app/widgets/bar_list.hpp"

namespace grayrelic::app {

class BarListSheet : public QWidget {
    Q_OBJECT
  public:
    explicit BarListSheet(QWidget* parent = nullptr);
    void show_rows(std::vector<BarRow> rows);
    void pick(int row);
    void set_leading(bool leads) {
        leads_ = leads;
        update();
    }
    [[nodiscard]] int picked() const { return picked_; }
    [[nodiscard]] int find(const QString& id) const;
    [[nodiscard]] const std::vector<BarRow>& rows() const { return rows_; }
    [[nodiscard]] QRect box(int row) const;
    [[nodiscard]] QSize sizeHint() const override;

  Q_SIGNALS:
    void moved_to(int row);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

  private:
    void paint_row(QPainter& p, int row);
    std::vector<BarRow> rows_;
    int picked_ = -1;
    bool leads_ = true;
};

/// All of a row in words.
[[nodiscard]] QString words_of(const BarRow& row);

}  // namespace grayrelic::app
