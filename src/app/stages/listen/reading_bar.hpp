// SPDX-License-Identifier: GPL-3.0-or-later
// How a capture is read: the family, and which signal has which role. One button puts it in force, another
// derives the contract from it.
#pragma once

#include <QComboBox>
#include <QPushButton>
#include <QWidget>

#include "app/shell/document.hpp"

namespace grayrelic::app {

class ReadingBar : public QWidget {
    Q_OBJECT
  public:
    explicit ReadingBar(Document& document, QWidget* parent = nullptr);
    void show_capture(const CaptureAnalysis* capture);
    [[nodiscard]] QComboBox* role(const QString& name) const { return roles_.value(name); }
    [[nodiscard]] QPushButton* read_button() const { return read_; }
    [[nodiscard]] QPushButton* contract_button() const { return contract_; }

  private:
    void read();
    void propose();
    Document& document_;
    std::string capture_;
    QMap<QString, QComboBox*> roles_;
    QPushButton* read_;
    QPushButton* contract_;
};

}  // namespace grayrelic::app
