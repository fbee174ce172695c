// SPDX-License-Identifier: GPL-3.0-or-later
// The facts of one pin, each with its evidence, edited in place.
#pragma once

#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/fact_row.hpp"

namespace grayrelic::app {

class PinEditor : public QWidget {
    Q_OBJECT
  public:
    explicit PinEditor(Document& document, QWidget* parent = nullptr);
    void show_pin(const QString& port, const QString& number);
    [[nodiscard]] FactRow* row(const QString& key) const { return rows_.value(key); }

  private:
    FactRow* add_row(const QString& key, const QString& label, const QStringList& choices = {});
    /// Applies a change to the shown pin as one undo step.
    void change(const QString& what, const std::function<void(Pin&)>& edit);
    Document& document_;
    QString port_;
    QString number_;
    QMap<QString, FactRow*> rows_;
    Field* note_;
};

}  // namespace grayrelic::app
