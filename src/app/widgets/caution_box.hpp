// SPDX-License-Identifier: GPL-3.0-or-later
// The cautions of a step, where the step is done.
#pragma once

#include <vector>

#include "app/widgets/sheet.hpp"
#include "core/library/cautions.hpp"

namespace grayrelic::app {

class CautionBox : public Sheet {
    Q_OBJECT
  public:
    explicit CautionBox(const QString& title, QWidget* parent = nullptr);
    /// Hidden when there are none.
    void show_cautions(const std::vector<const Caution*>& cautions);
    /// Each with the stages where its step is done.
    void show_by_stage(const std::vector<const Caution*>& cautions);
    [[nodiscard]] QString text() const { return text_->text(); }

  private:
    QLabel* text_;
};

/// Where there is no room for a box: the titles in a line, all of it in the tooltip and for screen readers.
class CautionLine : public QLabel {
    Q_OBJECT
  public:
    explicit CautionLine(QWidget* parent = nullptr);
    void show_cautions(const std::vector<const Caution*>& cautions);  ///< hidden when there are none
};

}  // namespace grayrelic::app
