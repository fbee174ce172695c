// SPDX-License-Identifier: GPL-3.0-or-later
// The cautions of the whole job on one page, each with the stages where its step is done.
#pragma once

#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/caution_box.hpp"

namespace grayrelic::app {

class CautionsView : public QWidget {
    Q_OBJECT
  public:
    explicit CautionsView(Document& document, QWidget* parent = nullptr);
    void refresh();
    [[nodiscard]] QStringList titles() const { return titles_; }

  private:
    Document& document_;
    CautionBox* box_;
    QStringList titles_;
};

}  // namespace grayrelic::app
