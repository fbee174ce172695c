// SPDX-License-Identifier: GPL-3.0-or-later
// A finding as a card: what, why, what to do. A card can stand for more of its kind, which its last line
// unfolds.
#pragma once

#include <QAbstractButton>

#include <algorithm>

#include "core/analysis/finding.hpp"

namespace grayrelic::app {

class FindingCard : public QAbstractButton {
    Q_OBJECT
  public:
    explicit FindingCard(QWidget* parent);
    struct Shown {
        Finding finding;
        bool with_stage = false;
        int more = 0;           ///< of its kind behind this card
        bool unfolded = false;  ///< they are shown below it
        bool inner = false;     ///< one of those
        bool operator==(const Shown&) const = default;
    };
    void show_finding(const Shown& shown);
    [[nodiscard]] const Finding& finding() const { return shown_.finding; }
    [[nodiscard]] int more() const { return shown_.more; }
    void set_current(bool current);
    [[nodiscard]] bool hasHeightForWidth() const override { return true; }
    [[nodiscard]] int heightForWidth(int width) const override;
    [[nodiscard]] QSize sizeHint() const override { return {200, heightForWidth(std::max(200, width()))}; }

  Q_SIGNALS:
    void fold_wanted(bool fold);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    int lay_out(QPainter* painter, int width, int* more_top = nullptr) const;
    Shown shown_;
    bool current_ = false;
};

}  // namespace grayrelic::app
