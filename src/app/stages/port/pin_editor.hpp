// SPDX-License-Identifier: GPL-3.0-or-later
// The facts of one pin, each with its evidence, edited in place. Above them stands how new facts are known:
// at the bench that is the same for a while, so it is said once.
#pragma once

#include <QComboBox>
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
    /// What is typed now is known in this way.
    [[nodiscard]] Evidence new_evidence() const;
    void set_new_evidence(EvidenceKind kind, const QString& source, const QString& tool, const QString& date);

  private:
    /// Applies a change to the shown pin as one undo step.
    void change(const QString& what, const std::function<void(Pin&)>& edit);
    Document& document_;
    QString port_;
    QString number_;
    QComboBox* kind_;
    QLineEdit *source_, *tool_, *date_;
    QMap<QString, FactRow*> rows_;
    Field* note_;
};

}  // namespace grayrelic::app
