// SPDX-License-Identifier: GPL-3.0-or-later
// Pins: what signals ask of the module against what it has, and the list of pins for the firmware.
#pragma once

#include <QComboBox>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTimer>
#include <QWidget>

#include "app/shell/document.hpp"
#include "app/widgets/fact_table.hpp"
#include "app/widgets/field.hpp"
#include "app/widgets/sheet.hpp"

namespace grayrelic::app {

class PinsView : public QWidget {
    Q_OBJECT
  public:
    explicit PinsView(Document& document, QWidget* parent = nullptr);
    void refresh();
    void select(const QString& need);
    void commit_form();
    [[nodiscard]] FactTable& pins() { return *pins_; }
    [[nodiscard]] FactTable& advice() { return *advice_; }
    [[nodiscard]] Field& entry() { return *entry_; }
    [[nodiscard]] QPlainTextEdit& header() { return *header_; }
    [[nodiscard]] QPushButton& form_button() { return *form_; }
    [[nodiscard]] QComboBox& module() { return *module_; }
    [[nodiscard]] QString write_to(const QString& path) const;
    std::function<QString()> ask_file;  ///< replaced by tests

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    QWidget* make_pins();
    QWidget* make_right();
    void fill_pins();
    void fill_advice();
    void fill_header();
    void edit_cell(int row, int column, const QString& text);
    std::optional<QString> enter(const QString& text);
    Document& document_;
    Sheet *pins_sheet_, *advice_sheet_, *header_sheet_;
    FactTable *pins_, *advice_;
    QComboBox* module_;
    Field* entry_;
    QPlainTextEdit* header_;
    QPushButton *remove_, *form_, *write_;
    QTimer pause_;
    QString shown_form_;
    std::string selected_;
    QString problem_;
};

}  // namespace grayrelic::app
